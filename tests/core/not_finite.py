"""Pictures that hold no numbers, or absurd ones, sent through everything that takes a picture. Run apart: `python -m tests.core.not_finite`.

Each thing's name is printed before it is tried, so that the one that ended the process is known; what went wrong otherwise comes last, as JSON.
"""

import json
import sys
import warnings
from collections.abc import Callable, Iterator
from typing import Any

import numpy as np

from tests.core.treatments import FILES, one_pass, settings_of
from tests.examples import TIMES
from wenditas.core.errors import WenditasError
from wenditas.core.look.apply import apply_look
from wenditas.core.look.document import parse_look
from wenditas.core.look.shown import MATTE_VIEWS, Shown
from wenditas.core.measure.census import census_picture
from wenditas.core.measure.checks import CHECKS
from wenditas.core.measure.checks.flash import flashes, glance
from wenditas.core.measure.checks.record import Seen
from wenditas.core.measure.cuts import change, glimpse
from wenditas.core.measure.noise import noise_of
from wenditas.core.measure.pixel import pixel_report
from wenditas.core.measure.scopes import SCOPES, scope_picture
from wenditas.core.measure.standing import standing
from wenditas.core.select.denoise import Noise, denoised
from wenditas.core.select.fit import fit_to_picks
from wenditas.core.select.islands import islands
from wenditas.core.select.keys import HueKey
from wenditas.core.select.matte import Moment, selection_matte
from wenditas.core.select.palette import palette_of
from wenditas.core.select.picks import sample
from wenditas.core.select.suggest import main_colours
from wenditas.core.shelf.carry import carried
from wenditas.core.tone.steps import amplified
from wenditas.core.treat import TREATMENTS

SHAPE = (3, 37, 53)
ODD = {
    "NaN": np.nan, "infinity": np.inf, "minus infinity": -np.inf, "-1e30": -1e30, "3e38": 3e38, "-3e38": -3e38, "denormal": 1e-42, "-denormal": -1e-42,
    "65504": 65504.0,
}  # fmt: skip
PICK = {"id": "p", "colour": [0.8, 0.2, 0.1], "x": 0.5, "y": 0.5, "frame": 0}
KEYS: dict[str, list[dict[str, Any]]] = {
    "hue": [{"type": "hue", "picks": [PICK], "refused": [{**PICK, "id": "q", "colour": [0.1, 0.2, 0.8]}]}],
    "colour": [{"type": "colour", "picks": [PICK]}],
    "lightness": [{"type": "lightness"}],
    "ranges": [{"type": "ranges"}],
    "several": [{"type": "hue", "picks": [PICK]}, {"type": "lightness", "combine": "intersect"}, {"type": "colour", "picks": [PICK], "combine": "subtract"}],
}
CLEANINGS: list[dict[str, Any]] = [{}, {"despeckle": 5, "fill_holes": 5, "choke": 3, "soften": 4}, {"choke": -4, "steady": 2, "invert": True}]


def pictures() -> Iterator[tuple[str, np.ndarray]]:
    """All odd values mixed, and each everywhere, and here and there; but for the soak these of two alone."""
    rng = np.random.default_rng(5)
    plain = rng.random(SHAPE, np.float32)
    for name, value in ODD.items() if TIMES > 1 else (("NaN", np.nan), ("3e38", 3e38)):
        yield f"all {name}", np.full(SHAPE, value, np.float32)
        yield f"some {name}", np.where(rng.random(SHAPE) < 0.2, np.float32(value), plain)
    yield "a mixture", np.where(rng.random(SHAPE) < 0.5, rng.choice(np.array([*ODD.values()], np.float32), SHAPE), plain)


def selection_of(key: str, cleaning: dict[str, Any]) -> dict[str, Any]:
    return {"id": "s", "name": "s", "keys": KEYS[key], "cleaning": cleaning}


def things(picture: np.ndarray) -> Iterator[tuple[str, Callable[[], Any]]]:
    """All that takes a picture, by name; a float array that comes out is held to be finite, a matte to lie from 0 to 1."""
    moment = Moment(9, lambda n: picture, files=FILES)
    for treatment in TREATMENTS.values():
        for n, params in enumerate(settings_of(treatment)):
            look = one_pass(treatment, params)
            yield f"{treatment.id} {n}", lambda look=look: apply_look(look, picture, moment)
    for key in KEYS:
        for n, cleaning in enumerate(CLEANINGS):
            look = parse_look({"selections": [selection_of(key, cleaning)]})
            chosen = look.selections[0]
            yield f"matte {key} {n}", lambda chosen=chosen: selection_matte(chosen, picture, moment)
            for view in MATTE_VIEWS:
                yield f"view {view} {key} {n}", lambda look=look, view=view: apply_look(look, picture, moment, shown=Shown(view=view, selection="s"))
    yield "denoised", lambda: apply_look(parse_look({}), denoised(picture, Noise(0.02, SHAPE[1])), moment)
    yield from measured(picture)


def measured(picture: np.ndarray) -> Iterator[tuple[str, Callable[[], Any]]]:
    """What measures a picture, or a matte made of it."""
    matte = picture[0]
    for scope in SCOPES:
        yield f"scope {scope}", lambda scope=scope: scope_picture(scope, picture)
        yield f"scope {scope} within", lambda scope=scope: scope_picture(scope, picture, matte)
    for up in ("lightness", "chroma"):
        yield f"census {up}", lambda up=up: census_picture(picture, up=up)
    yield "noise", lambda: noise_of([picture, picture]).sigma
    yield "pixel", lambda: pixel_report(picture, 0.5, 0.5).hex
    yield "stands for it", lambda: standing([picture, picture[:, ::-1]])
    yield "steps", lambda: amplified(picture)
    yield "cuts", lambda: change(glimpse(picture), glimpse(picture[:, ::-1]))
    yield "main colours", lambda: main_colours(picture)
    yield "palette", lambda: palette_of(picture, 5)
    yield "islands", lambda: islands(matte)
    yield "sample", lambda: sample(picture, 0.5, 0.5, 5)
    key = HueKey.model_validate(KEYS["hue"][0])
    yield "fit", lambda: fit_to_picks(key, lambda frame: picture)
    chosen = parse_look({"selections": [selection_of("hue", {})]}).selections[0]
    yield "carried", lambda: carried(chosen, [(0, picture)], lambda: "new")
    look = parse_look(
        {"selections": [selection_of("hue", {})], "passes": [{"id": "p", "name": "p", "treatment": "monochrome", "selection": "s", "side": "outside"}]}
    )
    beside = [Seen(n, 24, look, picture, picture[:, ::-1].copy(), {"s": matte}) for n in range(2)]
    seen = Seen(1, 24, look, picture, picture, {"s": matte}, Noise(0.01, SHAPE[1]), beside[0], beside[1])
    for check in CHECKS.values():
        yield f"check {check.id}", lambda check=check: check.measure(seen)
    yield "flashes", lambda: flashes([glance(p) for p in (picture, picture * 0, picture)], 24)


def main() -> None:
    wrong: list[str] = []
    warnings.simplefilter("ignore")
    np.seterr(all="ignore")
    for kind, picture in pictures():
        for name, tried in things(picture):
            print(kind, "/", name, flush=True)
            try:
                found = tried()
            except WenditasError:
                continue  # said in a sentence
            except Exception as error:
                wrong.append(f"{kind} / {name}: {type(error).__name__} {error}")
                continue
            if isinstance(found, float) and not np.isfinite(found):
                wrong.append(f"{kind} / {name}: {found}")
            elif isinstance(found, np.ndarray) and not np.isfinite(found).all():
                wrong.append(f"{kind} / {name}: not finite")
            elif name.startswith("matte") and not (found.min() >= 0 and found.max() <= 1):
                wrong.append(f"{kind} / {name}: from {found.min()} to {found.max()}")
    json.dump(wrong, sys.stderr)


if __name__ == "__main__":
    main()
