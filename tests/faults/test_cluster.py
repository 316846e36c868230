"""A real cluster on this machine: two workers, of which one is killed on the way."""

import os
import re
import signal
import subprocess
import sys
from fractions import Fraction
from pathlib import Path

import pytest

from tests.api.conftest import wait_for
from tests.command_line import run
from tests.media.clips import make_clip
from wenditas.core.errors import Cancelled, ExportFailed
from wenditas.core.look.document import Look, parse_look
from wenditas.formats.look_json import write_look
from wenditas.media.probe import inspect
from wenditas.render.cluster import Cluster
from wenditas.render.from_file import job_from_file
from wenditas.render.job import Job
from wenditas.render.options import ExportOptions
from wenditas.render.perform import Here, perform

LOOK = parse_look({"passes": [{"id": "m", "name": "M", "treatment": "monochrome"}]})


class Machines:
    """A scheduler and two workers, each a process of its own."""

    def __init__(self, folder: Path) -> None:
        self.logs = folder
        self.scheduler = self._start("scheduler", "--port", "0", "--no-dashboard", "--host", "127.0.0.1")
        wait_for(lambda: self.said("scheduler", r"Scheduler at:\s+(tcp://\S+)"))
        self.address = self.said("scheduler", r"Scheduler at:\s+(tcp://\S+)")
        self.workers = [self._start("worker", self.address, "--nthreads", "1", "--no-nanny", "--no-dashboard", "--name", str(n)) for n in range(2)]
        wait_for(lambda: len(re.findall("Registered to", self._log("worker"))) == 2, 60)

    def _start(self, what: str, *words: str) -> subprocess.Popen[bytes]:
        log = (self.logs / f"{what}.log").open("ab")
        env = {**os.environ, "DASK_DISTRIBUTED__SCHEDULER__ALLOWED_FAILURES": "5"}
        return subprocess.Popen([sys.executable, "-m", "distributed.cli.dask_" + what, *words], stdout=log, stderr=log, cwd=self.logs, env=env)

    def _log(self, what: str) -> str:
        path = self.logs / f"{what}.log"
        return path.read_text("utf-8", "replace") if path.exists() else ""

    def said(self, what: str, pattern: str) -> str:
        found = re.search(pattern, self._log(what))
        return found[1] if found else ""

    def stop(self) -> None:
        for process in (*self.workers, self.scheduler):
            process.kill()
            process.wait()


@pytest.fixture(scope="module")
def machines(tmp_path_factory: pytest.TempPathFactory):  # type: ignore[no-untyped-def]
    made = Machines(tmp_path_factory.mktemp("machines"))
    yield made
    made.stop()


@pytest.fixture(scope="module")
def shared(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """Forty seconds: ten segments."""
    return make_clip(tmp_path_factory.mktemp("shared") / "a.mp4", count=480, rate=Fraction(12), sound="aac")


def job_of(clip: Path, folder: Path, digest: str = "", look: Look = LOOK) -> Job:
    folder.mkdir()
    facts, index = inspect(clip)
    return job_from_file(clip, facts, index, look, (0, facts.length - 1), folder / "out.mp4", ExportOptions(), folder / "work", digest=digest)


@pytest.mark.long(found_by="tests/render/test_segments.py: what several processes make, though one is killed")
def test_what_several_machines_make_is_what_one_makes_though_one_is_lost(machines: Machines, shared: Path, tmp_path: Path) -> None:
    alone = perform(job_of(shared, tmp_path / "alone"), executor=Here())
    wrong = Cluster(machines.address)
    with pytest.raises(ExportFailed, match="is another file"):
        perform(job_of(shared, tmp_path / "wrong", digest="0" * 64), executor=wrong)
    stops: list[int] = []
    with pytest.raises(Cancelled):
        perform(job_of(shared, tmp_path / "stopped"), lambda done, total: stops.append(done), lambda: bool(stops), wrong)
    moved = job_of(shared, tmp_path / "moved")
    gone = moved.media["input"].model_copy(update={"path": tmp_path / "not-there.mp4"})
    with pytest.raises(ExportFailed, match="does not see"):
        perform(Job.model_validate({**dict(moved), "media": {"input": gone}, "sound": None}), executor=wrong)
    wrong.close()
    cluster, killed = Cluster(machines.address), []

    def kill_one(done: int, total: int) -> None:
        if not killed:
            killed.append(machines.workers[0].pid)
            os.kill(machines.workers[0].pid, signal.SIGKILL)

    together = perform(job_of(shared, tmp_path / "together"), kill_one, executor=cluster)
    cluster.close()
    assert killed and together.digest == alone.digest and together.frames == 480
    (tmp_path / "look.json").write_text(write_look(LOOK, "Grey"))
    done = run("render", "look.json", str(shared), "out.mp4", "--on", machines.address, cwd=tmp_path)
    assert done.returncode == 0, done.stderr
    assert (tmp_path / "out.mp4").read_bytes() == (tmp_path / "together" / "out.mp4").read_bytes()


@pytest.mark.long(found_by="tests/render/test_segments.py: segments are named by the kind of processor")
def test_unlike_machines_are_said_before_they_are_mixed(machines: Machines, shared: Path, tmp_path: Path) -> None:
    """A worker that computes for another kind of processor: its 16-bit values differ in the last digit."""
    before = len(re.findall("Registered to", machines._log("worker")))
    env = {**os.environ, "WENDITAS_CPU": "generic"}
    log = (machines.logs / "worker.log").open("ab")
    words = [sys.executable, "-m", "distributed.cli.dask_worker", machines.address, "--nthreads", "1", "--no-nanny", "--no-dashboard", "--name", "other"]
    other = subprocess.Popen(words, stdout=log, stderr=log, cwd=machines.logs, env=env)
    try:
        wait_for(lambda: len(re.findall("Registered to", machines._log("worker"))) > before, 60)
        cluster = Cluster(machines.address)
        with pytest.raises(ExportFailed, match=r"another kind of processor \(generic, here .*WENDITAS_CPU=generic"):
            perform(job_of(shared, tmp_path / "mixed"), executor=cluster)
        cluster.close()
    finally:
        other.kill()
        other.wait()


def test_no_scheduler_is_said(tmp_path: Path) -> None:
    with pytest.raises(ExportFailed, match="no scheduler at"):
        Cluster("tcp://127.0.0.1:9", patience=1)
