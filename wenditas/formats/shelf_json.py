"""A shelf as one JSON file: `{"format": "wenditas-shelf", "items": [{"kind", "name", "words", "tags", "look"}], "files": {...}}`."""

import base64
import hashlib
import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Literal

from wenditas.core.errors import BadLook
from wenditas.core.look.document import Look, parse_look
from wenditas.core.select.tracks import WHOLE
from wenditas.formats.look_json import Carried, carried_files, data_of

FORMAT = "wenditas-shelf"
MOST_ITEMS, MOST_TAGS = 2000, 20


@dataclass(frozen=True)
class Shelved:
    """Something on a shelf."""

    kind: Literal["look", "pass"]
    name: str
    words: str
    tags: tuple[str, ...]
    look: Look

    @property
    def digest(self) -> str:
        """A name for what it does: twins have the same, whatever they are called."""
        plain = self.look.model_dump(mode="json", context=WHOLE)
        return hashlib.sha256(json.dumps([self.kind, plain], sort_keys=True).encode()).hexdigest()


def write_shelf(items: Sequence[Shelved], files: Mapping[str, Carried]) -> str:
    """The file's text; `files` (by digest) are carried along as base64."""
    listed = [{"kind": i.kind, "name": i.name, "words": i.words, "tags": list(i.tags), "look": i.look.model_dump(mode="json", context=WHOLE)} for i in items]
    data: dict[str, Any] = {"format": FORMAT, "items": listed}
    if files:
        data["files"] = {digest: {"name": f.name, "data": base64.b64encode(f.data).decode()} for digest, f in files.items()}
    return json.dumps(data, indent=2, ensure_ascii=False) + "\n"


def read_shelf(text: str | bytes) -> tuple[list[Shelved], list[Carried]]:
    """Items, and the files that they use. Raises `BadLook` with what is wrong; then nothing of it is taken."""
    data = data_of(text, FORMAT, "shelf")
    items = data.get("items")
    if not isinstance(items, list) or len(items) > MOST_ITEMS:
        raise BadLook(f"A shelf is a list of at most {MOST_ITEMS} items.")
    return [_item(n, item) for n, item in enumerate(items, 1)], carried_files(data)


def _item(number: int, item: Any) -> Shelved:
    if not isinstance(item, dict) or item.get("kind") not in ("look", "pass") or not isinstance(item.get("name"), str) or not item["name"].strip():
        raise BadLook(f"Item {number} of this shelf has no kind or no name.")
    try:
        look = parse_look(item.get("look"))
    except BadLook as error:
        raise BadLook(f"Item {number} of this shelf, “{item['name'][:80]}”: {error}") from error
    tags = item.get("tags", [])
    if not isinstance(tags, list) or not all(isinstance(t, str) for t in tags):
        raise BadLook(f"The tags of item {number} of this shelf are not words.")
    return Shelved(item["kind"], item["name"].strip()[:80], str(item.get("words", ""))[:300], tuple(t[:40] for t in tags[:MOST_TAGS]), look)
