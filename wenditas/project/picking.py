"""Picks: what a click in the picture makes of a look. Each makes the commands of an edit, its words, and what is to be said."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from wenditas.core.colour.names import GREY_CHROMA, colour_name
from wenditas.core.colour.oklab import oklab_from_rgb, oklch_from_rgb, rgb_from_oklab
from wenditas.core.errors import BadLook
from wenditas.core.kernel import Floats, Picture
from wenditas.core.look.commands import Add, Command, Set
from wenditas.core.look.document import Look
from wenditas.core.select.denoise import NO_NOISE, Noise
from wenditas.core.select.keys import ColourKey, HueKey, Key, LightnessKey
from wenditas.core.select.keys.hue import saturation
from wenditas.core.select.keys.noisy import chroma_error
from wenditas.core.select.picks import Pick
from wenditas.core.select.selection import Selection
from wenditas.project.edits import free_name, selection_target
from wenditas.store.database import new_id

LIT, FULL_LIGHT, MOST_LIGHT = 99.5, 0.9, 4.0  # percentile of a frame's lightness that tells its light; what it is in full light; the most that is made up for
HUELESS, WAVERING = GREY_CHROMA, 1.5  # chroma in full light below which a hue says nothing; and in standard deviations of the noise there
ENOUGH, MUCH = 0.9, 100 / 3  # share of what was picked that is to be selected; percent of the frame that a pick does not take without a word
GREYER = 0.01  # how far above a grey the least chroma is set
WEAKER, DARKER, STRONGER, LIGHTER = 0.6, 0.55, 1.3, 1.25  # of what is picked: how weak, dark, strong and light a colour a further pick lets in
GREY_KEY = {"tolerance": 4, "softness": 4, "lightness_weight": 100}  # closer than for colours: greys differ by lightness alone
DARK, BRIGHT, ROOM, SOFT = 0.35, 0.85, 6, 8  # lightness that is keyed by itself, below and above; percent around a pick, and soft beyond


def light_of(picture: Picture) -> float:
    """How much light a frame has: the lightness of its brightest parts over what it is in full light, at most 1.

    Oklab's lightness, a and b grow alike with light, so colours over this are as they would be in full light. Source: von Kries 1902, one gain for all.
    """
    small = picture[:, :: max(1, picture.shape[1] // 180), :: max(1, picture.shape[2] // 320)]
    brightest = float(np.percentile(oklab_from_rgb(np.clip(small, 0, 1.25))[0], LIT))
    return float(np.clip(brightest / FULL_LIGHT, 1 / MOST_LIGHT, 1))


def of_what_was_picked(share: float, coverage: float) -> str:
    """What is to be said of a pick. share: 0-1, how much of what was picked is selected; coverage: percent of the frame that is."""
    if share < ENOUGH:
        return f"Only {100 * share:.0f} % of what was picked is selected: a shape, another key or a not-this pick leaves the rest out."
    if coverage > MUCH:
        return f"It covers {coverage:.0f} % of the frame. A not-this pick or a shape narrows it."
    return ""


@dataclass(frozen=True)
class Around:
    """What is known of the frame that is picked from. light: see `light_of`; fit: a key fitted to its picks there, as it is where None."""

    light: float = 1.0
    noise: Noise = NO_NOISE
    fit: Callable[[HueKey], HueKey] | None = None

    def in_full_light(self, pick: Pick) -> Floats:
        """Oklab of a pick as it would be in full light."""
        return oklab_from_rgb(np.clip(pick.colour, 0, 1.25)) / self.light

    def name(self, pick: Pick) -> str:
        """What people call a pick, who see a thing and not its shade."""
        return colour_name(np.clip(rgb_from_oklab(self.in_full_light(pick)), 0, 1))

    def hueless(self, pick: Pick) -> bool:
        """Whether the hue of a pick says nothing."""
        _, a, b = self.in_full_light(pick)
        wavers = WAVERING * chroma_error(pick, self.noise.sigma) / self.light
        return bool(np.hypot(a, b) < max(HUELESS, wavers))


@dataclass(frozen=True)
class Picked:
    """What a pick makes: commands and words, the id of the selection that it goes to, and what is to be said of it."""

    commands: list[Command]
    words: str
    selection: str
    note: str = ""


def picked(
    look: Look, pick: Pick, selection_id: str | None, refuse: bool, key_id: str | None = None, name: str | None = None, around: Around | None = None
) -> Picked:
    """What a pick makes.

    Without a selection: a new one, of the name given or named after its colour, keyed by hue from this pick; a grey has none, so it is keyed by
    lightness, or by colour.
    With one: a pick or not-this pick added to the given key, or to the first that takes picks. around: what is known of the frame.
    """
    around = around or Around()
    if selection_id is None:
        if refuse:
            raise BadLook("A not-this pick narrows a selection; pick the colour to select first.")
        name = free_name(name or around.name(pick), {s.name for s in look.selections})
        key, note = _first_key(pick, around)
        made = Selection(id=new_id(), name=name, keys=(key,))
        return Picked([Add(target="look/selections", value=made.model_dump(mode="json"))], f"Selection {name}", made.id, note)
    selection = look.selection(selection_id)
    keys = [key for key in selection.keys if isinstance(key, HueKey | ColourKey | LightnessKey)]
    to = next((key for key in keys if key.id == key_id), None) or next((k for k in keys if not isinstance(k, LightnessKey)), None) or next(iter(keys), None)
    what = "Not-this pick" if refuse else "Pick"
    commands, note = _picked_into(selection, to, pick, refuse, around)
    return Picked(commands, f"{what} added to {selection.name}", selection_id, note)


def _first_key(pick: Pick, around: Around) -> tuple[Key, str]:
    """The key that a pick begins a selection with, and what is to be said of it."""
    lightness = float(oklab_from_rgb(np.clip(pick.colour, 0, 1.25))[0])
    if not around.hueless(pick):
        by_hue = HueKey(id=new_id(), picks=(pick,))
        return (by_hue if around.fit is None else around.fit(by_hue)), ""
    if DARK <= lightness / around.light <= BRIGHT:
        return ColourKey(id=new_id(), picks=(pick,), **GREY_KEY), "This is grey, whose hue says nothing: it is keyed by colour instead, lightness included."
    dark = lightness / around.light < DARK
    low, high = (0, 100 * lightness + ROOM) if dark else (100 * lightness - ROOM, 100)
    soft = {"soft_low": 0 if dark else SOFT, "soft_high": SOFT if dark else 0}
    key = LightnessKey(id=new_id(), low=round(max(low, 0), 1), high=round(min(high, 100), 1), **soft)
    return key, f"This has no hue to speak of: it is keyed by lightness instead, {key.low:g} to {key.high:g} %."


def _picked_into(selection: Selection, key: HueKey | ColourKey | LightnessKey | None, pick: Pick, refuse: bool, around: Around) -> tuple[list[Command], str]:
    """Commands that add a pick to a key of a selection, and what is to be said of it."""
    if key is None:
        made, note = _first_key(pick, around)
        if refuse:
            made, note = made.model_copy(update={"combine": "subtract"}), f"{note} It takes away what is like this.".strip()
        return [Add(target=selection_target(selection.id, "keys"), value=made.model_dump(mode="json"))], note
    of_key = selection_target(selection.id, "keys", str(key.id))
    lightness, chroma, _ = (float(v) for v in oklch_from_rgb(np.clip(pick.colour, 0, 1.25)))
    if isinstance(key, LightnessKey):
        low, high = _stretched(key, 100 * lightness, refuse)
        changed = [Set(target=f"{of_key}/{field}", value=value) for field, value in (("low", low), ("high", high)) if value != getattr(key, field)]
        return [*changed], f"Keyed by lightness: {low:g} to {high:g} %."
    if isinstance(key, HueKey) and around.hueless(pick):
        if not refuse:
            made, note = _first_key(pick, around)
            return [Add(target=selection_target(selection.id, "keys"), value=made.model_dump(mode="json"))], note
        least = round(min(max(key.least_chroma, chroma + GREYER), 0.3), 3)
        return [Set(target=f"{of_key}/least_chroma", value=least)], f"This is grey, whose hue says nothing: least chroma is {least:g} now, which keeps it out."
    opened = _let_in(key, pick) if isinstance(key, HueKey) and not refuse else {}
    changed = [Set(target=f"{of_key}/{field}", value=value) for field, value in opened.items()]
    return [Add(target=f"{of_key}/{'refused' if refuse else 'picks'}", value=pick.model_dump(mode="json")), *changed], ""


def _let_in(key: HueKey, pick: Pick) -> dict[str, float]:
    """Limits of a key by hue that keep a pick of its own out, opened as far as it needs."""
    lightness, chroma, _ = (float(v) for v in oklch_from_rgb(np.clip(pick.colour, 0, 1.25)))
    strength = 100 * float(saturation(np.array(lightness), np.array(chroma)))
    least = {
        "least_chroma": WEAKER * chroma - key.gate_softness,
        "least_saturation": WEAKER * strength - key.saturation_edge / 2,
        "least_lightness": DARKER * 100 * lightness - key.lightness_edge / 2,
    }
    most = {
        "most_saturation": STRONGER * strength + key.saturation_edge,
        "most_lightness": LIGHTER * 100 * lightness + key.lightness_edge,
    }
    opened = {field: max(value, 0.0) for field, value in least.items() if value < getattr(key, field)}
    opened |= {field: min(value, 100.0) for field, value in most.items() if value > getattr(key, field)}
    return {field: round(value, 3) for field, value in opened.items()}


def _stretched(key: LightnessKey, lightness: float, refuse: bool) -> tuple[float, float]:
    """The ends of a key by lightness, in percent, that take a lightness in, or leave it out by the end that is nearer."""
    if not refuse:
        return round(min(key.low, max(lightness - ROOM, 0)), 1), round(max(key.high, min(lightness + ROOM, 100)), 1)
    if lightness - key.low < key.high - lightness:
        return round(min(lightness + key.soft_low + 1, key.high), 1), key.high
    return key.low, round(max(lightness - key.soft_high - 1, key.low), 1)
