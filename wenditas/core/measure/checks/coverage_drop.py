"""Coverage drop: frames on which a selection covers far less, or far more, than on both sides of them, or from which on it has lost its object."""

from collections.abc import Callable, Sequence

import cv2
import numpy as np

from wenditas.core.colour.oklab import hue_distance, lch_from_lab, oklab_from_rgb
from wenditas.core.kernel import Matte
from wenditas.core.measure.checks.fixing import add_pick, fresh
from wenditas.core.measure.checks.pictures import smooth
from wenditas.core.measure.checks.record import Check, Command, Fix, Mark, Seen
from wenditas.core.measure.coverage import DROP, WeakFrame, lasting_falls, weak_frames
from wenditas.core.select.distance import EDGE
from wenditas.core.select.keys import ColourKey, HueKey
from wenditas.core.select.picks import Pick, sample

HUE, CHROMA, LIGHTNESS = 20.0, 1.0, 0.3  # how far a colour may be and still be much like another: degrees, log of the ratio, Oklab
ALIKE = 2.5  # the most of these, together, for what was lost
AWAY = 0.05  # of the frame's width that a thing may be from where it was
SHARE = 0.25  # of what was lost that has to be found
GATE = 0.5  # where the gate of chroma begins, and how wide it is, as a share of the pick's chroma
BESIDE = 24  # frames beside a weak stretch on which what is usual is sought
BACK = 0.5  # of what was lost that a pick has to bring back


def marks(
    values: Sequence[float], name: str, selection: str, cuts: Sequence[int] = (), fix_of: Callable[[WeakFrame], Fix | None] = lambda weak: None
) -> list[Mark]:
    """The weak frames of a selection, from its coverage of every frame in percent. fix_of: how a drop is fixed, where that is known.

    What is lost for good is told only where it has a fix, since it may just as well have left the picture.
    """
    found = []
    for fall in lasting_falls(np.asarray(values, np.float64), cuts):
        if (step := fix_of(fall)) is not None:
            words = f"“{name}” loses what it selects: {fall.value:.1f} % of the frame from here on, {fall.usual:.1f} % before."
            found.append(Mark(CHECK.id, fall.frame, fall.value, words, None, selection, fall.first, fall.last, step))
    told = [(mark.first or 0, mark.last or 0) for mark in found]
    for weak in weak_frames(np.asarray(values, np.float64), cuts=cuts):
        if any(first <= weak.frame <= last for first, last in told):
            continue
        step = fix_of(weak) if weak.kind == "drop" else None
        what = "loses what it selects" if weak.kind == "drop" else "selects much more"
        by_hand = "" if step else " Add a pick from this frame." if weak.kind == "drop" else " Refuse by “not this” what does not belong."
        words = f"“{name}” {what}: {weak.value:.1f} % of the frame, {weak.usual:.1f} % around it.{by_hand}"
        found.append(Mark(CHECK.id, weak.frame, weak.value, words, None, selection, weak.first, weak.last, step))
    return found


def usual_frame(values: Sequence[float], weak: WeakFrame) -> int | None:
    """The frame nearest to the weak one that covers what is usual, since things move; else the one near it that is most like that. None where there is none."""
    beside = [n for n in range(max(0, weak.first - BESIDE), min(len(values), weak.last + BESIDE + 1)) if not weak.first <= n <= weak.last]
    known = [n for n in beside if np.isfinite(values[n])]
    full = [n for n in known if DROP * weak.usual <= values[n] <= weak.usual / DROP]
    return min(full, key=lambda n: abs(n - weak.frame), default=min(known, key=lambda n: abs(values[n] - weak.usual), default=None))


def lost_piece(usual: Seen, lost: Seen, id: str) -> Matte:
    """Where on the frame `lost` that is which a selection covers on the frame `usual`, and does not now: the largest piece, 0 or 1; all 0 where there is none.

    Near the place where it was, and of a colour much like what is selected there (Oklab hue, chroma and lightness). Source: our own.
    """
    was, now = usual.mattes[id] > EDGE, lost.mattes[id] > EDGE
    nothing = np.zeros(now.shape, np.float32)
    if not was.any():
        return nothing
    wanted = np.median(oklab_from_rgb(np.clip(usual.source[:, was], 0, 1.25)), axis=1)
    light, chroma, hue = (float(v) for v in lch_from_lab(wanted))
    there = lch_from_lab(oklab_from_rgb(np.clip(np.stack([smooth(plane, 1) for plane in lost.source]), 0, 1.25)))
    log = np.log(np.maximum(there[1], 1e-4) / max(chroma, 1e-4))
    far = np.sqrt((np.asarray(hue_distance(there[2], hue)) / HUE) ** 2 + (log / CHROMA) ** 2 + ((there[0] - light) / LIGHTNESS) ** 2)
    reach = 2 * round(AWAY * was.shape[1]) + 1
    near = cv2.dilate(was.astype(np.uint8), np.ones((reach, reach), np.uint8)) > 0
    count, labels, stats, _ = cv2.connectedComponentsWithStats((near & ~now & (far < ALIKE)).astype(np.uint8), connectivity=8)
    if count < 2:
        return nothing
    best = 1 + int(np.argmax(stats[1:, cv2.CC_STAT_AREA]))
    enough = stats[best, cv2.CC_STAT_AREA] >= SHARE * max(int(was.sum()) - int(now.sum()), 1)
    return np.asarray(labels == best, np.float32) if enough else nothing


def fix(usual: Seen, lost: Seen, id: str) -> Fix | None:
    """A pick from the middle of what was lost, for the selection's first key that takes picks; None where nothing is found, or no key is asked.

    A key by hue whose gate keeps that out, since it is greyer, is opened as far as that.
    """
    selection = lost.selection(id)
    keys = () if selection is None or selection.reads is not None else selection.keys
    key = next((k for k in keys if isinstance(k, HueKey | ColourKey) and k.on and k.picks), None)
    piece = lost_piece(usual, lost, id).astype(np.uint8)
    if key is None or not piece.any():
        return None
    deep = cv2.distanceTransform(cv2.copyMakeBorder(piece, 1, 1, 1, 1, cv2.BORDER_CONSTANT), cv2.DIST_L2, 3)[1:-1, 1:-1]
    row, column = np.unravel_index(int(np.argmax(deep)), deep.shape)
    x, y = (float(column) + 0.5) / piece.shape[1], (float(row) + 0.5) / piece.shape[0]
    pick = Pick(id=fresh({p.id for p in key.picks}, f"from-{lost.frame}"), colour=sample(lost.source, x, y, 5), x=x, y=y, frame=lost.frame)
    commands: list[Command] = [add_pick(id, key.id, pick)]
    if isinstance(key, HueKey):
        chroma = float(lch_from_lab(oklab_from_rgb(np.clip(pick.colour, 0, 1.25)))[1])
        if chroma < key.least_chroma + key.gate_softness:
            opened = {"least_chroma": round(max(GATE * chroma, 0.005), 3), "gate_softness": round(max(GATE * chroma, 0.005), 3)}
            commands += [{"do": "set", "target": f"look/selections/{id}/keys/{key.id}/{name}", "value": value} for name, value in opened.items()]
    return Fix("Add a pick from this frame", tuple(commands))


def brings_back(before: Matte, after: Matte, usual: float) -> bool:
    """Whether a matte with a fix covers enough of what is usual (in percent of the frame), and not much more."""
    was, now = float(before.mean()) * 100, float(after.mean()) * 100
    return was + BACK * (usual - was) <= now and not takes_more(after, usual)


def takes_more(matte: Matte, usual: float) -> bool:
    """Whether a matte covers much more than is usual, in percent of the frame."""
    return float(matte.mean()) * 100 > max(usual / DROP, usual + 0.1)


CHECK = Check(
    id="coverage-drop",
    name="Coverage drop",
    measures="selected area against that of the frames on both sides, or of those before",
    unit="% of the frame",
    threshold=DROP * 100,
    source="common practice",
    fixes="a pick from that frame, where what was lost is found; else by hand, on the Bench",
    over="shot",
    below=True,
)
