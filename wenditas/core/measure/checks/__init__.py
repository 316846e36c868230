"""Checks: what a look makes, measured. One small file each; this list is all there is to know of them."""

from wenditas.core.measure.checks import (
    banding,
    bright_sky,
    clipping,
    coverage_drop,
    flash,
    flicker,
    hard_to_tell,
    islands,
    noisy_key,
    out_of_range,
)
from wenditas.core.named import listed

CHECKS = listed(
    banding.CHECK, clipping.CHECK, out_of_range.CHECK, flicker.CHECK, islands.CHECK, coverage_drop.CHECK,
    bright_sky.CHECK, hard_to_tell.CHECK, flash.CHECK, noisy_key.CHECK,
)  # fmt: skip
