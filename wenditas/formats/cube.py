""".cube files: LUTs of one or three dimensions, as the published description has them."""

import math
from itertools import chain
from pathlib import Path

import numpy as np

from wenditas.core.errors import BadFile
from wenditas.core.kernel import MOST_VALUE, Picture
from wenditas.core.tone.lut import Lut

MOST_EDGE, MOST_LINE = 129, 65536
LEAST_DOMAIN = 1e-6  # between its ends
HEADS = ("TITLE", "LUT_1D_SIZE", "LUT_3D_SIZE", "DOMAIN_MIN", "DOMAIN_MAX")


def _numbers(words: list[str], count: int, line: int) -> tuple[float, ...]:
    try:
        values = tuple(float(w) for w in words)
    except ValueError:
        raise BadFile(f"Line {line} of the LUT: “{' '.join(words)[:40]}” is not {count} numbers.") from None
    if len(values) != count or not all(math.isfinite(v) for v in values):
        raise BadFile(f"Line {line} of the LUT holds {len(values)} values; it should hold {count}, and none of them NaN or infinite.")
    if any(abs(v) > MOST_VALUE for v in values):
        raise BadFile(f"Line {line} of the LUT holds {max(values, key=abs):g}; values of a LUT lie from {-MOST_VALUE:g} to {MOST_VALUE:g}.")
    return values


def _size(words: list[str], line: int, most: int) -> int:
    if len(words) != 1 or not words[0].isdigit() or not 2 <= int(words[0]) <= most:
        raise BadFile(f"Line {line} of the LUT: its size is a whole number from 2 to {most}, not “{' '.join(words)[:40]}”.")
    return int(words[0])


def _is_head(line: str) -> bool:
    """Whether a line is none of numbers: empty, a comment or a keyword."""
    word = line.lstrip()
    return not word or word[0] == "#" or (word[0].isalpha() and not word.lower().startswith(("nan", "inf")))


def read_cube(text: str) -> Lut:
    """A LUT from the text of a .cube file. Raises `BadFile`, naming the line.

    Source: the published .cube description (keywords TITLE, LUT_1D_SIZE, LUT_3D_SIZE, DOMAIN_MIN, DOMAIN_MAX; red fastest).
    """
    title, low, high = "LUT", (0.0, 0.0, 0.0), (1.0, 1.0, 1.0)
    size, cube = 0, False
    lines = text.splitlines()
    begins = next((n for n, line in enumerate(lines) if not _is_head(line)), len(lines))  # of the table, between keywords
    ends = next((n for n in range(len(lines), begins, -1) if not _is_head(lines[n - 1])), begins)
    for number, raw in chain(enumerate(lines[:begins], 1), enumerate(lines[ends:], ends + 1)):
        line = raw.split("#", 1)[0].strip() if not raw.lstrip().startswith("TITLE") else raw.strip()
        if not line:
            continue
        head, *words = line.split(maxsplit=8)
        if head == "TITLE":
            title = line[5:].strip().strip('"')[:80] or title
        elif head in ("LUT_1D_SIZE", "LUT_3D_SIZE"):
            if size:
                raise BadFile(f"Line {number} of the LUT gives a second size.")
            cube = head == "LUT_3D_SIZE"
            size = _size(words, number, MOST_EDGE if cube else MOST_LINE)
        elif head == "DOMAIN_MIN":
            low = _triple(words, number)
        elif head == "DOMAIN_MAX":
            high = _triple(words, number)
        else:
            raise BadFile(f"Line {number} of the LUT begins with “{head[:40]}”, which is none of {', '.join(HEADS)}.")
    return _lut(title, size, cube, low, high, _table(lines[begins:ends], begins + 1))


def _table(lines: list[str], first: int) -> Picture:
    """The lines of values as `(n, 3)`: all at once, and one by one only to name the one that is wrong. first: the number of the first line."""
    try:
        table = np.loadtxt(lines, np.float32, comments="#", ndmin=2) if lines else np.empty((0, 3), np.float32)
        if table.shape[1] == 3 and (np.abs(table) <= MOST_VALUE).all():  # NaN is not
            return table
    except ValueError:
        pass
    for number, raw in enumerate(lines, first):
        words = raw.split("#", 1)[0].split(maxsplit=8)
        if words and _is_head(words[0]):
            raise BadFile(f"Line {number} of the LUT begins with “{words[0][:40]}”: keywords do not stand among the values.")
        if words:
            _numbers(words, 3, number)
    raise BadFile("The LUT's values cannot be read as lines of three numbers.")


def _triple(words: list[str], line: int) -> tuple[float, float, float]:
    a, b, c = _numbers(words, 3, line)
    return a, b, c


def _lut(title: str, size: int, cube: bool, low: tuple[float, float, float], high: tuple[float, float, float], table: Picture) -> Lut:
    if not size:
        raise BadFile("This is no LUT: it gives neither LUT_1D_SIZE nor LUT_3D_SIZE.")
    wanted = size**3 if cube else size
    if len(table) != wanted:
        raise BadFile(f"The LUT says {size} samples {'an edge' if cube else 'in all'}, which makes {wanted} lines of values, but it has {len(table)}.")
    if any(b - a < LEAST_DOMAIN for a, b in zip(low, high, strict=True)):
        raise BadFile(f"The LUT's DOMAIN_MAX {high} is not above its DOMAIN_MIN {low}.")
    return Lut(title, table.reshape(size, size, size, 3) if cube else table, low, high)


def load_lut(path: Path) -> Lut:
    """A LUT from a .cube file. Raises `BadFile`."""
    try:
        return read_cube(path.read_text("utf-8-sig"))
    except UnicodeDecodeError as error:
        raise BadFile("This LUT is not text; a .cube file is.") from error


def write_cube(lut: Lut) -> str:
    """The text of a .cube file, values to 7 digits; the inverse of `read_cube` to float32."""
    lines = [f'TITLE "{lut.title.replace(chr(34), chr(39))}"', f"LUT_{'3D' if lut.cube else '1D'}_SIZE {lut.size}"]
    lines += ["DOMAIN_MIN " + " ".join(f"{v:.7g}" for v in lut.low), "DOMAIN_MAX " + " ".join(f"{v:.7g}" for v in lut.high)]
    lines += [" ".join(f"{v:.8g}" for v in row) for row in lut.table.reshape(-1, 3)]
    return "\n".join(lines) + "\n"
