"""Finished looks to begin with, made of general passes. Each explains itself in a sentence."""

from dataclasses import dataclass
from typing import Any

from wenditas.core.look.document import Look, parse_look
from wenditas.core.shelf.dress import PICK
from wenditas.core.tone.palettes import PALETTES, as_stops
from wenditas.core.treat.hue_bands import EIGHT


@dataclass(frozen=True)
class Starter:
    """A look to begin with. asks: what to pick in the picture, where it needs a pick; wants_no_sky: a bright sky spoils it."""

    id: str
    name: str
    words: str
    look: Look
    asks: str | None = None
    wants_no_sky: bool = False


def step(treatment: str, name: str | None = None, side: str = "everywhere", amount: float = 100, blend: str = "normal", **params: Any) -> dict[str, Any]:
    """A pass; its side other than everywhere is of the selection that is asked for."""
    where = {} if side == "everywhere" else {"side": side, "selection": PICK}
    return {"treatment": treatment, "name": name or treatment.replace("-", " ").capitalize(), "amount": amount, "blend": blend, "params": params, **where}


def starter(
    id: str, name: str, words: str, *steps: dict[str, Any], asks: str | None = None, cleaning: dict[str, float] | None = None, wants_no_sky: bool = False
) -> Starter:
    """A starter from its passes."""
    selection = {"id": PICK, "name": "Picked colour", "keys": [], "cleaning": cleaning or {"despeckle": 20}}
    passes = [{**s, "id": f"p{n}"} for n, s in enumerate(steps)]
    return Starter(id, name, words, parse_look({"selections": [selection] if asks else [], "passes": passes}), asks, wants_no_sky)


S_CURVE = [[0, 0], [25, 17], [75, 84], [100, 100]]
CRUSHED = [[0, 0], [12, 1], [30, 20], [75, 85], [100, 100]]

_ALL = (
    starter(
        "one-colour-stays",
        "One colour stays",
        "Grey outside, a little more colour inside, then an S-curve with crushed blacks; pick the colour that stays.",
        step("monochrome", "Grey outside", "outside"),
        step("saturation", "More colour", "inside", saturation=118),
        step("curves", "Crushed S-curve", master=CRUSHED),
        asks="Pick the colour that stays",
    ),
    starter(
        "colour-swap",
        "Colour swap",
        "Moves the picked colour onto another and lets it glow a little; pick the object, then choose its new colour.",
        step("recolour", "New colour", "inside", target="#2f6fb5"),
        step("glow", "Glow", "from inside", amount=70, threshold=35, radius=18, intensity=60),
        asks="Pick the object that changes colour",
        cleaning={"despeckle": 20, "choke": 1, "soften": 2},
    ),
    starter(
        "two-tone-world",
        "Two-tone world",
        "Pushes everything but the picked hue to one teal tint, faint colours first; pick the skin, or whatever stays warm.",
        step("curves-over-colour", "Calm faint colours", "outside", over="saturation", saturation_over_saturation=[[0, 40], [40, 40], [80, 100]]),
        step("tint", "Teal outside", "outside", amount=72, darks="#04181c", lights="#bfe3e0"),
        step("curves-over-colour", "Colour in the middle", "inside", over="lightness", saturation_over_lightness=[[0, 70], [50, 125], [100, 90]]),
        step("curves", "S-curve", master=S_CURVE),
        asks="Pick what stays natural",
    ),
    starter(
        "one-ink",
        "One ink",
        "Grey all over, then ink in the shadows only, with limits to adjust; whites stay white.",
        step("monochrome", "Grey"),
        step("tone-zones", "Ink in the shadows", low=40, high=75, softness=45, shadows="#1f3f9b", shadows_tint=95, midtones="#1f3f9b", midtones_tint=25),
        step("curves", "S-curve", master=S_CURVE),
    ),
    starter(
        "two-ink-print",
        "Two-ink print",
        "Grey, a strong S-curve, then a light ink multiplied and a dark one laid in by lighten.",
        step("monochrome", "Grey"),
        step("curves", "Strong S-curve", master=[[0, 0], [30, 10], [70, 90], [100, 100]]),
        step("duotone", "Two inks", method="ink by ink", dark="#1b2a5c", light="#f0523d"),
    ),
    starter(
        "warm-tint",
        "Paper tint",
        "Black to a deep brown, white to paper, over part of the picture's own colours.",
        step("tint", "Paper", amount=65, darks="#20140e", lights="#f3e6c8"),
        step("curves", "S-curve", master=S_CURVE),
    ),
    starter(
        "heat-camera",
        "Heat camera",
        "Softens a little, then gives every tone the colour of its heat from five stops; reverse them or slide the palette.",
        step("gradient-map", "Heat", stops=as_stops(PALETTES["Heat camera"]), space="Oklab", blur=5),
    ),
    starter(
        "heat-on-black",
        "Heat on black",
        "The subject alone glows with heat, over black; pick the subject.",
        step("solid", "Black outside", "outside", colour="#000000"),
        step("gradient-map", "Heat inside", "inside", stops=as_stops(PALETTES["Heat camera"]), blur=5),
        asks="Pick the subject that glows",
        cleaning={"despeckle": 60, "fill_holes": 60, "soften": 3},
    ),
    starter(
        "poster-bands",
        "Poster bands",
        "Five levels with true black and white at the ends, one colour each, their borders broken by grain.",
        step("gaussian-blur", "Soften", radius=4),
        step("posterize", "Five levels", levels=5, per="luma, a colour each", border="blue noise", grain=3, strength=55),
    ),
    starter(
        "day-for-night",
        "Day for night",
        "Darker, calmer, blue in the shadows most and in the highlights least; best where no bright sky is in frame.",
        step("exposure", "Less light", stops=-1.15),
        step("highlights-shadows", "Highlights down", highlights=-45, shadows=-25),
        step("saturation", "Less colour", saturation=40),
        step(
            "tone-zones",
            "Blue shadows",
            low=30,
            high=70,
            softness=40,
            shadows="#12337a",
            shadows_tint=70,
            midtones="#1d4680",
            midtones_tint=38,
            highlights="#5f86b0",
            highlights_tint=12,
        ),
        step("curves", "Deep curve", master=[[0, 0], [16, 9], [45, 46], [80, 84], [100, 96]]),
        wants_no_sky=True,
    ),
    starter(
        "night-eyes",
        "Night eyes",
        "What the eye's rods make of the scene: colours fade and greys lean to blue as light falls.",
        step("exposure", "Less light", stops=-0.7),
        step("rod-vision", "Rods", white=0.4, blue=70, brightness=90),
        step("grain", "Grain", strength=18, size=2.5),
    ),
    starter(
        "blood-red-sky",
        "Blood-red sky",
        "A red fill through the color blend, a darker one through darken, then lift, gamma and gain; pick the sky.",
        step("solid", "Red by color", "inside", blend="color", colour="#b01a12"),
        step("solid", "Dark red by darken", "inside", blend="darken", amount=80, colour="#c4452f"),
        step("lift-gamma-gain", "Deepen", lift=-0.02, gamma=0.92, gain_red=1.1, gain_green=0.86, gain_blue=0.84),
        asks="Pick the sky",
        cleaning={"despeckle": 40, "fill_holes": 40, "soften": 4},
    ),
    starter(
        "old-broadcast",
        "Old broadcast",
        "Colour smears through hue and saturation, haze through lighten, then faint gradient maps through exclusion and saturation.",
        step("directional-blur", "Smear hue", blend="hue", amount=80, angle=90, length=70),
        step("directional-blur", "Smear saturation", blend="saturation", amount=80, angle=90, length=110),
        step("gaussian-blur", "Haze", blend="lighten", amount=55, radius=10),
        step("solid", "Faint exclusion", blend="exclusion", amount=12, colour="#6a5acd"),
        step("gradient-map", "Map by exclusion", blend="exclusion", amount=10, stops=as_stops(PALETTES["Round the circle"])),
        step("gradient-map", "Map by saturation", blend="saturation", amount=20, stops=as_stops(PALETTES["Autumn hill"])),
        step("levels", "Levels", in_black=6, in_white=92, out_black=8, out_white=96),
    ),
    starter(
        "colours-return",
        "Colours return",
        "All hues but red gone, each band with a number of its own: bring them back one by one.",
        step("hue-bands", "Bands", bands=[{"id": name, "hue": hue, "saturation": 100 if name == "red" else 0} for name, hue in EIGHT.items()]),
        step("curves", "S-curve", master=S_CURVE),
    ),
    starter(
        "restless",
        "Restless",
        "Earlier frames that linger, parted channels, fringing and jumping blocks, each faint.",
        step("trails", "Lingering", amount=60, copies=3, spacing=2),
        step("channel-offset", "Parted channels", red_x=7, blue_x=-7),
        step("radial-fringing", "Fringing", strength=1.5),
        step("block-displacement", "Blocks", density=7, across=60, every=3),
        step("lens-distortion", "Bulge", bulge=12),
    ),
    starter(
        "melting-lights",
        "Melting lights",
        "Bright runs sorted downwards through lighten, with a glow from what is left.",
        step("pixel-sort", "Sorted downwards", blend="lighten", amount=85, low=62, direction="down"),
        step("glow", "Glow", threshold=65, radius=22, intensity=70),
    ),
    starter(
        "newsprint",
        "Newsprint",
        "Two levels broken by an ordered grain, printed on warm paper.",
        step("curves", "S-curve", master=S_CURVE),
        step("posterize", "Ordered grain", levels=2, border="ordered", grain=4, strength=100),
        step("tint", "Ink and paper", darks="#191611", lights="#efe4cc"),
    ),
    starter(
        "faded-film",
        "Faded film",
        "Crossed curves, lifted blacks, grain where film shows it and a soft vignette.",
        step(
            "curves",
            "Crossed film",
            master=[[0, 6], [30, 30], [75, 82], [100, 97]],
            red=[[0, 0], [30, 24], [70, 78], [100, 100]],
            blue=[[0, 14], [50, 48], [100, 86]],
        ),
        step("saturation", "Less colour", saturation=78),
        step("grain", "Grain", strength=22, size=2.2),
        step("vignette", "Vignette", strength=32),
    ),
)

STARTERS: dict[str, Starter] = {}
for _starter in _ALL:
    if _starter.id in STARTERS:
        raise ValueError(f"two starter looks are called {_starter.id!r}")
    STARTERS[_starter.id] = _starter
