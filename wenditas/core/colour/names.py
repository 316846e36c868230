"""Plain names for colours, used to name selections: what people call them."""

from collections import Counter
from collections.abc import Sequence
from functools import cache

import numpy as np
import numpy.typing as npt

from wenditas.core.colour.hexes import rgb_from_hex
from wenditas.core.colour.naming import PEOPLE_SAY
from wenditas.core.colour.oklab import lch_from_lab, oklab_from_rgb
from wenditas.core.kernel import Floats

NEAREST = 5  # colours of the survey that are asked; the nearest decides between equals
GREY_CHROMA, BLACK, WHITE = 0.03, 0.3, 0.9  # by eye (common practice): the survey has few colours there
APART = 0.06  # difference in lightness, or in chroma, from which two colours of one name are told apart by it


@cache
def _survey() -> tuple[Floats, tuple[str, ...]]:
    """The survey's colours in Oklab `(n, 3)`, and what each is called."""
    pairs = [(name, code) for name, codes in PEOPLE_SAY.items() for code in codes.split()]
    return np.array([oklab_from_rgb(rgb_from_hex(f"#{code}")) for _, code in pairs]), tuple(name for name, _ in pairs)


def colour_name(coded: npt.ArrayLike) -> str:
    """A one-word name for a gamma-coded R'G'B' colour: what most of the nearest colours of a survey are called; greys by their lightness.

    Source: the colours of `naming`; nearness in Oklab (Ottosson 2020).

    >>> colour_name([0.8, 0.1, 0.1])
    'Red'
    """
    lab = oklab_from_rgb(np.clip(np.asarray(coded, np.float64), 0, 1))
    if np.hypot(lab[1], lab[2]) < GREY_CHROMA:
        return "Black" if lab[0] < BLACK else "White" if lab[0] > WHITE else "Grey"
    places, names = _survey()
    order = np.argsort(((places - lab) ** 2).sum(axis=1))[:NEAREST]
    return str(Counter(names[n] for n in order).most_common(1)[0][0])


def distinct_names(colours: Sequence[npt.ArrayLike]) -> list[str]:
    """A name for each colour, no two the same: those of one name are told apart as dark and light, else as pale and vivid, else by number.

    >>> distinct_names([[0.8, 0.1, 0.1], [0.55, 0.02, 0.02]])
    ['Light red', 'Dark red']
    """
    plain = [colour_name(c) for c in colours]
    found = list(plain)
    for name, count in Counter(plain).items():
        if count > 1:
            same = [n for n, other in enumerate(plain) if other == name]
            for n, told in zip(same, _told_apart(name, [colours[n] for n in same]), strict=True):
                found[n] = told
    return found


def _told_apart(name: str, colours: Sequence[npt.ArrayLike]) -> list[str]:
    lightness, chroma, _ = lch_from_lab(np.array([oklab_from_rgb(np.asarray(c, np.float64)) for c in colours]).T)
    low = name.lower()
    for values, least, most in ((lightness, "Dark", "Light"), (chroma, "Pale", "Vivid")):
        order = np.argsort(values)
        if len(order) <= 3 and np.diff(values[order]).min() >= APART:
            words = [f"{least} {low}", *([name] if len(order) == 3 else []), f"{most} {low}"]
            return [words[int(np.flatnonzero(order == n)[0])] for n in range(len(order))]
    return [name if n == 0 else f"{name} {n + 1}" for n in range(len(colours))]
