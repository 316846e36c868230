"""Edits as RFC 6902 JSON Patch, applied to shot documents."""

from typing import Any

import jsonpatch  # type: ignore[import-untyped]
import jsonpointer  # type: ignore[import-untyped]

from wenditas.core.errors import BadPatch
from wenditas.core.look.document import ShotDocument, parse_shot
from wenditas.core.look.plain import MOST_NODES, check_plain

Patch = list[dict[str, Any]]
MOST_STEPS = 500
MOST_VALUES = 400_000  # in all steps together: many tracks may be set at once


def apply_patch(document: ShotDocument, patch: Patch, length: int) -> ShotDocument:
    """The document after the patch, validated; `length` is the footage's number of frames.

    Raises `BadPatch` where a path does not exist or an operation is malformed, `BadLook`
    where the result is not valid. The document given is never changed. Source: RFC 6902.
    """
    if len(patch) > MOST_STEPS:
        raise BadPatch(f"An edit may have {MOST_STEPS} steps at most; this one has {len(patch)}.")
    try:
        data, copied = document.model_dump(mode="json"), 0
        for step in patch:
            if not isinstance(step, dict):
                raise TypeError(f"{str(step)[:40]!r} is not a step of an edit")
            check_plain({k: v for k, v in step.items() if k != "value"})
            if "value" in step:
                check_plain(step["value"], most=MOST_VALUES)
            if step.get("op") == "copy":  # what is copied into itself doubles with every step
                copied += check_plain(jsonpointer.JsonPointer(step["from"]).resolve(data))
                if copied > MOST_NODES:
                    raise ValueError(f"it copies more than {MOST_NODES} values")
            data = jsonpatch.JsonPatch([step]).apply(data, in_place=True)
    except (jsonpatch.JsonPatchException, jsonpointer.JsonPointerException, TypeError, KeyError, ValueError) as error:
        raise BadPatch(f"This edit cannot be applied: {error}") from error
    if not isinstance(data, dict):
        raise BadPatch("This edit would replace the whole document with something else.")
    return parse_shot(data, length)
