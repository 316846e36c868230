"""Looks from pictures, for shots of a project: what is measured of which frames, and where the proposals go."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from wenditas.core.colour.oklab import lch_from_lab
from wenditas.core.kernel import Floats, Picture
from wenditas.core.likeness.measured import Measured, measured
from wenditas.core.likeness.proposals import Answer, propose
from wenditas.core.look.apply import apply_look
from wenditas.core.look.document import Look
from wenditas.project.carrying import Frames
from wenditas.store.database import new_id

WIDTH = 480  # of the pictures that are measured
HUES, LIGHTS = 36, 16
COLOURED = 0.02


@dataclass(frozen=True)
class Likened:
    """What was proposed for a shot, and how colours are distributed in the picture, in the shot and under the first proposal."""

    answer: Answer
    seen: Floats
    shot: Floats
    result: Floats


def numbers_of(frames: Frames) -> list[int]:
    """The frames of a shot that are measured: one that stands for it, and its ends."""
    return sorted({frames.stands, frames.first, frames.middle, frames.last})


def likened(shot: Sequence[tuple[int, Picture]], reference: Sequence[Picture], same_scene: bool, far: float) -> Likened:
    """Looks for a shot that are like some pictures. Raises `BadLook` with a sentence where there are none."""
    answer = propose(shot, reference, new_id, same_scene=same_scene, far=far)
    first = answer.proposals[0].look
    made = [np.clip(apply_look(first, picture), 0, 1).astype(np.float32) for _, picture in shot]
    return Likened(answer, distribution(measured(reference)), distribution(measured([p for _, p in shot])), distribution(measured(made)))


def distribution(seen: Measured) -> Floats:
    """Shares of pixels by lightness and hue, `(LIGHTS, HUES + 1)`: greys in the last column, dark rows first."""
    lightness, chroma, hue = lch_from_lab(seen.lab)
    column = np.where(chroma < COLOURED, HUES, np.minimum((hue / 360 * HUES).astype(int), HUES - 1))
    row = np.clip((lightness * LIGHTS).astype(int), 0, LIGHTS - 1)
    counts = np.bincount(row * (HUES + 1) + column, minlength=LIGHTS * (HUES + 1)).reshape(LIGHTS, HUES + 1)
    return np.asarray(counts / counts.sum())


def over(look: Look, own: Look) -> Look:
    """A likeness laid under a shot's own look: it is matched first, and treated then."""
    taken = {p.id for p in own.passes} | {b.id for b in own.bundles}
    renamed = {id: new_id() if id in taken else id for id in [*(p.id for p in look.passes), *(b.id for b in look.bundles)]}
    passes = tuple(p.model_copy(update={"id": renamed[p.id], "bundle": None if p.bundle is None else renamed[p.bundle]}) for p in look.passes)
    bundles = tuple(b.model_copy(update={"id": renamed[b.id]}) for b in look.bundles)
    return own.model_copy(update={"passes": (*passes, *own.passes), "bundles": (*bundles, *own.bundles), "selections": (*look.selections, *own.selections)})
