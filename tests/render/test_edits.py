"""Edits of shots: picks, fences, paths, and that nothing half done is ever stored."""

from itertools import pairwise
from pathlib import Path

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests.core.treatments import odd_values
from wenditas.core.errors import BadLook, BadPatch, StaleRevision
from wenditas.core.look.document import Look, ShotDocument, parse_shot
from wenditas.core.look.patch import apply_patch
from wenditas.core.params import describe
from wenditas.core.select.islands import Island
from wenditas.core.select.keys import ColourKey, HueKey, LightnessKey
from wenditas.core.select.picks import Pick
from wenditas.core.select.selection import Selection
from wenditas.core.treat import TREATMENTS
from wenditas.media.facts import Facts
from wenditas.project import edits
from wenditas.store import footage, projects, shots
from wenditas.store.database import Database, new_id

FACTS = Facts(
    kind="video", container="c", codec="h264", pixel_format="yuv420p", bits=8, width=64, height=36, coded_width=64, coded_height=36,
    rotation=0, rate="24", length=48, variable_rate=False, sound=None, matrix="bt709", full_range=False, tagged=True, alpha=False,
)  # fmt: skip
PICK = Pick(colour=(0.8, 0.1, 0.1), x=0.5, y=0.5, frame=3)


@pytest.fixture
def shot(tmp_path: Path) -> tuple[Database, str]:
    db = Database(tmp_path / "w.db")
    project = projects.add_project(db, "Film")
    row = footage.FootageRow(id=new_id(), project_id=project.id, name="a.mp4", suffix=".mp4", digest="0", bytes=1, facts=FACTS.model_dump())
    footage.add_footage(db, row)
    made = edits.new_shot(db, row.id, "A", FACTS)
    yield db, made.id
    db.close()


def document(*selections: Selection) -> ShotDocument:
    return ShotDocument(first=0, last=47, look=Look(selections=selections))


def test_a_new_shot_uses_all_frames(shot: tuple[Database, str]) -> None:
    revision, made = edits.load(*shot, FACTS)
    assert (made.first, made.last, made.look) == (0, 47, Look()) and revision > 0


def test_edits_are_chained_and_stale_ones_refused(shot: tuple[Database, str]) -> None:
    db, id = shot
    start, _ = edits.load(db, id, FACTS)
    edits.edit(db, id, FACTS, start, [{"op": "replace", "path": "/first", "value": 5}], "In at frame 5")
    head, made = edits.load(db, id, FACTS)
    assert made.first == 5 and shots.head(db, id).words == "In at frame 5" and shots.head(db, id).parent == start
    with pytest.raises(StaleRevision):
        edits.edit(db, id, FACTS, start, [{"op": "replace", "path": "/first", "value": 6}], "late")
    for bad, error in (([{"op": "replace", "path": "/first", "value": 99}], BadLook), ([{"op": "remove", "path": "/none"}], BadPatch)):
        with pytest.raises(error):
            edits.edit(db, id, FACTS, head, bad, "bad")
    assert edits.load(db, id, FACTS) == (head, made)


def test_loading_a_look_is_one_step(shot: tuple[Database, str]) -> None:
    db, id = shot
    start, _ = edits.load(db, id, FACTS)
    look = Look(selections=(Selection(id="s", name="S", keys=(HueKey(picks=(PICK,)),)),))
    edits.load_look(db, id, FACTS, start, look, "Mine")
    head, made = edits.load(db, id, FACTS)
    assert made.look == look and shots.head(db, id).words == "Look loaded: Mine"
    shots.move_head(db, id, head, forward=False)
    assert edits.load(db, id, FACTS)[1].look == Look()


def test_picks_go_to_the_key_that_takes_them() -> None:
    lightness, colour, hue = LightnessKey(), ColourKey(), HueKey(picks=(PICK,))
    made = document(Selection(id="s", name="S", keys=(lightness, colour, hue)))
    assert edits.pick_patch(made, PICK, "s", False)[0][0]["path"] == "/look/selections/0/keys/1/picks/-"
    assert edits.pick_patch(made, PICK, "s", True, 2)[0][0]["path"] == "/look/selections/0/keys/2/refused/-"
    assert edits.pick_patch(made, PICK, "s", False, 0)[0][0]["path"] == "/look/selections/0/keys/1/picks/-"  # a key by lightness takes none
    alone = document(Selection(id="s", name="S", keys=(lightness,)))
    patch, _ = edits.pick_patch(alone, PICK, "s", False)
    assert apply_patch(alone, patch, 48).look.selections[0].keys[1].type == "hue"
    with pytest.raises(BadLook, match="nope"):
        edits.pick_patch(made, PICK, "nope", False)


def test_names_of_selections_are_free() -> None:
    taken = document(Selection(id="a", name="Red"), Selection(id="b", name="Red 2"))
    assert edits.pick_patch(taken, PICK, None, False)[1] == "Selection Red 3"


@pytest.mark.parametrize("keep", [True, False])
def test_a_fence_lies_around_its_island(keep: bool) -> None:
    outline = np.array([(100, 100), (200, 100), (200, 300), (100, 300)], np.float64)
    made = document(Selection(id="s", name="S"))
    patch, words, id = edits.fence_patch(made, "s", 7, Island(50, 3, (100, 100, 200, 300), outline), keep)
    fenced = apply_patch(made, patch, 48)
    (shape,) = fenced.look.selections[0].shapes
    assert shape.id == id and shape.mode == ("keep" if keep else "leave out") and "frame 7" in words
    points = np.array([(p.x, p.y) for p in shape.points])
    assert points[:, 0].min() < 97 and points[:, 0].max() > 203 and points[:, 1].min() < 97
    assert edits.shape_path(fenced, "s", id) == "/look/selections/0/shapes/0"
    again, _, _ = edits.fence_patch(fenced, "s", 7, Island(50, 3, (0, 0, 1, 1), outline), keep)
    assert again[0]["value"]["name"].endswith(" 2")
    with pytest.raises(BadLook):
        edits.shape_path(fenced, "s", "nope")


paths = st.sampled_from(["/first", "/last", "/look", "/look/passes", "/look/passes/-", "/look/passes/0", "/look/selections/0", "", "/x"])
values = st.one_of(st.none(), st.integers(-5, 60), st.floats(allow_nan=True), st.text(max_size=5), st.just({"id": "p", "name": "P", "treatment": "monochrome"}))
operations = st.fixed_dictionaries({"op": st.sampled_from(["add", "replace", "remove", "test"]), "path": paths, "value": values})


@settings(max_examples=150, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(st.lists(operations, max_size=4))
def test_any_patch_gives_a_valid_document_or_a_clear_error(patch: list) -> None:
    start = document(Selection(id="s", name="S", keys=(HueKey(picks=(PICK,)),)))
    before = start.model_dump_json()
    try:
        changed = apply_patch(start, patch, 48)
    except (BadPatch, BadLook) as error:
        assert str(error).endswith((".", ")")) or ":" in str(error)
    else:
        assert parse_shot(changed.model_dump(mode="json"), 48) == changed
    assert start.model_dump_json() == before


@pytest.mark.parametrize("treatment", list(TREATMENTS))
def test_every_treatment_is_added_changed_removed_and_undone(shot: tuple[Database, str], treatment: str) -> None:
    db, id = shot
    first, params = {"id": "p", "name": "P", "treatment": treatment}, describe(TREATMENTS[treatment].params)
    patches = [
        [{"op": "add", "path": "/look/passes/-", "value": first}],
        *([{"op": "replace", "path": f"/look/passes/0/params/{p.key}", "value": next(v for v in odd_values(p) if v != p.default)}] for p in params),
        [{"op": "replace", "path": "/look/passes/0/amount", "value": 40}],
        [{"op": "remove", "path": "/look/passes/0"}],
    ]
    states = [edits.load(db, id, FACTS)]
    for n, patch in enumerate(patches):
        edits.edit(db, id, FACTS, states[-1][0], patch, f"Edit {n}")
        states.append(edits.load(db, id, FACTS))
    documents = [made.model_dump() for _, made in states]
    assert documents[0] == documents[-1] and all(one != other for one, other in pairwise(documents[1:]))
    for revision, made in reversed(states[:-1]):
        shots.move_head(db, id, shots.head(db, id).id, forward=False)
        assert edits.load(db, id, FACTS) == (revision, made)
    for revision, made in states[1:]:
        shots.move_head(db, id, shots.head(db, id).id, forward=True)
        assert edits.load(db, id, FACTS) == (revision, made)
