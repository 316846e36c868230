"""What is taken in, opened and looked at does not pile up. `WENDITAS_UPLOADS=500` does as much as the proof asks for."""

import os
import threading
from pathlib import Path

import psutil
import pytest

from tests.api.conftest import wait_for
from tests.faults.conftest import Inside
from tests.media.clips import make_clip

FIRST = 12  # until caches that have limits are warm
UPLOADS = int(os.environ.get("WENDITAS_UPLOADS", "20"))


@pytest.mark.long(found_by="nothing: a leak shows over time alone")
def test_files_threads_and_bytes_stay_level_over_many_uploads(inside: Inside, tmp_path: Path) -> None:
    me = psutil.Process()
    project = inside.client.post("/api/projects", json={"name": "Film"}).json()["id"]
    clip = make_clip(tmp_path / "a.mp4", width=64, height=48, count=30, sound="aac").read_bytes()

    def use(n: int) -> None:
        footage = inside.client.post(f"/api/projects/{project}/footage", params={"name": f"{n}.mp4"}, content=clip + bytes(n + 1)).json()
        shot = inside.client.post(f"/api/footage/{footage['id']}/shots").json()
        for path in ("poster.jpg", "strip.jpg", "sound.wav", "frames/7.jpg"):
            assert inside.client.get(f"/api/footage/{footage['id']}/{path}").status_code == 200
        for path in ("census/3.png", "colours/5", f"pictures/{shot['head']}/9.png"):
            assert inside.client.get(f"/api/shots/{shot['id']}/{path}").status_code == 200

    def held() -> tuple[int, int, float]:
        wait_for(lambda: inside.services.background.bustle.quiet_for() > 0.1)
        return me.num_fds(), me.num_threads(), me.memory_info().rss / (1 << 20)

    for n in range(FIRST):
        use(n)
    before = held()
    for n in range(FIRST, FIRST + UPLOADS):
        use(n)
    after = held()
    print(f"{UPLOADS} uploads: files {before[0]} -> {after[0]}, threads {before[1]} -> {after[1]}, MiB {before[2]:.0f} -> {after[2]:.0f}")
    assert after[0] <= before[0] + 12 and after[1] <= before[1] + 12 and after[2] <= before[2] + 200  # caches, which have limits, fill


def test_readers_of_the_database_are_a_few_whatever_the_threads(inside: Inside) -> None:
    before = psutil.Process().num_fds()

    def read() -> None:
        for _ in range(3):
            inside.services.db.rows("SELECT 1")

    for _ in range(30):
        batch = [threading.Thread(target=read) for _ in range(10)]
        for thread in batch:
            thread.start()
        for thread in batch:
            thread.join()
    assert psutil.Process().num_fds() <= before + 12
