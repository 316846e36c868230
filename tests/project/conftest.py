"""A shot in a database of its own, and its documents."""

from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

import pytest

from wenditas.core.look.commands import parse_commands
from wenditas.media.facts import Facts
from wenditas.project.documents import Documents, Edit, Loaded
from wenditas.store import footage, projects
from wenditas.store.database import Database, new_id

FACTS = Facts(
    kind="video", container="c", codec="h264", pixel_format="yuv420p", bits=8, width=64, height=36, coded_width=64, coded_height=36,
    rotation=0, rate="24", length=48, variable_rate=False, sound=None, matrix="bt709", full_range=False, tagged=True, alpha=False,
)  # fmt: skip


@dataclass
class OneShot:
    """Documents, and the shot in them."""

    db: Database
    documents: Documents
    id: str

    def load(self, revision: int | None = None) -> Loaded:
        return self.documents.load(self.id, revision)

    def edit(self, *commands: dict, base: int | None = None, words: str = "Edit", id: str | None = None, author: str = "", tracks: tuple = ()) -> int:
        base = self.load().revision if base is None else base
        return self.documents.edit(self.id, Edit(base, parse_commands(commands), words, id, author, tracks))


def shot_in(path: Path) -> OneShot:
    """A shot in a new database."""
    db = Database(path / "w.db")
    project = projects.add_project(db, "Film")
    row = footage.FootageRow(id=new_id(), project_id=project.id, name="a.mp4", suffix=".mp4", digest="0", bytes=1, facts=FACTS.model_dump())
    footage.add_footage(db, row)
    documents = Documents(db, lambda _: FACTS)
    return OneShot(db, documents, documents.new_shot(row.id, "A").id)


@pytest.fixture
def shot(tmp_path: Path) -> Iterator[OneShot]:
    made = shot_in(tmp_path)
    yield made
    made.db.close()
