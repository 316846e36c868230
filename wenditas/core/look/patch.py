"""Edits as RFC 6902 JSON Patch, applied to shot documents."""

from typing import Any

import jsonpatch  # type: ignore[import-untyped]
import jsonpointer  # type: ignore[import-untyped]

from wenditas.core.errors import BadPatch
from wenditas.core.look.document import ShotDocument, parse_shot

Patch = list[dict[str, Any]]
MOST_STEPS = 500


def apply_patch(document: ShotDocument, patch: Patch, length: int) -> ShotDocument:
    """The document after the patch, validated; `length` is the footage's number of frames.

    Raises `BadPatch` where a path does not exist or an operation is malformed, `BadLook`
    where the result is not valid. The document given is never changed. Source: RFC 6902.
    """
    if len(patch) > MOST_STEPS:
        raise BadPatch(f"An edit may have {MOST_STEPS} steps at most; this one has {len(patch)}.")
    try:
        data = jsonpatch.JsonPatch(patch).apply(document.model_dump(mode="json"))
    except (jsonpatch.JsonPatchException, jsonpointer.JsonPointerException, TypeError, KeyError, ValueError) as error:
        raise BadPatch(f"This edit cannot be applied: {error}") from error
    if not isinstance(data, dict):
        raise BadPatch("This edit would replace the whole document with something else.")
    return parse_shot(data, length)
