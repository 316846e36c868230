"""An application on a fresh data folder, with a project and a clip."""

import shutil
import time
from collections.abc import Iterator
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from tests.media.clips import make_clip
from wenditas.api.app import create_app

BASE = "http://127.0.0.1:8610"


@pytest.fixture(scope="session")
def clip_made(tmp_path_factory: pytest.TempPathFactory) -> Path:
    return make_clip(tmp_path_factory.mktemp("clip") / "clip.mp4", sound="aac")


@pytest.fixture
def clip(tmp_path: Path, clip_made: Path) -> Path:
    """A clip of a second, the test's own."""
    return Path(shutil.copy(clip_made, tmp_path / "clip.mp4"))


@pytest.fixture(scope="session")
def begun(tmp_path_factory: pytest.TempPathFactory, clip_made: Path) -> tuple[Path, str]:
    """A data folder with a project, the clip and its shot, made once, and the id of the shot; every test that asks for a shot gets a copy."""
    data = tmp_path_factory.mktemp("begun") / "data"
    with TestClient(create_app(data), base_url=BASE) as client:
        project = client.post("/api/projects", json={"name": "Film"}).json()["id"]
        made = client.post(f"/api/footage/{send(client, project, clip_made).json()['id']}/shots").json()
    return data, made["id"]


@pytest.fixture
def client(tmp_path: Path, request: pytest.FixtureRequest) -> Iterator[TestClient]:
    if "shot" in request.fixturenames:
        shutil.copytree(request.getfixturevalue("begun")[0], tmp_path / "data")
    with TestClient(create_app(tmp_path / "data"), base_url=BASE) as test_client:
        yield test_client


@pytest.fixture(scope="module")
def together(begun: tuple[Path, str], tmp_path_factory: pytest.TempPathFactory) -> Iterator[TestClient]:
    """One application for those tests of a file that each work on a shot of their own."""
    data = tmp_path_factory.mktemp("together") / "data"
    shutil.copytree(begun[0], data)
    with TestClient(create_app(data), base_url=BASE) as test_client:
        yield test_client


@pytest.fixture
def new_shot(together: TestClient, begun: tuple[Path, str]) -> dict:
    """A shot of the clip that no other test has."""
    footage = together.get(f"/api/shots/{begun[1]}").json()["footage"]["id"]
    made = together.post(f"/api/footage/{footage}/shots").json()
    return together.get(f"/api/shots/{made['id']}").json()


@pytest.fixture
def project(client: TestClient) -> str:
    there = client.get("/api/projects").json()
    return there[0]["id"] if there else client.post("/api/projects", json={"name": "Film"}).json()["id"]


def send(client: TestClient, project: str, path: Path, name: str | None = None):
    return client.post(f"/api/projects/{project}/footage", params={"name": name or path.name}, content=path.read_bytes())


@pytest.fixture
def shot(client: TestClient, project: str, begun: tuple[Path, str]) -> dict:
    return client.get(f"/api/shots/{begun[1]}").json()


def edited(client: TestClient, view: dict, commands: list, words: str = "Edit"):
    return client.post(f"/api/shots/{view['shot']['id']}/edits", json={"base": view["revision"], "commands": commands, "words": words})


def wait_for(condition, seconds: float = 300):
    deadline = time.monotonic() + seconds
    while time.monotonic() < deadline:
        found = condition()
        if found:
            return found
        time.sleep(0.05)
    raise AssertionError("it did not happen")
