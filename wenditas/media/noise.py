"""The noise of a file, from a few of its frames."""

from contextlib import closing
from pathlib import Path

from wenditas.core.errors import FootageRefused
from wenditas.core.kernel import Picture
from wenditas.core.measure.noise import noise_of
from wenditas.media.facts import Facts
from wenditas.media.index import Index
from wenditas.media.reader import Reader

PLACES = (0.15, 0.5, 0.85)  # of the file, that are looked at
MOST_WIDTH, MOST_HEIGHT, GRID = 1920, 1088, 16  # the part of a frame that is looked at, from its middle, where blocks begin


def measured(path: Path, facts: Facts, index: Index) -> float:
    """Standard deviation of the error of coded chroma in a file (white is 1); 0 where no frame that is looked at can be decoded."""
    numbers = sorted({int(share * (facts.length - 1)) for share in PLACES}) if facts.kind == "video" else [0]
    seen = []
    with closing(Reader(path, facts, index)) as reader:
        for number in numbers:
            try:
                seen.append(_middle(reader.picture(number)))
            except FootageRefused:
                continue
    return noise_of(seen).sigma


def _middle(picture: Picture) -> Picture:
    _, height, width = picture.shape
    top, left = (max(0, (size - most) // 2) // GRID * GRID for size, most in ((height, MOST_HEIGHT), (width, MOST_WIDTH)))
    return picture[:, top : top + MOST_HEIGHT, left : left + MOST_WIDTH]
