"""Where mattes err, as a picture: a row for each clip, a column for each way to key."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path

import cv2
import numpy as np

from wenditas.core.kernel import Floats, Matte, Picture

WIDTH, LINE, INK = 320, 18, (230, 230, 230)
MISSING, LEAKING = np.array([0.95, 0.25, 0.2], np.float32), np.array([0.2, 0.75, 1.0], np.float32)


@dataclass(frozen=True)
class Seen:
    """A frame of a clip as it was keyed, its true matte, and what each way made of it."""

    name: str
    frame: Picture
    truth: Matte
    mattes: Mapping[str, Matte]


def _errors(truth: Matte, matte: Matte) -> Floats:
    """What is missing in red, what leaks in blue, over a faint picture of the truth."""
    missing, leaking = np.clip(truth - matte, 0, 1)[..., None], np.clip(matte - truth, 0, 1)[..., None]
    return np.clip(truth[..., None] * 0.15 + missing * MISSING + leaking * LEAKING, 0, 1)


def _tile(pixels: Floats, words: str) -> np.ndarray:
    height = round(pixels.shape[0] * WIDTH / pixels.shape[1])
    small = cv2.resize(pixels, (WIDTH, height), interpolation=cv2.INTER_AREA)
    out = np.zeros((height + LINE, WIDTH, 3), np.uint8)
    out[LINE:] = np.clip(small * 255 + 0.5, 0, 255)
    return cv2.putText(out, words, (4, LINE - 5), cv2.FONT_HERSHEY_SIMPLEX, 0.4, INK, 1, cv2.LINE_AA)


def write_sheet(path: Path, rows: Sequence[Seen]) -> None:
    """Write all rows as one PNG. Red is missing, blue leaks."""
    lines = []
    for seen in rows:
        tiles = [_tile(np.clip(seen.frame, 0, 1).transpose(1, 2, 0), seen.name), *(_tile(_errors(seen.truth, m), name) for name, m in seen.mattes.items())]
        least = min(tile.shape[0] for tile in tiles)
        lines.append(np.concatenate([tile[:least] for tile in tiles], axis=1))
    path.write_bytes(cv2.imencode(".png", np.concatenate(lines)[:, :, ::-1])[1].tobytes())
