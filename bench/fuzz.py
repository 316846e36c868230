"""`python -m bench.fuzz`: every route of the API is asked for what its description allows, and for what it does not, by schemathesis.

No answer may be a fault of the server (5xx), and none may take longer than two seconds. First with the ids of the demo, so that requests go
deep, and nothing is removed; then with all methods, on whatever ids are made up or come back in answers.
"""

import json
import os
import shutil
import subprocess
import sys
import tempfile
from collections import Counter
from pathlib import Path

from bench.timing import at_most
from tests.faults.conftest import Outside, outside

SECONDS = at_most(int(os.environ.get("WENDITAS_FUZZ_SECONDS", "600")), 6)
SLOWEST = 2.0  # seconds
ENDLESS = r"/(events|over-time/|tracks$|objects$)"  # streams: they go on as long as there is something to tell
ASSEMBLED = r"\.zip$|/archive|/sound"  # whole files: they say how long they take as they arrive


def _ids(server: Outside) -> dict[str, object]:
    """What there is to ask for: the first of each kind."""
    project = server.client.get("/api/projects").json()[0]["id"]
    view = server.client.get(f"/api/projects/{project}").json()
    shot = view["shots"][0]
    reel = server.client.get(f"/api/projects/{project}/reel").json()
    return {
        "project_id": project,
        "footage_id": view["footage"][0]["id"],
        "shot_id": shot["id"],
        "reel_id": reel["reel_id"],
        "revision": shot["head"],
    }


def _config(ids: dict[str, object]) -> str:
    """What schemathesis is told: ids to use, and which routes may take their time."""
    known = "".join(f'"path.{name}" = {json.dumps(value)}\n' for name, value in ids.items())
    return f"[parameters]\n{known}\n" if ids else ""


def _fuzzed(server: Outside, folder: Path, ids: dict[str, object], methods: str, seconds: int) -> tuple[Counter[str], list[str]]:
    """How many requests of each kind were made, and what failed."""
    (folder / "fuzz.toml").write_text(_config(ids))
    (folder / "api.json").write_text(server.client.get("/openapi.json").text if not _described() else _described())
    told = folder / "told.ndjson"
    command = [sys.executable, "-m", "schemathesis.cli", "--config-file", str(folder / "fuzz.toml"), "run", str(folder / "api.json"), "--url", server.url]
    options = ["--origin", server.url, "--max-time", str(seconds), "--continue-on-failure", "--no-shrink", "--seed", "1", "--workers", "2"]
    checks = ["--checks", "not_a_server_error,max_response_time", "--max-response-time", str(SLOWEST), "--request-timeout", "60"]
    routes = ["--exclude-path-regex", ENDLESS, "--include-method-regex", methods]
    done = subprocess.run([*command, *options, *checks, *routes, "--report-ndjson-path", str(told)], cwd=folder, capture_output=True, text=True)
    return _read(told, done.stdout)


def _described() -> str:
    return (Path(__file__).parents[1] / "web" / "openapi.json").read_text()


def main() -> None:
    """Both rounds."""
