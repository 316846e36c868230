"""Projects as archives: one file out, and in again."""

from collections.abc import Iterator

import anyio
from fastapi import APIRouter
from fastapi import Request as Http
from fastapi.responses import StreamingResponse

from wenditas.api.answers import attachment
from wenditas.api.routes.footage import receive, room
from wenditas.api.shared import Shared
from wenditas.project.archive import read_in, written
from wenditas.store import projects
from wenditas.store.projects import Project

router = APIRouter(tags=["projects"])


@router.get("/api/projects/{project_id}/archive.zip", response_class=StreamingResponse)
def save(services: Shared, project_id: str, media: bool = True) -> StreamingResponse:
    """A project as one archive: documents, histories, takes, files, and its footage where it is asked for."""
    project = projects.project(services.db, project_id)
    pieces: Iterator[bytes] = written(services.projects.library, services.projects.files, project_id, media)
    return StreamingResponse(pieces, media_type="application/zip", headers=attachment(f"{project.name}.zip"))


@router.post("/api/projects/archive")
async def bring_in(services: Shared, request: Http) -> Project:
    """Make a project of an archive sent as the request's body: all of it, or nothing."""
    path = services.projects.library.incoming()
    try:
        await receive(request.stream(), path, room(services))
        project = await anyio.to_thread.run_sync(read_in, services.projects.library, services.projects.files, path)
    finally:
        path.unlink(missing_ok=True)
    services.hub.publish(kind="project", id=project.id)
    return project
