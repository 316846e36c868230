"""Exports: jobs and files."""

from pathlib import Path
from urllib.parse import quote

from fastapi import APIRouter
from fastapi.responses import FileResponse, Response

from wenditas.api.jobs import job_for
from wenditas.api.models import EstimateView, ExportRequest, ExportView, LeftOutView, LutView
from wenditas.api.services import Services, Shared
from wenditas.api.views import export_view, suffix_of
from wenditas.core.errors import BadRequest, Conflict, NotFound
from wenditas.core.look.as_lut import SIZES, LeftOut, as_lut, loss
from wenditas.core.tone.lut import Lut
from wenditas.formats.cube import write_cube
from wenditas.media.stills import encode_png
from wenditas.project.benched import Benched
from wenditas.render.estimate import estimate
from wenditas.render.request import Request
from wenditas.store import exports, shots

router = APIRouter(tags=["exports"])
LUT_WIDTH = 960  # of the picture that a LUT is measured on
MEDIA_TYPES = {".mp4": "video/mp4", ".mov": "video/quicktime", ".zip": "application/zip"}


@router.get("/api/projects/{project_id}/exports")
def list_exports(services: Shared, project_id: str) -> list[ExportView]:
    """The exports of a project, newest first."""
    return [export_view(services, row) for row in exports.exports_of(services.db, project_id)]


@router.post("/api/shots/{shot_id}/exports")
def start(services: Shared, shot_id: str, request: ExportRequest) -> ExportView:
    """Export a shot, from its in to its out, as H.264 MP4."""
    shot = shots.shot(services.db, shot_id)
    document = services.documents.load(shot_id, request.revision).document
    if request.options.kind != "video":
        document.look.selection(request.options.selection or "")
    name, count = request.name or shot.name, document.last - document.first + 1
    row = exports.add_export(services.db, shot_id, request.revision, name, request.options.model_dump(), count)
    services.exports.submit(row.id)
    return export_view(services, row)


@router.post("/api/shots/{shot_id}/exports/estimate")
def estimated(services: Shared, shot_id: str, request: ExportRequest) -> EstimateView:
    """How large such an export would be, and how long it would take: some frames of it are exported and measured."""
    return _estimated(services, shot_id, request)


def _estimated(services: Services, id: str, request: ExportRequest) -> EstimateView:
    job = job_for(services.reels, id, request.revision, request.options)
    found = estimate(job, services.library.folder / "cache")
    width, height = job.node.size
    return EstimateView(frames=job.last - job.first + 1, width=width, height=height, bytes=found.bytes, seconds=found.seconds)


@router.post("/api/reels/{reel_id}/exports")
def start_reel(services: Shared, reel_id: str, request: ExportRequest) -> ExportView:
    """Export a whole reel as H.264 MP4."""
    stood = services.reels.standing(reel_id)
    job = job_for(services.reels, reel_id, request.revision, request.options, stood)
    row = exports.add_export(services.db, reel_id, request.revision, request.name or "Reel", request.options.model_dump(), job.node.length, stood)
    services.exports.submit(row.id)
    return export_view(services, row)


@router.post("/api/reels/{reel_id}/exports/estimate")
def estimated_reel(services: Shared, reel_id: str, request: ExportRequest) -> EstimateView:
    """How large such an export would be, and how long it would take: some frames of it are exported and measured."""
    return _estimated(services, reel_id, request)


@router.post("/api/exports/{export_id}/cancel")
def cancel(services: Shared, export_id: str) -> ExportView:
    """Stop an export; nothing of the unfinished file is kept."""
    services.exports.cancel(export_id)
    return export_view(services, exports.export(services.db, export_id))


@router.post("/api/exports/{export_id}/restart")
def restart(services: Shared, export_id: str) -> ExportView:
    """Run an export that did not finish once more."""
    services.exports.restart(export_id)
    return export_view(services, exports.export(services.db, export_id))


@router.delete("/api/exports/{export_id}", status_code=204)
def remove(services: Shared, export_id: str) -> None:
    """Delete an export and its file."""
    row = exports.export(services.db, export_id)
    if row.state in ("waiting", "running"):
        raise Conflict("This export is still at work; cancel it first.")
    _file(services, row).unlink(missing_ok=True)
    exports.remove_export(services.db, export_id)
    services.hub.publish(kind="export", id=export_id)


def _file(services: Services, row: exports.ExportRow) -> Path:
    return services.library.export_path(row.id, suffix_of(row))


@router.get("/api/exports/{export_id}/file", response_class=FileResponse)
def file(services: Shared, export_id: str) -> FileResponse:
    """The finished file."""
    row = exports.export(services.db, export_id)
    path = _file(services, row)
    if row.state != "done" or not path.exists():
        raise NotFound("This export has no file.")
    return FileResponse(path, media_type=MEDIA_TYPES[path.suffix], filename=f"{row.name}{path.suffix}")


def _lut(services: Services, shot_id: str, revision: int, frame: int, size: int) -> tuple[Benched, Lut, list[LeftOut]]:
    if size not in SIZES:
        raise BadRequest(f"A LUT has {', '.join(map(str, SIZES))} samples along an edge, not {size}.")
    benched = services.bench.open(shot_id, revision)
    return benched, *as_lut(benched.look, frame, float(benched.under.rate), size, benched.name, services.files.loaded)


@router.get("/api/shots/{shot_id}/lut/{revision}/{frame}.cube", response_class=Response)
def lut_file(services: Shared, shot_id: str, revision: int, frame: int, size: int = 33) -> Response:
    """What of a look is pointwise, as a .cube file."""
    benched, lut, _ = _lut(services, shot_id, revision, frame, size)
    disposition = f"attachment; filename*=UTF-8''{quote(f'{benched.name} {size}', safe='')}.cube"
    return Response(write_cube(lut), media_type="text/plain", headers={"content-disposition": disposition})


@router.get("/api/shots/{shot_id}/lut/{revision}/{frame}")
def lut_loss(services: Shared, shot_id: str, revision: int, frame: int, size: int = 33) -> LutView:
    """What a look loses as a LUT, measured on a frame."""
    benched, lut, left_out = _lut(services, shot_id, revision, frame, size)
    request = Request(node=benched.worn(benched.look), frame=frame, width=LUT_WIDTH)
    found = loss(lut, services.pictures.picture(request.but(view="source")), services.pictures.picture(request))
    return LutView(left_out=[LeftOutView(name=x.name, why=x.why) for x in left_out], mean=round(found.mean, 3), largest=round(found.largest, 2))


@router.get("/api/shots/{shot_id}/frames/{revision}/{frame}.png", response_class=Response)
def frame_file(services: Shared, shot_id: str, revision: int, frame: int) -> Response:
    """One finished frame at full size, as a PNG to keep."""
    benched = services.bench.open(shot_id, revision)
    data = encode_png(services.pictures.picture(Request(node=benched.shown(benched.look), frame=frame)), level=6)
    disposition = f"attachment; filename*=UTF-8''{quote(f'{benched.name} {frame}', safe='')}.png"
    return Response(data, media_type="image/png", headers={"content-disposition": disposition})
