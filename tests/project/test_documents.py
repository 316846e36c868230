"""History of documents: patches and what is kept whole, tracks by digest, two pages at once, older databases."""

import json
import random
import sqlite3
from importlib import resources
from pathlib import Path

import pytest

from tests.project.conftest import FACTS, OneShot
from wenditas.core.errors import StaleRevision
from wenditas.core.select.tracks import Track, TrackFrame
from wenditas.project.documents import WHOLE_EVERY, Documents
from wenditas.store import history, tracks
from wenditas.store.database import Database

SHAPE = {"id": "f", "name": "F", "kind": "ellipse", "points": [{"x": 0, "y": 0}, {"x": 9, "y": 9}]}
PASSES = [{"id": id, "name": id, "treatment": "saturation"} for id in "abcdef"]


def track(seed: int, frames: int = 48) -> Track:
    chance = random.Random(seed)
    return Track(tuple(TrackFrame(frame=n, values=tuple(round(chance.uniform(-9, 9), 5) for _ in range(4)), confidence=0.9) for n in range(frames)))


def with_passes(shot: OneShot) -> None:
    for item in PASSES:
        shot.edit({"do": "add", "target": "look/passes", "value": item})


def amount(id: str, value: float) -> dict:
    return {"do": "set", "target": f"look/passes/{id}/amount", "value": value}


def afresh(shot: OneShot) -> Documents:
    """The documents as another process finds them."""
    return Documents(shot.db, lambda _: FACTS)


def test_every_state_is_found_again_by_its_patches(shot: OneShot) -> None:
    with_passes(shot)
    chance, states = random.Random(1), {}
    for n in range(2 * WHOLE_EVERY + 5):
        if shot.load().revision in states and chance.random() < 0.2:
            history.step(shot.db, shot.id, shot.load().revision, forward=False)
        shot.edit(amount(chance.choice("abcdef"), n))
        states[shot.load().revision] = shot.load()
    again = afresh(shot)
    for revision, state in states.items():
        assert again.load(shot.id, revision) == state
    whole = shot.db.row("SELECT count(*) FROM snapshots")[0]
    assert 3 <= whole <= 6 and shot.db.row("SELECT max(distance) FROM revisions")[0] == WHOLE_EVERY - 1


def test_different_targets_of_two_pages_both_stand(shot: OneShot) -> None:
    with_passes(shot)
    base = shot.load().revision
    shot.edit(amount("a", 1), base=base, author="one")
    shot.edit(amount("b", 2), base=base, author="two")
    shot.edit({"do": "move", "target": "look/passes/f", "before": "a"}, base=base, author="one")
    shot.edit({"do": "add", "target": "look/passes", "value": {**PASSES[0], "id": "new"}, "before": "b"}, base=base, author="two")
    passes = shot.load().document.look.passes
    assert [p.id for p in passes] == ["f", "a", "new", "b", "c", "d", "e"] and (passes[1].amount, passes[3].amount) == (1, 2)
    with pytest.raises(StaleRevision):
        shot.edit(amount("a", 3), base=base, author="two")
    with pytest.raises(StaleRevision):
        shot.edit({"do": "remove", "target": "look/passes/b"}, base=base, author="one")


def test_an_edit_on_what_was_taken_back_is_refused(shot: OneShot) -> None:
    with_passes(shot)
    seen = shot.edit(amount("a", 1), author="one")
    history.step(shot.db, shot.id, seen, forward=False)  # by another page
    with pytest.raises(StaleRevision):
        shot.edit(amount("a", 2), base=seen, author="one")
    assert shot.edit(amount("b", 2), base=seen, author="one")


def test_tracks_are_stored_once_and_swept_when_nothing_names_them(shot: OneShot) -> None:
    one = track(1)
    shot.edit({"do": "add", "target": "look/selections", "value": {"id": "s", "name": "S", "shapes": [SHAPE]}})
    shot.edit({"do": "set", "target": "look/selections/s/shapes/f/track", "value": one.digest}, tracks=(one,))
    for n in range(2 * WHOLE_EVERY):
        shot.edit({"do": "set", "target": "look/selections/s/shapes/f/feather_out", "value": n + 11})
    assert afresh(shot).load(shot.id).document.look.selections[0].shapes[0].track == one
    assert shot.db.row("SELECT count(*) FROM tracks")[0] == 1
    assert max(len(r["patch"]) for r in shot.db.rows("SELECT patch FROM revisions")) < 1000
    with shot.db.atomic() as writer:
        tracks.keep(writer, [track(2)])
    assert tracks.sweep(shot.db) == 1 and list(shot.documents.tracks) == [one.digest]


def test_ten_thousand_edits_of_twenty_tracked_shapes_stay_small(shot: OneShot) -> None:
    """A few of them: what each takes does not grow."""
    moves = [track(n, 1440) for n in range(20)]
    shapes = [{**SHAPE, "id": f"f{n}", "track": t.digest} for n, t in enumerate(moves)]
    shot.edit({"do": "add", "target": "look/selections", "value": {"id": "s", "name": "S", "shapes": shapes}}, tracks=tuple(moves))
    with_passes(shot)
    for n in range(3 * WHOLE_EVERY):
        shot.edit(amount("abcdef"[n % 6], n))
    of_edits = (
        shot.db.row("SELECT sum(length(patch) + length(touched)) FROM revisions WHERE id > 8")[0]
        + shot.db.row("SELECT sum(length(document)) FROM snapshots WHERE revision > 8")[0]
    )
    assert of_edits / (3 * WHOLE_EVERY) < 2500
    assert shot.db.row("SELECT sum(length(frames)) FROM tracks")[0] < 20 * 100_000


def test_a_database_from_before_opens_with_its_history(tmp_path: Path) -> None:
    """Written by the statements of the migrations before, as the version before wrote it."""
    path = tmp_path / "w.db"
    old = sqlite3.connect(path)
    folder = resources.files("wenditas.store").joinpath("migrations")
    for name in ("001_start.sql", "002_shelf_and_files.sql", "003_takes.sql"):
        old.executescript(folder.joinpath(name).read_text())
    look = {"schema_version": 1, "passes": [{"id": "t", "name": "t", "treatment": "tint", "params": {"black": "#000001"}}]}
    shape = {**SHAPE, "track": [{"frame": 2, "values": [1, 0, 5, 5], "confidence": 1}]}
    dressed = {**look, "selections": [{"id": "s", "name": "S", "keys": [{"type": "lightness"}], "shapes": [shape]}]}
    old.executescript(
        "INSERT INTO projects VALUES ('p', 'Film', '');"
        "INSERT INTO footage VALUES ('m', 'p', 'a.mp4', '.mp4', '0', 1, '{}', '', NULL);"
        "INSERT INTO shots VALUES ('x', 'm', 'A', 2, '', NULL);"
    )
    for n, made in ((1, look), (2, dressed)):
        document = json.dumps({"first": 0, "last": 47, "look": made})
        old.execute("INSERT INTO revisions VALUES (?, 'x', ?, 'E', '[]', ?, '')", (n, n - 1 or None, document))
    old.execute("INSERT INTO takes VALUES ('k', 'x', 1, 'Take', '', NULL)")
    old.execute("PRAGMA user_version = 3")
    old.commit()
    old.close()
    db = Database(path)
    shot = OneShot(db, Documents(db, lambda _: FACTS), "x")
    before = shot.load()
    assert before.document.look.passes[0].params["darks"] == "#000001" and before.document.look.selections[0].shapes[0].track.frames[0].frame == 2
    shot.edit(amount("t", 30))
    shot.edit(amount("t", 40))
    assert afresh(shot).load("x") == shot.load() and shot.load().document.look.passes[0].amount == 40
    assert len(shot.documents.tracks) == 1
    for _ in range(3):
        history.step(db, "x", shot.load().revision, forward=False)
    assert shot.load().revision == 1 and shot.load().document.look.selections == ()
    db.close()
