"""The bench of the browser runs once, short, in a process and with a browser of its own."""

import os
import shutil
import subprocess
import sys
from pathlib import Path

from bench.timing import ONCE

RUN = (
    "import sys; from pathlib import Path; from bench import browser; from wenditas.media.probe import inspect; from wenditas.media.reader import Reader; "
    "clip = Path(sys.argv[2]); print(*browser.measure(Reader(clip, *inspect(clip)), Path(sys.argv[1])), sep='\\n')"
)


def test_it_runs(seen_data: Path, tram_clip: Path, tmp_path: Path) -> None:
    shutil.copytree(seen_data, tmp_path / "data")
    done = subprocess.run([sys.executable, "-c", RUN, str(tmp_path), str(tram_clip)], env={**os.environ, ONCE: "1"}, capture_output=True, text=True)
    assert done.returncode == 0, done.stderr[-2000:]
    assert all(
        row in done.stdout for row in ("start of the application", "first picture", "slider to picture", "playback", "second by second", "while a slider")
    )
