"""Migrations, transactions, history, jobs."""

import logging
import os
import shutil
import signal
import sqlite3
import subprocess
import sys
import textwrap
import threading
from pathlib import Path

import pytest

from wenditas.core.errors import Conflict, DataFolderError, NotFound, StaleRevision
from wenditas.store import exports, footage, history, projects, shots, takes
from wenditas.store.database import Database, _migrations, new_id


@pytest.fixture
def db(tmp_path: Path) -> Database:
    database = Database(tmp_path / "w.db")
    yield database
    database.close()


@pytest.fixture
def shot(db: Database) -> shots.ShotRow:
    project = projects.add_project(db, "Film")
    row = footage.FootageRow(id=new_id(), project_id=project.id, name="a.mp4", suffix=".mp4", digest="0", bytes=1, facts={})
    footage.add_footage(db, row)
    return shots.add_shot(db, row.id, "A", history.NewRevision(words="Shot made", document={"n": 0}))


def test_migrations_run_once_and_tables_are_strict(db: Database, tmp_path: Path) -> None:
    version = db.row("PRAGMA user_version")[0]
    assert version >= 1
    again = Database(tmp_path / "w.db")
    assert again.row("PRAGMA user_version")[0] == version
    again.close()
    with pytest.raises(sqlite3.IntegrityError), db.atomic() as writer:
        writer.execute("INSERT INTO exports VALUES ('a', 'no shot', 1, 'n', '{}', 'waiting', 'not a number', 1, '', NULL, '', NULL, '{}', 0, '', '', '')")


def test_readers_cannot_write(db: Database) -> None:
    with pytest.raises(sqlite3.OperationalError, match="readonly"):
        db.rows("DELETE FROM projects")


def test_nested_transactions(db: Database) -> None:
    with db.atomic() as writer:
        projects.add_project(db, "kept")
        with pytest.raises(RuntimeError), db.atomic():
            projects.add_project(db, "dropped")
            raise RuntimeError
        assert writer.in_transaction
    assert [p.name for p in projects.all_projects(db)] == ["kept"]
    with pytest.raises(RuntimeError), db.atomic():
        projects.add_project(db, "dropped too")
        raise RuntimeError
    assert [p.name for p in projects.all_projects(db)] == ["kept"]


def kept(db: Database, shot: shots.ShotRow) -> dict:
    return history.kept(db, shot.id, history.head_id(db, shot.id))[0]


def whole(words: str, n: int) -> history.NewRevision:
    return history.NewRevision(words=words, document={"n": n})


def test_history_is_a_tree_that_forgets_nothing(db: Database, shot: shots.ShotRow) -> None:
    one = history.add(db, shot.id, shot.head, whole("one", 1))
    history.step(db, shot.id, one, forward=False)
    assert kept(db, shot) == {"n": 0}
    assert history.redo_target(db, shot.id).words == "one"
    two = history.add(db, shot.id, shot.head, whole("two", 2))
    history.step(db, shot.id, two, forward=False)
    history.step(db, shot.id, shot.head, forward=True)
    assert kept(db, shot) == {"n": 2}  # redo follows the newest branch
    assert history.kept(db, shot.id, one) == ({"n": 1}, [])  # the other one is still there


def test_patches_go_back_to_what_is_kept_whole(db: Database, shot: shots.ShotRow) -> None:
    patches = [[{"op": "replace", "path": "/n", "value": n}] for n in range(1, 5)]
    head = shot.head
    for patch in patches:
        head = history.add(db, shot.id, head, history.NewRevision(words="e", patch=patch))
    assert history.kept(db, shot.id, head) == ({"n": 0}, patches) and history.revision(db, shot.id, head).distance == 4


def test_stale_edits_are_refused(db: Database, shot: shots.ShotRow) -> None:
    one = history.add(db, shot.id, shot.head, whole("one", 1))
    with pytest.raises(StaleRevision) as caught:
        history.add(db, shot.id, shot.head, whole("late", 9))
    assert caught.value.current == one and kept(db, shot) == {"n": 1}
    with pytest.raises(StaleRevision):
        history.step(db, shot.id, shot.head, forward=False)


def test_a_step_that_was_taken_is_not_taken_again(db: Database, shot: shots.ShotRow) -> None:
    one = history.add(db, shot.id, shot.head, whole("one", 1))
    two = history.add(db, shot.id, one, whole("two", 2))
    for _ in range(2):
        history.step(db, shot.id, two, forward=False)
    assert history.head_id(db, shot.id) == one
    for _ in range(2):
        history.step(db, shot.id, one, forward=True)
    assert history.head_id(db, shot.id) == two


def test_ends_of_history(db: Database, shot: shots.ShotRow) -> None:
    with pytest.raises(Conflict, match="undo"):
        history.step(db, shot.id, shot.head, forward=False)
    with pytest.raises(Conflict, match="redo"):
        history.step(db, shot.id, shot.head, forward=True)
    with pytest.raises(NotFound):
        history.revision(db, shot.id, 999)


def test_footage_goes_and_comes_back_with_its_shots(db: Database, shot: shots.ShotRow) -> None:
    project = projects.all_projects(db)[0]
    other = shots.add_shot(db, shot.footage_id, "B", history.NewRevision(words="Shot made", document={}))
    shots.set_removed(db, other.id, True)
    footage.set_removed(db, shot.footage_id, True)
    assert footage.footage_of(db, project.id) == [] and shots.shots_of(db, project.id) == []
    footage.set_removed(db, shot.footage_id, False)
    assert [s.name for s in shots.shots_of(db, project.id)] == ["A"]  # B had been removed before, on its own
    assert footage.removed_before(db, "9999") == []


def test_exports_that_ran_at_a_stop_wait_and_are_taken_in_order(db: Database, shot: shots.ShotRow) -> None:
    rows = [exports.add_export(db, shot.id, shot.head, n, {"quality": "good"}, 10) for n in ("a", "b", "c")]
    exports.set_state(db, rows[0].id, "done", size=5)
    exports.set_state(db, rows[1].id, "running")
    exports.let_wait(db)
    assert [e.state for e in reversed(exports.exports_of(db, projects.all_projects(db)[0].id))] == ["done", "waiting", "waiting"]
    exports.put_before(db, rows[2].id, rows[1].id)
    taken = exports.next_waiting(db, set())
    assert taken is not None and taken.id == rows[2].id
    exports.put_before(db, rows[2].id, None)
    second = exports.next_waiting(db, {rows[1].id})
    assert second is not None and second.id == rows[2].id and exports.next_waiting(db, {rows[1].id, rows[2].id}) is None


def test_acknowledged_edits_survive_kill_9(tmp_path: Path) -> None:
    script = textwrap.dedent(
        """
        import os, signal, sys
        from pathlib import Path
        from wenditas.store.database import Database
        from wenditas.store import projects
        db = Database(Path(sys.argv[1]))
        for n in range(1000):
            projects.add_project(db, str(n))
            print(n, flush=True)
            if n == 25:
                os.kill(os.getpid(), signal.SIGKILL)
        """
    )
    done = subprocess.run([sys.executable, "-c", script, str(tmp_path / "k.db")], capture_output=True, text=True, env={**os.environ})
    assert done.returncode == -signal.SIGKILL
    acknowledged = done.stdout.split()
    db = Database(tmp_path / "k.db")
    assert [p.name for p in projects.all_projects(db)] == acknowledged
    assert db.row("PRAGMA integrity_check")[0] == "ok"
    db.close()


def test_shots_with_their_history_become_documents(tmp_path: Path) -> None:
    """A data folder from before there were reels opens as it was: heads, history, takes and exports where they were."""
    path = tmp_path / "old.db"
    old = sqlite3.connect(path)
    for number, sql in _migrations()[:5]:
        old.executescript(f"BEGIN;{sql};PRAGMA user_version = {number};COMMIT;")
    old.executescript(
        """
        INSERT INTO projects VALUES ('p', 'Film', '2026');
        INSERT INTO footage VALUES ('f', 'p', 'a.mp4', '.mp4', '0', 1, '{}', '2026', NULL);
        INSERT INTO shots VALUES ('s', 'f', 'A', 7, '2026', NULL);
        INSERT INTO revisions (id, shot_id, parent, words, patch, created, distance) VALUES (5, 's', NULL, 'Shot made', '[]', '2026', 0);
        INSERT INTO revisions (id, shot_id, parent, words, patch, created, distance, edit) VALUES (7, 's', 5, 'Tint', '[]', '2026', 1, 'e');
        INSERT INTO snapshots VALUES (5, '{"first": 0}');
        INSERT INTO takes VALUES ('t', 's', 5, 'Take 1', '2026', NULL);
        INSERT INTO exports VALUES ('x', 's', 7, 'A', '{}', 'done', 3, 3, '', 10, '2026', '2026');
        """
    )
    old.close()
    db = Database(path)
    assert shots.shot(db, "s").head == 7 and [s.id for s in shots.shots_of(db, "p")] == ["s"]
    assert [e.words for e in history.edits_of(db, "s")] == ["Tint", "Shot made"] and history.made_by(db, "s", "e") == 7
    assert history.kept(db, "s", 7) == ({"first": 0}, [[]])
    assert [t.name for t in takes.takes(db, "s")] == ["Take 1"] and [e.id for e in exports.exports_of(db, "p")] == ["x"]
    assert db.rows("PRAGMA foreign_key_check") == [] and db.row("PRAGMA foreign_keys")[0] == 1
    with db.atomic() as writer, pytest.raises(sqlite3.IntegrityError):
        writer.execute("INSERT INTO takes VALUES ('u', 'nothing', 5, 'Take 2', '2026', NULL)")
    with db.atomic() as writer:
        made = history.insert(writer, "s", 7, history.NewRevision(words="More"))
    assert made == 8  # numbers are never used again
    db.close()


def test_a_transaction_reads_what_it_has_written(db: Database) -> None:
    with db.atomic():
        made = projects.add_project(db, "Film")
        assert [p.name for p in projects.all_projects(db)] == ["Film"]  # also in a query of another module
        assert db.row("SELECT count(*) FROM projects")[0] == 1
        projects.rename_project(db, made.id, "Other")
    assert projects.project(db, made.id).name == "Other"


def test_another_thread_does_not_read_what_is_not_stored(db: Database) -> None:
    seen: list[int] = []
    with db.atomic():
        projects.add_project(db, "Film")
        looking = threading.Thread(target=lambda: seen.append(len(projects.all_projects(db))))
        looking.start()
        looking.join()
    assert seen == [0] and len(projects.all_projects(db)) == 1


def test_a_snapshot_is_of_one_moment(db: Database) -> None:
    with db.snapshot():
        assert projects.all_projects(db) == []
        writing = threading.Thread(target=lambda: projects.add_project(db, "Film"))
        writing.start()
        writing.join()
        assert projects.all_projects(db) == []
        with db.snapshot():
            assert projects.all_projects(db) == []
    assert len(projects.all_projects(db)) == 1


def test_a_data_folder_that_goes_is_told_and_nothing_is_stored_into_nothing(tmp_path: Path) -> None:
    """The folder is deleted, or another is put in its place, while the server runs: files that are open go on existing for it."""
    folder = tmp_path / "data"
    folder.mkdir()
    db = Database(folder / "w.db")
    projects.add_project(db, "Film")
    folder.rename(tmp_path / "moved")
    with pytest.raises(DataFolderError, match="nothing was stored"):
        projects.add_project(db, "Into nothing")
    folder.mkdir()
    Database(folder / "w.db").close()
    with pytest.raises(DataFolderError, match="is another"):
        projects.add_project(db, "Into nothing")
    shutil.rmtree(folder)
    (tmp_path / "moved").rename(folder)
    assert projects.add_project(db, "Back").name == "Back"
    db.close()


def test_statements_are_traced_where_that_is_asked_for(tmp_path: Path, caplog: pytest.LogCaptureFixture) -> None:
    with caplog.at_level(logging.DEBUG, "wenditas.sql"):
        db = Database(tmp_path / "traced.db")
        projects.add_project(db, "Film")
        db.close()
    assert any("INSERT INTO projects" in record.message for record in caplog.records)
