"""Carrying a look over to another shot: what its keys were picked from is sought there, and they are fitted again to what is found.

The target's main colours are weighed by how near they lie to what was picked (hue, chroma and lightness in Oklab, each with a width of
its own) and by how much of the frame they fill. On the best of them three picks are put, on its dark, middling and light parts, and the
key is fitted to these. Source: our own; held to true mattes under changes of light by `bench/carry.py`.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Literal

import cv2
import numpy as np
import numpy.typing as npt

from wenditas.core.colour.names import colour_name
from wenditas.core.colour.oklab import hue_distance, lch_from_lab, oklab_from_rgb, rgb_from_oklab
from wenditas.core.kernel import Floats, Matte, Picture
from wenditas.core.look.document import Look
from wenditas.core.select.fit import fit_to_picks
from wenditas.core.select.keys import ColourKey, HueKey, Key
from wenditas.core.select.keys.hue import hue_key, hues
from wenditas.core.select.matte import keyed
from wenditas.core.select.picks import Pick, sample
from wenditas.core.select.selection import Selection
from wenditas.core.select.suggest import MainColour, main_colours

Mask = npt.NDArray[np.bool_]
How = Literal["as it was", "fitted again", "asks", "needs a pick"]
HOWS: tuple[How, ...] = ("as it was", "fitted again", "asks", "needs a pick")  # the further on, the more is to be said
HUE, CHROMA, LIGHTNESS = 14.0, 0.6, 0.3  # how far a colour may be and still be much like another: degrees, log of the ratio, Oklab
NEAR, FAR = 20.0, 48.0  # degrees of hue up to which a colour is taken for the same; up to which it is asked about
LEAST_RATIO = 0.4  # of the chroma that was picked
REGION, SMOOTH = 10.0, 3  # degrees around a hue that belong to the same thing; within which a hue is counted as one
ENOUGH = 0.003  # share of the frame that makes a thing
PLACES = (25, 50, 80)  # percentiles of lightness that are picked
SMALL = 320  # width at which main colours are sought
LESS, COLOURFUL = 0.6, 0.5  # of the most colourful of a hue, what is taken at least; log of a ratio of chroma that is alike
BETTER = 0.03  # by how much intersection over union is to grow for a key to be fitted again
NOTHING, SEVERAL, MUCH = 0.0005, 3.0, 0.05  # share of the frame that is nothing; how many times the area is several; share of the frame from which that is told
LEAST = 0.4  # intersection over union with what is like the colour that a key has to reach


@dataclass(frozen=True)
class Carried:
    """What became of a selection. words: told beside the picture; colour: what was found, gamma-coded R'G'B', None where nothing was."""

    selection: str
    how: How
    words: str
    colour: tuple[float, float, float] | None = None


@dataclass(frozen=True)
class _Part:
    """What became of a key: how the group of `How` has it, words of what was found, its colour, and where what is like it lies."""

    key: Key
    how: How
    words: str = ""
    colour: tuple[float, float, float] | None = None
    like: Matte | None = None


def picked_colours(selection: Selection) -> list[Pick]:
    """The picks of a selection's keys by hue and by colour: what is sought in another shot."""
    return [pick for key in selection.keys if isinstance(key, HueKey | ColourKey) for pick in key.picks]


def carried(selection: Selection, pictures: Sequence[tuple[int, Picture]], new_id: Callable[[], str], sure: bool = False) -> tuple[Selection, Carried]:
    """A selection on another shot, and what became of it. Without picks it stays as it is; its shapes are left out (see `without_shapes`).

    Every key is sought and fitted for itself, and each colour of those that it was picked from. pictures: some frames of the shot, with
    their numbers, as they are keyed. sure: whether a colour that would be asked about is taken.
    Where nothing near enough is found a key is left without picks, and the selection needs one; a key that takes away is switched off.
    """
    if not picked_colours(selection):
        return selection, Carried(selection.id, "as it was", "")
    parts = [_carried(key, pictures, new_id, sure) for key in selection.keys]
    worst = max((part.how for part in parts), key=HOWS.index)
    told = [part.words for part in parts if part.how == worst and part.words]
    colour = next(
        (part.colour for part in parts if part.how == worst and part.colour is not None), next((p.colour for p in parts if p.colour is not None), None)
    )
    made = selection.model_copy(update={"keys": tuple(part.key for part in parts)})
    if worst in ("asks", "needs a pick"):
        lost = all(part.how == worst for part in parts if isinstance(part.key, HueKey | ColourKey))
        return _emptied(selection) if lost else made, Carried(selection.id, worst, told[0] if told else "", colour)
    if worst == "as it was":
        return selection, Carried(selection.id, "as it was", "as it was", colour)
    wrong = _amiss(made, parts, dict(pictures))
    if wrong:
        return _emptied(selection), Carried(selection.id, "needs a pick", wrong, colour)
    return made, Carried(selection.id, "fitted again", f"fitted again: {', '.join(told)}", colour)


def _carried(key: Key, pictures: Sequence[tuple[int, Picture]], new_id: Callable[[], str], sure: bool) -> _Part:
    """One key on another shot."""
    if not isinstance(key, HueKey | ColourKey) or not key.picks:
        return _Part(key, "as it was")
    put: list[Pick] = []
    likes: list[tuple[Picture, Matte]] = []
    main: MainColour | None = None
    takes = key.combine == "subtract"
    for picks in groups(key.picks):
        wanted = _mean(picks)
        found = _sought(wanted, pictures)
        if found is None or (takes and found[2] > NEAR and not sure):
            if takes:  # there is nothing to take away
                return _Part(key.model_copy(update={"on": False}), "fitted again", f"no {_named(picks[0].colour)} here to take away")
            return _Part(key.model_copy(update={"picks": (), "refused": ()}), "needs a pick", "nothing like it here")
        number, main, apart = found
        if apart > NEAR and not sure:
            words = f"only {main.name.lower()} here, {apart:.0f}° away"
            return _Part(key.model_copy(update={"picks": (), "refused": ()}), "asks", words, main.colour)
        picture = dict(pictures)[number]
        like = like_it(picture, main, wanted)
        likes.append((picture, like))
        put += _picks_on(picture, number, largest(like), main, new_id)
    assert main is not None
    fitted, words = _refitted(key, tuple(put), dict(pictures))
    picture, like = likes[0]
    if len(likes) == 1 and isinstance(key, HueKey) and isinstance(fitted, HueKey):
        was, now = _agrees(key, picture, like), _agrees(fitted, picture, like)
        if max(was, now) < LEAST and not takes:
            return _Part(key.model_copy(update={"picks": (), "refused": ()}), "needs a pick", "too much here is like it", main.colour)
        if was >= now - BETTER:
            return _Part(key, "as it was", "", main.colour, like)
    return _Part(fitted, "fitted again", words, main.colour, like)


def groups(picks: Sequence[Pick]) -> list[list[Pick]]:
    """Picks by what they were taken from: those whose hues lie within `FAR` of the first one's of a group are of one thing."""
    found: list[tuple[float, list[Pick]]] = []
    for pick in picks:
        hue = float(lch_from_lab(oklab_from_rgb(np.clip(pick.colour, 0, 1.25)))[2])
        own = next((members for first, members in found if float(hue_distance(hue, first)) < FAR), None)
        if own is None:
            found.append((hue, [pick]))
        else:
            own.append(pick)
    return [members for _, members in found]


def _amiss(selection: Selection, parts: Sequence[_Part], pictures: dict[int, Picture]) -> str:
    """What is wrong with fitted keys together, in words: they select nothing, or several times what is like the colours that were found."""
    if selection.needs_alpha or not any(part.like is not None for part in parts):
        return ""
    shares = [float((keyed(selection, picture) > 0.5).mean()) for picture in pictures.values()]
    like = sum(float(part.like.mean()) for part in parts if part.like is not None and getattr(part.key, "combine", "add") != "subtract")
    if max(shares) < NOTHING:
        return "nothing is left of it here"
    return "too much here is like it" if min(shares) > max(SEVERAL * like, MUCH) else ""


def without_shapes(look: Look) -> tuple[Look, bool]:
    """A look without its selections' shapes and tracks, the lanes on them, and the strokes of its objects, which belong to the shot they were drawn on;
    and whether it had any."""
    if not any(s.shapes or s.objects for s in look.selections):
        return look, False
    selections = tuple(s.model_copy(update={"shapes": (), "objects": tuple(o.model_copy(update={"strokes": ()}) for o in s.objects)}) for s in look.selections)
    lanes = tuple(lane for lane in look.lanes if "/shapes/" not in lane.target)
    return look.model_copy(update={"selections": selections, "lanes": lanes}), True


def _refitted(key: Key, put: tuple[Pick, ...], pictures: dict[int, Picture]) -> tuple[Key, str]:
    """A key with its picks where they are found now, and what has changed in words."""
    if isinstance(key, ColourKey) and key.picks:
        return key.model_copy(update={"picks": put, "refused": ()}), f"{_named(key.picks[0].colour)} → {_named(put[0].colour)}"
    if not isinstance(key, HueKey) or not key.picks:
        return key, ""
    refused = tuple(p for p in (_moved(r, pictures) for r in key.refused) if p is not None and _apart(p, put) > key.softness)
    fitted = fit_to_picks(key.model_copy(update={"picks": put, "refused": refused}), lambda frame: pictures[frame]).key
    return fitted, f"{_hue_of(key):.0f}° → {_hue_of(fitted):.0f}°"


def _agrees(key: HueKey, picture: Picture, like: Matte) -> float:
    """How well what a key selects agrees with a mask: intersection over union."""
    found, there = hue_key(picture, key) > 0.5, like > 0.5
    return float((found & there).sum() / max(int((found | there).sum()), 1))


def _hue_of(key: HueKey) -> float:
    """The middle of a key's hues, in degrees."""
    angles = np.radians(hues(key.picks, key.hue_offset))
    return float(np.degrees(np.arctan2(np.sin(angles).mean(), np.cos(angles).mean())) % 360)


def _mean(picks: Sequence[Pick]) -> Floats:
    return np.asarray(oklab_from_rgb(np.clip(np.array([p.colour for p in picks]).T, 0, 1.25)).mean(axis=1))


def _named(colour: tuple[float, float, float]) -> str:
    return colour_name(np.clip(colour, 0, 1)).lower()


def _emptied(selection: Selection) -> Selection:
    """A selection that asks for a pick: its first key that takes picks, without any, and none of the others that do."""
    asking = next(k for k in selection.keys if isinstance(k, HueKey | ColourKey))
    others = [k for k in selection.keys if not isinstance(k, HueKey | ColourKey)]
    return selection.model_copy(update={"keys": (asking.model_copy(update={"picks": (), "refused": ()}), *others)})


def _sought(wanted: Floats, pictures: Sequence[tuple[int, Picture]]) -> tuple[int, MainColour, float] | None:
    """The main colour that is most like what was picked: the frame it is on, and how far its hue is; None where none is near enough."""
    _, chroma, hue = (float(v) for v in lch_from_lab(wanted))
    best: tuple[float, int, MainColour, float] | None = None
    for number, picture in pictures:
        for main in main_colours(_small(picture)):
            lightness, has, at = (float(v) for v in lch_from_lab(oklab_from_rgb(np.clip(main.colour, 0, 1.25))))
            apart = float(hue_distance(at, hue))
            if apart > FAR or has < LEAST_RATIO * chroma:
                continue
            off = (apart / HUE) ** 2 + (np.log(max(has, 1e-4) / max(chroma, 1e-4)) / CHROMA) ** 2 + ((lightness - float(wanted[0])) / LIGHTNESS) ** 2
            weight = float(np.exp(-off / 2)) * main.coverage**0.25
            if best is None or weight > best[0]:
                best = weight, number, main, apart
    return None if best is None else best[1:]


def _small(picture: Picture) -> Picture:
    _, height, width = picture.shape
    if width <= SMALL:
        return picture
    size = SMALL, max(1, round(height * SMALL / width))
    return np.stack([cv2.resize(plane, size, interpolation=cv2.INTER_AREA) for plane in picture])


def like_it(picture: Picture, main: MainColour, wanted: Floats) -> Matte:
    """What is like a main colour, 0 or 1: near the hue that most of its colourful pixels have, and about as colourful as what was picked (Oklab)."""
    soft = np.stack([cv2.GaussianBlur(plane, (0, 0), max(1.0, picture.shape[1] / 360)) for plane in picture])
    _, chroma, hue = lch_from_lab(oklab_from_rgb(np.clip(soft, 0, 1.25)))
    at = float(lch_from_lab(oklab_from_rgb(np.clip(main.colour, 0, 1.25)))[2])
    around = np.asarray(hue_distance(hue, at)) < NEAR
    picked = float(lch_from_lab(wanted)[1])
    colourful = _near_chroma(chroma, picked)
    if (around & colourful).mean() < ENOUGH:  # in another light it is more, or less, colourful than where it was picked
        most = float(np.percentile(chroma[around], 95)) if around.any() else 0.0
        colourful = _near_chroma(chroma, float(np.clip(picked, LESS * most, most)))
    peak = _peak(hue[around & colourful], chroma[around & colourful], at)
    return np.asarray(colourful & (np.asarray(hue_distance(hue, peak)) < REGION), np.float32)


def _near_chroma(chroma: Floats, expected: float) -> Mask:
    return np.asarray(np.abs(np.log(np.maximum(chroma, 1e-4) / max(expected, 1e-4))) < COLOURFUL)


def _peak(hue: Floats, chroma: Floats, otherwise: float) -> float:
    """The hue that most of some pixels have, each counted by the square of its chroma; `otherwise` where there are none."""
    if not hue.size:
        return otherwise
    counts = np.bincount((hue.astype(int) % 360).ravel(), weights=(chroma**2).ravel(), minlength=360)
    around = np.arange(-3 * SMOOTH, 3 * SMOOTH + 1)
    weights = np.exp(-((around / SMOOTH) ** 2) / 2)
    smooth = sum(w * np.roll(counts, n) for n, w in zip(around, weights, strict=True))
    return float(np.argmax(smooth)) + 0.5


def largest(like: Matte) -> Matte:
    """The largest connected part of a mask, 0 or 1."""
    count, labels, stats, _ = cv2.connectedComponentsWithStats(like.astype(np.uint8), connectivity=8)
    return like if count < 2 else np.asarray(labels == 1 + int(np.argmax(stats[1:, cv2.CC_STAT_AREA])), np.float32)


def _picks_on(picture: Picture, frame: int, inside: Matte, main: MainColour, new_id: Callable[[], str]) -> tuple[Pick, ...]:
    """Picks well inside a thing, on its dark, middling and light parts."""
    _, height, width = picture.shape
    deep = cv2.erode(inside.astype(np.uint8), np.ones((5, 5), np.uint8))
    places = np.argwhere((deep if deep.any() else inside) > 0)
    if not len(places):
        places = np.array([[min(int(main.y * height), height - 1), min(int(main.x * width), width - 1)]])
    lightness = cv2.GaussianBlur(picture.mean(axis=0), (0, 0), 1.5)[tuple(places.T)]
    order = np.argsort(lightness, kind="stable")
    found = []
    for share in PLACES:
        row, column = places[order[int(share / 100 * (len(order) - 1))]]
        x, y = (float(column) + 0.5) / width, (float(row) + 0.5) / height
        found.append(Pick(id=new_id(), colour=sample(picture, x, y, 5), x=x, y=y, frame=frame))
    return tuple(found)


def _moved(refused: Pick, pictures: dict[int, Picture]) -> Pick | None:
    """A not-this pick on what is most like it here; None where nothing is."""
    found = _sought(oklab_from_rgb(np.clip(refused.colour, 0, 1.25)).reshape(3), list(pictures.items()))
    if found is None or found[2] > NEAR:
        return None
    number, main, _ = found
    return refused.model_copy(update={"colour": main.colour, "x": main.x, "y": main.y, "frame": number})


def _apart(pick: Pick, others: Sequence[Pick]) -> float:
    """Degrees of hue from a pick to the nearest of others."""
    hue = float(lch_from_lab(oklab_from_rgb(np.clip(pick.colour, 0, 1.25)))[2])
    return min(float(hue_distance(hue, h)) for h in hues(tuple(others), 0))


def found_colour(carried: Carried) -> str | None:
    """The colour that was found, as a hex code; None where nothing was."""
    if carried.colour is None:
        return None
    r, g, b = (round(float(v) * 255) for v in np.clip(rgb_from_oklab(oklab_from_rgb(np.array(carried.colour))), 0, 1))
    return f"#{r:02x}{g:02x}{b:02x}"
