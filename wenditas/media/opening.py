"""The one way in which a media file is opened to be read."""

from pathlib import Path

import av


def open_media(path: Path) -> av.container.InputContainer:
    """Open a file; tags that are no UTF-8 are read as far as they are. Raises `av.error.FFmpegError`, `OSError`."""
    return av.open(str(path), metadata_errors="replace")
