"""Queries on projects."""

from pydantic import BaseModel

from wenditas.core.errors import NotFound
from wenditas.store.database import Database, new_id, now


class Project(BaseModel):
    """Shots and footage that belong together."""

    id: str
    name: str


def all_projects(db: Database) -> list[Project]:
    """All projects, oldest first."""
    return [Project(id=r["id"], name=r["name"]) for r in db.rows("SELECT * FROM projects ORDER BY rowid")]


def project(db: Database, id: str) -> Project:
    """One project. Raises `NotFound`."""
    row = db.row("SELECT * FROM projects WHERE id = ?", (id,))
    if row is None:
        raise NotFound(f"There is no project {id!r}.")
    return Project(id=row["id"], name=row["name"])


def add_project(db: Database, name: str) -> Project:
    """A new, empty project."""
    created = Project(id=new_id(), name=name)
    with db.atomic() as writer:
        writer.execute("INSERT INTO projects (id, name, created) VALUES (?, ?, ?)", (created.id, name, now()))
    return created
