"""Pictures for the screen and for files, from float pictures."""

import cv2
import numpy as np
import numpy.typing as npt
import simplejpeg

from wenditas.core.kernel import Matte, Picture
from wenditas.media.convert import to_jpeg_planes, to_rgb8

LIVE_QUALITY = 90


def encode_jpeg(picture: Picture, quality: int = LIVE_QUALITY, subsampled: bool = False) -> bytes:
    """8-bit JPEG, with chroma at half the size (4:2:0) where `subsampled`."""
    return bytes(simplejpeg.encode_jpeg_yuv_planes(*to_jpeg_planes(picture, subsampled), quality=quality, fastdct=True))


def encode_bytes(picture: npt.NDArray[np.uint8]) -> bytes:
    """8-bit PNG of `(h, w, 3)` bytes, stored rather than packed: for small pictures that are made many times a second."""
    ok, data = cv2.imencode(".png", picture[:, :, ::-1], [cv2.IMWRITE_PNG_COMPRESSION, 0])
    if not ok:
        raise ValueError("PNG encoding failed")
    return bytes(data)


def encode_png(picture: Picture, level: int = 1, alpha: Matte | None = None) -> bytes:
    """8-bit PNG, lossless after dither. alpha: `(h, w)`, 0-1, straight."""
    pixels = to_rgb8(picture)[:, :, ::-1]
    if alpha is not None:
        pixels = np.dstack([pixels, np.rint(np.clip(alpha, 0, 1) * 255).astype(np.uint8)])
    ok, data = cv2.imencode(".png", pixels, [cv2.IMWRITE_PNG_COMPRESSION, level])
    if not ok:
        raise ValueError("PNG encoding failed")
    return bytes(data)
