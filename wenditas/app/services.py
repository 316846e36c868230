"""What is shared by all that is done with a data folder, opened and closed once."""

import asyncio
import contextlib
import sqlite3
from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field
from functools import partial
from pathlib import Path
from typing import ParamSpec, TypeVar

from filelock import BaseFileLock

from wenditas.app.events import Hub
from wenditas.app.jobs import job_of
from wenditas.app.rates import Rates
from wenditas.core.errors import WenditasError
from wenditas.core.film import Footage
from wenditas.core.kernel import Picture
from wenditas.core.tiles import single_threaded
from wenditas.project.arrivals import Arrivals
from wenditas.project.benched import Bench
from wenditas.project.carrying import Carrying, PictureAt
from wenditas.project.columns import Columns
from wenditas.project.documents import Documents
from wenditas.project.files import Files
from wenditas.project.library import Library
from wenditas.project.nodes import Nodes
from wenditas.project.places import Places
from wenditas.project.reels import Reels
from wenditas.project.sweep import sweep
from wenditas.render.checking import Checking
from wenditas.render.frames import FrameFiles
from wenditas.render.jobs import ExportQueue
from wenditas.render.kept_marks import MARKS_BYTES, KeptMarks
from wenditas.render.over_time import FILES_BYTES, Coverage
from wenditas.render.pictures import Pictures
from wenditas.render.proxies import Proxies
from wenditas.render.quiet import Bustle, behind_all_else
from wenditas.render.request import Request
from wenditas.render.scopes import Scopes
from wenditas.render.thumbnails import Thumbnails
from wenditas.store.database import Database
from wenditas.store.folder import claim

LONG, MOVING = 4, 6  # threads
P = ParamSpec("P")
R = TypeVar("R")


@dataclass
class Projects:
    """What is done to projects."""

    library: Library
    arrivals: Arrivals
    documents: Documents
    files: Files
    nodes: Nodes
    reels: Reels
    bench: Bench
    columns: Columns
    carrying: Carrying
    places: Places

    @classmethod
    def open(cls, library: Library, files: Files, places: Places, picture_at: PictureAt) -> "Projects":
        """Of the footage and the files of a data folder. picture_at: small pictures of footage, for what is measured of them."""
        documents = Documents(library.db, library.facts)
        nodes, columns = Nodes(library, files, documents), Columns(documents)
        reels = Reels(nodes)
        carrying = Carrying(library, documents, columns, picture_at)
        return cls(library, Arrivals(library), documents, files, nodes, reels, Bench(nodes, reels), columns, carrying, places)


@dataclass
class Screen:
    """What is made for the screen."""

    pictures: Pictures
    scopes: Scopes
    thumbnails: Thumbnails
    proxies: Proxies
    coverage: Coverage
    checking: Checking

    @classmethod
    def open(cls, library: Library, files: Files) -> "Screen":
        """Of the footage and the files of a data folder."""
        proxies = Proxies(library)
        pictures = Pictures(library, proxies, files.loaded)
        read = pictures.readers.reader
        kept = library.folder / "cache"
        coverage = Coverage(read, files.loaded, pictures.things, FrameFiles(kept / "over-time", FILES_BYTES))
        checking = Checking(coverage.sources, read, files.loaded, pictures.things, KeptMarks(FrameFiles(kept / "checks", MARKS_BYTES)))
        return cls(pictures, Scopes(pictures), Thumbnails(pictures), proxies, coverage, checking)


@dataclass
class Background:
    """What goes on beside what somebody waits for: exports, long work on threads, and who gives way to whom."""

    exports: ExportQueue
    rates: Rates = field(default_factory=Rates)
    bustle: Bustle = field(default_factory=Bustle)  # anything that somebody waits for
    live: Bustle = field(default_factory=Bustle)  # pictures that move, for which even the curve over time gives way
    long: ThreadPoolExecutor = field(default_factory=lambda: ThreadPoolExecutor(LONG, "long"))  # tracks, and curves over time
    moving: ThreadPoolExecutor = field(default_factory=lambda: ThreadPoolExecutor(MOVING, "moving"))  # pictures of live channels
    _behind: ThreadPoolExecutor = field(default_factory=lambda: ThreadPoolExecutor(1, "behind", behind_all_else))

    def later(self, work: Callable[P, object], *args: P.args, **kwargs: P.kwargs) -> None:
        """Do something soon, behind all else. What cannot be done now is done when it is asked for."""

        def quietly() -> None:
            with single_threaded(), contextlib.suppress(WenditasError, OSError, sqlite3.Error):
                work(*args, **kwargs)

        self._behind.submit(quietly)

    async def behind(self, work: Callable[P, R], *args: P.args, **kwargs: P.kwargs) -> R:
        """Do something on one thread that has the processor only when nothing else wants it."""

        def alone() -> R:
            with single_threaded():
                return work(*args, **kwargs)

        return await asyncio.get_running_loop().run_in_executor(self._behind, alone)

    def stop(self) -> None:
        """Stop it all."""
        self.exports.stop()  # first, since its processes would go on while threads are waited for
        for executor in (self._behind, self.long, self.moving):
            executor.shutdown(wait=True, cancel_futures=True)


@dataclass
class Services:
    """One data folder, which no other process may use: its database, its projects, its screen, what goes on in the background, and who is told."""

    lock: BaseFileLock
    db: Database
    hub: Hub
    projects: Projects
    screen: Screen
    background: Background

    @classmethod
    def open(cls, folder: Path, media: Sequence[Path] = ()) -> "Services":
        """Open (or start) a data folder. media: folders that footage may be used from where it lies.

        Raises `DataFolderError`, `DiskFull`, and `BadRequest` for a media folder that is none.
        """
        places, lock = Places(media), claim(folder)
        try:
            db, hub = Database(folder / "wenditas.db"), Hub()
            library, files = Library(folder, db), Files(folder, db)
            screen = Screen.open(library, files)
            projects = Projects.open(library, files, places, _small_pictures(screen.pictures))
            exports = ExportQueue(db, folder / "cache", partial(job_of, projects.bench), lambda id: hub.publish(kind="export", id=id))
            return cls(lock, db, hub, projects, screen, Background(exports))
        except BaseException:
            lock.release()
            raise

    def make_ready(self, footage_id: str) -> None:
        """Make the small pictures of some footage now."""
        self.screen.thumbnails.make_ready(self.projects.library.node(footage_id))

    def start(self) -> None:
        """Clean up what an earlier run left, and begin what runs in the background."""
        sweep(self.projects.library.folder, self.db)
        self.background.exports.start()
        self.screen.proxies.start()

    def close(self) -> None:
        """Stop what runs in the background, close the database and give the data folder free."""
        self.screen.proxies.stop()
        self.background.stop()
        self.db.close()
        self.lock.release()


def _small_pictures(pictures: Pictures) -> PictureAt:
    """Frames of footage as they are decoded, small, for what is measured of them."""

    def picture_at(footage: Footage, frame: int, width: int) -> Picture:
        return pictures.picture(Request(node=footage, frame=frame, width=width), "sheet")

    return picture_at
