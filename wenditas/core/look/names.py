"""Treatments and parameters that have other names, or other units, since a version of the look document."""

from dataclasses import dataclass, field
from typing import Any


@dataclass(frozen=True)
class NewParam:
    """What a parameter is called now, and how its old numbers are told now: times the ratio `by`, plus `offset`."""

    key: str
    by: tuple[int, int] = (1, 1)
    offset: float = 0

    def value(self, old: Any) -> Any:
        """A value as it is told now; what is no number stays as it is."""
        if isinstance(old, bool) or not isinstance(old, int | float) or (self.by, self.offset) == ((1, 1), 0):
            return old
        return old * self.by[0] / self.by[1] + self.offset


@dataclass(frozen=True)
class Renamed:
    """What a treatment is called now, and those of its parameters that changed."""

    treatment: str
    params: dict[str, NewParam] = field(default_factory=dict)

    def values(self, params: dict[str, Any]) -> dict[str, Any]:
        """Its parameters under their names of now."""
        new = {key: self.params.get(key, NewParam(key)) for key in params}
        return {new[key].key: new[key].value(old) for key, old in params.items()}

    def lane(self, lane: dict[str, Any], words: list[str]) -> dict[str, Any]:
        """A lane of one of its parameters; `words` are those of its target."""
        if words[3] not in self.params:
            return lane
        param = self.params[words[3]]
        keyframes, drift = lane.get("keyframes"), lane.get("drift")
        changed = {**lane, "target": "/".join([*words[:3], param.key])}
        if isinstance(keyframes, list | tuple):
            changed["keyframes"] = [{**k, "value": param.value(k["value"])} if isinstance(k, dict) and "value" in k else k for k in keyframes]
        if drift is not None:
            changed["drift"] = NewParam("", param.by).value(drift)
        return changed


_VERSION_2 = {
    "night-sight": Renamed("rod-vision"),
    "tint": Renamed("tint", {"black": NewParam("darks"), "white": NewParam("lights")}),
    "gradient-map": Renamed("gradient-map", {"phase": NewParam("slide", (5, 18))}),
    "lens-distortion": Renamed("lens-distortion", {"curvature": NewParam("bulge")}),
    "trails": Renamed("trails", {"count": NewParam("copies"), "decay": NewParam("fading", (-1, 1), 100)}),
}


EIGHT_HUES = {"red": 29, "orange": 62, "yellow": 105, "green": 145, "teal": 195, "blue": 262, "violet": 305, "pink": 350}
BY_BAND = {"saturation-by-band": "saturation", "hue-by-band": "turn", "lightness-by-band": "lightness"}  # what each changed of its eight bands

# What the treatments of one curve each changed, over what, and what their curve was called (version 4).
BY_CURVE = {
    "hue-by-hue": ("hue", "hue", "shift"),
    "lightness-by-hue": ("lightness", "hue", "lightness"),
    "saturation-by-hue": ("saturation", "hue", "saturation"),
    "saturation-by-lightness": ("saturation", "lightness", "saturation"),
    "saturation-by-saturation": ("saturation", "saturation", "saturation"),
}


def with_bands(treatment: str, params: dict[str, Any]) -> dict[str, Any]:
    """The parameters of a treatment with eight fixed bands as those of hue bands (version 3)."""
    of = BY_BAND[treatment]
    return {"bands": [{"id": name, "hue": hue, **({of: params[name]} if name in params else {})} for name, hue in EIGHT_HUES.items()]}


def in_version_2(treatment: str) -> Renamed:
    """How a treatment of version 1 is named in version 2."""
    return _VERSION_2.get(treatment, Renamed(treatment))
