"""Queries on projects."""

from pydantic import BaseModel

from wenditas.core.errors import NotFound
from wenditas.store.database import Database, mark_removed, new_id, now


class Project(BaseModel):
    """Shots and footage that belong together."""

    id: str
    name: str


def all_projects(db: Database) -> list[Project]:
    """All projects, oldest first."""
    return [Project(id=r["id"], name=r["name"]) for r in db.rows("SELECT * FROM projects WHERE removed IS NULL ORDER BY rowid")]


def removed_projects(db: Database) -> list[Project]:
    """Projects that were removed, the one that went last first."""
    return [Project(id=r["id"], name=r["name"]) for r in db.rows("SELECT * FROM projects WHERE removed IS NOT NULL ORDER BY removed DESC, rowid DESC")]


def rename_project(db: Database, id: str, name: str) -> Project:
    """A project under another name. Raises `NotFound`."""
    project(db, id)
    with db.atomic() as writer:
        writer.execute("UPDATE projects SET name = ? WHERE id = ?", (name, id))
    return Project(id=id, name=name)


def set_removed(db: Database, id: str, removed: bool) -> Project:
    """Remove a project, or bring it back. All that belongs to it stays. Raises `NotFound`."""
    found = project(db, id)
    mark_removed(db, "projects", id, removed)
    return found


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
