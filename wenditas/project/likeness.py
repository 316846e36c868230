"""Looks from pictures, for shots of a project: what is measured of which frames, and where the proposals go."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from wenditas.core.colour.oklab import lch_from_lab
from wenditas.core.kernel import Floats, Picture
from wenditas.core.likeness.measured import Measured, measured
from wenditas.core.likeness.proposals import MATCHED, Answer, propose
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


def under(matched: Look, own: Look) -> Look:
    """A shot's own look over what matches the shot to a scene; what did so before is taken away, for it is the source that was measured."""
    former = {p.id for p in own.passes if p.bundle == MATCHED}
    kept = tuple(p for p in own.passes if p.id not in former)
    taken = {p.id for p in kept}
    passes = tuple(p.model_copy(update={"id": new_id()}) if p.id in taken else p for p in matched.passes)
    lanes = tuple(lane for lane in own.lanes if not any(lane.target.startswith(f"passes/{id}/") for id in former))
    bundles = (*matched.bundles, *(b for b in own.bundles if b.id != MATCHED))
    return own.model_copy(update={"passes": (*passes, *kept), "bundles": bundles, "lanes": lanes})
