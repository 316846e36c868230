"""Preview copies of large footage, made one after another in the background, used for preview only."""

import contextlib
import json
import queue
import sqlite3
import threading
from typing import Literal

import av
from pydantic import BaseModel

from wenditas.core.errors import WenditasError
from wenditas.media.facts import Facts
from wenditas.media.proxy import WIDTH, decoding_rate, needed, open_proxy, write_proxy
from wenditas.media.reader import Reader
from wenditas.render.quiet import behind_all_else
from wenditas.render.sources import Media

OPEN_READERS = 6


class ProxyState(BaseModel):
    """Whether footage has a preview copy. done: frames written so far."""

    state: Literal["none", "waiting", "making", "ready"]
    done: int = 0


class Proxies:
    """Makes preview copies."""

    def __init__(self, media: Media) -> None:
        self.media = media
        self._states: dict[str, ProxyState] = {}
        self._waiting: queue.Queue[str | None] = queue.Queue()
        self._readers: dict[tuple[str, str], Reader] = {}
        self._lock = threading.Lock()
        self._stopped = False
        self._thread = threading.Thread(target=self._work, name="proxies", daemon=True)

    def start(self) -> None:
        """Begin to work."""
        self._thread.start()

    def stop(self) -> None:
        """Stop; a copy that is not finished is begun again next time."""
        self._stopped = True
        self._waiting.put(None)
        if self._thread.is_alive():
            self._thread.join(timeout=5)

    def state(self, footage_id: str, facts: Facts) -> ProxyState:
        """How far the preview copy of some footage is."""
        found = self._states.get(footage_id)
        if found is not None:
            return found
        made = facts.width > WIDTH and facts.kind == "video" and self.media.cache_path(f"proxy-{footage_id}.mov").exists()
        return ProxyState(state="ready" if made else "none")

    def coming(self, footage_id: str) -> bool:
        """Whether a preview copy may soon be ready: till then nothing need be rendered ahead from the original."""
        found = self._states.get(footage_id)
        return found is not None and found.state in ("waiting", "making")

    def want(self, footage_id: str, facts: Facts) -> None:
        """Make the preview copy of some footage where it needs one and has none."""
        if facts.kind != "video" or facts.width <= WIDTH or footage_id in self._states or self.state(footage_id, facts).state == "ready":
            return
        self._states[footage_id] = ProxyState(state="waiting")
        self._waiting.put(footage_id)

    def reader(self, footage_id: str, purpose: str) -> Reader | None:
        """A reader of the preview copy, where it is ready."""
        facts = self.media.facts(footage_id)
        if self.state(footage_id, facts).state != "ready":
            return None
        with self._lock:
            key = (footage_id, purpose)
            if key not in self._readers:
                self._readers[key] = open_proxy(self.media.cache_path(f"proxy-{footage_id}.mov"), facts)
            found = self._readers[key] = self._readers.pop(key)  # the newest use last
            while len(self._readers) > OPEN_READERS:
                self._readers.pop(next(iter(self._readers)))  # it closes itself once whoever reads from it is done
            return found

    def _original(self, footage_id: str) -> Reader:
        found = self.media.open(footage_id)
        return Reader(found.path, found.facts, found.index, lut=found.lut)

    def _work(self) -> None:
        behind_all_else()
        while (footage_id := self._waiting.get()) is not None:
            try:
                self._make(footage_id)
            except (WenditasError, OSError, av.error.FFmpegError, sqlite3.Error):  # the footage has gone, or the disk is full: it plays from the original
                self._states[footage_id] = ProxyState(state="none")

    def _make(self, footage_id: str) -> None:
        facts = self.media.facts(footage_id)
        if not self._needed(footage_id, facts):
            self._states[footage_id] = ProxyState(state="none")
            return
        reader = self._original(footage_id)

        def progress(done: int, total: int) -> None:
            self._states[footage_id] = ProxyState(state="making", done=done)

        self.media.cached_file(f"proxy-{footage_id}.mov", lambda part: write_proxy(reader, part, progress, lambda: self._stopped))
        self._states[footage_id] = ProxyState(state="ready")

    def _needed(self, footage_id: str, facts: Facts) -> bool:
        """Whether a preview copy is needed; measured once, and noted in a file."""
        note = self.media.cache_path(f"proxy-{footage_id}.json")
        with contextlib.suppress(OSError, ValueError, TypeError, KeyError):  # an unreadable note is written anew
            return bool(json.loads(note.read_text("utf-8"))["needed"])
        found = needed(facts, decoding_rate(self._original(footage_id)))
        note.write_text(json.dumps({"needed": found}), "utf-8")
        return found
