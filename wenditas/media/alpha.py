"""Pictures with a matte: PNG files in a ZIP, and ProRes 4444 with alpha."""

import zipfile
from contextlib import nullcontext, suppress
from fractions import Fraction
from pathlib import Path
from types import TracebackType
from typing import Self

import av
import cv2
import numpy as np

from wenditas.core.colour.ycbcr import Signal, ycbcr_from_rgb
from wenditas.core.kernel import Matte, Picture
from wenditas.media.convert import to_rgb8
from wenditas.media.encode import BT709

ALPHA_TOP = 1023  # full coverage at 10 bits


def encode_rgba_png(picture: Picture | None, alpha: Matte) -> bytes:
    """A PNG of the picture with straight alpha, or of the matte alone in grey; 8 bits."""
    coverage = np.rint(np.clip(alpha, 0, 1) * 255).astype(np.uint8)
    image = coverage if picture is None else np.dstack([to_rgb8(picture)[:, :, ::-1], coverage])
    ok, data = cv2.imencode(".png", image, [cv2.IMWRITE_PNG_COMPRESSION, 2])
    if not ok:
        raise OSError("PNG encoding failed")
    return bytes(data)


class PictureZip:
    """PNG pictures, named by their frame, in one ZIP file."""

    def __init__(self, path: Path) -> None:
        self._zip = zipfile.ZipFile(path, "w", zipfile.ZIP_STORED)

    def __enter__(self) -> Self:
        return self

    def __exit__(self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None) -> None:
        with nullcontext() if kind is None else suppress(OSError):  # the disk may be full
            self._zip.close()

    def write(self, number: int, picture: Picture | None, alpha: Matte) -> None:
        """Add one picture."""
        self._zip.writestr(f"{number:06d}.png", encode_rgba_png(picture, alpha))


class AlphaVideo:
    """ProRes 4444 in MOV: 10-bit Y'CbCr 4:4:4, tagged BT.709, with straight alpha."""

    def __init__(self, path: Path, width: int, height: int, rate: Fraction) -> None:
        self._container = av.open(str(path), "w", format="mov")
        stream = self._container.add_stream("prores_ks", rate=rate, options={"profile": "4444", "alpha_bits": "16"})
        stream.width, stream.height, stream.pix_fmt = width, height, "yuva444p10le"
        context = stream.codec_context
        context.color_primaries = context.color_trc = context.colorspace = BT709
        context.color_range = 1
        context.time_base = 1 / rate
        self._stream, self._rate, self._count = stream, rate, 0

    def __enter__(self) -> Self:
        return self

    def __exit__(self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None) -> None:
        with nullcontext() if kind is None else suppress(av.error.FFmpegError):
            if kind is None:
                self._container.mux(self._stream.encode(None))
            self._container.close()

    def write(self, number: int, picture: Picture | None, alpha: Matte) -> None:
        """Encode one picture with its matte."""
        assert picture is not None
        codes = ycbcr_from_rgb(np.clip(picture, 0, 1), Signal(bits=10))
        planes = [*np.rint(codes).astype(np.uint16), np.rint(np.clip(alpha, 0, 1) * ALPHA_TOP).astype(np.uint16)]
        frame = av.VideoFrame(self._stream.width, self._stream.height, "yuva444p10le")
        for plane, values in zip(frame.planes, planes, strict=True):
            rows = np.zeros((values.shape[0], plane.line_size // 2), np.uint16)
            rows[:, : values.shape[1]] = values
            plane.update(rows.tobytes())
        frame.pts, frame.time_base = self._count, 1 / self._rate
        frame.colorspace, frame.color_range = BT709, 1
        self._container.mux(self._stream.encode(frame))
        self._count += 1
