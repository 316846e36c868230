"""An application on a fresh data folder, with a project and a clip."""

import time
from collections.abc import Iterator
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from tests.media.clips import make_clip
from wenditas.api.app import create_app

BASE = "http://127.0.0.1:8610"


@pytest.fixture
def client(tmp_path: Path) -> Iterator[TestClient]:
    with TestClient(create_app(tmp_path / "data"), base_url=BASE) as test_client:
        yield test_client


@pytest.fixture
def project(client: TestClient) -> str:
    return client.post("/api/projects", json={"name": "Film"}).json()["id"]


@pytest.fixture
def clip(tmp_path: Path) -> Path:
    return make_clip(tmp_path / "clip.mp4", sound="aac")


def send(client: TestClient, project: str, path: Path, name: str | None = None):
    return client.post(f"/api/projects/{project}/footage", params={"name": name or path.name}, content=path.read_bytes())


@pytest.fixture
def shot(client: TestClient, project: str, clip: Path) -> dict:
    footage = send(client, project, clip).json()
    made = client.post(f"/api/footage/{footage['id']}/shots").json()
    return client.get(f"/api/shots/{made['id']}").json()


def edited(client: TestClient, view: dict, commands: list, words: str = "Edit"):
    return client.post(f"/api/shots/{view['shot']['id']}/edits", json={"base": view["revision"], "commands": commands, "words": words})


def wait_for(condition, seconds: float = 60):
    deadline = time.monotonic() + seconds
    while time.monotonic() < deadline:
        found = condition()
        if found:
            return found
        time.sleep(0.05)
    raise AssertionError("it did not happen")
