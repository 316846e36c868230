"""A look as a LUT, over the wire and from the command line: read again, and applied by OpenColorIO."""

import json
from functools import partial
from pathlib import Path

import numpy as np
import PyOpenColorIO as ocio
from fastapi.testclient import TestClient

from tests.api.conftest import edited
from tests.command_line import run_here
from wenditas.core.look.as_lut import lattice
from wenditas.core.look.document import Look, Pass
from wenditas.core.tone.lut import apply_lut
from wenditas.formats.cube import read_cube
from wenditas.formats.look_json import write_look

PASSES = [
    {"id": "a", "name": "Grey", "treatment": "monochrome", "amount": 60},
    {"id": "b", "name": "Soft", "treatment": "gaussian-blur"},
    {"id": "c", "name": "Brighter", "treatment": "exposure", "params": {"stops": 0.4}},
]


def dressed(client: TestClient, shot: dict) -> dict:
    return edited(client, shot, [{"do": "set", "target": "look/passes", "value": PASSES}]).json()


def through(path: Path, colours: np.ndarray) -> np.ndarray:
    """Colours through a .cube file by OpenColorIO, tetrahedral."""
    transform = ocio.FileTransform(str(path), interpolation=ocio.Interpolation.INTERP_TETRAHEDRAL)
    processor = ocio.Config.CreateRaw().getProcessor(transform).getDefaultCPUProcessor()
    pixels = np.ascontiguousarray(colours.reshape(3, -1).T, np.float32)
    processor.applyRGB(pixels)
    return pixels.T.reshape(colours.shape)


def test_what_is_left_out_is_said_and_measured(client: TestClient, shot: dict, tmp_path: Path) -> None:
    view = dressed(client, shot)
    url = f"/api/shots/{view['shot']['id']}/lut/{view['revision']}/3"
    told = client.get(url).json()
    assert [x["name"] for x in told["left_out"]] == ["Soft"] and "around each pixel" in told["left_out"][0]["why"]
    assert 0 < told["mean"] < told["largest"]
    answer = client.get(f"{url}.cube", params={"size": 17})
    (tmp_path / "look.cube").write_text(answer.text)
    lut = read_cube(answer.text)
    assert lut.size == 17 and ".cube" in answer.headers["content-disposition"]
    colours = np.random.default_rng(2).random((3, 20, 20)).astype(np.float32)
    assert np.abs(through(tmp_path / "look.cube", colours) - apply_lut(colours, lut)).max() < 2e-5
    assert client.get(url, params={"size": 40}).status_code == 422
    without = edited(client, view, [{"do": "remove", "target": "look/passes/b"}]).json()
    whole = client.get(f"/api/shots/{view['shot']['id']}/lut/{without['revision']}/3").json()
    assert whole["left_out"] == [] and whole["mean"] < 0.5 < told["mean"] + 0.5


def test_from_the_command_line(tmp_path: Path) -> None:
    look = Look(passes=tuple(Pass.model_validate(p) for p in PASSES))
    (tmp_path / "look.json").write_text(write_look(look, "Autumn"))

    run = partial(run_here, "lut", str(tmp_path / "look.json"), cwd=tmp_path)
    done = run(str(tmp_path / "out.cube"), "--size", "17")
    assert done.returncode == 0 and "Left out: Soft" in done.stdout and "2 of 3 passes" in " ".join(done.stdout.split()), done.stderr
    lut = read_cube((tmp_path / "out.cube").read_text())
    assert lut.title == "Autumn" and not np.allclose(apply_lut(lattice(17), lut), lattice(17))
    again = run(str(tmp_path / "out.cube"))
    assert again.returncode == 1 and "exists already" in again.stderr and "Traceback" not in again.stderr
    assert run(str(tmp_path / "b.cube"), "--size", "40").returncode == 1
    (tmp_path / "look.json").write_text(json.dumps({"format": "other"}))
    assert "not a look" in " ".join(run(str(tmp_path / "c.cube")).stderr.split())


def test_a_look_that_is_a_decision_list_goes_out_as_one(client: TestClient, shot: dict) -> None:
    params = {"slope_red": 1.2, "offset_green": -0.05, "power_blue": 0.9, "saturation": 0.8}
    edit = [{"do": "add", "target": "look/passes", "value": {"id": "c", "name": "C", "treatment": "cdl", "params": params}}]
    view = client.post(f"/api/shots/{shot['shot']['id']}/edits", json={"base": shot["revision"], "commands": edit, "words": "C"}).json()
    url = f"/api/shots/{shot['shot']['id']}/lut"
    assert client.get(f"{url}/{view['revision']}/0").json()["cdl"]
    text = client.get(f"{url}/{view['revision']}/0.cdl").text
    read = client.post("/api/decision-lists/read", json={"text": text}).json()
    assert {k: read[0]["params"][k] for k in params} == params
    assert client.get(f"{url}/{shot['revision']}/0.cdl").status_code == 422 and not client.get(f"{url}/{shot['revision']}/0").json()["cdl"]
    half = [{"do": "set", "target": "look/passes/c/amount", "value": 50}]
    view = client.post(f"/api/shots/{shot['shot']['id']}/edits", json={"base": view["revision"], "commands": half, "words": "C"}).json()
    assert client.get(f"{url}/{view['revision']}/0.cdl").status_code == 422
