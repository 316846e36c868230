"""Bright sky in a night: what was a light sky stays lighter than a night's."""

import cv2
import numpy as np

from wenditas.core.kernel import Matte, Picture
from wenditas.core.measure.checks.fixing import add_pass, first_pass, fresh
from wenditas.core.measure.checks.pictures import luma
from wenditas.core.measure.checks.record import Check, Fix, Mark, Seen
from wenditas.core.measure.chroma import light_and_chroma

SKY_LIGHT, SKY_CHROMA = 0.72, 0.16  # Oklab lightness above which, and chroma below which, a sky counts as bright
SKY_EVEN = 0.012  # the most that lightness changes from pixel to pixel in a sky
SKY_ROWS, BELOW = 0.45, 0.45  # a sky lies in this part of the frame, from the top, but for this share of it: a backdrop goes on to the floor
FLOOR = 0.1  # of the frame's width that a sky may take of its bottom edge
LINES = 270  # the check is made on a picture of about so many lines
NIGHT, COOL = 0.55, 0.04  # a night is at most so light against its day, and by so much (of its light) bluer
LEAST_GROUND = 0.1  # of the frame that lies under the sky, for anything to be said
GLARE = 1.5  # how much lighter than the rest a sky of a night may be


def sky(picture: Picture) -> Matte:
    """Where a bright, even sky is: light, smooth, reaching the frame's top edge, and mostly in its upper part; about 270 lines high.

    picture: `(3, h, w)`. Source: stated thresholds, our own; Oklab (Ottosson 2020) for lightness and chroma.
    """
    _, height, width = picture.shape
    if height < 8 or width < 8:
        return np.zeros((height, width), np.float32)
    size = (max(8, round(width * LINES / height)), LINES)
    small = np.stack([cv2.resize(plane, size, interpolation=cv2.INTER_AREA) for plane in picture])
    lightness, chroma = light_and_chroma(small)
    soft = cv2.GaussianBlur(lightness, (0, 0), 2)
    slope = np.hypot(*np.gradient(soft))
    found = (soft > SKY_LIGHT) & (chroma < SKY_CHROMA) & (slope < SKY_EVEN)
    count, labels = cv2.connectedComponents(found.astype(np.uint8), connectivity=8)
    whole, upper = np.bincount(labels.ravel(), minlength=count), np.bincount(labels[: round(LINES * SKY_ROWS)].ravel(), minlength=count)
    floor = np.bincount(labels[-3:].ravel(), minlength=count) / 3
    skies = [n for n in np.unique(labels[:3]) if n > 0 and upper[n] >= (1 - BELOW) * whole[n] and floor[n] <= FLOOR * labels.shape[1]]
    return np.asarray(np.isin(labels, skies), np.float32)


def bright_sky(picture: Picture) -> float:
    """Share of the frame, 0-1, that is bright, even sky. See `sky`."""
    return float(sky(picture).mean())


def measure(seen: Seen) -> list[Mark]:
    """The share of a bright sky, where the look makes a night of what lies under it and leaves it light."""
    small = sky(seen.source)
    share = float(small.mean() * 100)
    if share <= CHECK.threshold:
        return []
    where = cv2.resize(small, (seen.source.shape[2], seen.source.shape[1]), interpolation=cv2.INTER_LINEAR)
    ground = where < 0.5
    if float(ground.mean()) < LEAST_GROUND:
        return []
    # The ground says whether this is a night: a large sky that stays light keeps the mean of all of it up.
    under, over = (picture[:, ground] for picture in (seen.source, seen.result))
    before, now = float(luma(under).mean()), float(luma(over).mean())
    if before < 0.05 or now > NIGHT * before or _blue(over) - _blue(under) < COOL:
        return []
    if float(luma(seen.result)[~ground].mean()) < GLARE * max(now, 0.02):
        return []
    words = f"A bright sky fills {share:.0f} % of the frame; a night's would be darker than the ground is now."
    return [Mark(CHECK.id, seen.frame, share, words, np.asarray(where, np.float32), fix=_mend(seen))]


def _blue(picture: Picture) -> float:
    """How much more blue than red there is, as a share of the light."""
    return float(picture[2].mean() - picture[0].mean()) / max(float(luma(picture).mean()), 0.01)


def _mend(seen: Seen) -> Fix:
    """A selection of the sky by its lightness, fenced to the upper part of the frame, and two stops less inside it, before all else."""
    id = fresh({s.id for s in seen.look.selections}, "sky")
    width = 1080 * seen.source.shape[2] / seen.source.shape[1]
    fence = {"id": "sky-fence", "name": "Upper part", "kind": "rectangle", "mode": "keep", "feather_out": 120}
    fence["points"] = [{"x": -200, "y": -200}, {"x": width + 200, "y": round(1080 * SKY_ROWS)}]  # type: ignore[assignment]
    key = {"id": "sky-key", "type": "lightness", "low": 62, "high": 100, "soft_low": 14, "soft_high": 0}
    selection = {"id": id, "name": "Sky", "keys": [key], "shapes": [fence], "cleaning": {"soften": 6}}
    darker = add_pass(seen.look, "darker-sky", "Sky darker", "exposure", before=first_pass(seen.look), params={"stops": -2.5}, selection=id, side="inside")
    return Fix("Select the sky and darken it", ({"do": "add", "target": "look/selections", "value": selection}, darker))


CHECK = Check(
    id="bright-sky",
    name="Bright sky in a night",
    measures="bright, even sky in a picture that is made a night of",
    unit="% of the frame",
    threshold=8.0,
    source="common practice; thresholds of the sky our own",
    fixes="a selection of the sky, darkened",
    measure=measure,
)
