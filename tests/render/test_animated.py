"""Animated looks: the file holds what is rendered frame by frame, and what is remembered is what is shown."""

from pathlib import Path

import av
import numpy as np

from tests.media.clips import make_clip
from tests.rendering import export
from tests.rendering import rendered as render
from wenditas.core.film import Memo
from wenditas.core.look.animate import look_at
from wenditas.core.look.document import Look, parse_look
from wenditas.media.probe import inspect
from wenditas.media.reader import Reader
from wenditas.render.options import ExportOptions

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


def test_an_animated_export_equals_frame_by_frame_rendering(tmp_path: Path) -> None:
    """To the bit, as FFV1 of 16 bits keeps it."""
    source = make_clip(tmp_path / "c.mp4")
    reader = Reader(source, *inspect(source))
    export(reader, source, ANIMATED, 0, 9, tmp_path / "o.mkv", ExportOptions(format="ffv1"))
    with av.open(str(tmp_path / "o.mkv")) as container:
        frames = [frame.to_ndarray(format="rgb48le") for frame in container.decode(video=0)]
    for n, frame in enumerate(frames):
        expected = np.rint(np.clip(render(ANIMATED, n, reader), 0, 1).astype(np.float64) * 65535).transpose(1, 2, 0)
        assert np.abs(frame.astype(int) - expected).max() <= 1, n
    spread = [np.ptp(f.astype(int) >> 8, axis=2).mean() for f in frames]
    assert len(frames) == 10 and spread[5] < 3 < min(spread[1], spread[9])  # grey at the height of the flash only


def test_a_look_that_stands_still_is_compiled_once() -> None:
    memo, still = Memo(), Look(passes=ANIMATED.passes)
    assert memo.plan(still, "result", None, None, 0) is memo.plan(still, "result", None, None, 0)
    assert memo.plan(look_at(ANIMATED, 0, 24), "result", None, None, 0) is not memo.plan(look_at(ANIMATED, 7, 24), "result", None, None, 0)
