"""Requests and jobs are plain data: they survive JSON, and a job does in another process what it does here."""

import json
import os
import subprocess
import sys
import zipfile
from pathlib import Path

import cv2
import numpy as np
import pytest

from tests.media.clips import make_clip
from tests.rendering import rendered, shot_of
from wenditas.core.errors import NotFound
from wenditas.core.files import Files
from wenditas.core.look.document import parse_look
from wenditas.core.look.shown import Shown
from wenditas.core.tone.lut import Lut
from wenditas.formats.cube import write_cube
from wenditas.media.convert import to_rgb8
from wenditas.media.probe import inspect
from wenditas.media.reader import Reader
from wenditas.project.files import Loaded
from wenditas.render.job import Job, MediaFile, UsedFile
from wenditas.render.options import ExportOptions
from wenditas.render.request import Request

LOOK = parse_look(
    {
        "selections": [{"id": "s", "name": "S", "keys": [{"type": "lightness"}]}],
        "passes": [
            {"id": "l", "name": "l", "treatment": "lut", "params": {"lut": "bent"}},
            {"id": "t", "name": "t", "treatment": "trails", "params": {"copies": 2}},
            {"id": "g", "name": "g", "treatment": "grain"},
        ],
        "lanes": [{"target": "passes/l/amount", "keyframes": [{"frame": 0, "value": 0}, {"frame": 9, "value": 100}]}],
    }
)


def test_requests_survive_json(tmp_path: Path) -> None:
    path = make_clip(tmp_path / "a.mp4", count=6)
    asked = Request(node=shot_of(LOOK, Reader(path, *inspect(path))), frame=3, width=160, shown=Shown(view="matte", selection="s"), proxy=True)
    again = Request.model_validate(json.loads(asked.model_dump_json()))
    assert again == asked and again.size == (120, 160)
    assert again.resolved().digest == asked.resolved().digest


@pytest.mark.parametrize("threads", ["1", "3"])
def test_a_job_renders_the_same_in_another_process_with_any_number_of_threads(tmp_path: Path, threads: str) -> None:
    path = make_clip(tmp_path / "a.mp4", count=10)
    reader = Reader(path, *inspect(path))
    reader.index.save(tmp_path / "a.npz")
    lut = Lut("bent", np.random.default_rng(2).random((5, 5, 5, 3), np.float32))
    (tmp_path / "bent.cube").write_text(write_cube(lut))
    node = shot_of(LOOK, reader).model_copy(update={"files": ("bent",)})
    job = Job(
        node=node, first=2, last=8, options=ExportOptions(shows="alpha", format="png-8", selection="s"),
        target=tmp_path / "out.zip", segments=tmp_path / "segments",
        media={"clip": MediaFile(path=path, index=tmp_path / "a.npz", facts=reader.facts)}, files={"bent": UsedFile(path=tmp_path / "bent.cube")},
    )  # fmt: skip
    (tmp_path / "job.json").write_text(job.model_dump_json())
    assert Job.model_validate_json((tmp_path / "job.json").read_text()) == job
    command = [sys.executable, "-m", "wenditas.render.worker", str(tmp_path / "job.json")]
    done = subprocess.run(command, capture_output=True, text=True, env={**os.environ, "WENDITAS_THREADS": threads})
    assert json.loads(done.stdout.splitlines()[-1])["finished"]["frames"] == 7, done.stderr
    with zipfile.ZipFile(tmp_path / "out.zip") as archive:
        for n in (2, 5, 8):
            image = cv2.imdecode(np.frombuffer(archive.read(f"{n:06d}.png"), np.uint8), cv2.IMREAD_UNCHANGED)
            ours = rendered(LOOK, n, reader, files=Files({"bent": lut}), used=("bent",))
            assert np.array_equal(image[:, :, 2::-1], to_rgb8(ours)), n


def test_loaded_files_are_kept_by_their_bytes() -> None:
    asked: list[str] = []

    def load(digest: str) -> Lut:
        asked.append(digest)
        if digest == "gone":
            raise NotFound("gone")
        return Lut(digest, np.zeros((100, 3), np.float32))  # 1200 bytes

    files = Files(Loaded(load, limit=3000))
    assert files.find("a", Lut) is files.find("a", Lut) and files.find("gone", Lut) is None and asked == ["a", "gone"]
    for digest in "bcb":
        files.find(digest, Lut)
    assert asked == ["a", "gone", "b", "c"]
    files.find("a", Lut)
    assert asked[-1] == "a" and len(Loaded(load, limit=10)) == 0
    alone = Files(Loaded(load, limit=10))
    assert alone.find("a", Lut) is alone.find("a", Lut)  # the newest is kept whatever its size
