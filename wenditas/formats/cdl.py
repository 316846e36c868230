"""ASC CDL files: .cdl, .cc and .ccc (ASC CDL 1.2, XML)."""

import math
from typing import Literal
from xml.etree import ElementTree

from wenditas.core.errors import BadFile
from wenditas.core.treat.cdl import CHANNELS, Cdl

Kind = Literal["cdl", "cc", "ccc"]
SPACE = "urn:ASC:CDL:v1.01"
ROOTS: dict[Kind, str] = {"cdl": "ColorDecisionList", "ccc": "ColorCorrectionCollection", "cc": "ColorCorrection"}


def _plain(tag: str) -> str:
    return tag.rsplit("}", 1)[-1]


def _find(parent: ElementTree.Element, name: str) -> ElementTree.Element | None:
    return next((child for child in parent if _plain(child.tag) == name), None)


def _values(parent: ElementTree.Element | None, name: str, count: int, default: float) -> list[float]:
    node = None if parent is None else _find(parent, name)
    if node is None:
        return [default] * count
    try:
        values = [float(w) for w in (node.text or "").split()]
    except ValueError:
        values = []
    if len(values) != count or not all(math.isfinite(v) for v in values):
        raise BadFile(f"{name} of the decision list is “{(node.text or '').strip()[:40]}”; it should be {count} number{'s' if count > 1 else ''}.")
    return values


def _correction(node: ElementTree.Element) -> Cdl:
    sop, sat = _find(node, "SOPNode"), _find(node, "SatNode")
    if sat is None:
        sat = _find(node, "SATNode")  # the older spelling
    numbers: dict[str, float] = {}
    for name, word, default in (("Slope", "slope", 1.0), ("Offset", "offset", 0.0), ("Power", "power", 1.0)):
        numbers |= {f"{word}_{c}": v for c, v in zip(CHANNELS, _values(sop, name, 3, default), strict=True)}
    numbers["saturation"] = _values(sat, "Saturation", 1, 1.0)[0]
    try:
        return Cdl.model_validate(numbers)
    except ValueError as error:
        raise BadFile("The decision list holds a number beyond the range of the ASC CDL treatment: slope 0 to 4, offset -1 to 1, power 0.1 to 4.") from error


def read_cdl(text: str) -> list[tuple[str, Cdl]]:
    """All corrections of a .cdl, .cc or .ccc file: their ids and numbers. Raises `BadFile`."""
    if "<!DOCTYPE" in text or "<!ENTITY" in text:
        raise BadFile("The decision list declares entities, which are not read.")
    try:
        root = ElementTree.fromstring(text)
    except ElementTree.ParseError as error:
        raise BadFile(f"The decision list is not well-formed XML: {error}.") from error
    found = [node for node in root.iter() if _plain(node.tag) == "ColorCorrection"]
    if not found:
        raise BadFile(f"The file holds no ColorCorrection; its outermost element is “{_plain(root.tag)[:40]}”.")
    return [(node.get("id", f"correction {n}"), _correction(node)) for n, node in enumerate(found, 1)]


def write_cdl(params: Cdl, name: str, kind: Kind = "cdl") -> str:
    """One correction as a .cdl, .cc or .ccc file."""
    ElementTree.register_namespace("", SPACE)

    def inside(parent: ElementTree.Element | None, tag: str, text: str = "") -> ElementTree.Element:
        full = f"{{{SPACE}}}{tag}"
        node = ElementTree.Element(full) if parent is None else ElementTree.SubElement(parent, full)
        node.text = text or None
        return node

    root = inside(None, ROOTS[kind])
    holder = inside(root, "ColorDecision") if kind == "cdl" else root
    node = root if kind == "cc" else inside(holder, "ColorCorrection")
    node.set("id", name)
    sop = inside(node, "SOPNode")
    for word in ("slope", "offset", "power"):
        inside(sop, word.capitalize(), " ".join(f"{getattr(params, f'{word}_{c}'):.6g}" for c in CHANNELS))
    inside(inside(node, "SatNode"), "Saturation", f"{params.saturation:.6g}")
    ElementTree.indent(root)
    return ElementTree.tostring(root, encoding="unicode", xml_declaration=True) + "\n"
