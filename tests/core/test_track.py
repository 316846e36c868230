"""Tracking on synthetic motion with known truth."""

import cv2
import numpy as np
import pytest

from wenditas.core.select.similarity import Similarity
from wenditas.core.select.track import DOUBT, LOST, Tracker
from wenditas.core.select.tracks import Track, TrackFrame, doubtful

RNG = np.random.default_rng(12)
SCENE = cv2.GaussianBlur(RNG.random((360, 640)).astype(np.float32), (0, 0), 2.5)
SCENE = (SCENE - SCENE.min()) / np.ptp(SCENE) * 200 + 20
OBJECT = cv2.GaussianBlur(RNG.random((140, 180)).astype(np.float32), (0, 0), 1.8)
OBJECT = (OBJECT - OBJECT.min()) / np.ptp(OBJECT) * 220 + 10
HOME = np.array([(260, 130), (400, 130), (400, 240), (260, 240)], np.float64)


def frame(move: Similarity, noise: float = 0, gain: float = 1, offset: float = 0, cover: float = 0) -> np.ndarray:
    """The object moved over the scene; `cover` hides that share of it from the left with a flat patch that stays."""
    matrix = np.array([[move.m.real, -move.m.imag, move.t.real], [move.m.imag, move.m.real, move.t.imag]])
    place = matrix @ np.array([[1, 0, 240], [0, 1, 110], [0, 0, 1.0]])
    moved = cv2.warpAffine(OBJECT, place, (640, 360), flags=cv2.INTER_CUBIC)
    inside = cv2.warpAffine(np.ones_like(OBJECT), place, (640, 360))
    picture = SCENE * (1 - inside) + moved * inside
    if cover:
        picture[110:260, 240 : int(240 + 180 * cover)] = 90
    picture = picture * gain + offset + noise * np.random.default_rng(int(abs(move.t) * 1000) % 9973).standard_normal(picture.shape)
    return np.clip(picture, 0, 255).astype(np.uint8)


MOTIONS = {
    "shift": lambda n: Similarity(t=complex(2.3 * n, -1.1 * n)),
    "rotation": lambda n: _about(np.exp(1j * np.radians(0.8 * n))),
    "scale": lambda n: _about(1 + 0.006 * n),
    "all": lambda n: Similarity(t=complex(1.5 * n, 0.7 * n)) @ _about((1 - 0.004 * n) * np.exp(-1j * np.radians(0.5 * n))),
}


def _about(m: complex, middle: complex = 330 + 185j) -> Similarity:
    return Similarity(m, middle - m * middle)


def errors(motion, count: int = 30, **conditions) -> list[float]:
    tracker = Tracker(frame(motion(0), **conditions), HOME)
    found = []
    for n in range(1, count):
        step = tracker.step(frame(motion(n), **conditions))
        assert step.confidence >= LOST, n
        found.append(float(np.linalg.norm(step.move(HOME) - motion(n)(HOME), axis=1).max()))
    return found


@pytest.mark.parametrize("motion", MOTIONS.values(), ids=list(MOTIONS))
@pytest.mark.parametrize("noise", [0, 6])
def test_median_error_is_half_a_pixel_at_most(motion, noise: float) -> None:
    found = errors(motion, noise=noise)
    assert np.median(found) <= 0.5 and max(found) < 1.5


def test_brightness_is_not_motion() -> None:
    motion = MOTIONS["shift"]
    tracker = Tracker(frame(motion(0)), HOME)
    found = []
    for n in range(1, 25):
        step = tracker.step(frame(motion(n), gain=1 - 0.02 * n, offset=8))
        found.append(np.linalg.norm(step.move(HOME) - motion(n)(HOME), axis=1).max())
    assert np.median(found) <= 0.5


def test_partial_occlusion() -> None:
    found = errors(lambda n: Similarity(t=complex(0.8 * n, 0.3 * n)), cover=0.35)
    assert np.median(found) <= 0.5


def test_a_cut_is_said_to_be_lost() -> None:
    tracker = Tracker(frame(Similarity()), HOME)
    other = cv2.GaussianBlur(np.random.default_rng(99).random((360, 640)).astype(np.float32), (0, 0), 2)
    assert tracker.step((255 * other).astype(np.uint8)).confidence < LOST


def test_leaving_the_frame_and_nothing_to_follow() -> None:
    motion = lambda n: Similarity(t=complex(25.0 * n, 0))  # noqa: E731
    tracker = Tracker(frame(motion(0)), HOME)
    confidences = [tracker.step(frame(motion(n))).confidence for n in range(1, 22)]
    assert confidences[0] >= LOST > min(confidences)
    flat = np.full((360, 640), 128, np.uint8)
    assert not Tracker(flat, HOME).usable and Tracker(flat, HOME).step(flat).confidence == 0
    outside = Tracker(frame(motion(0)), HOME + 5000)
    assert outside.step(frame(motion(1))).confidence == 0


def test_what_is_followed_but_is_something_else_is_doubtful() -> None:
    """The object fades into the scene it lies on: corners of that are followed ever after. Its place is kept, and it is said to be doubtful."""
    ground = frame(Similarity())
    tracker = Tracker(ground, HOME)
    found = []
    for n in range(1, 24):
        share = min(n / 14, 1)
        found.append(tracker.step(np.clip(ground * (1 - share) + SCENE * share, 0, 255).astype(np.uint8)).confidence)
    assert found[0] > DOUBT and found[2] > DOUBT
    assert min(found) < LOST or max(found[-4:]) <= DOUBT  # lost, or said to be doubtful; before this was held for sure


@pytest.mark.parametrize("motion", MOTIONS.values(), ids=list(MOTIONS))
def test_what_stays_like_itself_is_not_doubtful(motion) -> None:
    tracker = Tracker(frame(motion(0)), HOME)
    for n in range(1, 30):
        assert tracker.step(frame(motion(n), noise=6, gain=1 - n / 60)).confidence > DOUBT, n


def test_doubtful_stretches_are_told() -> None:
    def track(*sure: float) -> Track:
        return Track(tuple(TrackFrame(frame=n, values=(1, 0, 0, 0), confidence=c) for n, c in enumerate(sure)))

    assert doubtful(track(*[0.9] * 20)) == [] and doubtful(track(*[0.3] * 5)) == []
    assert doubtful(track(*[0.9] * 3, *[0.3] * 8, 0.9, *[0.4] * 6)) == [(3, 10), (12, 17)]
