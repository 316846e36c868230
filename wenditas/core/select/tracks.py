"""Tracks: where a shape lies at each frame. They are large and never change, so documents name them by their digest."""

import hashlib
import json
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise
from typing import Any

from pydantic import Field, GetCoreSchemaHandler, GetJsonSchemaHandler, SerializationInfo, TypeAdapter, ValidationInfo
from pydantic.json_schema import JsonSchemaValue
from pydantic_core import CoreSchema, core_schema

from wenditas.core.params import Params

MOST_POINTS = 200  # of a shape
Tracks = Mapping[str, "Track"]  # tracks by their digest


class TrackFrame(Params):
    """Where the shape lies at a frame, relative to its own points: m and t of a similarity, and how sure the track is.

    bend: how its points have gone before that, each with the place where it was when it was tracked: x, y, and by how much.
    lies: how well its outline lies on an edge, of how well it did where tracking began; None where it lay on none.
    """

    frame: int = Field(ge=0)
    values: tuple[float, float, float, float]
    confidence: float = Field(ge=0, le=1)
    bend: tuple[tuple[float, float, float, float], ...] = Field((), max_length=MOST_POINTS)
    lies: float | None = Field(None, ge=0, le=1)

    @property
    def packed(self) -> list[Any]:
        """As a short list; what was stored before there were bends reads the same."""
        plain = [self.frame, *self.values, self.confidence]
        return plain if self.lies is None and not self.bend else [*plain, self.lies, [v for one in self.bend for v in one]]

    @classmethod
    def unpacked(cls, told: list[Any]) -> "TrackFrame":
        """The frame that `packed` gave."""
        lies, flat = (told[6], told[7]) if len(told) > 6 else (None, [])
        bend = tuple(tuple(flat[n : n + 4]) for n in range(0, len(flat), 4))
        return cls(frame=told[0], values=tuple(told[1:5]), confidence=told[5], bend=bend, lies=lies)


_FRAMES: TypeAdapter[tuple[TrackFrame, ...]] = TypeAdapter(tuple[TrackFrame, ...])


@dataclass(frozen=True)
class Track:
    """The frames of a track, each once, in order.

    In JSON it is its digest, and empty where there are no frames; with the context `WHOLE` the frames themselves.
    It is read from either: from a digest with the context `{"tracks": ...}`, a mapping that has it.
    """

    frames: tuple[TrackFrame, ...] = ()

    def __len__(self) -> int:
        return len(self.frames)

    def __iter__(self) -> Iterator[TrackFrame]:
        return iter(self.frames)

    @cached_property
    def digest(self) -> str:
        """What names it: equal digests, equal frames. Empty without frames."""
        if not self.frames:
            return ""
        return hashlib.sha256(self.packed.encode()).hexdigest()[:32]

    @cached_property
    def packed(self) -> str:
        """The frames as JSON, one short list for each."""
        return json.dumps([f.packed for f in self.frames], separators=(",", ":"))

    @classmethod
    def unpacked(cls, text: str) -> "Track":
        """The track that `packed` gave."""
        return cls(tuple(TrackFrame.unpacked(told) for told in json.loads(text)))

    @classmethod
    def __get_pydantic_core_schema__(cls, source: Any, handler: GetCoreSchemaHandler) -> CoreSchema:
        """Read from frames or a digest; written as either."""
        return core_schema.with_info_plain_validator_function(_read, serialization=core_schema.plain_serializer_function_ser_schema(_written, info_arg=True))

    @classmethod
    def __get_pydantic_json_schema__(cls, schema: CoreSchema, handler: GetJsonSchemaHandler) -> JsonSchemaValue:
        """What is on the wire: a digest, or frames."""
        inline = {"type": "array", "items": {"type": "object"}}
        return {"title": "Track", "anyOf": [{"type": "string"}, inline]} if handler.mode == "validation" else {"title": "Track", "type": "string"}


DOUBTFUL, LEAST_DOUBTFUL = 0.5, 6  # how sure a frame is below which it is doubtful; how many of them in a row are told of


def doubtful(track: Track) -> list[tuple[int, int]]:
    """Stretches in which a track may have drifted: first and last frame of each."""
    found: list[tuple[int, int]] = []
    for item in track:
        if item.confidence >= DOUBTFUL:
            continue
        if found and item.frame - found[-1][1] <= 1:
            found[-1] = (found[-1][0], item.frame)
        else:
            found.append((item.frame, item.frame))
    return [(a, b) for a, b in found if b - a + 1 >= LEAST_DOUBTFUL]


WHOLE: dict[str, Any] = {"whole": True}
NO_TRACK = Track()


def _read(value: Any, info: ValidationInfo) -> Track:
    if isinstance(value, Track):
        return value
    if isinstance(value, str):
        return _found(value, (info.context or {}).get("tracks", {}))
    frames = _FRAMES.validate_python(value)
    for one, other in pairwise(frames):
        if other.frame <= one.frame:
            raise ValueError(f"a track must name each frame once, in order, but {other.frame} comes after {one.frame}")
    return Track(frames) if frames else NO_TRACK


def _found(digest: str, known: Tracks) -> Track:
    if not digest:
        return NO_TRACK
    try:
        return known[digest]
    except KeyError:
        raise ValueError(f"there is no track {digest[:40]!r} here") from None


def _written(track: Track, info: SerializationInfo) -> Any:
    if (info.context or {}).get("whole"):
        return _FRAMES.dump_python(track.frames, mode="json")
    return track.digest
