"""Animated looks: the file holds what is rendered frame by frame, and what is remembered is what is shown."""

from pathlib import Path

import numpy as np
import pytest

from tests.media.clips import make_clip, read_independently
from tests.rendering import export
from tests.rendering import rendered as render
from wenditas.core.film import Memo
from wenditas.core.look.animate import look_at
from wenditas.core.look.document import Look, parse_look
from wenditas.media.encode import VideoWriter
from wenditas.media.probe import inspect
from wenditas.media.reader import Reader
from wenditas.render.export import VideoOptions

PASSES = [
    {"id": "g", "name": "g", "treatment": "gradient-map"},
    {"id": "m", "name": "m", "treatment": "monochrome"},
    {"id": "b", "name": "b", "treatment": "gaussian-blur", "params": {"radius": 0}},
]
LANES = [
    {"target": "passes/m/amount", "keyframes": [{"frame": 2, "value": 0, "how": "linear"}, {"frame": 5, "value": 100}, {"frame": 8, "value": 0}]},
    {"target": "passes/g/params/slide", "keyframes": [{"frame": 0, "value": 0}], "drift": 60},
    {"target": "passes/b/params/radius", "keyframes": [{"frame": 4, "value": 0, "how": "hold"}, {"frame": 6, "value": 30}]},
]
ANIMATED = parse_look({"passes": PASSES, "lanes": LANES})


def test_an_animated_export_equals_frame_by_frame_rendering(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """Byte for byte, before encoding: the frames handed to the encoder."""
    source = make_clip(tmp_path / "c.mp4")
    reader = Reader(source, *inspect(source))
    handed: list[bytes] = []
    write = VideoWriter.write
    monkeypatch.setattr(VideoWriter, "write", lambda self, frame: (handed.append(b"".join(bytes(p) for p in frame.planes)), write(self, frame))[1])
    export(reader, source, ANIMATED, 0, 9, tmp_path / "o.mp4", VideoOptions())
    writer = VideoWriter(tmp_path / "p.mp4", reader.facts.width, reader.facts.height, reader.facts.frame_rate, ("20", "veryfast"), None, None)
    for n in range(10):
        frame, out = writer.blank()
        out.store(0, render(ANIMATED, n, reader))
        assert b"".join(bytes(p) for p in frame.planes) == handed[n], n
    writer.abandon()
    frames, _ = read_independently(tmp_path / "o.mp4")
    spread = [np.ptp(f.astype(int), axis=2).mean() for f in frames]
    assert spread[5] < 3 < min(spread[1], spread[9])  # grey at the height of the flash only


def test_a_look_that_stands_still_is_compiled_once() -> None:
    memo, still = Memo(), Look(passes=ANIMATED.passes)
    assert memo.plan(still, "result", None, None, 0) is memo.plan(still, "result", None, None, 0)
    assert memo.plan(look_at(ANIMATED, 0, 24), "result", None, None, 0) is not memo.plan(look_at(ANIMATED, 7, 24), "result", None, None, 0)
