"""Keys: the parts of a selection made from colour. One file per way of matching, listed here by hand."""

from typing import Annotated

from pydantic import Field

from wenditas.core.select.keys import alpha, colour, hue, lightness, ranges
from wenditas.core.select.keys.alpha import AlphaKey
from wenditas.core.select.keys.colour import ColourKey
from wenditas.core.select.keys.hue import HueKey
from wenditas.core.select.keys.lightness import LightnessKey
from wenditas.core.select.keys.ranges import RangesKey
from wenditas.core.select.keys.record import KeyRecord

KEYS: dict[str, KeyRecord] = {}
for _module in (hue, colour, lightness, ranges, alpha):
    if _module.RECORD.id in KEYS:
        raise ValueError(f"two keys are called {_module.RECORD.id!r}")
    KEYS[_module.RECORD.id] = _module.RECORD

Key = Annotated[HueKey | ColourKey | LightnessKey | RangesKey | AlphaKey, Field(discriminator="type")]

__all__ = ["KEYS", "AlphaKey", "ColourKey", "HueKey", "Key", "KeyRecord", "LightnessKey", "RangesKey"]
