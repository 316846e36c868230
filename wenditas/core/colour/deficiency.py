"""How colours look to people who see them otherwise: the three kinds of dichromacy.

Source: Machado, Oliveira and Fernandes 2009, table 1, severity 1.0; the matrices act on linear R'G'B' of BT.709 primaries.
"""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from wenditas.core.colour.transfer import srgb_decode, srgb_encode
from wenditas.core.kernel import Floats, Picture, as_picture


@dataclass(frozen=True)
class Sight:
    """A kind of sight. name: in words; matrix: what it does to linear R, G, B."""

    id: str
    name: str
    matrix: Floats


KINDS = {
    kind.id: kind
    for kind in (
        Sight("protan", "red blindness", np.array([[0.152286, 1.052583, -0.204868], [0.114503, 0.786281, 0.099216], [-0.003882, -0.048116, 1.051998]])),
        Sight("deutan", "green blindness", np.array([[0.367322, 0.860646, -0.227968], [0.280085, 0.672501, 0.047413], [-0.011820, 0.042940, 0.968881]])),
        Sight("tritan", "blue blindness", np.array([[1.255528, -0.076749, -0.178779], [-0.078411, 0.930809, 0.147602], [0.004733, 0.691367, 0.303900]])),
    )
}


def seen_with(coded: npt.ArrayLike, kind: str) -> Floats:
    """Gamma-coded R'G'B' `(3, ...)`, 0-1, as a kind of sight gives it; "usual" leaves it as it is. Not limited.

    >>> seen_with([0.5, 0.5, 0.5], "protan").round(3).tolist()
    [0.5, 0.5, 0.5]
    """
    values = np.asarray(coded, np.float64)
    if kind == "usual":
        return values
    return np.asarray(srgb_encode(np.tensordot(KINDS[kind].matrix, srgb_decode(np.clip(values, 0, 1)), axes=1)))


def table(kind: str, size: int = 33) -> Picture:
    """What a kind of sight makes of colours, as samples `(b, g, r, 3)` over a cube of signals, for pictures that move."""
    axis = np.linspace(0, 1, size)
    b, g, r = np.meshgrid(axis, axis, axis, indexing="ij")
    return as_picture(np.moveaxis(seen_with(np.stack([r, g, b]), kind), 0, -1))
