"""Rendered frames in memory and in files: bounded, found again, never in the way of a full disk."""

import os
from pathlib import Path

import pytest

from wenditas.render import frames as module
from wenditas.render.cache import ByteCache
from wenditas.render.frames import FrameFiles, ShownFrames


def test_what_leaves_a_cache_is_handed_on() -> None:
    gone: list[tuple[object, bytes]] = []
    cache: ByteCache[bytes] = ByteCache(10, len, lambda key, value: gone.append((key, value)))
    for key in "abc":
        cache.put(key, key.encode() * 4)
    assert gone == [("a", b"aaaa")] and "a" not in cache and cache.held == 8
    cache.put("b", b"bb")  # replaced, not handed on
    assert len(gone) == 1 and cache.held == 6


def test_files_are_bounded_and_the_least_used_go_first(tmp_path: Path) -> None:
    files = FrameFiles(tmp_path, limit=25)
    for key in ("a", "b"):
        files.put(key, b"x" * 10)
    assert files.get("a") == b"x" * 10  # used again: b is now the oldest
    files.put("c", b"y" * 10)
    assert ("a" in files, "b" in files, "c" in files) == (True, False, True)
    assert files.held == 20 and len(list(tmp_path.iterdir())) == 2
    files.put("c", b"z")
    assert files.held == 11 and files.get("c") == b"z"


def test_files_are_found_again_after_a_restart(tmp_path: Path) -> None:
    first = FrameFiles(tmp_path)
    first.put(("k", 1), b"one")
    first.put(("k", 2), b"two")
    (tmp_path / "half.part").write_bytes(b"cut off")
    for n, path in enumerate(sorted(tmp_path.iterdir())):
        os.utime(path, (n, n))
    again = FrameFiles(tmp_path)
    assert again.get(("k", 1)) == b"one" and ("k", 2) in again and again.held == 6
    assert not list(tmp_path.glob("*.part"))
    small = FrameFiles(tmp_path, limit=3)
    assert small.held == 3 and len(list(tmp_path.iterdir())) == 1


def test_what_is_lost_or_cannot_be_written_is_simply_not_there(tmp_path: Path) -> None:
    folder = tmp_path / "frames"
    files = FrameFiles(folder)
    files.put("a", b"x")
    next(folder.iterdir()).unlink()
    assert files.get("a") is None and "a" not in files and files.held == 0
    folder.rmdir()  # as when the disk has gone
    files.put("b", b"y")
    assert "b" not in files and files.held == 0 and not folder.exists()


def test_no_more_is_kept_than_the_disk_can_spare(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    FrameFiles(tmp_path).put("a", b"x" * 40)
    monkeypatch.setattr(module, "SPARE_BYTES", module.shutil.disk_usage(tmp_path).free * 4)
    assert FrameFiles(tmp_path).held == 0


def test_frames_move_to_files_and_come_back(tmp_path: Path) -> None:
    frames = ShownFrames(tmp_path, memory=100, disk=1000)
    for n in range(30):
        frames.put(n, bytes([n]) * 30)
    in_memory, in_files = frames.held
    assert in_memory <= 100 and 0 < in_files <= 1000
    assert all(n in frames for n in range(30)) and [frames.get(n) for n in (0, 13, 29)] == [bytes([n]) * 30 for n in (0, 13, 29)]
    assert frames.get("other") is None and "other" not in frames
