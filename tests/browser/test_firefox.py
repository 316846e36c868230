"""A second browser: the main job in Debian's Firefox, over WebDriver BiDi."""

import json
import shutil
import subprocess
import urllib.request
from pathlib import Path

import pytest

from tests.browser.conftest import Server
from tests.media.clips import read_independently


@pytest.mark.long(found_by="the same job in Chromium: test_one_colour_stays.py; what Firefox alone does otherwise, the soak")
def test_pick_treat_play_and_export(server: Server, tmp_path: Path) -> None:
    firefox = shutil.which("firefox-esr")
    assert firefox, "Debian's firefox-esr is needed: `make soak` installs it"
    walk = subprocess.run(["node", str(Path(__file__).with_name("firefox.mjs")), server.url, firefox], capture_output=True, text=True, timeout=900)
    assert walk.returncode == 0, walk.stdout + walk.stderr
    seen = json.loads(walk.stdout.splitlines()[-1])
    assert seen["problems"] == []
    red, green, blue = seen["after"]["tram"]
    assert red > green + 40 and red > blue + 40
    assert seen["after"]["tram"] == pytest.approx(seen["before"]["tram"], abs=6)  # it stays
    assert max(seen["after"]["sky"]) - min(seen["after"]["sky"]) <= 3 < max(seen["before"]["sky"]) - min(seen["before"]["sky"])  # and the sky is grey
    assert seen["sideways"] == []
    assert seen["bars"] and all(width == "thin" for width, _ in seen["bars"])
    assert seen["played"] >= 3
    assert "About" in seen["about"]
    target = tmp_path / "fox.mp4"
    with urllib.request.urlopen(server.url + seen["file"]) as answer:
        target.write_bytes(answer.read())
    frames = read_independently(target)[0]
    assert len(frames) == 24
    height, width = frames[12].shape[:2]
    sky = frames[12][int(0.1 * height), int(0.05 * width)].astype(int)
    assert sky.max() - sky.min() <= 4
