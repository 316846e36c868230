"""Fixtures shared by all tests."""

from importlib import resources
from pathlib import Path

import numpy as np
import pytest
from hypothesis import settings

from tests import prepared
from tests.examples import TIMES
from wenditas.core.kernel import Picture

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
    """A data folder with the demo project; every server gets a copy."""
    return prepared.demo()


@pytest.fixture
def random_picture() -> Picture:
    """A picture of random colours, odd in both directions."""
    return np.random.default_rng(7).random((3, 37, 53), np.float32)
