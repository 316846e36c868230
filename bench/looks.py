"""The looks that are measured, and a straightforward version of one of them."""

from collections.abc import Callable

import cv2
import numpy as np

from wenditas.core.kernel import Picture
from wenditas.core.look.apply import resolve_look
from wenditas.core.look.document import Look, parse_look
from wenditas.core.select.matte import Given, Moment
from wenditas.core.work.memo import Memo
from wenditas.core.work.run import run

PICKS = [{"colour": c, "x": 0.5, "y": 0.5, "frame": 0} for c in ((0.87, 0.25, 0.21), (0.7, 0.2, 0.18), (0.22, 0.075, 0.07))]
REFUSED = [{"colour": (0.62, 0.33, 0.24), "x": 0.5, "y": 0.5, "frame": 0}]


def looked(look: Look, picture: Picture, moment: Moment = Moment()) -> Callable[[], object]:  # noqa: B008
    """A look on a picture, resolved once, with its tables kept: as frames of a film are."""
    given, memo = Given(picture, moment), Memo()
    op = resolve_look(look, given)
    return lambda: run(op, sources=given, memo=memo)


def one_colour_stays(passes: int = 1) -> Look:
    """Three picks, one not-this pick, monochrome outside; more passes of saturation where asked for."""
    selection = {"id": "red", "name": "Red", "keys": [{"type": "hue", "picks": PICKS, "refused": REFUSED, "tolerance": 8, "softness": 6}]}
    items = [{"id": "p0", "name": "Grey", "treatment": "monochrome", "selection": "red", "side": "outside"}]
    for n in range(1, passes):
        side = ("inside", "outside")[n % 2]
        items.append({"id": f"p{n}", "name": "S", "treatment": "saturation", "params": {"saturation": 90 + 5 * n}, "selection": "red", "side": side})
    return parse_look({"selections": [selection], "passes": items})


def six_passes() -> Look:
    """One colour stays in six passes, by a selection that is cleaned."""
    look = one_colour_stays(6)
    selection = look.selections[0]
    cleaned = selection.model_copy(update={"cleaning": selection.cleaning.model_copy(update={"despeckle": 24, "choke": 1.5, "soften": 2})})
    return look.model_copy(update={"selections": (cleaned,)})


def nine_passes() -> Look:
    """A hue key with grey outside, then curves, a gradient map by soft-light, zones, levels and the rest of a finished look."""
    selection = {"id": "red", "name": "Red", "keys": [{"type": "hue", "picks": PICKS, "refused": REFUSED, "tolerance": 8, "softness": 6}]}
    inside, outside = {"selection": "red", "side": "inside"}, {"selection": "red", "side": "outside"}
    steps = (
        ("monochrome", {}, outside),
        ("saturation", {"saturation": 120}, inside),
        ("curves", {"master": [[0, 0], [25, 16], [75, 84], [100, 100]]}, {}),
        ("gradient-map", {}, {"blend": "soft-light", "amount": 40}),
        ("tone-zones", {"shadows_tint": 30, "highlights_tint": 10}, {}),
        ("levels", {"in_black": 3, "in_white": 96}, {}),
        ("tint", {}, {"amount": 15}),
        ("lift-gamma-gain", {"gain_red": 1.05, "lift_blue": 0.02}, {}),
        ("contrast", {"contrast": 108}, {}),
    )
    items = [{"id": f"p{n}", "name": t, "treatment": t, "params": params, **more} for n, (t, params, more) in enumerate(steps)]
    return parse_look({"selections": [selection], "passes": items})


def straightforward_nine(picture: Picture) -> Picture:
    """The nine passes as most would write them with NumPy and OpenCV on the whole frame."""
    image = np.ascontiguousarray(straightforward(picture).transpose(1, 2, 0))
    luma = np.array([0.2126, 0.7152, 0.0722], np.float32)
    ramp = np.linspace(0, 1, 256, dtype=np.float32)
    bent = np.interp(ramp, [0, 0.25, 0.75, 1], [0, 0.16, 0.84, 1]).astype(np.float32)
    image = np.interp(image, ramp, bent).astype(np.float32)
    palette = np.stack([np.interp(ramp, [0, 0.5, 1], c) for c in ((0, 0.6, 1), (0, 0.2, 0.9), (0.1, 0.2, 0.7))], axis=1).astype(np.float32)
    mapped = palette[np.clip(image @ luma * 255, 0, 255).astype(np.uint8)]
    soft = np.where(mapped <= 0.5, image - (1 - 2 * mapped) * image * (1 - image), image + (2 * mapped - 1) * (np.sqrt(image) - image))
    image = image + (soft - image) * 0.4
    grey = (image @ luma)[..., None]
    shadow, light = np.clip(1 - grey * 2, 0, 1), np.clip(grey * 2 - 1, 0, 1)
    image = image + shadow * np.float32([-0.02, 0, 0.06]) + light * np.float32([0.02, 0.01, -0.02])
    image = np.clip((image - 0.03) / 0.93, 0, None)
    image = image + ((image @ luma)[..., None] * np.float32([0.9, 0.85, 0.7]) - image) * 0.15
    image = np.clip(image * np.float32([1.05, 1, 1]) + np.float32([0, 0, 0.02]) * (1 - image), 0, None) ** np.float32(1)
    return (0.5 + (image - 0.5) * 1.08).transpose(2, 0, 1)


def straightforward(picture: Picture) -> Picture:
    """The same idea as most would write it with NumPy and OpenCV: HSV in-range, blur the mask, mix with grey."""
    image = np.ascontiguousarray(picture.transpose(1, 2, 0))
    hsv = cv2.cvtColor(image, cv2.COLOR_RGB2HSV)
    mask = cv2.inRange(hsv, (0, 0.2, 0.05), (14, 1, 1)) | cv2.inRange(hsv, (352, 0.2, 0.05), (360, 1, 1))
    matte = cv2.GaussianBlur(mask.astype(np.float32) / 255, (0, 0), 2)[..., None]
    grey = cv2.cvtColor(image, cv2.COLOR_RGB2GRAY)[..., None]
    return (grey + (image - grey) * matte).transpose(2, 0, 1)
