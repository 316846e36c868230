"""Following edges: around the edge of a matte each pixel goes with those nearby that look like it.

Compression moves and frays the edge of a key, for the key sees chroma, which is coarse. Where the matte goes from all to nothing within a few
pixels, each pixel takes a mean of the matte around it, weighted by likeness of luma and chroma and by nearness: a joint bilateral filter
(Tomasi and Manduchi 1998; Petschnigg et al. 2004, *Digital Photography with Flash and No-Flash Image Pairs*), along rows and along columns in turn (Pham
and van Vliet 2005, *Separable Bilateral Filtering for Fast Video Preprocessing*). What lies at the edge itself, and is least sure, counts
little. Contrast is raised after each round, so that pixels decide; a short blur gives back what a pixel across an edge covers. A matte that
falls off slowly is meant to, and stays as it is; so does all of it where the picture was never coded (no noise at all).
The figures, and those in `ballot.py`, where this is worked out fast, are our own, chosen on one half of `bench/keys.py`'s clips and reported
on the other.
"""

import cv2
import numpy as np
import numpy.typing as npt

from wenditas.core.colour.ycbcr import differences
from wenditas.core.kernel import Floats, Matte, Picture, bound
from wenditas.core.select.ballot import HALF, UNSURE, Ask, Ballot, Mask
from wenditas.core.select.denoise import Noise

ROUNDS, BAND = 4, 8  # how often is voted; pixels from the edge in which
SMALLEST = 0.5  # of all lengths, on pictures that are smaller than their footage
CONTRAST = 1.4  # how much contrast is raised
ALL, NONE = 0.9, 0.1  # what counts as in and as out
SOFT = 0.6  # standard deviation in pixels of the blur at the end
NEAR = 4  # pixels further that an edge and a blur look at


def _scale(noise: Noise, height: int) -> float:
    return float(np.clip(height / noise.lines, SMALLEST, 1)) if noise.lines else 1.0


def _box(reach: int) -> npt.NDArray[np.uint8]:
    return np.ones((2 * reach + 1, 2 * reach + 1), np.uint8)


def disputed(matte: Matte, reach: int) -> Mask:
    """Where a matte goes from all to nothing: what has both within `reach` pixels."""
    inside, outside = (matte > ALL).view(np.uint8), (matte < NONE).view(np.uint8)
    return np.asarray(cv2.bitwise_and(cv2.dilate(inside, _box(reach)), cv2.dilate(outside, _box(reach)))).view(np.bool_)


def _at_edge(matte: Matte) -> npt.NDArray[np.uint8]:
    """1 where the matte is least sure, within two pixels of its edge; else 0."""
    inside = (matte > HALF).view(np.uint8)
    return np.asarray(cv2.bitwise_xor(cv2.dilate(inside, _box(2)), cv2.erode(inside, _box(2))), np.uint8)


def _softened(matte: Matte, where: Mask, sigma: float) -> Matte:
    soft = cv2.GaussianBlur(matte, (5, 5), sigma, borderType=cv2.BORDER_REPLICATE)
    np.copyto(soft, matte, where=~where)
    return np.asarray(soft, np.float32)


def _shared(before: Matte, after: Matte, share: float) -> Matte:
    return after if share == 1 else np.asarray(before + (after - before) * np.float32(share), np.float32)


def followed_reference(matte: Matte, picture: Picture, noise: Noise, share: float = 1.0) -> Matte:
    """`followed` in plain NumPy."""
    if noise.sigma == 0:
        return matte
    scale = _scale(noise, matte.shape[0])
    before, planes, where, ask = matte, differences(picture), disputed(matte, round(BAND * scale)), Ask.of(noise, scale)
    for n in range(ROUNDS):
        voted = _asked_reference(matte, planes, np.where(_at_edge(matte), UNSURE, 1.0), ask, (n + 1) % 2)
        matte = np.where(where, np.clip((voted - 0.5) * CONTRAST + 0.5, 0, 1), matte).astype(np.float32)
    return _shared(before, _softened(matte, where, SOFT * scale), share)


def _asked_reference(matte: Matte, planes: Floats, sure: Floats, ask: Ask, axis: int) -> Floats:
    """What those along an axis say to each pixel; beyond the frame there is nobody."""
    total, sums, length = np.zeros(matte.shape), np.zeros(matte.shape), matte.shape[axis]
    for offset, near in zip(ask.offsets, ask.nearness, strict=True):
        at = np.arange(length) + offset
        there = np.clip(at, 0, length - 1)
        d = np.take(planes, there, axis=axis + 1) - planes
        like = np.maximum(1 - (d[0] ** 2 * ask.luma + (d[1] ** 2 + d[2] ** 2) * ask.chroma) / 8, 0) ** 4
        is_there = np.expand_dims((at >= 0) & (at < length), 1 - axis)
        weight = like * near * np.take(sure, there, axis=axis) * is_there
        total += weight
        sums += weight * np.take(matte, there, axis=axis)
    return np.asarray(sums / total)


def followed(matte: Matte, picture: Picture, noise: Noise, share: float = 1.0) -> Matte:
    """The matte with an edge that follows the picture's.

    matte: `(h, w)`, 0-1. picture: `(3, h, w)`, what was keyed. noise: of the footage. share: 0-1, how much of the change is made.
    Returns `(h, w)`, 0-1. Source: see above.
    """
    scale = _scale(noise, matte.shape[0])
    where = disputed(matte, round(BAND * scale))
    if noise.sigma == 0 or share <= 0 or not where.any():
        return matte
    ask = Ask.of(noise, scale)
    box = _box_around(where, int(ask.offsets[-1]) + NEAR)
    part, out = matte[box], matte.copy()
    out[box] = _shared(part, _voted(part, picture, (box[0].start, box[1].start), np.ascontiguousarray(where[box]), ask, SOFT * scale), share)
    return out


def _box_around(where: Mask, room: int) -> tuple[slice, slice]:
    """The rows and columns of all that is set, with some room."""
    rows, columns = np.flatnonzero(where.any(axis=1)), np.flatnonzero(where.any(axis=0))
    return slice(max(int(rows[0]) - room, 0), int(rows[-1]) + room + 1), slice(max(int(columns[0]) - room, 0), int(columns[-1]) + room + 1)


def _voted(matte: Matte, picture: Picture, corner: tuple[int, int], where: Mask, ask: Ask, soft: float) -> Matte:
    """A part of a matte after all rounds, softened. corner: its first row and column in the picture; soft: standard deviation of the blur."""
    ballot = Ballot(picture, corner, where, ask)
    return ballot.of(bound(ballot.soften(ballot.rounds(matte, ROUNDS, CONTRAST), soft)))
