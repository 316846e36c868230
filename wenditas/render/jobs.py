"""The export queue: worker processes, progress into the database, order, pause, cancel; what was stopped goes on where it stood."""

import json
import logging
import os
import shutil
import sqlite3
import threading
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from wenditas.core.errors import BadRequest, Conflict, DiskFull, NotFound, WenditasError
from wenditas.core.select.tracks import WHOLE
from wenditas.render.job import Job
from wenditas.stem import Child, stem_of
from wenditas.store import exports as store
from wenditas.store.database import Database
from wenditas.store.settings import set_setting, setting

log = logging.getLogger(__name__)
REPORT_EVERY = 6  # frames between two progress rows
RETRY = 2.0  # seconds until what could not be done for want of room is tried again
ROOM = 1 << 20  # bytes that must have become free until then
TRIES = 3  # of an export whose process is ended from outside
MOST_AT_ONCE = 4
STORE_ERRORS = (sqlite3.Error, DiskFull)
CANCELLED = "Cancelled; nothing was kept of the unfinished file."
FULL = "The disk is full. It goes on by itself, where it stands, once there is room."
ENDED = "Its process was ended from outside again and again, or had too little memory. What is done is kept; start it again to go on."


@dataclass(frozen=True)
class Ending:
    """How an export ended, or stopped for now."""

    state: store.State
    message: str = ""
    size: int | None = None
    digest: str = ""


@dataclass
class Run:
    """An export at work. to: what it is to become, where it is stopped on purpose, whether its process has begun or not."""

    id: str
    process: Child | None = None
    to: store.State | None = None

    def stop(self) -> None:
        """End the process and those that it has started."""
        if self.process is not None:
            self.process.kill()


class ExportQueue:
    """Runs waiting exports in order, some at once.

    `job_of` makes them jobs, whose files lie in `folder`; `changed` is called with an export's id whenever it moves.

    Whatever happens to one export, the queue goes on; an end that cannot be stored now, for want of room, is stored later.
    """

    def __init__(self, db: Database, folder: Path, job_of: Callable[[store.ExportRow], Job], changed: Callable[[str], None]) -> None:
        self.db, self._folder, self._job, self._changed = db, folder, job_of, changed
        self._runs: dict[str, Run] = {}
        self._unwritten: dict[str, Ending] = {}
        self._full_at: int | None = None  # bytes that were free when there was too little room
        self._stopping = False
        self._moved = threading.Condition(threading.RLock())
        self._threads: set[threading.Thread] = set()
        self._thread = threading.Thread(target=self._work, name="exports", daemon=True)

    @property
    def at_once(self) -> int:
        """How many run at once."""
        return int(setting(self.db, "exports at once", 1))

    @at_once.setter
    def at_once(self, count: int) -> None:
        if not 1 <= count <= MOST_AT_ONCE:
            raise BadRequest(f"From 1 to {MOST_AT_ONCE} exports run at once, not {count}.")
        set_setting(self.db, "exports at once", count)
        self._wake()

    def start(self) -> None:
        """Go on with what was stopped, where it stood, and begin to work."""
        store.let_wait(self.db)
        self._thread.start()

    def stop(self) -> None:
        """Stop what runs; it goes on at the next start."""
        with self._moved:
            self._stopping = True
            for run in self._runs.values():
                run.stop()
            self._moved.notify_all()
        for thread in (self._thread, *self._threads):
            if thread.is_alive():
                thread.join(timeout=10)
        self._write_endings()
        try:
            store.let_wait(self.db)
        except STORE_ERRORS:
            log.warning("exports could not be marked as waiting; they are at the next start")

    def submit(self, id: str) -> None:
        """Say that an export waits."""
        self._wake()
        self._changed(id)

    def _wake(self) -> None:
        with self._moved:
            self._moved.notify_all()

    def cancel(self, id: str) -> None:
        """Cancel an export that has not ended; nothing of it is kept. Raises `Conflict` where it has."""
        self._halt(id, "cancelled", CANCELLED)
        if id not in self._runs:
            self._forget(id)

    def pause(self, id: str) -> None:
        """Stop an export for now; what is done is kept. Raises `Conflict` where it has ended."""
        self._halt(id, "paused", "")

    def _halt(self, id: str, to: store.State, message: str) -> None:
        with self._moved:
            row = store.export(self.db, id)
            state = self._unwritten[id].state if id in self._unwritten else row.state
            if state not in store.AT_WORK or state == to:
                raise Conflict(f"This export is already {state}.")
            if (run := self._runs.get(id)) is not None:
                run.to = to
                run.stop()
            else:
                self._unwritten.pop(id, None)
                store.set_state(self.db, id, to, message)
        self._changed(id)

    def go_on(self, id: str) -> None:
        """Let an export that is paused wait for its turn. Raises `Conflict` otherwise."""
        with self._moved:
            if store.export(self.db, id).state != "paused":
                raise Conflict("This export is not paused.")
            store.set_state(self.db, id, "waiting")
        self.submit(id)

    def restart(self, id: str) -> None:
        """Run an export that did not finish once more, from the same revision, with what of it is done. Raises `Conflict` otherwise."""
        with self._moved:
            row = store.export(self.db, id)
            if row.state not in ("failed", "cancelled", "cut off"):
                raise Conflict(f"This export is {row.state}; only one that did not finish can be started again.")
            store.set_done(self.db, id, 0)
            store.set_state(self.db, id, "waiting")
        self.submit(id)

    def put_before(self, id: str, before: str | None) -> None:
        """Change the order in which those that wait are taken."""
        with self._moved:
            store.put_before(self.db, id, before)
        self._changed(id)

    def _forget(self, id: str) -> None:
        shutil.rmtree(self._folder / "segments" / id, ignore_errors=True)

    def _work(self) -> None:
        while True:
            with self._moved:
                if self._stopping:
                    return
                row = self._next()
                if row is None:
                    self._moved.wait(RETRY if self._unwritten or self._full_at is not None else None)
                else:
                    self._runs[row.id] = Run(row.id)
                    thread = threading.Thread(target=self._take, args=(self._runs[row.id],), name=f"export {row.id}", daemon=True)
                    self._threads.add(thread)
                    thread.start()
            self._write_endings()

    def _next(self) -> store.ExportRow | None:
        if len(self._runs) >= max(1, self._most()):
            return None
        if self._full_at is not None:
            if self._free() < self._full_at + ROOM:
                return None
            self._full_at = None
        try:
            return store.next_waiting(self.db, {*self._runs, *self._unwritten})
        except STORE_ERRORS:
            return None

    def _most(self) -> int:
        try:
            return self.at_once
        except STORE_ERRORS:
            return 1

    def _free(self) -> int:
        stats = os.statvfs(self._folder)
        return stats.f_bavail * stats.f_frsize

    def _take(self, run: Run) -> None:
        """Run an export, to whatever end."""
        try:
            ending = self._perform(run)
        except DiskFull:
            ending = self._no_room()
        except NotFound as error:
            ending = Ending("failed", f"The export failed: {error}")
        except (WenditasError, sqlite3.Error, OSError, ValueError) as error:
            ending = Ending("failed", f"The export failed: {error}")
        except Exception:
            log.exception("export %s", run.id)
            ending = Ending("failed", "The export failed by a fault of Wenditas; its log says where.")
        with self._moved:
            del self._runs[run.id]
            self._threads.discard(threading.current_thread())
            if not self._stopping or ending.state == "done":
                self._unwritten[run.id] = ending
            if ending.state == "cancelled":
                self._forget(run.id)
            self._moved.notify_all()

    def _no_room(self) -> Ending:
        self._full_at = self._free()
        return Ending("waiting", FULL)

    def _write_endings(self) -> None:
        for id, ending in list(self._unwritten.items()):
            try:
                store.set_state(self.db, id, ending.state, ending.message, ending.size, ending.digest)
            except STORE_ERRORS:
                return
            self._unwritten.pop(id, None)
            self._changed(id)

    def _perform(self, run: Run) -> Ending:
        job = self._job(store.export(self.db, run.id))
        job_path = self._folder / f"job-{run.id}.json"
        try:
            job_path.write_text(job.model_dump_json(context=WHOLE), "utf-8")
            store.set_state(self.db, run.id, "running")
            self._changed(run.id)
            for _ in range(TRIES):
                last = self._follow(run, job_path)
                if run.to is not None or self._stopping or set(last) & {"finished", "failed", "full"}:
                    break
        finally:
            job_path.unlink(missing_ok=True)
            for part in (*job.target.parent.glob(f"{job.target.stem}.*.part*"), *job.segments.glob("*.part*")):
                shutil.rmtree(part) if part.is_dir() else part.unlink(missing_ok=True)
        return self._ending(run, last, job.target)

    def _follow(self, run: Run, job_path: Path) -> dict[str, Any]:
        """Start the process and report what it says until it ends, or is ended. What it said last."""
        stem = stem_of("wenditas.render.worker")
        stem.ready()  # before the queue is held
        with self._moved:
            if run.to is not None or self._stopping:
                return {}
            process, lines = stem.follow([str(job_path)])
            run.process = process
        last: dict[str, Any] = {}
        with lines:
            try:
                for line in lines:
                    last = json.loads(line)
                    self._report(run.id, last.get("done"))
            finally:
                run.stop()  # it has ended, unless its progress cannot be stored
                process.ended(None)
        return last

    def _report(self, id: str, done: int | None) -> None:
        if done is not None and (done % REPORT_EVERY == 0 or done == 1):
            store.set_done(self.db, id, done)
            self._changed(id)

    def _ending(self, run: Run, last: dict[str, Any], target: Path) -> Ending:
        if run.to is not None:
            if target.is_dir():
                shutil.rmtree(target, ignore_errors=True)
            else:
                target.unlink(missing_ok=True)
            return Ending(run.to, CANCELLED if run.to == "cancelled" else "")
        if (made := last.get("finished")) and target.exists():
            return Ending("done", f"Read back: {made['told']}.", made["bytes"], made["digest"])
        if "full" in last:
            return self._no_room()
        return Ending("failed", f"The export failed: {last.get('failed', ENDED)}")
