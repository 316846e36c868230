"""The demo project: the shipped footage of the Marrow Hill Tramway film, each shot with its look."""

from collections.abc import Callable
from importlib import resources
from pathlib import Path

from wenditas.formats.look_json import read_look
from wenditas.project.documents import Documents
from wenditas.project.library import Library
from wenditas.store import projects
from wenditas.store.database import Database

NAME = "The Marrow Hill Tramway"
SHOTS = (
    ("tram-up-the-hill", "Tram up the hill"),
    ("umbrella-in-the-rain", "Umbrella in the rain"),
    ("six-awnings", "Six awnings"),
    ("the-kiln", "The kiln"),
    ("the-marionette", "The marionette"),
    ("orchard-path", "Orchard path"),
    ("hill-at-dusk", "Hill at dusk"),
)


def open_demo(db: Database, library: Library, documents: Documents, ready: Callable[[str], object]) -> projects.Project:
    """The demo project, made from the shipped footage where it does not exist yet. ready: called with each piece of footage, for its small pictures."""
    for project in projects.all_projects(db):
        if project.name == NAME:
            return project
    project = projects.add_project(db, NAME)
    shipped = resources.files("wenditas.demo")
    for file, name in SHOTS:
        with resources.as_file(shipped / "footage" / f"{file}.mp4") as path:
            row = library.copy_in(project.id, Path(path), f"{name}.mp4")
        _, look = read_look((shipped / "looks" / f"{file}.json").read_bytes())
        ready(row.id)
        documents.new_shot(row.id, name, look)
    return project
