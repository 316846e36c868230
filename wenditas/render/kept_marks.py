"""Marks of whole shots that were found once: kept by all that they come from, so that a shot that is opened again has them at once."""

import json
from contextlib import suppress
from dataclasses import asdict

from wenditas.compiled import engine
from wenditas.core.film import Shot
from wenditas.core.measure.checks.record import Fix, Mark
from wenditas.render.frames import FrameFiles

FORM = 1  # counted up where `Checking` finds other marks in the same pictures
MARKS_BYTES = 16 << 20


class KeptMarks:
    """Marks in files, by what was looked at: the node, its frames, and the state of the code."""

    def __init__(self, files: FrameFiles) -> None:
        self._files = files

    def get(self, node: Shot, ends: tuple[int, int]) -> list[Mark] | None:
        """What was found before, if it is still there."""
        told = self._files.get(_key(node, ends))
        if told is not None:
            with suppress(ValueError, TypeError, AttributeError):  # a damaged file: it is looked again
                return [Mark(**{**one, "fix": _fix(one["fix"])}) for one in json.loads(told)]
        return None

    def put(self, node: Shot, ends: tuple[int, int], marks: list[Mark]) -> None:
        """Keep the marks of a whole shot, which lie nowhere on the picture (see `joined`)."""
        self._files.put(_key(node, ends), json.dumps([asdict(m) for m in marks]).encode())


def _key(node: Shot, ends: tuple[int, int]) -> tuple[object, ...]:
    return "marks", FORM, engine(), node.model_dump_json(), *ends


def _fix(told: dict[str, object] | None) -> Fix | None:
    return None if told is None else Fix(str(told["words"]), tuple(told["commands"]))  # type: ignore[arg-type]
