"""Pictures as answers: kept by the browser, and asked for again by what they show, so that none outlives the code that made it."""

from collections.abc import Callable
from typing import Annotated
from urllib.parse import quote

from fastapi import Header
from fastapi.responses import Response

IfNoneMatch = Annotated[str | None, Header()]


def attachment(name: str) -> dict[str, str]:
    """The header of a file to be saved under a name."""
    return {"content-disposition": f"attachment; filename*=UTF-8''{quote(name, safe='')}"}


def by_content(key: str, known: str | None, media_type: str, make: Callable[[], bytes]) -> Response:
    """A picture with its content key; nothing but that where the browser says that it has it. known: the If-None-Match header."""
    tag = f'"{key}"'
    headers = {"cache-control": "private, no-cache", "etag": tag}
    if known is not None and tag in [t.strip().removeprefix("W/") for t in known.split(",")]:
        return Response(status_code=304, headers=headers)
    return Response(make(), media_type=media_type, headers=headers)
