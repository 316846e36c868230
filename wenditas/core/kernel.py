"""How every compiled kernel is built, and the picture types they share.

A picture is float32 `(3, h, w)`, gamma-coded BT.709 R'G'B', nominal 0-1, C-contiguous.
A matte is float32 `(h, w)`, 0-1. A tile is a few rows of a picture.
"""

from collections.abc import Callable
from typing import Any, TypeVar

import numba
import numpy as np
import numpy.typing as npt

Picture = npt.NDArray[np.float32]
Matte = npt.NDArray[np.float32]
Floats = npt.NDArray[np.floating[Any]]

F = TypeVar("F", bound=Callable[..., Any])


def kernel(function: F) -> F:
    """Compile for the vectoriser, without the GIL, cached on disk."""
    return numba.njit(nogil=True, fastmath=True, error_model="numpy", cache=True)(function)  # type: ignore[no-any-return]


def inline(function: F) -> F:
    """A scalar helper folded into the kernels that call it."""
    return numba.njit(nogil=True, fastmath=True, error_model="numpy", inline="always")(function)  # type: ignore[no-any-return]


def as_picture(values: npt.ArrayLike) -> Picture:
    """`values` as a C-contiguous float32 array."""
    return np.ascontiguousarray(values, dtype=np.float32)
