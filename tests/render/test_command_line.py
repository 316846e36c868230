"""The command line, run as a user would."""

import json
import subprocess
import sys
import wave
from functools import partial
from pathlib import Path

import cv2
import numpy as np
import pytest

from tests.command_line import run, run_here
from tests.media.clips import make_clip, read_independently
from tests.render.test_render import LOOK
from wenditas.cli import COMMANDS
from wenditas.cli.console import app
from wenditas.core.look.document import Look
from wenditas.formats.look_json import write_look
from wenditas.media.probe import inspect
from wenditas.media.reader import Reader
from wenditas.media.reading import through, tone_mapping


def make_song(path: Path) -> None:
    with wave.open(str(path), "wb") as file:
        file.setnchannels(2)
        file.setsampwidth(2)
        file.setframerate(48000)
        file.writeframes(np.zeros((24000, 2), np.int16).tobytes())


def test_help_names_each_command_as_its_module_does_and_reads_no_module(tmp_path: Path) -> None:
    there = {c.name or c.callback.__name__: (c.help or c.callback.__doc__ or "").strip().split("\n")[0] for c in app.registered_commands}  # type: ignore[union-attr]
    there |= {g.name: g.typer_instance.info.help for g in app.registered_groups}  # type: ignore[union-attr,misc]
    assert there == {name: words for name, (_, words) in COMMANDS.items()}
    told = "print('numba' in sys.modules, 'fastapi' in sys.modules)"
    code = f"import sys; sys.argv = ['wenditas', '--help']; from wenditas.cli import main\ntry: main()\nfinally: {told}"
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True)
    assert "False False" in done.stdout and all(name in done.stdout for name in there)


def test_command_line(tmp_path: Path) -> None:
    from wenditas.formats.look_json import write_look

    make_clip(tmp_path / "in.mp4", sound="aac")
    (tmp_path / "look.json").write_text(write_look(LOOK, "Red stays"))

    here = partial(run_here, cwd=tmp_path)
    done = run("apply", "look.json", "in.mp4", "out.mp4", "--in", "2", "--out", "9", cwd=tmp_path)
    assert done.returncode == 0, done.stderr
    assert len(read_independently(tmp_path / "out.mp4")[0]) == 8
    for words, says in (
        (("apply", "look.json", "in.mp4", "out.mp4"), "exists already"),
        (("apply", "in.mp4", "in.mp4", "new.mp4"), "not JSON"),
        (("apply", "look.json", "look.json", "new.mp4"), "cannot be read"),
        (("apply", "look.json", "in.mp4", "new.doc"), "no format that can be written"),
        (("apply", "look.json", "in.mp4", "new.mp4", "--in", "30"), "frames 0 to 23"),
        (("apply", "look.json", "in.mp4", "in.mp4", "--force"), "same file"),
    ):
        refused = here(*words)
        assert refused.returncode == 1 and says in " ".join(refused.stderr.split()), words
    assert not (tmp_path / "new.mp4").exists()
    before = (tmp_path / "in.mp4").rename(tmp_path / "shot.part.mp4").read_bytes()
    assert here("apply", "look.json", "shot.part.mp4", "shot.mp4", "--out", "3").returncode == 0
    assert (tmp_path / "shot.part.mp4").read_bytes() == before and len(read_independently(tmp_path / "shot.mp4")[0]) == 4
    for command in ("serve", "demo", "apply", "warm"):
        assert "Usage" in here(command, "--help").stdout


def test_many_files_facts_and_look_check(tmp_path: Path) -> None:
    """A folder and a file, one of them no picture: the others go on, and the exit code says so."""
    from wenditas.formats.look_json import read_look, write_look

    folder = tmp_path / "in" / ("deep " * 20)  # a path longer than a line stays in one piece
    folder.mkdir(parents=True)
    make_clip(folder / "a.mp4", count=4)
    make_clip(tmp_path / "a.mp4", count=5, sound="aac")
    (folder / "b.mov").write_bytes(b"not a film")
    (tmp_path / "look.json").write_text(write_look(LOOK, "Red/stays"))

    here = partial(run_here, cwd=tmp_path)
    done = run("apply", "look.json", "in", "a.mp4", "--out-dir", "out", cwd=tmp_path)
    assert done.returncode == 1 and "2 of 3 files" in " ".join(done.stdout.split()) and "b.mov" in done.stderr, done.stderr
    assert sorted(p.name for p in (tmp_path / "out").iterdir()) == ["a Red stays 2.mp4", "a Red stays.mp4"]
    assert "is none of them" in " ".join(here("apply", "look.json", "a.mp4", "--out-dir", "out", "--pattern", "{shot}").stderr.split())
    assert "one OUTPUT" in " ".join(here("apply", "look.json", "a.mp4").stderr.split())

    told = here("facts", "a.mp4", "--json")
    found = json.loads(told.stdout)
    assert told.returncode == 0 and (found["width"], found["height"], found["length"], found["rate"]) == (320, 240, 5, "24")
    plain = here("facts", "a.mp4", str(folder / "b.mov"))
    assert plain.returncode == 1 and "320 × 240" in plain.stdout and "24 frames a second" in plain.stdout and str(folder / "b.mov") in plain.stderr

    make_song(tmp_path / "song.wav")
    song = json.loads(here("facts", "song.wav", "--json").stdout)
    assert song["kind"] == "sound" and song["sound"] == "WAV stereo, 48 kHz" and abs(song["seconds"] - 0.5) < 0.01
    assert "sound without pictures" in here("facts", "song.wav").stdout

    checked = here("look", "check", "look.json", "--upgrade", "new.json")
    assert checked.returncode == 0 and f"{len(LOOK.passes)} passes" in checked.stdout and read_look((tmp_path / "new.json").read_text())[1] == LOOK
    like = here("look", "from", "a.mp4", "a.mp4", "-o", "like.json", "--same-scene")
    assert like.returncode == 0 and "same scene" in like.stdout and read_look((tmp_path / "like.json").read_text())[0].endswith("like a.mp4")
    assert here("look", "from", "a.mp4", "a.mp4", "-o", "like.json").returncode == 1  # it is there already
    strange = json.loads((tmp_path / "look.json").read_text())
    strange["look"]["passes"][0]["treatment"] = "of-tomorrow"
    (tmp_path / "look.json").write_text(json.dumps(strange))
    assert here("look", "check", "look.json").returncode == 1
    for words in (("look", "check", "a.mp4"), ("facts", "none.mp4"), ("lut", "a.mp4", "x.cube")):
        refused = here(*words)
        assert refused.returncode == 1 and refused.stderr and "Traceback" not in refused.stderr


@pytest.mark.parametrize(("transfer", "kind"), [(18, "hlg"), (16, "pq")])
def test_hlg_and_pq_are_read_as_in_the_application(tmp_path: Path, transfer: int, kind: str) -> None:
    """A frame and a film, against the tone mapping on the decoded frame (ITU-R BT.2446 A, itself checked in tests/references/test_hdr.py)."""
    clip = make_clip(tmp_path / "in.mp4", transfer=transfer, matrix=9, count=4)
    (tmp_path / "look.json").write_text(write_look(Look(), "Nothing"))
    here = partial(run_here, cwd=tmp_path)
    for target in ("out.png", "out.mkv"):
        done = here("apply", "look.json", "in.mp4", target)
        assert done.returncode == 0, done.stderr
    facts, index = inspect(clip)
    wanted = through(tone_mapping(kind), Reader(clip, facts, index).picture(0))
    still = cv2.imread(str(tmp_path / "out.png"))[..., ::-1].transpose(2, 0, 1) / 255
    assert np.abs(still - np.clip(wanted, 0, 1)).max() < 1.5 / 255
    film = Reader(tmp_path / "out.mkv", *inspect(tmp_path / "out.mkv")).picture(0)
    assert np.abs(film - np.clip(wanted, 0, 1)).max() < 1e-3
