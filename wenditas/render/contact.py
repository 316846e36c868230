"""A sheet of pictures with names, as one PNG."""

from collections.abc import Sequence
from dataclasses import dataclass

import cv2
import numpy as np

from wenditas.core.errors import BadRequest
from wenditas.core.kernel import Picture
from wenditas.media.convert import to_rgb8

GAP, HEAD, BELOW, NAMES = 12, 48, 26, 200  # pixels: between cells, above the first row, below each picture, for the names of rows
TALLEST = 65_000
INK, QUIET = (17, 17, 17), (85, 85, 85)


@dataclass(frozen=True)
class Cell:
    """A picture and what is said below it."""

    picture: Picture
    words: str


def contact_sheet(title: str, heads: Sequence[str], rows: Sequence[tuple[str, Sequence[Cell]]], width: int) -> bytes:
    """Rows of pictures, each `width` across, with their names beside and above. Raises `BadRequest` where it would be too tall."""
    high = max(cell.picture.shape[1] for _, cells in rows for cell in cells)
    size = 2 * HEAD + len(rows) * (high + BELOW + GAP), NAMES + len(heads) * (width + GAP) + GAP
    if size[0] > TALLEST:
        raise BadRequest(f"A sheet of {len(rows)} shots would be too tall: choose smaller pictures.")
    page = np.full((*size, 3), 255, np.uint8)
    page = _write(page, title, GAP, 32, 20, INK, size[1])
    for n, head in enumerate(heads):
        page = _write(page, head, NAMES + n * (width + GAP), HEAD + 32, 15, INK, width)
    for n, (name, cells) in enumerate(rows):
        top = 2 * HEAD + n * (high + BELOW + GAP)
        page = _write(page, name, GAP, top + 20, 15, INK, NAMES - 2 * GAP)
        for k, cell in enumerate(cells):
            left, image = NAMES + k * (width + GAP), to_rgb8(cell.picture)
            page[top : top + image.shape[0], left : left + image.shape[1]] = image
            page = _write(page, cell.words, left, top + high + 18, 12, QUIET, width)
    ok, data = cv2.imencode(".png", page[:, :, ::-1])
    if not ok:
        raise OSError("PNG encoding failed")
    return bytes(data)


def _write(page: np.ndarray, words: str, x: int, y: int, size: int, ink: tuple[int, int, int], most: int) -> np.ndarray:
    """Words in a line, cut short where they are longer than `most` pixels."""
    face = cv2.FontFace("sans")
    text = words
    while text and cv2.getTextSize((0, 0), text, (0, 0), face, size, 400)[2] > most:
        text = f"{text[:-2].rstrip()}…"
    if text:
        cv2.putText(page, text, (x, y), ink, face, size, 400)
    return page
