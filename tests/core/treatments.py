"""Settings and looks that tests of the treatment list are made from."""

from typing import Any

import numpy as np

from wenditas.core.files import Files
from wenditas.core.look.document import Look, parse_look
from wenditas.core.params import ParamInfo, describe
from wenditas.core.tone.lut import Lut
from wenditas.core.treat import Treatment
from wenditas.core.treat.overlay_picture import Still


def some_files() -> dict[str, Any]:
    """A bent cube, a bent line and a half transparent still, under the digests "cube", "line" and "still"."""
    axis = np.linspace(0, 1, 9)
    blue, green, red = np.meshgrid(axis, axis, axis, indexing="ij")
    table = np.stack([red**1.3, 0.8 * green + 0.2 * red, 1 - blue * 0.7], axis=-1)
    rng = np.random.default_rng(4)
    alpha = np.repeat(np.linspace(0, 1, 40, dtype=np.float32)[None, :], 30, axis=0)
    return {
        "cube": Lut("bent", table.astype(np.float32)),
        "line": Lut("line", np.stack([axis**2, 1 - axis, axis], axis=-1).astype(np.float32)),
        "still": Still(np.concatenate([rng.random((3, 30, 40), np.float32) * alpha, alpha[None]])),
    }


FILES = Files(some_files())


def odd_values(info: ParamInfo) -> list[Any]:
    """Values of a parameter besides its default: its ends, every choice, bent curves, short and long gradients."""
    stops = [
        {"position": 10, "colour": "#102030"},
        {"position": 60, "colour": "#ffcc00"},
        {"position": 60, "colour": "#0044ff"},
        {"position": 90, "colour": "#ffffff"},
    ]
    middle = (info.low + info.high) / 2
    return {
        "number": [info.low, info.high],
        "switch": [False, True],
        "choice": info.choices,
        "colour": ["#000000", "#ffffff", "#12c4a0"],
        "colours": [[], ["#ff0000"], ["#000000", "#3355ff", "#ffffff"]],
        "curve": [[[50, middle]], [[0, info.high], [100, info.low]], [[10, info.low], [40, middle], [80, info.high]]],
        "gradient": [stops, stops[:1], stops[::-1]],
        "bands": [[{"hue": 10, "saturation": 0}], [{"hue": h, "turn": h / 2, "lightness": 20} for h in (0, 90, 90, 359)], [{"id": "x", "hue": 200}]],
        "shot": ["", "other", "gone"],
        "part": ["", "some", "gone"],
        "file": {"lut": ["", "missing", "still", "cube", "line"], "picture": ["", "missing", "cube", "still"]}.get(info.accepts or "", []),
    }[info.kind]


def settings_of(treatment: Treatment) -> list[dict[str, Any]]:
    """Defaults, the example, every parameter at its odd values, random mixtures, presets."""
    infos = describe(treatment.params)
    rng = np.random.default_rng(11)

    def mixture() -> dict[str, Any]:
        return {
            i.key: float(rng.uniform(i.low, i.high)) if i.kind == "number" else rng.choice(np.array(odd_values(i), dtype=object))
            for i in infos
            if i.kind in ("number", "choice")
        }

    found: list[dict[str, Any]] = [{}, dict(treatment.example)]
    for info in infos:
        found += [{**treatment.example, **(info.when or {}), info.key: value} for value in odd_values(info)]
    found += [mixture() for _ in range(3)]
    return found + [dict(p) for p in treatment.presets.values()]


def one_pass(treatment: Treatment, params: dict[str, Any], **more: object) -> Look:
    """A look of a single pass."""
    return parse_look({"passes": [{"id": "p", "name": "p", "treatment": treatment.id, "params": params, **more}]})
