"""What the routers share, made once per application."""

import asyncio
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field
from pathlib import Path
from typing import Annotated, ParamSpec, TypeVar

from fastapi import Depends
from starlette.requests import HTTPConnection

from wenditas.api.events import Hub
from wenditas.core.look.tiles import without_helpers
from wenditas.render.files import Files
from wenditas.render.jobs import ExportQueue
from wenditas.render.library import Library
from wenditas.render.over_time import SmallFrames
from wenditas.render.pictures import Pictures
from wenditas.render.proxies import Proxies
from wenditas.render.quiet import Bustle, behind_all_else
from wenditas.store.database import Database

P = ParamSpec("P")
R = TypeVar("R")


@dataclass
class Services:
    """Database, library, pictures, export queue, event hub and files of one data folder."""

    db: Database
    library: Library
    pictures: Pictures
    exports: ExportQueue
    hub: Hub
    small: SmallFrames
    files: Files
    proxies: Proxies
    bustle: Bustle = field(default_factory=Bustle)  # anything that somebody waits for
    live: Bustle = field(default_factory=Bustle)  # pictures that move, for which even the curve over time gives way
    _behind: ThreadPoolExecutor = field(default_factory=lambda: ThreadPoolExecutor(1, "behind", behind_all_else))

    @classmethod
    def open(cls, folder: Path) -> "Services":
        """Open (or start) a data folder."""
        folder.mkdir(parents=True, exist_ok=True)
        db = Database(folder / "wenditas.db")
        library = Library(folder, db)
        hub = Hub()
        files = Files(folder, db)
        exports = ExportQueue(db, library, files, lambda id: hub.publish(kind="export", id=id))
        proxies = Proxies(library)
        return cls(db, library, Pictures(library, proxies), exports, hub, SmallFrames(), files, proxies)

    async def behind(self, work: Callable[P, R], *args: P.args, **kwargs: P.kwargs) -> R:
        """Do something on one thread that has the processor only when nothing else wants it."""

        def alone() -> R:
            with without_helpers():
                return work(*args, **kwargs)

        return await asyncio.get_running_loop().run_in_executor(self._behind, alone)

    def close(self) -> None:
        """Stop what runs in the background and close the database."""
        self._behind.shutdown(wait=True, cancel_futures=True)
        self.proxies.stop()
        self.exports.stop()
        self.db.close()


def _services(connection: HTTPConnection) -> Services:
    services: Services = connection.app.state.services
    return services


Shared = Annotated[Services, Depends(_services)]
