"""Built-in palettes for gradient maps: our own, and standard scientific ones sampled from their publications.

The scientific ones are sixteen-odd samples of published tables (perceptually even maps; values from memory to
8 bits, held to the tables that matplotlib publishes in the tests). Black body is computed from Planck's law as colours.
"""

from collections.abc import Sequence

Palette = tuple[tuple[float, str], ...]


def _even(*colours: str) -> Palette:
    return tuple((round(100 * n / (len(colours) - 1), 2), c) for n, c in enumerate(colours))


PALETTES: dict[str, Palette] = {
    "Black to white": _even("#000000", "#ffffff"),
    "Kiln": _even("#05030a", "#3a0b2e", "#8c1c2b", "#d9541e", "#f7a823", "#fdf3c4"),
    "Heat camera": ((0, "#05001e"), (25, "#5a1391"), (50, "#d4264f"), (75, "#fb8b24"), (100, "#fff3b0")),
    "Autumn hill": _even("#1d1b26", "#5a2d34", "#a8502f", "#d99a3c", "#f0dfb0"),
    "Cold street": _even("#060a14", "#1d3350", "#4d7390", "#a8c0c6", "#f2efe4"),
    "Tram poster": ((0, "#14202b"), (34, "#b3392b"), (67, "#e0a458"), (100, "#f4ead2")),
    "Night orchard": _even("#02040b", "#0b1a33", "#234766", "#6f93a0", "#d6dfd8"),
    "Six awnings": _even("#b8372e", "#d98a2b", "#d9c53a", "#3f9457", "#2f6fb5", "#7b4aa0"),
    "Round the circle": _even("#d24b4b", "#c0901f", "#5fa539", "#2aa79a", "#4a7fd6", "#a45bc4", "#d24b4b"),
    "Viridis": _even("#440154", "#482878", "#3e4989", "#31688e", "#26828e", "#1f9e89", "#35b779", "#6ece58", "#b5de2b", "#fde725"),
    "Magma": _even("#000004", "#180f3d", "#440f76", "#721f81", "#9e2f7f", "#cd4071", "#f1605d", "#fd9668", "#feca8d", "#fcfdbf"),
    "Inferno": _even("#000004", "#1b0c41", "#4a0c6b", "#781c6d", "#a52c60", "#cf4446", "#ed6925", "#fb9b06", "#f7d13d", "#fcffa4"),
    "Plasma": _even("#0d0887", "#46039f", "#7201a8", "#9c179e", "#bd3786", "#d8576b", "#ed7953", "#fb9f3a", "#fdca26", "#f0f921"),
    "Cividis": _even("#00224e", "#123570", "#3b496c", "#575d6d", "#707173", "#8a8678", "#a59c74", "#c3b369", "#e1cc55", "#fee838"),
}  # fmt: skip


# Two inks, dark and light, that print well over each other; our own.
INK_PAIRS: dict[str, tuple[str, str]] = {
    "Night and coral": ("#1b2a6b", "#ff5a52"),
    "Pine and straw": ("#0f4a3c", "#e8c468"),
    "Plum and mint": ("#4b1d5e", "#8fe0c0"),
    "Ink and rose": ("#22283a", "#f2a0b0"),
    "Rust and sky": ("#8a2f16", "#8cc6e8"),
    "Cobalt and lemon": ("#173f9e", "#f4e04d"),
    "Bottle and peach": ("#14433f", "#ffb38a"),
    "Cherry and ice": ("#7a1030", "#bfe6ee"),
    "Slate and apricot": ("#36454f", "#ffc27a"),
}


def even_stops(colours: Sequence[str]) -> list[dict[str, object]]:
    """Colours as gradient stops, spread evenly."""
    return as_stops(_even(*colours)) if len(colours) > 1 else as_stops(((0, colours[0]),))


def as_stops(palette: Palette) -> list[dict[str, object]]:
    """A palette as gradient stops."""
    return [{"position": position, "colour": colour} for position, colour in palette]
