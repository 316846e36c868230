"""Content keys: an edit gives other keys to the frames that it changes, and to no others."""

from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest

from tests.media.clips import make_clip
from tests.rendering import request
from wenditas.core.film import Footage, Shot, resolve
from wenditas.core.look.document import Look, parse_look
from wenditas.project.arrivals import Arrivals
from wenditas.project.library import Library
from wenditas.render.pictures import Pictures
from wenditas.store import projects
from wenditas.store.database import Database

FRAMES = 24
PICK = {"colour": [0.824, 0.157, 0.118], "x": 0.3, "y": 0.3, "frame": 0, "patch": 5}
SHAPE = {"id": "f", "name": "Fence", "kind": "polygon", "mode": "keep", "points": [{"x": 200, "y": 200}, {"x": 900, "y": 260}, {"x": 500, "y": 800}]}
TRACK = [{"frame": n, "values": [1, 0, 3.0 * n, 0], "confidence": 1} for n in range(FRAMES)]


def look(**changes: Any) -> Look:
    shape = {**SHAPE, "track": TRACK, "corrections": changes.get("corrections", [])}
    passes = [
        {"id": "a", "name": "A", "treatment": "monochrome", "selection": "s", "side": "outside", "on": changes.get("on", True)},
        {"id": "b", "name": changes.get("name", "B"), "treatment": "saturation", "params": {"saturation": changes.get("saturation", 150)}},
    ]
    selection = {"id": "s", "name": "S", "keys": [{"type": "hue", "picks": [PICK]}], "shapes": [shape], "cleaning": {"steady": changes.get("steady", 0)}}
    return parse_look({"passes": passes, "selections": [selection], "lanes": changes.get("lanes", [])})


def shot(shown: Look, content: str = "x") -> Shot:
    return Shot(of=Footage(content=content, width=160, height=120, fps="24", frames=FRAMES), first=0, last=FRAMES - 1, look=shown)


def lane(target: str, *keyframes: tuple[int, Any], drift: float = 0) -> dict[str, Any]:
    return {"target": target, "keyframes": [{"frame": f, "value": v, "how": "linear"} for f, v in keyframes], "drift": drift}


AMOUNT = lane("passes/b/amount", (0, 0), (8, 100), (16, 20))
PATH = "selections/s/shapes/f/points"
CORRECTED = [{"frame": 0, "values": [1, 0, 0, 0]}, {"frame": 12, "values": [1, 0, 0, 90]}, {"frame": 20, "values": [1, 0, 0, 0]}]
EDITS: list[tuple[str, Look, Look, Callable[[int], bool]]] = [
    ("a name", look(), look(name="Other"), lambda n: False),
    ("a number", look(), look(saturation=80), lambda n: True),
    ("a later keyframe", look(lanes=[AMOUNT]), look(lanes=[lane("passes/b/amount", (0, 0), (8, 100), (16, 90))]), lambda n: n > 8),
    ("an earlier keyframe", look(lanes=[AMOUNT]), look(lanes=[lane("passes/b/amount", (0, 40), (8, 100), (16, 20))]), lambda n: n < 8),
    ("a drift", look(lanes=[AMOUNT]), look(lanes=[{**AMOUNT, "drift": 24.0}]), lambda n: 0 < n < 8 or n > 8),
    ("a correction", look(), look(corrections=CORRECTED), lambda n: 0 < n < 20),
    ("a correction seen through steadying", look(steady=2), look(steady=2, corrections=CORRECTED), lambda n: n < 22),
    ("a switch", look(lanes=[lane("passes/a/on", (0, True))]), look(on=False, lanes=[lane("passes/a/on", (0, True), (10, False))]), lambda n: n >= 10),
    (
        "a path",
        look(lanes=[lane(PATH, (0, SHAPE["points"]))]),
        look(lanes=[lane(PATH, (5, SHAPE["points"]), (9, [{"x": p["x"] + 60, "y": p["y"]} for p in SHAPE["points"]]))]),
        lambda n: n > 5,
    ),
]  # fmt: skip


@pytest.mark.parametrize(("before", "after", "changed"), [e[1:] for e in EDITS], ids=[e[0] for e in EDITS])
def test_only_frames_that_change_get_another_key(before: Look, after: Look, changed: Callable[[int], bool]) -> None:
    found = {n for n in range(FRAMES) if resolve(shot(before), n).digest != resolve(shot(after), n).digest}
    expected = {n for n in range(FRAMES) if changed(n)}
    # A raw value that an animation covers may cost a key; a frame that looks different must never keep one.
    assert expected <= found and (found == expected or before.passes[0].on != after.passes[0].on)


@pytest.mark.parametrize(("before", "after"), [e[1:3] for e in EDITS], ids=[e[0] for e in EDITS])
def test_the_same_key_means_the_same_picture(before: Look, after: Look, pictures: tuple[Pictures, str]) -> None:
    shown, id = pictures
    fresh = Pictures(shown.media)
    differ = 0
    for n in (0, 4, 8, 11, 20, 23):
        one, other = request(shown.media, id, before, n, 160), request(shown.media, id, after, n, 160)
        same = shown.picture(one).tobytes() == fresh.picture(other).tobytes()
        differ += not same
        assert same or shown.key(one) != shown.key(other)
    assert differ or before.passes[1].name != after.passes[1].name


@pytest.fixture(scope="module")
def pictures(tmp_path_factory: pytest.TempPathFactory) -> tuple[Pictures, str]:
    folder: Path = tmp_path_factory.mktemp("keys")
    library = Library(folder, Database(folder / "w.db"))
    row = Arrivals(library).copy_in(projects.add_project(library.db, "P").id, make_clip(folder / "c.mp4", count=FRAMES), "c.mp4")
    return Pictures(library), row.id


def test_a_view_depends_on_what_it_shows_alone(pictures: tuple[Pictures, str]) -> None:
    shown, id = pictures
    plain, louder = look(), look(saturation=80)

    def key(of: Look, frame: int = 3, width: int = 160, **more: Any) -> str:
        return shown.key(request(shown.media, id, of, frame, width, **more))

    assert key(plain, upto=1) == key(louder, upto=1) and key(plain, upto=2) != key(louder, upto=2)
    for view in ("source", "matte"):
        assert key(plain, view=view, selection="s") == key(louder, view=view, selection="s")
    assert key(plain, view="matte", selection="s") != key(look(steady=1), view="matte", selection="s")
    found = {key(plain), key(plain, proxy=True), key(plain, view="source"), key(plain, width=161), key(plain, frame=4)}
    newer = Pictures(shown.media)
    newer._engine = "newer engine"
    found.add(newer.key(request(shown.media, id, plain, 3, 160)))
    assert len(found) == 6 and resolve(shot(plain), 3).digest != resolve(shot(plain, "y"), 3).digest
