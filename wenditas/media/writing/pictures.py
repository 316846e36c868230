"""Numbered pictures: in a ZIP file or a folder. Segments are ZIP files of stored pictures, whose members are put together."""

import shutil
import tempfile
import zipfile
from collections.abc import Callable, Iterator, Sequence
from contextlib import suppress
from functools import partial
from pathlib import Path
from typing import IO

import cv2
import numpy as np

from wenditas.core.colour.transfer import srgb_decode
from wenditas.core.kernel import Matte, Picture
from wenditas.media.convert import to_rgb8
from wenditas.media.writing.record import Canvas, Format, Slot, SoundOf

WRITTEN = (1980, 1, 1, 0, 0, 0)  # the time that members of a ZIP file carry: always the same, so that equal pictures give equal files
Encode = Callable[[Picture, Matte | None, bool], bytes]


class _Slot:
    """A float picture, and its matte."""

    def __init__(self, canvas: Canvas) -> None:
        self.picture = np.empty((3, canvas.height, canvas.width), np.float32)
        self.alpha: Matte | None = None

    def store(self, first: int, tile: Picture) -> None:
        """Rows of the picture."""
        copy_into(self.picture, first, tile)

    def put_alpha(self, alpha: Matte) -> None:
        """Its straight coverage."""
        self.alpha = alpha


def copy_into(picture: Picture, first: int, tile: Picture) -> None:
    """Rows of a tile into a picture, from `first` on."""
    picture[:, first : first + tile.shape[1]] = tile


class PicturesSegment:
    """Pictures, named by their frame, in one ZIP file."""

    def __init__(self, path: Path, canvas: Canvas, encode: Encode, suffix: str) -> None:
        self._canvas, self._encode, self._suffix = canvas, encode, suffix
        self._zip = zipfile.ZipFile(path, "w", zipfile.ZIP_STORED)

    def slot(self) -> _Slot:
        """A picture to fill."""
        return _Slot(self._canvas)

    def write(self, slot: Slot, number: int) -> None:
        """Add one picture."""
        assert isinstance(slot, _Slot)
        data = self._encode(slot.picture, slot.alpha if self._canvas.alpha else None, self._canvas.grey)
        self._zip.writestr(zipfile.ZipInfo(f"{number:06d}{self._suffix}", WRITTEN), data)

    def close(self) -> None:
        """Finish the file."""
        self._zip.close()

    def abandon(self) -> None:
        """Close without finishing."""
        with suppress(OSError, ValueError):  # the disk may be full
            self._zip.close()


def join_pictures(parts: Sequence[Path], target: Path, canvas: Canvas, frames: int, sound: SoundOf | None) -> None:
    """The members of several ZIP files in one; or, where the target is a folder, as files in it."""
    if target.is_dir():
        for name, opened in members(parts):
            with opened as source, (target / name).open("wb") as out:
                shutil.copyfileobj(source, out)
        return
    with zipfile.ZipFile(target, "w", zipfile.ZIP_STORED) as out:
        for name, opened in members(parts):
            with opened as source:
                out.writestr(zipfile.ZipInfo(name, WRITTEN), source.read())


def members(parts: Sequence[Path]) -> Iterator[tuple[str, IO[bytes]]]:
    """The names and contents of what several ZIP files hold, in order."""
    for part in parts:
        with zipfile.ZipFile(part) as archive:
            for info in archive.infolist():
                yield info.filename, archive.open(info)


def _png(picture: Picture, alpha: Matte | None, grey: bool, bits: int) -> bytes:
    top, dtype = 2**bits - 1, np.uint8 if bits == 8 else np.uint16
    if grey:
        image = np.rint(np.clip(picture[0], 0, 1) * top).astype(dtype)
    else:
        colours = to_rgb8(picture) if bits == 8 else np.rint(np.clip(picture, 0, 1) * top).astype(dtype).transpose(1, 2, 0)
        image = colours[:, :, ::-1]
    if alpha is not None:
        image = np.dstack([image, np.rint(np.clip(alpha, 0, 1) * top).astype(dtype)])
    ok, data = cv2.imencode(".png", np.ascontiguousarray(image), [cv2.IMWRITE_PNG_COMPRESSION, 2])
    if not ok:
        raise OSError("PNG encoding failed")
    return bytes(data)


def _written_by_oiio(pixels: np.ndarray, suffix: str, format: str, attributes: dict[str, object]) -> bytes:
    """A picture `(h, w, channels)` as a file's bytes, by OpenImageIO, which writes to paths only."""
    import OpenImageIO as oiio

    height, width, channels = pixels.shape
    spec = oiio.ImageSpec(width, height, channels, format)
    spec.channelnames = {1: ("Y",), 3: ("R", "G", "B"), 4: ("R", "G", "B", "A")}[channels]
    if channels == 4:
        spec.alpha_channel = 3
    for key, value in attributes.items():
        if isinstance(value, tuple):
            spec.attribute(key, f"float[{len(value)}]", value)
        else:
            spec.attribute(key, value)
    with tempfile.TemporaryDirectory(prefix="wenditas-") as folder:
        path = Path(folder) / f"picture{suffix}"
        out = oiio.ImageOutput.create(str(path))
        if out is None or not out.open(str(path), spec) or not out.write_image(np.ascontiguousarray(pixels)) or not out.close():
            raise OSError(f"writing a {suffix[1:].upper()} picture failed: {out.geterror() if out else oiio.geterror()}")
        return path.read_bytes()


def _tiff(picture: Picture, alpha: Matte | None, grey: bool) -> bytes:
    planes = picture[:1] if grey else picture
    pixels = np.clip(planes if alpha is None else np.concatenate([planes, alpha[None]]), 0, 1).transpose(1, 2, 0)
    more = {"compression": "zip", "oiio:UnassociatedAlpha": 1, "Software": "Wenditas", "DateTime": "1980:01:01 00:00:00"}
    return _written_by_oiio(np.rint(pixels * 65535).astype(np.uint16), ".tif", "uint16", more)


BT709_CHROMATICITIES = (0.64, 0.33, 0.30, 0.60, 0.15, 0.06, 0.3127, 0.3290)  # BT.709-6, 1.4, and its white, D65


def _exr(picture: Picture, alpha: Matte | None, grey: bool) -> bytes:
    """Linear light; colours multiplied by alpha, as the format has it (OpenEXR, technical introduction)."""
    planes = picture[:1] if grey else srgb_decode(picture)
    if alpha is not None:
        planes = np.concatenate([planes * alpha, alpha[None]])
    pixels = planes.transpose(1, 2, 0).astype(np.float16)
    more: dict[str, object] = {
        "compression": "zip",
        "chromaticities": BT709_CHROMATICITIES,
        "oiio:ColorSpace": "lin_rec709_scene",
        "DateTime": "1980:01:01 00:00:00",
    }
    return _written_by_oiio(pixels, ".exr", "half", more)


def _format(id: str, name: str, tells: str, suffix: str, encode: Encode) -> Format:
    def begin(path: Path, canvas: Canvas) -> PicturesSegment:
        return PicturesSegment(path, canvas, encode, suffix)

    joined = "The members of its ZIP files in one ZIP file, or in a folder; every picture stands alone."
    return Format(id, name, tells, ".zip", joined, begin, join_pictures, segment_suffix=".zip", alpha=True, pictures=True)


PNG_8 = _format("png-8", "PNG pictures", "8 bit, one for each frame.", ".png", partial(_png, bits=8))
PNG_16 = _format("png-16", "PNG pictures, 16 bit", "16 bit, one for each frame.", ".png", partial(_png, bits=16))
TIFF_16 = _format("tiff-16", "TIFF pictures", "16 bit, one for each frame.", ".tif", _tiff)
EXR_HALF = _format("exr-half", "EXR pictures", "Linear light as half floats, tagged BT.709; alpha multiplied in.", ".exr", _exr)
