"""Fixtures shared by all tests."""

import hashlib
import shutil
import subprocess
from importlib import resources
from pathlib import Path

import numpy as np
import pytest
from filelock import FileLock
from hypothesis import settings

from tests.command_line import COMMAND
from tests.examples import TIMES
from wenditas.core.kernel import Picture

ROOT = Path(__file__).parents[1]
# The same examples every time, so that a commit fails for what it changed; the soak looks for others.
settings.register_profile("same", derandomize=TIMES == 1)
settings.load_profile("same")


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """What is left to the soak says what else finds its fault."""
    for item in items:
        mark = item.get_closest_marker("long")
        assert mark is None or mark.kwargs.get("found_by"), f"{item.nodeid} is long, but does not say what else finds its fault"


@pytest.fixture(scope="session")
def tram_clip() -> Path:
    """The shipped demo clip."""
    with resources.as_file(resources.files("wenditas.demo") / "footage" / "tram-up-the-hill.mp4") as path:
        return Path(path)


@pytest.fixture(scope="session")
def demo_data() -> Path:
    """A data folder with the demo project, made once for a state of the program; every server gets a copy."""
    data = ROOT / ".stamps" / f"demo-{_state()}"
    with FileLock(f"{data}.lock"):
        if not data.is_dir():
            for old in (*data.parent.glob("demo-*"), *data.parent.glob("seen-*")):
                if old.is_dir():
                    shutil.rmtree(old)
            part = data.with_name("part")
            shutil.rmtree(part, ignore_errors=True)
            subprocess.run([*COMMAND, "demo", "--data", str(part), "--prepare-only"], check=True)
            part.rename(data)
    return data


def _state() -> str:
    """A name for all that a data folder is made of."""
    found = hashlib.sha256()
    for path in sorted(p for p in (ROOT / "wenditas").rglob("*") if p.suffix in {".py", ".sql", ".json", ".mp4"} and "site" not in p.parts):
        found.update(path.read_bytes())
    return found.hexdigest()[:16]


@pytest.fixture
def random_picture() -> Picture:
    """A picture of random colours, odd in both directions."""
    return np.random.default_rng(7).random((3, 37, 53), np.float32)
