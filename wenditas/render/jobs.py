"""The export queue: one worker process at a time, progress into the database, cancel, restart."""

import json
import queue
import subprocess
import sys
import threading
from collections.abc import Callable
from pathlib import Path

from wenditas.core.errors import Conflict, ExportFailed
from wenditas.core.look.document import parse_shot
from wenditas.render.export import SUFFIXES, VideoOptions
from wenditas.render.files import Files
from wenditas.render.library import Library
from wenditas.render.worker import Job
from wenditas.store import exports as store
from wenditas.store import footage, shots
from wenditas.store.database import Database

REPORT_EVERY = 6  # frames between two progress rows


class ExportQueue:
    """Runs waiting exports in order. `changed` is called with an export's id whenever it moves."""

    def __init__(self, db: Database, library: Library, files: Files, changed: Callable[[str], None]) -> None:
        self.db, self.library, self.files, self._changed = db, library, files, changed
        self._waiting: queue.Queue[str | None] = queue.Queue()
        self._process: subprocess.Popen[str] | None = None
        self._running: str | None = None
        self._cancelled: set[str] = set()
        self._lock = threading.Lock()
        self._thread = threading.Thread(target=self._work, name="exports", daemon=True)

    def start(self) -> None:
        """Mark what a crash cut off, then begin to work."""
        store.mark_cut_off(self.db)
        self._thread.start()

    def stop(self) -> None:
        """Stop the running export; it will be marked as cut off at the next start."""
        self._waiting.put(None)
        with self._lock:
            if self._process is not None:
                self._process.kill()
        if self._thread.is_alive():
            self._thread.join(timeout=5)

    def submit(self, id: str) -> None:
        """Queue an export."""
        self._waiting.put(id)
        self._changed(id)

    def cancel(self, id: str) -> None:
        """Cancel a waiting or running export. Raises `Conflict` where it has already ended."""
        with self._lock:
            row = store.export(self.db, id)
            if row.state not in ("waiting", "running"):
                raise Conflict(f"This export is already {row.state}.")
            self._cancelled.add(id)
            if self._running == id and self._process is not None:
                self._process.kill()
            else:
                store.set_state(self.db, id, "cancelled", "Cancelled before it began.")
        self._changed(id)

    def restart(self, id: str) -> None:
        """Run an export that did not finish once more, from the same revision. Raises `Conflict` otherwise."""
        row = store.export(self.db, id)
        if row.state not in ("failed", "cancelled", "cut off"):
            raise Conflict(f"This export is {row.state}; only one that did not finish can be started again.")
        self._cancelled.discard(id)
        store.set_state(self.db, id, "waiting")
        self.submit(id)

    def _work(self) -> None:
        while (id := self._waiting.get()) is not None:
            if store.export(self.db, id).state != "waiting":
                continue
            try:
                self._run(id)
            except Exception as error:
                store.set_state(self.db, id, "failed", f"The export failed: {error}")
            self._changed(id)

    def _job(self, row: store.ExportRow) -> Job:
        shot = shots.shot(self.db, row.shot_id)
        piece = footage.footage(self.db, shot.footage_id)
        facts = self.library.facts(piece.id)
        options = VideoOptions.model_validate(row.options)
        document = parse_shot(shots.revision(self.db, shot.id, row.revision).document, facts.length)
        return Job(
            media=self.library.media_path(piece).resolve(),
            index=self.library.index_path(piece.id).resolve(),
            facts=facts,
            look=document.look,
            first=document.first,
            last=document.last,
            target=self.library.export_path(row.id, SUFFIXES[options.kind]).resolve(),
            options=options,
            files={f.digest: f for f in self.files.used_by(document.look)},
            files_folder=self.files.folder.resolve(),
        )

    def _run(self, id: str) -> None:
        job = self._job(store.export(self.db, id))
        job_path = self.library.cache_path(f"job-{id}.json")
        job_path.write_text(job.model_dump_json(), "utf-8")
        store.set_state(self.db, id, "running")
        self._changed(id)
        last = ""
        with self._lock:
            self._running = id
            self._process = subprocess.Popen([sys.executable, "-m", "wenditas.render.worker", str(job_path)], stdout=subprocess.PIPE, text=True)
        try:
            assert self._process.stdout is not None
            for line in self._process.stdout:
                last = line
                self._report(id, line)
            self._process.wait()
        finally:
            with self._lock:
                self._running = self._process = None
            job_path.unlink(missing_ok=True)
            _part(job.target).unlink(missing_ok=True)
        self._finish(id, last, job.target)

    def _report(self, id: str, line: str) -> None:
        done = json.loads(line).get("done")
        if done is not None and (done % REPORT_EVERY == 0 or done == 1):
            store.set_done(self.db, id, done)
            self._changed(id)

    def _finish(self, id: str, last: str, target: Path) -> None:
        message = json.loads(last) if last else {}
        if id in self._cancelled:
            self._cancelled.discard(id)
            target.unlink(missing_ok=True)
            store.set_state(self.db, id, "cancelled", "Cancelled; nothing was kept of the unfinished file.")
        elif message.get("finished") and target.exists():
            store.set_done(self.db, id, store.export(self.db, id).total)
            store.set_state(self.db, id, "done", size=target.stat().st_size)
        else:
            raise ExportFailed(message.get("failed", "its process ended without a word."))


def _part(target: Path) -> Path:
    return target.with_suffix(f".part{target.suffix}")
