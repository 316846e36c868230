"""Files that are read in a process of their own: whose fault it is that one cannot be."""

import logging
from pathlib import Path

import pytest

from wenditas.core.errors import FootageRefused
from wenditas.media.apart import asked


def test_a_fault_of_the_program_is_not_blamed_on_the_file(tram_clip: Path, caplog: pytest.LogCaptureFixture) -> None:
    """A newer library took away an option: sound footage was called damaged, and nothing was to be found in the log."""
    with caplog.at_level(logging.ERROR), pytest.raises(FootageRefused, match=r"did not expect .*TypeError.*no_such_option") as refused:
        asked("tests.media.wrong_call", tram_clip, seconds=60)
    assert "damaged" not in str(refused.value)
    assert "Traceback" in caplog.text and "wrong_call" in caplog.text
