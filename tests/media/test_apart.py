"""Files that are read in a process of their own: whose fault it is that one cannot be, and where such processes come from."""

import logging
import os
import resource
import signal
import subprocess
import sys
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import psutil
import pytest

from tests.api.conftest import wait_for
from wenditas.core.errors import FootageRefused
from wenditas.media.apart import asked
from wenditas.stem import stem_of


def test_a_fault_of_the_program_is_not_blamed_on_the_file(tram_clip: Path, caplog: pytest.LogCaptureFixture) -> None:
    """A newer library took away an option: sound footage was called damaged, and nothing was to be found in the log."""
    with caplog.at_level(logging.ERROR), pytest.raises(FootageRefused, match=r"did not expect .*TypeError.*no_such_option") as refused:
        asked("tests.media.wrong_call", tram_clip, seconds=60)
    assert "damaged" not in str(refused.value)
    assert "Traceback" in caplog.text and "wrong_call" in caplog.text


def _told(*words: str) -> dict[str, int]:
    return asked("tests.media.told_process", *words, seconds=60)


def test_what_is_needed_is_loaded_once_for_all_files() -> None:
    with ThreadPoolExecutor(4) as pool:
        told = list(pool.map(lambda n: _told(), range(8)))
    assert len({t["process"] for t in told}) == 8
    assert len({t["stem"] for t in told}) == 1 and told[0]["stem"] != os.getpid()
    assert stem_of("tests.media.told_process").run([], 60)[1] == "", "nothing is complained about"


def test_it_can_be_made_ready_before_it_is_needed() -> None:
    stem = stem_of("tests.media.told_process")
    stem.ready()
    (ready,) = (p for p in psutil.Process().children() if "tests.media.told_process" in p.cmdline())
    assert _told()["stem"] == ready.pid


def test_a_server_with_many_open_files_reads_on() -> None:
    """A call that waits for a file by a table of 1,024 refuses those that lie beyond it."""
    soft, hard = resource.getrlimit(resource.RLIMIT_NOFILE)
    resource.setrlimit(resource.RLIMIT_NOFILE, (min(4096, hard), hard))
    many = [os.open(os.devnull, os.O_RDONLY) for _ in range(1100)]
    try:
        assert _told()["process"]
    finally:
        for file in many:
            os.close(file)
        resource.setrlimit(resource.RLIMIT_NOFILE, (soft, hard))


def test_one_that_was_ended_from_outside_is_followed_by_another() -> None:
    stem = _told()["stem"]
    os.kill(stem, signal.SIGKILL)
    wait_for(lambda: not psutil.pid_exists(stem) or psutil.Process(stem).status() == psutil.STATUS_ZOMBIE)
    assert _told()["stem"] != stem


def test_a_file_that_takes_too_long_is_given_up_and_leaves_no_process() -> None:
    stem = psutil.Process(_told()["stem"])
    with pytest.raises(FootageRefused, match="more than 1 seconds"):
        asked("tests.media.told_process", "wait", seconds=1)
    wait_for(lambda: not stem.children())
    assert _told()["stem"] == stem.pid


def test_none_is_left_when_whoever_asked_has_gone() -> None:
    script = "from wenditas.media.apart import asked; print(asked('tests.media.told_process', seconds=60)['stem'])"
    done = subprocess.run([sys.executable, "-c", script], capture_output=True, text=True, check=True)
    wait_for(lambda: not psutil.pid_exists(int(done.stdout)))


def test_a_module_that_cannot_be_loaded_is_said() -> None:
    with pytest.raises(FootageRefused):
        asked("tests.media.there_is_none", seconds=60)
