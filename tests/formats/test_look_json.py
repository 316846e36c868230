"""Looks as files."""

import json
from importlib import resources

import pytest

from wenditas.core.errors import BadLook
from wenditas.core.look.document import parse_look
from wenditas.formats.look_json import MOST_BYTES, read_look, write_look


def test_round_trip() -> None:
    look = parse_look({"passes": [{"id": "a", "name": "Grey", "treatment": "monochrome"}]})
    assert read_look(write_look(look, "Näme / 1")) == ("Näme / 1", look)


def test_shipped_looks_are_valid() -> None:
    files = [f for f in (resources.files("wenditas.demo") / "looks").iterdir() if f.name.endswith(".json")]
    assert len(files) == 7
    for file in files:
        name, look = read_look(file.read_bytes())
        assert name and look.passes and all(p.known for p in look.passes)


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("", "not JSON"),
        ("{", "not JSON"),
        (b"\xff\xfe", "not JSON"),
        ("[]", "wenditas-look"),
        ('{"format": "other"}', "wenditas-look"),
        ('{"format": "wenditas-look"}', "JSON object"),
        (json.dumps({"format": "wenditas-look", "look": {"schema_version": 99}}), "newer"),
        (" " * (MOST_BYTES + 1), "at most"),
        ('{"format": "wenditas-look", "look": {"passes": [{"id": "a", "name": "a", "treatment": "saturation", "params": {"saturation": NaN}}]}}', "saturation"),
    ],
)
def test_bad_files_say_why(text: str | bytes, says: str) -> None:
    with pytest.raises(BadLook, match=says):
        read_look(text)
