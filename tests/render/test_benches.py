"""A bench that is not run breaks: each runs once, short. What they measure here is worth nothing."""

import os
import re
import shutil
import subprocess
import sys
from importlib import resources
from pathlib import Path
from types import ModuleType

import pytest

from bench import account, carry, checks, exports, history, keyframes, keys, luts, picks, pictures, reel, reference, things, where
from bench.timing import ONCE
from wenditas.media.probe import inspect
from wenditas.media.reader import Reader

PARTS = {
    "account": lambda clip, reader, folder: account.measure(clip, folder),
    "pictures": lambda clip, reader, folder: pictures.measure(reader.picture(60), folder),
    "luts": lambda clip, reader, folder: luts.measure(reader.picture(60)),
    "keyframes": lambda clip, reader, folder: keyframes.measure(),
    "history": lambda clip, reader, folder: history.measure(folder, 20),
    "where": lambda clip, reader, folder: where.measure(reader, folder),
    "exports": lambda clip, reader, folder: exports.measure(clip, folder),
    "reel": lambda clip, reader, folder: reel.measure(folder),
}


@pytest.mark.parametrize("part", PARTS)
def test_it_runs(part: str, tmp_path: Path, demo_data: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv(ONCE, "1")
    if part == "reel":
        shutil.copytree(demo_data, tmp_path / "reel")  # made already
    with resources.as_file(resources.files("wenditas.demo") / "footage" / "tram-up-the-hill.mp4") as clip:
        rows = PARTS[part](Path(clip), Reader(clip, *inspect(clip)), tmp_path)
    assert rows and all(what and any(c.isdigit() for c in measured) for what, measured in rows)


@pytest.mark.parametrize(
    ("bench", "told"),
    [
        (keys, "as drawn"),
        (picks, "right name"),
        (things, "at least 0.90"),
        (reference, "better than both peers"),
        (checks, "false marks"),
        (carry, "Fitted again reaches"),
    ],
    ids=lambda value: value.__name__ if hasattr(value, "main") else "",
)
def test_one_with_a_command_of_its_own_runs(bench: ModuleType, told: str, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]) -> None:
    monkeypatch.setenv(ONCE, "1")
    monkeypatch.setattr(sys, "argv", [bench.__name__])
    bench.main()
    assert told in capsys.readouterr().out


@pytest.mark.parametrize(("name", "told"), [("against", "9 passes"), ("fuzz", r"[1-9]\d* operations"), ("soak", "keyframes")])
def test_it_runs_by_itself(name: str, told: str, demo_data: Path) -> None:
    """Those that start servers, or set how much they do before all else: in a process."""
    words = [str(demo_data)] if name == "fuzz" else []
    done = subprocess.run([sys.executable, "-m", f"bench.{name}", *words], env={**os.environ, ONCE: "1"}, capture_output=True, text=True)
    assert done.returncode == 0, done.stderr[-2000:]
    assert re.search(told, done.stdout)
