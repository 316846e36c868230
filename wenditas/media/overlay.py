"""Pictures that passes lay over frames, from files."""

from pathlib import Path

import numpy as np

from wenditas.core.treat.overlay_picture import Still
from wenditas.media.facts import Facts
from wenditas.media.index import Index
from wenditas.media.reader import Reader


def load_still(path: Path, facts: Facts, index: Index) -> Still:
    """A picture with its alpha; opaque where the file has none."""
    reader = Reader(path, facts, index)
    colours, alpha = reader.picture(0), reader.alpha(0)
    if alpha is None:
        alpha = np.ones(colours.shape[1:], np.float32)
    return Still(np.concatenate([colours * alpha, alpha[None]]).astype(np.float32))
