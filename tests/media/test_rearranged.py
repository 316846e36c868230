"""Samples in another layout, and pictures at their own size, are read without loss: also in widths that are no multiple of 16.

Several threads of libswscale damage the first line of each thread's part where the size stays (seen in widths of 854, 1366 and 97).
"""

from pathlib import Path

import av
import numpy as np
import pytest

from tests.media.clips import make_clip
from wenditas.core.colour.ycbcr import Signal, ycbcr_from_rgb
from wenditas.media.probe import inspect
from wenditas.media.reader import Reader, as_planes

SIZES = [(854, 480), (1366, 768), (1280, 720)]


def samples(frame: av.VideoFrame, number: int) -> np.ndarray:
    """The samples of a plane of a frame, 16 bits, without what fills its lines."""
    plane = frame.planes[number]
    return np.frombuffer(plane, np.uint16).reshape(-1, plane.line_size // 2)[: plane.height]


@pytest.mark.parametrize(("width", "height"), SIZES)
def test_chroma_in_one_plane_is_taken_apart(tmp_path: Path, width: int, height: int) -> None:
    """P010, as phones and cameras hand it over: luma, then Cb and Cr in turn, each in the upper ten bits (by its definition)."""
    facts = inspect(make_clip(tmp_path / "a.mkv", codec="ffv1", pixel_format="yuv420p10le", width=width, height=height, count=1))[0]
    frame = av.VideoFrame(width, height, "p010le")
    codes = [np.random.default_rng(n).integers(64, 940, (height >> n, width), dtype=np.uint16) for n in (0, 1)]
    for number, values in enumerate(codes):
        samples(frame, number)[:, :width] = values << 6
    planes = as_planes(frame, facts)
    assert planes is not None
    luma, cb, cr = planes.planes
    assert np.array_equal(luma[:height, :width], codes[0])
    assert np.array_equal(cb[: height // 2, : width // 2], codes[1][:, 0::2]) and np.array_equal(cr[: height // 2, : width // 2], codes[1][:, 1::2])


@pytest.mark.parametrize(("width", "height"), SIZES)
def test_a_picture_at_its_own_size_is_the_frame(tmp_path: Path, width: int, height: int) -> None:
    """What the Bench shows at 100 % has the luma of what is exported; chroma is put between its samples in another way."""
    path = make_clip(tmp_path / "a.mkv", codec="ffv1", pixel_format="yuv420p", width=width, height=height, count=1)
    reader = Reader(path, *inspect(path))
    shown, whole = (ycbcr_from_rgb(p, Signal())[0] for p in (reader.picture(0, (height, width)), reader.picture(0)))
    assert np.abs(shown - whole).max() < 1  # code value
