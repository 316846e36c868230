"""NumPy archives whose size is known before they are unpacked."""

from pathlib import Path
from typing import Any
from zipfile import ZipFile

import numpy as np


def bounded_npz(path: Path, most: int) -> Any:
    """Open an .npz file that holds no more than so many bytes, and no Python objects. Raises `ValueError`, `BadZipFile`, `OSError`."""
    with ZipFile(path) as archive:
        if sum(info.file_size for info in archive.infolist()) > most:
            raise ValueError(f"{path.name} holds more than {most >> 20} MiB")
    return np.load(path, allow_pickle=False)
