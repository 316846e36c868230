"""Fixtures shared by all tests."""

import subprocess
from importlib import resources
from pathlib import Path

import numpy as np
import pytest

from tests.command_line import COMMAND
from wenditas.core.kernel import Picture


@pytest.fixture(scope="session")
def tram_clip() -> Path:
    """The shipped demo clip."""
    with resources.as_file(resources.files("wenditas.demo") / "footage" / "tram-up-the-hill.mp4") as path:
        return Path(path)


@pytest.fixture(scope="session")
def demo_data(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A data folder with the demo project, made once; every server gets a copy."""
    data = tmp_path_factory.mktemp("demo") / "data"
    subprocess.run([*COMMAND, "demo", "--data", str(data), "--prepare-only"], check=True)
    return data


@pytest.fixture
def random_picture() -> Picture:
    """A picture of random colours, odd in both directions."""
    return np.random.default_rng(7).random((3, 37, 53), np.float32)
