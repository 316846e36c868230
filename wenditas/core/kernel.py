"""How every compiled kernel is built, and the picture types they share.

A picture is float32 `(3, h, w)`, gamma-coded BT.709 R'G'B', nominal 0-1, C-contiguous.
A matte is float32 `(h, w)`, 0-1. A tile is a few rows of a picture.
"""

from collections.abc import Callable
from typing import Any, TypeVar

import numpy as np
import numpy.typing as npt

from wenditas.compiled import widen_vectors

widen_vectors()

import numba  # noqa: E402  # it reads what it is to compile for as it is imported

Picture = npt.NDArray[np.float32]
Matte = npt.NDArray[np.float32]
Floats = npt.NDArray[np.floating[Any]]

MOST_VALUE = np.float32(65504)  # that a picture holds, either way: the largest half float (IEEE 754), so that every format can take it

F = TypeVar("F", bound=Callable[..., Any])


def kernel(function: F) -> F:
    """Compile for the vectoriser, without the GIL, cached on disk."""
    return numba.njit(nogil=True, fastmath=True, error_model="numpy", cache=True)(function)  # type: ignore[no-any-return]


def apart(function: F) -> F:
    """A kernel whose arrays do not overlap each other, wherever it writes. The compiler looks at each call whether they do, unless it is told:
    in loops over few pixels that takes longer than the work (measured: 24 to 11 ns for sixteen pixels of a vote)."""
    compiled = kernel(function)
    compiler: Any = getattr(compiled, "_compiler", None)
    if hasattr(compiler, "_customize_flags"):

        def told(flags: Any) -> Any:
            flags.noalias = True
            return flags

        compiler._customize_flags = told
    return compiled


def inline(function: F) -> F:
    """A small helper folded into the kernels that call it: by the compiler of machine code, which is quicker at it than Numba's own."""
    return numba.njit(nogil=True, fastmath=True, error_model="numpy", forceinline=True)(function)  # type: ignore[no-any-return]


@inline
def fill(row, value):  # type: ignore[no-untyped-def]
    """The same value all along a row. A slice that is assigned to takes seconds to compile: its check tells shapes in words."""
    for x in range(row.size):
        row[x] = value


@inline
def copy(row, to):  # type: ignore[no-untyped-def]
    """A row's values into another at least as long, see `fill`."""
    for x in range(row.size):
        to[x] = row[x]


@inline
def cell(place, top):  # type: ignore[no-untyped-def]
    """The whole number of a place, from 0 to `top`, whatever the place is: what is no number becomes an index too, and must not lie outside its table."""
    return min(max(np.int32(place), np.int32(0)), top)


@numba.njit(nogil=True, error_model="numpy", cache=True)  # type: ignore[untyped-decorator]  # not "fast": it is to know what is no number
def _bound(flat, most):  # type: ignore[no-untyped-def]
    beyond = False  # looked at first, all values at once: hardly ever is there one
    for n in range(flat.size):
        beyond |= not abs(flat[n]) <= most
    if beyond:
        for n in range(flat.size):
            value = flat[n]
            if not -most <= value <= most:
                flat[n] = most if value > most else (-most if value < -most else np.float32(0))


def bound(tile: Picture) -> Picture:
    """A tile with its values from -`MOST_VALUE` to `MOST_VALUE`, in place; what is no number becomes 0."""
    _bound(tile.reshape(-1), MOST_VALUE)
    return tile


def finite(values: Floats) -> Floats:
    """Values with 0 for what is no number and ±`MOST_VALUE` for infinities; the same array where there are none."""
    if np.isfinite(values.sum(dtype=np.float64)):
        return values
    return np.nan_to_num(values, nan=0.0, posinf=float(MOST_VALUE), neginf=-float(MOST_VALUE))


def as_picture(values: npt.ArrayLike) -> Picture:
    """`values` as a C-contiguous float32 array."""
    return np.ascontiguousarray(values, dtype=np.float32)
