"""Gradients as SVG `linearGradient` (SVG 2, 14.2) and CSS `linear-gradient` (CSS Images 3, 3.4)."""

import math
import re
from itertools import pairwise
from xml.etree import ElementTree

from wenditas.core.colour.hexes import hex_from_rgb
from wenditas.core.errors import BadFile
from wenditas.core.params import Stop

MOST = 64
SPACE = "http://www.w3.org/2000/svg"
NAMED = {"black": "#000000", "white": "#ffffff", "red": "#ff0000", "lime": "#00ff00", "green": "#008000", "blue": "#0000ff", "yellow": "#ffff00"}
NAMED |= {"cyan": "#00ffff", "aqua": "#00ffff", "magenta": "#ff00ff", "fuchsia": "#ff00ff", "orange": "#ffa500", "purple": "#800080", "gray": "#808080"}
NAMED |= {"grey": "#808080", "navy": "#000080", "teal": "#008080", "maroon": "#800000", "olive": "#808000", "silver": "#c0c0c0", "gold": "#ffd700"}
CHANNEL = re.compile(r"rgba?\(([^)]*)\)")
PLACE = re.compile(r"-?(\d+\.?\d*|\.\d+)%")
DIRECTION = re.compile(r"to|in|-?(\d+\.?\d*|\.\d+)(deg|turn|rad|grad)")
LONGEST_COLOUR, MOST_TEXT = 80, 256 << 10


def colour_from_css(text: str) -> str:
    """#rgb, #rrggbb, rgb() and the common names as #rrggbb. Raises `BadFile`. Source: CSS Color 4, 5 and 6."""
    word = text.strip().lower()[: LONGEST_COLOUR + 1]
    if re.fullmatch(r"#[0-9a-f]{6}(?:[0-9a-f]{2})?", word):
        return word[:7]
    if re.fullmatch(r"#[0-9a-f]{3,4}", word):
        return "#" + "".join(c * 2 for c in word[1:4])
    if word in NAMED:
        return NAMED[word]
    match = CHANNEL.fullmatch(word)
    parts = match[1].replace(",", " ").replace("/", " ").split() if match else []
    try:
        if len(parts) >= 3 and all(math.isfinite(float(p.removesuffix("%"))) for p in parts[:3]):
            return hex_from_rgb(float(p[:-1]) / 100 if p.endswith("%") else float(p) / 255 for p in parts[:3])
    except ValueError:
        pass
    raise BadFile(f"“{text.strip()[:40]}” is not a colour that is read here: use #rrggbb, rgb() or a common name.")


def _spread(found: list[tuple[float | None, str]]) -> list[Stop]:
    """Stops without a place are spread evenly between their neighbours, as CSS Images 3, 3.4.3 says."""
    if not found:
        raise BadFile("The gradient has no stops.")
    if len(found) > MOST:
        raise BadFile(f"The gradient has {len(found)} stops; at most {MOST} are read.")
    places = [place for place, _ in found]
    places[0] = 0.0 if places[0] is None else places[0]
    places[-1] = 100.0 if places[-1] is None else places[-1]
    known = [n for n, place in enumerate(places) if place is not None]
    for left, right in pairwise(known):
        a, b = places[left], places[right]
        assert a is not None and b is not None
        for n in range(left + 1, right):
            places[n] = a + (b - a) * (n - left) / (right - left)
    highest, stops = 0.0, []
    for place, (_, colour) in zip(places, found, strict=True):
        highest = max(highest, min(max(place or 0.0, 0), 100))  # a stop never comes before the one before it
        stops.append(Stop(position=round(highest, 4), colour=colour))
    return stops


def _offset(text: str | None) -> float:
    word = (text or "0").strip()
    try:
        return float(word[:-1]) if word.endswith("%") else 100 * float(word)
    except ValueError:
        raise BadFile(f"“{word[:40]}” is not the place of a stop: it is a number from 0 to 1 or a percentage.") from None


def read_svg(text: str) -> list[Stop]:
    """The stops of the first linearGradient in an SVG text. Raises `BadFile`."""
    if "<!DOCTYPE" in text or "<!ENTITY" in text:
        raise BadFile("The SVG file declares entities, which are not read.")
    try:
        root = ElementTree.fromstring(text)
    except ElementTree.ParseError as error:
        raise BadFile(f"The SVG file is not well-formed XML: {error}.") from error
    for node in root.iter():
        if node.tag.rsplit("}", 1)[-1] == "linearGradient":
            return _spread([(_offset(s.get("offset")), _stop_colour(s)) for s in node if s.tag.rsplit("}", 1)[-1] == "stop"])
    raise BadFile("The SVG file holds no linearGradient.")


def _stop_colour(stop: ElementTree.Element) -> str:
    style = dict(part.split(":", 1) for part in stop.get("style", "").split(";") if ":" in part)
    return colour_from_css(next((v for k, v in style.items() if k.strip() == "stop-color"), stop.get("stop-color", "#000000")))


def _split(text: str) -> list[str]:
    """A text at its commas, but for those within brackets; as far as the bracket that closes it."""
    parts: list[str] = []
    depth = start = 0
    for at, sign in enumerate(text):
        if sign == "(":
            depth += 1
        elif sign == ")" and depth == 0:
            return [*parts, text[start:at]]
        elif sign == ")":
            depth -= 1
        elif sign == "," and depth == 0:
            parts.append(text[start:at])
            start = at + 1
    raise BadFile("The linear-gradient(…) is not closed.")


def read_css(text: str) -> list[Stop]:
    """The stops of a CSS linear-gradient(); its direction is left aside. Raises `BadFile`."""
    _, word, inside = text.partition("linear-gradient(")
    if not word:
        raise BadFile("There is no linear-gradient(…) in this text.")
    parts = _split(inside)
    if DIRECTION.fullmatch((parts[0].split() or [""])[0]):
        parts = parts[1:]
    found: list[tuple[float | None, str]] = []
    for part in parts[: MOST + 1]:
        words = part.split()
        places: list[str] = []
        while words and PLACE.fullmatch(words[-1]):
            places.insert(0, words.pop())
        colour = colour_from_css(" ".join(words))
        found += [(float(w[:-1]), colour) for w in places[: MOST + 1]] or [(None, colour)]
    return _spread(found)


def read_gradient(text: str) -> list[Stop]:
    """Stops from SVG or CSS text, whichever it is. Raises `BadFile`."""
    if len(text) > MOST_TEXT:
        raise BadFile(f"A gradient is read from at most {MOST_TEXT >> 10} KiB of text; this has {len(text) >> 10}.")
    return read_svg(text) if "<" in text else read_css(text)


def write_svg(stops: list[Stop], name: str) -> str:
    """An SVG file with the gradient and a bar painted with it."""
    ElementTree.register_namespace("", SPACE)
    root = ElementTree.Element(f"{{{SPACE}}}svg", {"viewBox": "0 0 256 32"})
    ElementTree.SubElement(root, f"{{{SPACE}}}title").text = name
    node = ElementTree.SubElement(ElementTree.SubElement(root, f"{{{SPACE}}}defs"), f"{{{SPACE}}}linearGradient", {"id": "gradient"})
    for stop in stops:
        ElementTree.SubElement(node, f"{{{SPACE}}}stop", {"offset": f"{stop.position:g}%", "stop-color": stop.colour})
    ElementTree.SubElement(root, f"{{{SPACE}}}rect", {"width": "256", "height": "32", "fill": "url(#gradient)"})
    ElementTree.indent(root)
    return ElementTree.tostring(root, encoding="unicode") + "\n"


def write_css(stops: list[Stop]) -> str:
    """The gradient as a CSS value."""
    return f"linear-gradient(to right, {', '.join(f'{s.colour} {s.position:g}%' for s in stops)})"
