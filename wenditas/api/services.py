"""What the routers share, made once per application."""

from dataclasses import dataclass
from pathlib import Path
from typing import Annotated

from fastapi import Depends
from starlette.requests import HTTPConnection

from wenditas.api.events import Hub
from wenditas.render.files import Files
from wenditas.render.jobs import ExportQueue
from wenditas.render.library import Library
from wenditas.render.over_time import SmallFrames
from wenditas.render.pictures import Pictures
from wenditas.store.database import Database


@dataclass
class Services:
    """Database, library, pictures, export queue and event hub and files of one data folder."""

    db: Database
    library: Library
    pictures: Pictures
    exports: ExportQueue
    hub: Hub
    small: SmallFrames
    files: Files

    @classmethod
    def open(cls, folder: Path) -> "Services":
        """Open (or start) a data folder."""
        folder.mkdir(parents=True, exist_ok=True)
        db = Database(folder / "wenditas.db")
        library = Library(folder, db)
        hub = Hub()
        files = Files(folder, db)
        exports = ExportQueue(db, library, files, lambda id: hub.publish(kind="export", id=id))
        return cls(db, library, Pictures(library), exports, hub, SmallFrames(), files)


def _services(connection: HTTPConnection) -> Services:
    services: Services = connection.app.state.services
    return services


Shared = Annotated[Services, Depends(_services)]
