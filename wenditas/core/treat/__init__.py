"""Treatments: one file each, listed here by hand."""

from wenditas.core.treat import monochrome, saturation
from wenditas.core.treat.record import ApplyTile, Treatment

TREATMENTS: dict[str, Treatment] = {}
for _module in (monochrome, saturation):
    if _module.TREATMENT.id in TREATMENTS:
        raise ValueError(f"two treatments are called {_module.TREATMENT.id!r}")
    TREATMENTS[_module.TREATMENT.id] = _module.TREATMENT

__all__ = ["TREATMENTS", "ApplyTile", "Treatment"]
