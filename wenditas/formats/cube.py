""".cube files: LUTs of one or three dimensions, as the published description has them."""

import math

import numpy as np

from wenditas.core.errors import BadFile
from wenditas.core.tone.lut import Lut

MOST_EDGE, MOST_LINE = 129, 65536
HEADS = ("TITLE", "LUT_1D_SIZE", "LUT_3D_SIZE", "DOMAIN_MIN", "DOMAIN_MAX")


def _numbers(words: list[str], count: int, line: int) -> tuple[float, ...]:
    try:
        values = tuple(float(w) for w in words)
    except ValueError:
        raise BadFile(f"Line {line} of the LUT: “{' '.join(words)[:40]}” is not {count} numbers.") from None
    if len(values) != count or not all(math.isfinite(v) for v in values):
        raise BadFile(f"Line {line} of the LUT holds {len(values)} values; it should hold {count}, and none of them NaN or infinite.")
    return values


def _size(words: list[str], line: int, most: int) -> int:
    if len(words) != 1 or not words[0].isdigit() or not 2 <= int(words[0]) <= most:
        raise BadFile(f"Line {line} of the LUT: its size is a whole number from 2 to {most}, not “{' '.join(words)[:40]}”.")
    return int(words[0])


def read_cube(text: str) -> Lut:
    """A LUT from the text of a .cube file. Raises `BadFile`, naming the line.

    Source: the published .cube description (keywords TITLE, LUT_1D_SIZE, LUT_3D_SIZE, DOMAIN_MIN, DOMAIN_MAX; red fastest).
    """
    title, low, high = "LUT", (0.0, 0.0, 0.0), (1.0, 1.0, 1.0)
    size, cube = 0, False
    rows: list[tuple[float, ...]] = []
    for number, raw in enumerate(text.splitlines(), 1):
        line = raw.split("#", 1)[0].strip() if not raw.lstrip().startswith("TITLE") else raw.strip()
        if not line:
            continue
        head, *words = line.split()
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
        elif head[0].isalpha() and head.lower() not in ("nan", "inf", "infinity"):
            raise BadFile(f"Line {number} of the LUT begins with “{head[:40]}”, which is none of {', '.join(HEADS)}.")
        else:
            rows.append(_numbers([head, *words], 3, number))
    return _lut(title, size, cube, low, high, rows)


def _triple(words: list[str], line: int) -> tuple[float, float, float]:
    a, b, c = _numbers(words, 3, line)
    return a, b, c


def _lut(title: str, size: int, cube: bool, low: tuple[float, float, float], high: tuple[float, float, float], rows: list[tuple[float, ...]]) -> Lut:
    if not size:
        raise BadFile("This is no LUT: it gives neither LUT_1D_SIZE nor LUT_3D_SIZE.")
    wanted = size**3 if cube else size
    if len(rows) != wanted:
        raise BadFile(f"The LUT says {size} samples {'an edge' if cube else 'in all'}, which makes {wanted} lines of values, but it has {len(rows)}.")
    if any(b <= a for a, b in zip(low, high, strict=True)):
        raise BadFile(f"The LUT's DOMAIN_MAX {high} is not above its DOMAIN_MIN {low}.")
    table = np.array(rows, np.float32)
    return Lut(title, table.reshape(size, size, size, 3) if cube else table, low, high)


def write_cube(lut: Lut) -> str:
    """The text of a .cube file, values to 7 digits; the inverse of `read_cube` to float32."""
    lines = [f'TITLE "{lut.title.replace(chr(34), chr(39))}"', f"LUT_{'3D' if lut.cube else '1D'}_SIZE {lut.size}"]
    lines += ["DOMAIN_MIN " + " ".join(f"{v:.7g}" for v in lut.low), "DOMAIN_MAX " + " ".join(f"{v:.7g}" for v in lut.high)]
    lines += [" ".join(f"{v:.8g}" for v in row) for row in lut.table.reshape(-1, 3)]
    return "\n".join(lines) + "\n"
