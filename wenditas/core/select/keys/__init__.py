"""Keys: the parts of a selection made from colour. One file per way of matching."""

from wenditas.core.select.keys.hue import RECORD as HUE
from wenditas.core.select.keys.hue import HueKey
from wenditas.core.select.keys.record import KeyRecord

KEYS: dict[str, KeyRecord] = {}
for _record in (HUE,):
    if _record.id in KEYS:
        raise ValueError(f"two keys are called {_record.id!r}")
    KEYS[_record.id] = _record

Key = HueKey

__all__ = ["KEYS", "HueKey", "Key", "KeyRecord"]
