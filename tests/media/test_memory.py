"""A total of memory: how it is written, and what the caches have of it."""

import pytest

from wenditas.core.errors import BadRequest
from wenditas.media.memory import ASKED, CACHES, EXPORT_CACHES, bytes_of, room, room_of_export


@pytest.mark.parametrize(
    ("text", "wanted"), [("1G", 1 << 30), ("1.5g", 3 << 29), ("900M", 900 << 20), ("2GiB", 2 << 30), ("1073741824", 1 << 30), (" 800 mb ", 800 << 20)]
)
def test_amounts_are_read_as_people_write_them(text: str, wanted: int) -> None:
    assert bytes_of(text) == wanted


@pytest.mark.parametrize("text", ["", "much", "1T", "-1G", "100M", "0"])
def test_what_is_none_or_too_little_says_so(text: str) -> None:
    with pytest.raises(BadRequest):
        bytes_of(text)


def test_caches_are_as_they_are_made_until_a_total_is_asked_for(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.delenv(ASKED, raising=False)
    assert room(256 << 20) == 256 << 20 and room_of_export(640 << 20) == 640 << 20
    for total in (768 << 20, 1 << 30, 2 << 30, 4 << 30):
        monkeypatch.setenv(ASKED, str(total))
        assert 0 < room(CACHES) + room_of_export(EXPORT_CACHES) < total  # with room for what they stand on
        assert room(256 << 20) <= 256 << 20
    monkeypatch.setenv(ASKED, str(64 << 30))
    assert room(256 << 20) == 256 << 20  # never more than they are made for
