"""The export queue: one worker process at a time, progress into the database, cancel, restart."""

import json
import logging
import queue
import sqlite3
import subprocess
import sys
import threading
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from wenditas.core.errors import Conflict, DiskFull, NotFound, WenditasError
from wenditas.core.select.tracks import WHOLE
from wenditas.render.worker import Job
from wenditas.store import exports as store
from wenditas.store.database import Database

log = logging.getLogger(__name__)
REPORT_EVERY = 6  # frames between two progress rows
RETRY = 2.0  # seconds until an end that could not be written is tried again
STORE_ERRORS = (sqlite3.Error, DiskFull)
CANCELLED = "Cancelled; nothing was kept of the unfinished file."


@dataclass(frozen=True)
class Ending:
    """How an export ended."""

    state: store.State
    message: str = ""
    size: int | None = None


@dataclass
class Run:
    """The export at work. cancelled: it is to end, whether its process has begun or not."""

    id: str
    process: subprocess.Popen[str] | None = None
    cancelled: bool = False

    def stop(self) -> None:
        """End the process, where there is one."""
        if self.process is not None:
            self.process.kill()


class ExportQueue:
    """Runs waiting exports in order: `job_of` makes them jobs, whose files lie in `folder`; `changed` is called with an export's id whenever it moves.

    Whatever happens to one export, the queue goes on; an end that cannot be stored now, for want of room, is stored later.
    """

    def __init__(self, db: Database, folder: Path, job_of: Callable[[store.ExportRow], Job], changed: Callable[[str], None]) -> None:
        self.db, self._folder, self._job, self._changed = db, folder, job_of, changed
        self._waiting: queue.Queue[str | None] = queue.Queue()
        self._run: Run | None = None
        self._unwritten: dict[str, Ending] = {}
        self._stopping = False
        self._lock = threading.Lock()
        self._thread = threading.Thread(target=self._work, name="exports", daemon=True)

    def start(self) -> None:
        """Mark what a crash cut off, then begin to work."""
        store.mark_cut_off(self.db)
        self._thread.start()

    def stop(self) -> None:
        """Stop the running export; it and those that wait are cut off."""
        self._waiting.put(None)
        with self._lock:
            self._stopping = True
            if self._run is not None:
                self._run.stop()
        if self._thread.is_alive():
            self._thread.join(timeout=10)
        try:
            store.mark_cut_off(self.db)
        except STORE_ERRORS:
            log.warning("exports could not be marked as cut off; they are at the next start")

    def submit(self, id: str) -> None:
        """Queue an export."""
        self._waiting.put(id)
        self._changed(id)

    def cancel(self, id: str) -> None:
        """Cancel a waiting or running export. Raises `Conflict` where it has already ended."""
        with self._lock:
            row = store.export(self.db, id)
            ended = self._unwritten[id].state if id in self._unwritten else row.state
            if ended not in ("waiting", "running"):
                raise Conflict(f"This export is already {ended}.")
            if self._run is not None and self._run.id == id:
                self._run.cancelled = True
                self._run.stop()
            else:
                store.set_state(self.db, id, "cancelled", "Cancelled before it began.")
        self._changed(id)

    def restart(self, id: str) -> None:
        """Run an export that did not finish once more, from the same revision. Raises `Conflict` otherwise."""
        with self._lock:
            row = store.export(self.db, id)
            if row.state not in ("failed", "cancelled", "cut off"):
                raise Conflict(f"This export is {row.state}; only one that did not finish can be started again.")
            store.set_state(self.db, id, "waiting")
        self.submit(id)

    def _work(self) -> None:
        while True:
            try:
                id = self._waiting.get(timeout=RETRY if self._unwritten else None)
            except queue.Empty:
                self._write_endings()
                continue
            if id is None:
                self._write_endings()
                return
            try:
                self._take(id)
            except Exception:  # whatever it is, those that wait have their turn
                log.exception("export %s", id)
            self._write_endings()

    def _take(self, id: str) -> None:
        """Run an export that still waits, to whatever end."""
        run = Run(id)
        with self._lock:
            try:
                if self._stopping or store.export(self.db, id).state != "waiting":
                    return
            except NotFound:  # deleted meanwhile
                return
            self._run = run
        try:
            ending = self._perform(run)
        except DiskFull as error:
            ending = Ending("failed", f"The export stopped. {error}")
        except (WenditasError, sqlite3.Error, OSError, ValueError) as error:
            ending = Ending("failed", f"The export failed: {error}")
        except Exception:
            log.exception("export %s", id)
            ending = Ending("failed", "The export failed by a fault of Wenditas; its log says where.")
        with self._lock:
            self._run = None
            if not self._stopping or ending.state == "done":
                self._unwritten[id] = ending

    def _write_endings(self) -> None:
        for id, ending in list(self._unwritten.items()):
            try:
                store.set_state(self.db, id, ending.state, ending.message, ending.size)
            except STORE_ERRORS:
                return
            del self._unwritten[id]
            self._changed(id)

    def _perform(self, run: Run) -> Ending:
        job = self._job(store.export(self.db, run.id))
        job_path = self._folder / f"job-{run.id}.json"
        try:
            job_path.write_text(job.model_dump_json(context=WHOLE), "utf-8")
            store.set_state(self.db, run.id, "running")
            self._changed(run.id)
            last = self._follow(run, job_path)
        finally:
            job_path.unlink(missing_ok=True)
            for part in job.target.parent.glob(f"{job.target.stem}.*.part*"):
                part.unlink(missing_ok=True)
        return self._ending(run, last, job.target)

    def _follow(self, run: Run, job_path: Path) -> str:
        """Start the process and report what it says until it ends, or is ended. Its last line."""
        with self._lock:
            if run.cancelled or self._stopping:
                return ""
            run.process = subprocess.Popen([sys.executable, "-m", "wenditas.render.worker", str(job_path)], stdout=subprocess.PIPE, text=True)
        last = ""
        try:
            assert run.process.stdout is not None
            for line in run.process.stdout:
                last = line
                self._report(run.id, line)
        finally:
            run.process.kill()  # it has ended, unless its progress cannot be stored
            run.process.wait()
            run.process.stdout.close()  # type: ignore[union-attr]
        return last

    def _report(self, id: str, line: str) -> None:
        done = json.loads(line).get("done")
        if done is not None and (done % REPORT_EVERY == 0 or done == 1):
            store.set_done(self.db, id, done)
            self._changed(id)

    def _ending(self, run: Run, last: str, target: Path) -> Ending:
        message = json.loads(last) if last else {}
        if run.cancelled:
            target.unlink(missing_ok=True)
            return Ending("cancelled", CANCELLED)
        if message.get("finished") and target.exists():
            return Ending("done", size=target.stat().st_size)
        return Ending("failed", f"The export failed: {message.get('failed', 'its process was ended from outside, or had too little memory. Start it again.')}")
