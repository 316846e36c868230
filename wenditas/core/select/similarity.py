"""Similarity transforms of the plane: scale, rotation, shift. As a complex pair: z -> m z + t."""

from dataclasses import dataclass

import numpy as np

from wenditas.core.kernel import Floats


@dataclass(frozen=True)
class Similarity:
    """x, y (pixels of a 1080-line picture) to m (x + iy) + t, with m complex: its size scales, its angle turns."""

    m: complex = 1 + 0j
    t: complex = 0j

    def __call__(self, points: Floats) -> Floats:
        """Move points `(n, 2)`."""
        z = self.m * (points[:, 0] + 1j * points[:, 1]) + self.t
        return np.stack([z.real, z.imag], axis=1)

    def __matmul__(self, first: "Similarity") -> "Similarity":
        """This transform after another."""
        return Similarity(self.m * first.m, self.m * first.t + self.t)

    def inverse(self) -> "Similarity":
        """The transform that undoes this one."""
        return Similarity(1 / self.m, -self.t / self.m)

    def values(self) -> tuple[float, float, float, float]:
        """m and t as four numbers."""
        return self.m.real, self.m.imag, self.t.real, self.t.imag

    @classmethod
    def of(cls, values: tuple[float, float, float, float]) -> "Similarity":
        """From four numbers."""
        return cls(complex(values[0], values[1]), complex(values[2], values[3]))

    def towards(self, other: "Similarity", share: float) -> "Similarity":
        """A share (0-1) of the way to another: scale and angle along the logarithm, shift straight."""
        ratio = other.m / self.m
        m = self.m * np.exp(share * np.log(ratio))
        return Similarity(complex(m), self.t + (other.t - self.t) * share)
