"""Repeatable noise and dither patterns, by place, frame and seed."""

from functools import lru_cache

import numpy as np
import numpy.typing as npt

from wenditas.core.kernel import Floats, Matte, inline

M1, M2, M3, M4 = (np.uint32(v) for v in (0x9E3779B1, 0x85EBCA77, 0xC2B2AE3D, 0x27D4EB2F))
S15, S13, S16 = np.uint32(15), np.uint32(13), np.uint32(16)
UNIT = np.float32(1 / 16777216)
BYTE = np.uint32(8)


def mixed(x: npt.ArrayLike, y: npt.ArrayLike, salt: int) -> npt.NDArray[np.uint32]:
    """A hash of whole coordinates: 32 well mixed bits. Negative coordinates wrap.

    Source: an avalanche of multiplications and shifts as in general-purpose hash functions; constants from memory, checked by its spectrum.
    """
    with np.errstate(over="ignore"):
        h = np.asarray(x).astype(np.int64).astype(np.uint32) * M1 + np.asarray(y).astype(np.int64).astype(np.uint32) * M2 + np.uint32(salt & 0xFFFFFFFF) * M3
        h = (h ^ (h >> S15)) * M2
        h = (h ^ (h >> S13)) * M3
        return np.asarray((h ^ (h >> S16)) * M4, dtype=np.uint32)


@inline
def mixed_fast(x, y, salt):  # type: ignore[no-untyped-def]
    """`mixed` on int32 scalars; salt is a uint32."""
    h = np.uint32(np.uint32(np.uint32(x) * M1) + np.uint32(np.uint32(y) * M2) + np.uint32(salt * M3))
    h = np.uint32((h ^ (h >> S15)) * M2)
    h = np.uint32((h ^ (h >> S13)) * M3)
    return np.uint32((h ^ (h >> S16)) * M4)


def uniform(x: npt.ArrayLike, y: npt.ArrayLike, salt: int) -> Floats:
    """Evenly spread values, 0 up to 1, one for each place."""
    return (mixed(x, y, salt) >> BYTE).astype(np.float64) * float(UNIT)


@inline
def uniform_fast(x, y, salt):  # type: ignore[no-untyped-def]
    """`uniform` on scalars."""
    return np.float32(np.int32(mixed_fast(x, y, salt) >> BYTE)) * UNIT


def salt_of(seed: float, frame: int = 0, channel: int = 0) -> int:
    """A salt from a seed, a frame and a channel."""
    return (int(seed) * 7919 + frame * 104729 + channel * 1299709) & 0xFFFFFFFF


def bayer(order: int = 3) -> Matte:
    """Ordered thresholds, `(2**order, 2**order)`, 0 < t < 1. Source: Bayer 1973."""
    matrix = np.zeros((1, 1))
    for _ in range(order):
        matrix = np.block([[4 * matrix, 4 * matrix + 2], [4 * matrix + 3, 4 * matrix + 1]])
    return np.asarray((matrix + 0.5) / matrix.size, np.float32)


@lru_cache
def blue_noise(size: int = 64, seed: int = 3) -> Matte:
    """Thresholds without low frequencies, `(size, size)`, 0 < t < 1, repeating without a seam.

    Source: Ulichney 1993, void-and-cluster; Gaussian of 1.5 pixels.
    """
    rng = np.random.default_rng(seed)
    offset = np.minimum(np.arange(size), size - np.arange(size))
    energy_of_one = np.exp(-(offset[:, None] ** 2 + offset[None, :] ** 2) / (2 * 1.5**2))
    repeated = np.tile(energy_of_one, (2, 2))

    def around(place: int) -> Floats:
        """The energy of one point there: a part of what repeats, so that nothing is moved for it."""
        y, x = divmod(place, size)
        return repeated[size - y : 2 * size - y, size - x : 2 * size - x]

    count = size * size // 10
    # The energy at points, and at voids; where there is none of these, what a search does not find.
    points, voids = np.full((size, size), -np.inf), np.zeros((size, size))
    chosen = rng.choice(size * size, count, replace=False)
    for place in chosen:
        voids += around(int(place))
    points.flat[chosen], voids.flat[chosen] = voids.flat[chosen], np.inf

    def put(place: int) -> None:
        points.flat[place] = voids.flat[place]
        voids.flat[place] = np.inf
        np.add(points, around(place), out=points)
        np.add(voids, around(place), out=voids)

    def take(place: int) -> None:
        voids.flat[place] = points.flat[place]
        points.flat[place] = -np.inf
        np.subtract(points, around(place), out=points)
        np.subtract(voids, around(place), out=voids)

    while True:  # even out the first points: move the tightest cluster into the widest void until that is where it came from
        place = int(points.argmax())
        take(place)
        void = int(voids.argmin())
        put(void)
        if void == place:
            break
    ranks = np.zeros((size, size))
    evened = points.copy(), voids.copy()
    for rank in range(count - 1, -1, -1):
        place = int(points.argmax())
        take(place)
        ranks.flat[place] = rank
    points[:], voids[:] = evened
    for rank in range(count, size * size):
        place = int(voids.argmin())
        put(place)
        ranks.flat[place] = rank
    return np.asarray((ranks + 0.5) / ranks.size, np.float32)
