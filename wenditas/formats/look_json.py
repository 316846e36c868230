"""The look as a JSON file of its own: `{"format": "wenditas-look", "name": ..., "look": {...}, "files": {...}}`."""

import base64
import binascii
import json
from dataclasses import dataclass
from typing import Any

from wenditas.core.errors import BadLook
from wenditas.core.look.document import Look, parse_look
from wenditas.core.select.tracks import WHOLE

FORMAT = "wenditas-look"
MOST_BYTES = 96 << 20


@dataclass(frozen=True)
class Carried:
    """A file that a look uses and that its file carries along."""

    name: str
    data: bytes


def write_look(look: Look, name: str, files: dict[str, Carried] | None = None) -> str:
    """The file's text, readable by a person; `files` (by digest) are carried along as base64."""
    data: dict[str, Any] = {"format": FORMAT, "name": name, "look": look.model_dump(mode="json", context=WHOLE)}
    if files:
        data["files"] = {digest: {"name": f.name, "data": base64.b64encode(f.data).decode()} for digest, f in files.items()}
    return json.dumps(data, indent=2, ensure_ascii=False) + "\n"


def data_of(text: str | bytes, form: str, what: str) -> dict[str, Any]:
    """The JSON object of a file of a format. Raises `BadLook`."""
    if len(text) > MOST_BYTES:
        raise BadLook(f"A {what} file is at most {MOST_BYTES >> 20} MiB.")
    try:
        data: Any = json.loads(text)
    except (json.JSONDecodeError, UnicodeDecodeError) as error:
        raise BadLook(f"This file is not JSON: {error}") from error
    if not isinstance(data, dict) or data.get("format") != form:
        raise BadLook(f'This JSON is not a {what}: it should say "format": "{form}".')
    return data


def read_look(text: str | bytes) -> tuple[str, Look]:
    """Name and look from a file's text. Raises `BadLook` with what is wrong."""
    data = data_of(text, FORMAT, "look")
    name = data.get("name")
    return (name if isinstance(name, str) and name else "Look")[:80], parse_look(data.get("look"))


def read_files(text: str | bytes) -> list[Carried]:
    """The files that a look file carries along. Raises `BadLook`."""
    return carried_files(data_of(text, FORMAT, "look"))


def carried_files(data: dict[str, Any]) -> list[Carried]:
    """The files that the data of a file carry along. Raises `BadLook`."""
    found = data.get("files", {})
    try:
        return [Carried(str(f["name"]), base64.b64decode(f["data"], validate=True)) for f in found.values()]
    except (AttributeError, KeyError, TypeError, binascii.Error) as error:
        raise BadLook("The files that this file carries along cannot be read.") from error
