"""The look as a JSON file of its own: `{"format": "wenditas-look", "name": ..., "look": {...}}`."""

import json
from typing import Any

from wenditas.core.errors import BadLook
from wenditas.core.look.document import Look, parse_look

FORMAT = "wenditas-look"
MOST_BYTES = 4 << 20


def write_look(look: Look, name: str) -> str:
    """The file's text, readable by a person."""
    return json.dumps({"format": FORMAT, "name": name, "look": look.model_dump(mode="json")}, indent=2, ensure_ascii=False) + "\n"


def read_look(text: str | bytes) -> tuple[str, Look]:
    """Name and look from a file's text. Raises `BadLook` with what is wrong."""
    if len(text) > MOST_BYTES:
        raise BadLook(f"A look file is at most {MOST_BYTES >> 20} MiB.")
    try:
        data: Any = json.loads(text)
    except (json.JSONDecodeError, UnicodeDecodeError) as error:
        raise BadLook(f"This file is not JSON: {error}") from error
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise BadLook(f'This JSON is not a look: it should say "format": "{FORMAT}".')
    name = data.get("name")
    return (name if isinstance(name, str) and name else "Look")[:80], parse_look(data.get("look"))
