"""A bench that is not run breaks: the parts that need no browser run once, short; the others are imported."""

import importlib
from importlib import resources
from pathlib import Path

import pytest

from bench import history, keyframes, luts, pictures, where
from bench.timing import ONCE
from wenditas.media.probe import inspect
from wenditas.media.reader import Reader

PARTS = {
    "pictures": lambda reader, folder: pictures.measure(reader.picture(60)),
    "luts": lambda reader, folder: luts.measure(reader.picture(60)),
    "keyframes": lambda reader, folder: keyframes.measure(),
    "history": lambda reader, folder: history.measure(folder, 20),
    "where": lambda reader, folder: where.measure(reader),
}


@pytest.mark.parametrize("part", PARTS)
def test_it_runs(part: str, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv(ONCE, "1")
    with resources.as_file(resources.files("wenditas.demo") / "footage" / "tram-up-the-hill.mp4") as clip:
        rows = PARTS[part](Reader(clip, *inspect(clip)), tmp_path)
    assert rows and all(what and any(c.isdigit() for c in measured) for what, measured in rows)


@pytest.mark.parametrize("name", ["against", "browser", "carry", "exports", "large", "reel", "rows", "soak"])
def test_the_others_can_be_read(name: str) -> None:
    if name == "carry":
        pytest.importorskip("skia")
    importlib.import_module(f"bench.{name}")
