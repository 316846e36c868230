"""What objects are measured beside: a graph cut on what flow carries, and the tracked path, stiff and bending."""

from collections.abc import Sequence

import cv2
import numpy as np

from wenditas.core.kernel import Floats, Matte, Picture
from wenditas.core.select.bending import Bender
from wenditas.core.select.denoise import Noise
from wenditas.core.select.edges import spread
from wenditas.core.select.objects.outlines import outline_of
from wenditas.core.select.objects.seen import Seen
from wenditas.core.select.similarity import Similarity
from wenditas.core.select.track import DOUBT, LOST, Tracker
from wenditas.render.tracking import APART

OPEN = 17  # pixels along the edge that are left to the graph cut
ROUNDS = 2


def _cut(picture: Picture, label: np.ndarray) -> Matte:
    image = np.ascontiguousarray(np.clip(picture.transpose(1, 2, 0)[:, :, ::-1] * 255 + 0.5, 0, 255).astype(np.uint8))
    both = np.isin(label, (cv2.GC_FGD, cv2.GC_PR_FGD)).any() and np.isin(label, (cv2.GC_BGD, cv2.GC_PR_BGD)).any()
    if both:
        cv2.setRNGSeed(1)
        cv2.grabCut(image, label, None, np.zeros((1, 65)), np.zeros((1, 65)), ROUNDS, cv2.GC_INIT_WITH_MASK)
    return np.isin(label, (cv2.GC_FGD, cv2.GC_PR_FGD)).astype(np.float32)


def warped_cuts(frames: Sequence[Picture], first: Matte) -> list[Matte]:
    """The plain way: the matte is carried by flow (dense inverse search), what is well within and well without stays, and GrabCut decides along the edge."""
    flow = cv2.DISOpticalFlow_create(cv2.DISOPTICAL_FLOW_PRESET_MEDIUM)  # type: ignore[attr-defined]
    greys = [np.asarray(np.clip(cv2.cvtColor(f.transpose(1, 2, 0), cv2.COLOR_RGB2GRAY) * 255, 0, 255), np.uint8) for f in frames]
    y, x = np.mgrid[: first.shape[0], : first.shape[1]].astype(np.float32)
    out, box = [first], np.ones((OPEN, OPEN), np.uint8)
    for n in range(1, len(frames)):
        way = flow.calc(greys[n], greys[n - 1], None)
        was = (cv2.remap(out[-1], x + way[..., 0], y + way[..., 1], cv2.INTER_LINEAR) > 0.5).astype(np.uint8)
        label = np.where(was > 0, cv2.GC_PR_FGD, cv2.GC_PR_BGD).astype(np.uint8)
        label[cv2.erode(was, box) > 0], label[cv2.dilate(was, box) == 0] = cv2.GC_FGD, cv2.GC_BGD
        out.append(_cut(frames[n], label))
    return out


def tracked(frames: Sequence[Picture], truth: Matte) -> list[Matte]:
    """The path of the true outline on the first frame, tracked as a whole: move, turn, scale."""
    height = truth.shape[0]
    outline = outline_of(truth) * height / 1080
    greys = [np.asarray(np.clip(cv2.cvtColor(f.transpose(1, 2, 0), cv2.COLOR_RGB2GRAY) * 255, 0, 255), np.uint8) for f in frames]
    follower = Tracker(greys[0], outline)
    return [filled(outline, truth.shape)] + [filled(follower.step(grey).move(outline), truth.shape) for grey in greys[1:]]


def bending(frames: Sequence[Picture], noise: Noise, truth: Matte) -> list[Matte]:
    """The same path with points that go each its own way, as the application tracks it on request."""
    size = truth.shape
    places = spread(outline_of(truth) * size[0] / 1080, APART * size[0] / 1080)
    greys = [np.asarray(np.clip(cv2.cvtColor(f.transpose(1, 2, 0), cv2.COLOR_RGB2GRAY) * 255, 0, 255), np.uint8) for f in frames]
    follower, bender, before = Tracker(greys[0], places), Bender(Seen.of(frames[0], noise), places), Similarity()
    out = [filled(places, size)]
    for frame, grey in zip(frames[1:], greys[1:], strict=True):
        step = follower.step(grey)
        move = step.move if step.confidence >= LOST else before
        stiff, before = (move @ before.inverse())(bender.points), move
        out.append(filled(bender.step(Seen.of(frame, noise), stiff, move(places) if step.confidence > DOUBT else None), size))
    return out


def filled(outline: Floats, size: tuple[int, ...]) -> Matte:
    """An outline `(n, 2)` in pixels as a matte of 0 and 1."""
    out = np.zeros(size[:2], np.uint8)
    cv2.fillPoly(out, [np.rint(outline).astype(np.int32)], 1)
    return out.astype(np.float32)
