"""`python -m bench.fuzz [DATA]`: every route of the API is asked for what its description allows, and for what it does not, by schemathesis.

No answer may be a fault of the server (5xx), and none may take longer than two seconds, but of those that say so. In two rounds: with the ids
of the demo, so that requests go deep, and nothing is removed; then with every method, on whatever ids are made up or come back in answers.
DATA is a folder that has the demo already, of which a copy is taken.
"""

import json
import os
import shutil
import subprocess
import sys
import tempfile
from pathlib import Path

from bench.timing import at_most, once
from tests.faults.conftest import Outside, outside

API = Path(__file__).parents[1] / "web" / "openapi.json"
SECONDS = int(os.environ.get("WENDITAS_FUZZ_SECONDS", "600"))
SLOWEST = 2.0  # seconds
ENDLESS = r"/events$|/over-time/|/tracks$|/objects$"  # streams, which go on as long as there is something to tell
SAYS_SO = r"/projects/demo$|/projects/archive$|/archive\.zip$|/likeness$|/match$|/exports/estimate$"  # the page tells how far they are
CHECKS = ["--checks", "not_a_server_error", "--continue-on-failure", "--no-shrink", "--seed", "1", "--request-timeout", "120"]
SHORT = ["--phases", "fuzzing", "--max-examples", "1", "--include-path-regex", r"^/api/(catalogue|shots/\{shot_id\})$"]  # to show that it runs


def _ids(server: Outside) -> dict[str, object]:
    """What there is to ask for: the first of each kind."""
    project = server.client.post("/api/projects/demo").raise_for_status().json()["id"]
    view = server.client.get(f"/api/projects/{project}").json()
    shot, reel = view["shots"][0], server.client.get(f"/api/projects/{project}/reel").json()
    return {"project_id": project, "footage_id": view["footage"][0]["id"], "shot_id": shot["id"], "reel_id": reel["reel_id"], "revision": shot["head"]}


def _fuzzed(server: Outside, folder: Path, ids: dict[str, object], which: list[str]) -> dict:  # type: ignore[type-arg]
    """What schemathesis tells of some routes."""
    config, told = folder / "fuzz.toml", folder / "told.json"
    config.write_text("".join(["[parameters]\n", *(f'"path.{name}" = {json.dumps(value)}\n' for name, value in ids.items())]))
    which = SHORT if once() else which
    command = [sys.executable, "-m", "schemathesis.cli", "--config-file", str(config), "run", str(API), "--url", server.url, "--report-json-path", str(told)]
    done = subprocess.run([*command, *CHECKS, *which], cwd=folder, capture_output=True, text=True)
    if not told.exists():
        raise SystemExit(done.stdout + done.stderr)
    print("\n".join(line for line in done.stdout.splitlines() if line.strip().startswith(("curl ", "Actual:", "- ST"))))
    return dict(json.loads(told.read_text()))


def _round(server: Outside, folder: Path, what: str, ids: dict[str, object], kept: list[str]) -> int:
    """The routes that answer at once, and those that say that they take longer. Returns how many failures were found."""
    found = 0
    quick = ["--exclude-path-regex", f"{ENDLESS}|{SAYS_SO}", "--max-response-time", str(SLOWEST), "--max-time", str(SECONDS // 2 * 9 // 10), *kept]
    slow = ["--include-path-regex", SAYS_SO, "--max-time", str(max(1, SECONDS // 20)), *kept]
    for speed, which in (("answered at once", quick), ("that say how long they take", slow))[: at_most(2, 1)]:
        told = _fuzzed(server, folder, ids, which)
        failures = [f"{f['title']} ({', '.join(f['operations'])})" for f in told["failures"]]
        count = f"{told['operations']['tested']} operations, {told['test_cases']['generated']} requests in {told['running_time']:.0f} s"
        print(f"{what}, {speed}: {count}; {len(failures)} failures {'; '.join(failures)}", flush=True)
        found += len(failures)
    return found


def main(demo: Path | None = None) -> int:
    """Both rounds, on a copy of a folder with the demo where there is one. Returns how many failures were found."""
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        if demo:
            shutil.copytree(demo, folder / "data")
        with outside(folder / "data") as server:
            rounds = (("with the demo's ids", _ids(server), ["--exclude-method", "DELETE"]), ("with any ids", {}, []))
            found = sum(_round(server, folder, *which) for which in rounds[: at_most(2, 1)])
            server.client.get("/api/projects").raise_for_status()
    return found


if __name__ == "__main__":
    sys.exit(min(main(*map(Path, sys.argv[1:])), 1))
