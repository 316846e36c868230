"""A selection: a named, reusable recipe for a matte: keys, objects and shapes, then cleaning."""

from functools import cached_property

from pydantic import Field, field_validator

from wenditas.core.named import named
from wenditas.core.params import Params
from wenditas.core.select.clean import UNTOUCHED, Cleaning
from wenditas.core.select.denoise import NO_NOISE, Noise
from wenditas.core.select.keys import AlphaKey, ColourKey, HueKey, Key
from wenditas.core.select.objects.part import ObjectPart
from wenditas.core.select.shapes import Shape


class Selection(Params):
    """Keys combined in order, then kept within objects, then fenced by shapes, then cleaned. An empty selection selects nothing.

    reads: the id of the pass after which the picture is keyed; the source where None.
    Without keys, objects and shapes alone make the matte.
    """

    id: str = Field(min_length=1, max_length=40)
    name: str = Field(min_length=1, max_length=80)
    reads: str | None = None
    keys: tuple[Key, ...] = Field((), max_length=16)
    shapes: tuple[Shape, ...] = Field((), max_length=64)
    objects: tuple[ObjectPart, ...] = Field((), max_length=8)
    cleaning: Cleaning = Cleaning()

    @field_validator("keys")
    @classmethod
    def _named(cls, keys: tuple[Key, ...]) -> tuple[Key, ...]:
        return named(tuple(_with_named_picks(key) for key in keys), "k", "keys")

    @field_validator("shapes")
    @classmethod
    def _each_once(cls, shapes: tuple[Shape, ...]) -> tuple[Shape, ...]:
        return named(shapes, "s", "shapes")

    @field_validator("objects")
    @classmethod
    def _each_object_once(cls, objects: tuple[ObjectPart, ...]) -> tuple[ObjectPart, ...]:
        return named(objects, "o", "objects")

    def noise(self, footage: Noise) -> Noise:
        """What is denoised of the footage's noise before the keys; only the source has it."""
        return NO_NOISE if self.reads is not None or not self.keys else footage.times(self.cleaning.denoise_chroma / 100)

    @cached_property
    def cleaned(self) -> Cleaning | None:
        """What is done to its matte, apart from what is done before it is keyed and over time; None for nothing."""
        found = self.cleaning.model_copy(update={"denoise_chroma": 0.0, "follow": 0.0, "steady": 0.0})
        return None if found == UNTOUCHED else found

    @property
    def follows(self) -> float:
        """How far its edge follows the picture's, 0-1. An alpha channel has its own edge, and so have shapes."""
        by_colour = any(key.on and not isinstance(key, AlphaKey) for key in self.keys)
        return self.cleaning.follow / 100 if by_colour else 0.0

    @property
    def needs_alpha(self) -> bool:
        """Whether a key takes the footage's alpha channel."""
        return any(isinstance(k, AlphaKey) and k.on for k in self.keys)


def _with_named_picks(key: Key) -> Key:
    if not isinstance(key, HueKey | ColourKey):
        return key
    picks, refused = named(key.picks, "p", "picks"), named(key.refused, "n", "not-this picks")
    return key if picks is key.picks and refused is key.refused else key.model_copy(update={"picks": picks, "refused": refused})
