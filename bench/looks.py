"""The looks that are measured, and a straightforward version of one of them."""

import cv2
import numpy as np

from wenditas.core.kernel import Picture
from wenditas.core.look.document import Look, parse_look

PICKS = [{"colour": c, "x": 0.5, "y": 0.5, "frame": 0} for c in ((0.87, 0.25, 0.21), (0.7, 0.2, 0.18), (0.22, 0.075, 0.07))]
REFUSED = [{"colour": (0.62, 0.33, 0.24), "x": 0.5, "y": 0.5, "frame": 0}]


def one_colour_stays(passes: int = 1) -> Look:
    """Three picks, one not-this pick, monochrome outside; more passes of saturation where asked for."""
    selection = {"id": "red", "name": "Red", "keys": [{"type": "hue", "picks": PICKS, "refused": REFUSED, "tolerance": 8, "softness": 6}]}
    items = [{"id": "p0", "name": "Grey", "treatment": "monochrome", "selection": "red", "side": "outside"}]
    for n in range(1, passes):
        side = ("inside", "outside")[n % 2]
        items.append({"id": f"p{n}", "name": "S", "treatment": "saturation", "params": {"saturation": 90 + 5 * n}, "selection": "red", "side": side})
    return parse_look({"selections": [selection], "passes": items})


def straightforward(picture: Picture) -> Picture:
    """The same idea as most would write it with NumPy and OpenCV: HSV in-range, blur the mask, mix with grey."""
    image = np.ascontiguousarray(picture.transpose(1, 2, 0))
    hsv = cv2.cvtColor(image, cv2.COLOR_RGB2HSV)
    mask = cv2.inRange(hsv, (0, 0.2, 0.05), (14, 1, 1)) | cv2.inRange(hsv, (352, 0.2, 0.05), (360, 1, 1))
    matte = cv2.GaussianBlur(mask.astype(np.float32) / 255, (0, 0), 2)[..., None]
    grey = cv2.cvtColor(image, cv2.COLOR_RGB2GRAY)[..., None]
    return (grey + (image - grey) * matte).transpose(2, 0, 1)
