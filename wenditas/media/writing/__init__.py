"""Formats that can be written. One small file each; this list is all there is to know of them."""

from wenditas.core.named import listed
from wenditas.media.writing import av1, ffv1, h264, h265, loops, pictures, prores, vp9

FORMATS = listed(
    h264.FORMAT, h265.FORMAT, av1.FORMAT, prores.HQ, prores.FOUR, ffv1.FORMAT, vp9.FORMAT,
    pictures.PNG_8, pictures.PNG_16, pictures.TIFF_16, pictures.EXR_HALF, loops.WEBP, loops.GIF,
)  # fmt: skip
