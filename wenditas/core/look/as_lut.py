"""A look as a LUT: what of it does the same to a colour wherever and whenever it stands; the rest is left out, and said."""

from dataclasses import dataclass

import numpy as np

from wenditas.core.colour.difference import ciede2000, lab_from_rgb
from wenditas.core.files import NO_FILES, Files
from wenditas.core.kernel import Picture
from wenditas.core.look.animate import look_at
from wenditas.core.look.apply import apply_look
from wenditas.core.look.document import Look, Pass
from wenditas.core.select.clean import Cleaning
from wenditas.core.select.matte import Moment
from wenditas.core.select.selection import Selection
from wenditas.core.tone.lut import Lut, apply_lut
from wenditas.core.treat.record import moves

SIZES = (17, 33, 65)
SAME = 2e-3  # difference up to which two results are one: half a code value of 8 bits


@dataclass(frozen=True)
class LeftOut:
    """A pass that is not in the LUT, or something of it that is not, and why."""

    name: str
    why: str


@dataclass(frozen=True)
class Loss:
    """How far a LUT is from the look on a picture, in CIEDE2000."""

    mean: float
    largest: float


def lattice(size: int) -> Picture:
    """All colours of a LUT as a picture `(3, size * size, size)`: red goes across, green and blue down."""
    steps = np.linspace(0, 1, size, dtype=np.float32)
    blue, green, red = np.meshgrid(steps, steps, steps, indexing="ij")
    return np.ascontiguousarray(np.stack([red, green, blue]).reshape(3, size * size, size))


def as_lut(look: Look, frame: int, rate: float, size: int, title: str, files: Files = NO_FILES) -> tuple[Lut, list[LeftOut]]:
    """The LUT of a look as it is at a frame, `size` samples along an edge, and what is left out of it.

    Left out are passes that read other places or frames, that depend on the place in the picture (found by trying), or whose selection
    has shapes, alpha, or reads a pass. Selections are not cleaned. Source: definition.
    """
    shown = look_at(look, frame, rate) if look.lanes else look
    told = [LeftOut("animation", f"values are those of frame {frame}")] if look.lanes else []
    passes, used = [], set[str]()
    for item in shown.passes:
        if item.known and not item.active:
            continue
        why = _why_not(shown, item, files)
        if why is None:
            passes.append(item)
            used |= _chosen(shown, item)
        else:
            told.append(LeftOut(item.name or item.treatment, why))
    selections = tuple(_plain(s) for s in shown.selections)
    told += [LeftOut(s.name, "its matte is not cleaned") for s in shown.selections if s.id in used and not s.cleaning.idle]
    kept = shown.model_copy(update={"passes": tuple(passes), "selections": selections, "lanes": ()})
    found = apply_look(kept, lattice(size), Moment(files=files))
    return Lut(title, np.ascontiguousarray(np.moveaxis(found, 0, -1).reshape(size, size, size, 3))), told


def loss(lut: Lut, source: Picture, result: Picture) -> Loss:
    """How far the LUT on a source is from the look's own result."""
    apart = ciede2000(lab_from_rgb(result), lab_from_rgb(apply_lut(source, lut)))
    return Loss(float(apart.mean()), float(apart.max()))


def _plain(selection: Selection) -> Selection:
    return selection.model_copy(update={"cleaning": Cleaning(despeckle=0, denoise_chroma=0)})


def _chosen(look: Look, item: Pass) -> set[str]:
    """The selections that say where a pass works: its own, and that of the bundle that it is in."""
    found = {item.selection} if item.side != "everywhere" else set()
    found |= {b.selection for b in look.bundles if b.id == item.bundle and b.side != "everywhere"}
    return {id for id in found if id is not None}


def _why_not(look: Look, item: Pass, files: Files) -> str | None:
    """Why a pass cannot be in a LUT; None where it can."""
    if not item.known:
        return "it is not known here"
    if item.side not in ("everywhere", "inside", "outside"):
        return "it spreads from a place"
    treatment, params = item.settled.treatment, item.settled.params
    reach = treatment.reach(params)
    if reach != "pixel":
        return "it reads other frames" if reach == "time" else "it reads the places around each pixel"
    if treatment.reads_matte:
        return "it works on the edge of a selection"
    chosen = _chosen(look, item)
    for selection in (s for s in look.selections if s.id in chosen):
        if any(part.makes_a_difference for part in selection.objects):
            return f"the selection “{selection.name}” has an object, which lies at places"
        if any(s.on for s in selection.shapes):
            return f"the selection “{selection.name}” has shapes, which lie at places"
        if selection.reads is not None or selection.needs_alpha:
            return f"the selection “{selection.name}” reads more than the colour"
    if moves(treatment, params):
        return "it changes by itself from frame to frame"
    alone = Look(passes=(item.model_copy(update={"selection": None, "side": "everywhere", "bundle": None, "reads": "running"}),))
    return "what it does depends on the place in the picture" if _placed(alone, files) else None


def _placed(look: Look, files: Files) -> bool:
    """Whether a look does something else to the same colours in other places: it is tried with the colours of a small lattice in two orders."""
    colours = lattice(5)
    turned = np.ascontiguousarray(colours[:, ::-1, ::-1])
    one, other = (apply_look(look, picture, Moment(files=files)) for picture in (colours, turned))
    return float(np.abs(one - other[:, ::-1, ::-1]).max()) > SAME
