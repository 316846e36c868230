"""Treatments: one file each, listed here by hand, in the order of the list that people choose from."""

from types import ModuleType

from wenditas.core.treat import (
    block_displacement,
    cdl,
    channel_mixer,
    channel_offset,
    contrast,
    curves,
    curves_over_colour,
    deband,
    directional_blur,
    duotone,
    edge_colour,
    exposure,
    fringing,
    gaussian_blur,
    glow,
    gradient_map,
    grain,
    haze,
    highlights_shadows,
    hue_bands,
    hue_shift,
    lens_distortion,
    levels,
    lift_gamma_gain,
    linear_gradient,
    lut,
    mirror,
    monochrome,
    overlay_picture,
    pixel_scatter,
    pixel_sort,
    place,
    posterize,
    radial_gradient,
    recolour,
    rod_vision,
    saturation,
    sharpen,
    shot_laid_in,
    solarize,
    solid,
    spill,
    tint,
    tone_zones,
    trails,
    vignette,
    white_balance,
)
from wenditas.core.treat.record import GROUPS, Apply, At, Treatment

_REMOVE = (monochrome, saturation, spill)
_SHIFT = (hue_shift, recolour, edge_colour, curves_over_colour, hue_bands, white_balance, channel_mixer)
_MAP = (gradient_map, duotone, tint, posterize, lut)
_FILL = (solid, linear_gradient, radial_gradient, overlay_picture, place, shot_laid_in)
_TONE = (exposure, contrast, levels, curves, lift_gamma_gain, cdl, tone_zones, highlights_shadows, rod_vision, solarize, deband)
_SOFTEN = (gaussian_blur, directional_blur, glow, haze, sharpen, grain, vignette)
_BREAK = (trails, channel_offset, fringing, lens_distortion, block_displacement, pixel_scatter, pixel_sort, mirror)


def _listed(*modules: ModuleType) -> dict[str, Treatment]:
    found: dict[str, Treatment] = {}
    for module in modules:
        treatment: Treatment = module.TREATMENT
        if treatment.id in found:
            raise ValueError(f"two treatments are called {treatment.id!r}")
        found[treatment.id] = treatment
    return found


TREATMENTS = _listed(*_REMOVE, *_SHIFT, *_MAP, *_FILL, *_TONE, *_SOFTEN, *_BREAK)

__all__ = ["GROUPS", "TREATMENTS", "Apply", "At", "Treatment"]
