"""The demo project: the shipped footage of the Marrow Hill Tramway film, each shot with its look."""

import json
from collections.abc import Callable, Mapping
from concurrent.futures import ThreadPoolExecutor
from importlib import resources
from pathlib import Path
from typing import Any

from wenditas.formats.look_json import read_look
from wenditas.project.arrivals import Arrivals
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
    shipped, made, pieces = resources.files("wenditas.demo"), dict[str, str](), dict[str, str]()
    with ThreadPoolExecutor(1, "ready") as beside:  # small pictures of one are made while the next is read
        coming = []
        for file, name in SHOTS:
            with resources.as_file(shipped / "footage" / f"{file}.mp4") as path:
                row = Arrivals(library).copy_in(project.id, Path(path), f"{name}.mp4")
            coming.append(beside.submit(ready, row.id))
            _, look = read_look((shipped / "looks" / f"{file}.json").read_bytes())
            made[file], pieces[file] = documents.new_shot(row.id, name, look).id, row.id
        for each in coming:
            each.result()
    documents.begin_reel(project.id, _reel(json.loads((shipped / "reel.json").read_text("utf-8")), made, pieces))
    return project


def _reel(plain: dict[str, Any], shots: Mapping[str, str], footage: Mapping[str, str]) -> dict[str, Any]:
    """The film's reel, whose items and track name clips, with the ids that these have here."""
    items = [{**item, "shot": shots[item["shot"]]} for item in plain["items"]]
    return {**plain, "items": items, "track": {**plain["track"], "footage": footage[plain["track"]["footage"]]}}
