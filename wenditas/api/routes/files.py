"""Files that passes use, and the text formats that parameters come and go in."""

from pathlib import PurePath
from typing import Annotated

from fastapi import APIRouter, Query, Request
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import Response

from wenditas.api.answers import attachment
from wenditas.api.models.files import CdlRequest, CorrectionView, GradientRequest, TextRequest
from wenditas.api.shared import Shared
from wenditas.core.errors import BadRequest, NotFound, TooLarge
from wenditas.core.params import Stop
from wenditas.formats.cdl import read_cdl, write_cdl
from wenditas.formats.gradients import read_gradient, write_css, write_svg
from wenditas.project.files import MOST_PICTURE
from wenditas.store import files as store
from wenditas.store import footage
from wenditas.store.files import FileRow

router = APIRouter(tags=["files"])


@router.get("/api/files")
def all_files(services: Shared) -> list[FileRow]:
    """LUTs and pictures that passes can use, newest first."""
    return store.files(services.db)


@router.post("/api/files")
async def take_in(services: Shared, request: Request, name: Annotated[str, Query(min_length=1, max_length=255)]) -> FileRow:
    """Take in a LUT or a picture sent as the request's body."""
    data = bytearray()
    async for chunk in request.stream():
        data += chunk
        if len(data) > MOST_PICTURE:
            raise TooLarge(f"“{name}” is larger than {MOST_PICTURE >> 20} MiB, the most that a pass takes.")
    plain = name.replace("\\", "/").rsplit("/", 1)[-1]
    return await run_in_threadpool(services.projects.files.take_in, bytes(data), plain)


@router.post("/api/files/of/{footage_id}")
def take_still(services: Shared, footage_id: str) -> FileRow:
    """Take a still of the Footage room as a picture that passes can use. Raises `BadFile` where it is none that a pass takes."""
    row, library = footage.footage(services.db, footage_id), services.projects.library
    if library.facts(footage_id).kind != "still":
        raise BadRequest(f"“{row.name}” is no still: passes lay over pictures.")
    path = library.media_path(row)
    if not path.exists():
        raise NotFound(f"The file of “{row.name}” is not there.")
    if path.stat().st_size > MOST_PICTURE:
        raise TooLarge(f"“{row.name}” is larger than {MOST_PICTURE >> 20} MiB, the most that a pass takes.")
    return services.projects.files.take_in(path.read_bytes(), f"{PurePath(row.name).stem}{row.suffix}")


@router.post("/api/decision-lists/read")
def read_decision_list(request: TextRequest) -> list[CorrectionView]:
    """The corrections of a .cdl, .cc or .ccc file."""
    return [CorrectionView(id=id, params=params.model_dump()) for id, params in read_cdl(request.text)]


@router.post("/api/decision-lists/write", response_class=Response)
def write_decision_list(request: CdlRequest) -> Response:
    """One correction as a file."""
    text = write_cdl(request.params, request.name, request.kind)
    return Response(text, media_type="application/xml", headers=attachment(f"{request.name}.{request.kind}"))


@router.post("/api/gradients/read")
def read_stops(request: TextRequest) -> list[Stop]:
    """The stops of an SVG linearGradient or a CSS linear-gradient."""
    return read_gradient(request.text)


@router.post("/api/gradients/write", response_class=Response)
def write_stops(request: GradientRequest) -> Response:
    """Stops as SVG or CSS."""
    if request.kind == "css":
        return Response(write_css(request.stops), media_type="text/plain")
    return Response(write_svg(request.stops, request.name), media_type="image/svg+xml", headers=attachment(f"{request.name}.svg"))
