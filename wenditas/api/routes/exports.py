"""Exports: jobs and files."""

import shutil
from collections.abc import Mapping

from fastapi import APIRouter
from fastapi.responses import FileResponse, Response

from wenditas.api.answers import IfNoneMatch, attachment, by_content
from wenditas.api.models.exports import (
    EstimateView,
    ExportRequest,
    ExportView,
    FormatView,
    LeftOutView,
    LutView,
    PlaceRequest,
    PresetRequest,
    QueueRequest,
    QueueView,
)
from wenditas.api.shared import Shared
from wenditas.api.views import export_path, export_view
from wenditas.app.jobs import job_for
from wenditas.app.services import Services
from wenditas.core.errors import BadRequest, Conflict, NotFound
from wenditas.core.film import RESULT, Shown
from wenditas.core.look.as_cdl import as_cdl
from wenditas.core.look.as_lut import SIZES, LeftOut, as_lut, loss
from wenditas.core.tone.lut import Lut
from wenditas.formats.cdl import write_cdl
from wenditas.formats.cube import write_cube
from wenditas.media.stills import encode_png
from wenditas.media.writing import FORMATS
from wenditas.project.benched import APART, Benched
from wenditas.project.names import name_by
from wenditas.render.estimate import estimate
from wenditas.render.options import ExportOptions, Shows
from wenditas.render.request import Request
from wenditas.store import exports, footage, projects, reels, shots
from wenditas.store.exports import PresetRow

router = APIRouter(tags=["exports"])
LUT_WIDTH = 640  # of the picture that a LUT is measured on
THUMBNAIL = 192
MEDIA_TYPES = {
    ".mp4": "video/mp4",
    ".mov": "video/quicktime",
    ".mkv": "video/x-matroska",
    ".webm": "video/webm",
    ".webp": "image/webp",
    ".gif": "image/gif",
    ".zip": "application/zip",
}


@router.get("/api/formats")
def list_formats() -> list[FormatView]:
    """The formats that can be written."""
    told = ("id", "name", "tells", "suffix", "joined", "alpha", "choose", "pictures", "loop")
    return [FormatView(**{k: getattr(f, k) for k in told}, sound=f.sound is not None) for f in FORMATS.values()]


@router.get("/api/projects/{project_id}/exports")
def list_exports(services: Shared, project_id: str) -> list[ExportView]:
    """The exports of a project, newest first."""
    return [export_view(services, row) for row in exports.exports_of(services.db, project_id)]


@router.post("/api/shots/{shot_id}/exports")
def start(services: Shared, shot_id: str, request: ExportRequest) -> ExportView:
    """Export a shot from its in to its out, or a span or a reveal of a reel over its stretch."""
    benched = services.projects.bench.open(shot_id, request.revision)
    stood = services.projects.reels.standing(benched.document_id) if benched.within else services.projects.nodes.stood(benched.look)
    return _started(services, shot_id, benched.document_id, request, benched.name, stood, APART.join(benched.within))


@router.post("/api/reels/{reel_id}/exports")
def start_reel(services: Shared, reel_id: str, request: ExportRequest) -> ExportView:
    """Export a whole reel."""
    return _started(services, reel_id, reel_id, request, "Reel", services.projects.reels.standing(reel_id), "")


def _started(services: Services, id: str, document_id: str, request: ExportRequest, name: str, stood: Mapping[str, int] | None, part: str) -> ExportView:
    job = job_for(services.projects.bench, id, request.revision, request.options, stood)
    plain, called = request.options.model_dump(), request.name or name
    if request.name:  # it may be a pattern
        canvas, project = request.options.canvas(job.node), projects.project(services.db, _project_of(services, document_id))
        called = name_by(request.name, {"project": project.name, "shot": name, "look": "own look", "size": f"{canvas.width}x{canvas.height}"})
    row = exports.add_export(services.db, document_id, request.revision, called, plain, len(job.frames), stood, part, job.pin)
    services.background.exports.submit(row.id)
    return export_view(services, row)


def _project_of(services: Services, document_id: str) -> str:
    if services.projects.documents.is_reel(document_id):
        return reels.reel(services.db, document_id).project_id
    return footage.footage(services.db, shots.shot(services.db, document_id).footage_id).project_id


@router.post("/api/shots/{shot_id}/exports/estimate")
def estimated(services: Shared, shot_id: str, request: ExportRequest) -> EstimateView:
    """How large such an export would be, and how long it would take: some frames of it are exported and measured."""
    return _estimated(services, shot_id, request)


@router.post("/api/reels/{reel_id}/exports/estimate")
def estimated_reel(services: Shared, reel_id: str, request: ExportRequest) -> EstimateView:
    """How large such an export would be, and how long it would take: some frames of it are exported and measured."""
    return _estimated(services, reel_id, request)


def _estimated(services: Services, id: str, request: ExportRequest) -> EstimateView:
    job = job_for(services.projects.bench, id, request.revision, request.options)
    found = estimate(job, services.projects.library.folder / "cache")
    canvas = request.options.canvas(job.node)
    return EstimateView(
        frames=len(job.frames), width=canvas.width, height=canvas.height, bytes=found.bytes, seconds=found.seconds, notes=request.options.told(job.node)
    )


@router.get("/api/reels/{reel_id}/selections/{revision}")
def reel_selections(services: Shared, reel_id: str, revision: int) -> list[str]:
    """The names of the selections of a reel's shots, the most common first: a matte of the whole reel is made of those of one name."""
    return services.projects.reels.made(reel_id, services.projects.documents.load_reel(reel_id, revision).document).selections()


@router.get("/api/exports/queue")
def queue(services: Shared) -> QueueView:
    """How many exports run at once."""
    return QueueView(at_once=services.background.exports.at_once)


@router.put("/api/exports/queue")
def set_queue(services: Shared, request: QueueRequest) -> QueueView:
    """Change how many exports run at once."""
    services.background.exports.at_once = request.at_once
    return queue(services)


@router.get("/api/exports/presets")
def list_presets(services: Shared) -> list[PresetRow]:
    """Options of exports that are kept under names."""
    return exports.presets(services.db)


@router.post("/api/exports/presets")
def save_preset(services: Shared, request: PresetRequest) -> PresetRow:
    """Keep options under a name."""
    return exports.save_preset(services.db, request.name, request.options.model_copy(update={"selection": None}).model_dump())


@router.delete("/api/exports/presets/{preset_id}", status_code=204)
def remove_preset(services: Shared, preset_id: str) -> None:
    """Forget a preset."""
    exports.remove_preset(services.db, preset_id)


def _moved(services: Services, export_id: str) -> ExportView:
    return export_view(services, exports.export(services.db, export_id))


@router.post("/api/exports/{export_id}/cancel")
def cancel(services: Shared, export_id: str) -> ExportView:
    """Stop an export; nothing of the unfinished file is kept."""
    services.background.exports.cancel(export_id)
    return _moved(services, export_id)


@router.post("/api/exports/{export_id}/pause")
def pause(services: Shared, export_id: str) -> ExportView:
    """Stop an export for now; what is done is kept."""
    services.background.exports.pause(export_id)
    return _moved(services, export_id)


@router.post("/api/exports/{export_id}/go-on")
def go_on(services: Shared, export_id: str) -> ExportView:
    """Let an export that is paused go on where it stands."""
    services.background.exports.go_on(export_id)
    return _moved(services, export_id)


@router.post("/api/exports/{export_id}/restart")
def restart(services: Shared, export_id: str) -> ExportView:
    """Run an export that did not finish once more; what of it is done is not done again."""
    services.background.exports.restart(export_id)
    return _moved(services, export_id)


@router.post("/api/exports/{export_id}/place")
def put_before(services: Shared, export_id: str, request: PlaceRequest) -> ExportView:
    """Change the order in which exports are taken."""
    services.background.exports.put_before(export_id, request.before)
    return _moved(services, export_id)


@router.delete("/api/exports/{export_id}", status_code=204)
def remove(services: Shared, export_id: str) -> None:
    """Delete an export and its file."""
    row = exports.export(services.db, export_id)
    if row.state in exports.AT_WORK:
        raise Conflict("This export is still at work; cancel it first.")
    path = export_path(services, row)
    if path.is_dir():
        shutil.rmtree(path)
    path.unlink(missing_ok=True)
    shutil.rmtree(services.projects.library.cache_path(f"segments/{export_id}"), ignore_errors=True)
    exports.remove_export(services.db, export_id)
    services.hub.publish(kind="export", id=export_id)


@router.get("/api/exports/{export_id}/picture.jpg", response_class=Response)
def export_picture(services: Shared, export_id: str, if_none_match: IfNoneMatch = None) -> Response:
    """A small picture of what an export shows: its middle frame."""
    row = exports.export(services.db, export_id)
    id = APART.join((row.document_id, row.part)) if row.part else row.document_id
    job = job_for(services.projects.bench, id, row.revision, ExportOptions.model_validate(row.options), row.shots)
    shown = Shown(view="matte", selection=job.options.selection) if job.options.shows == "matte" and job.matte is None else RESULT
    node = job.matte if job.options.shows == "matte" and job.matte is not None else job.node
    request = Request(node=node, frame=job.frames[len(job.frames) // 2], width=THUMBNAIL, shown=shown)
    return by_content(services.screen.pictures.key(request), if_none_match, "image/jpeg", lambda: services.screen.pictures.encoded(request, "jpg", "sheet"))


@router.get("/api/exports/{export_id}/file", response_class=FileResponse)
def file(services: Shared, export_id: str) -> FileResponse:
    """The finished file."""
    row = exports.export(services.db, export_id)
    path = export_path(services, row)
    if row.state != "done" or not path.is_file():
        raise NotFound("This export has no file to download." if not path.is_dir() else f"This export is a folder: {path.resolve()}")
    return FileResponse(path, media_type=MEDIA_TYPES.get(path.suffix, "application/octet-stream"), filename=f"{row.name}{path.suffix}")


def _lut(services: Services, shot_id: str, revision: int, frame: int, size: int) -> tuple[Benched, Lut, list[LeftOut]]:
    if size not in SIZES:
        raise BadRequest(f"A LUT has {', '.join(map(str, SIZES))} samples along an edge, not {size}.")
    benched = services.projects.bench.open(shot_id, revision)
    return benched, *as_lut(benched.look, frame, float(benched.under.rate), size, benched.name, services.projects.files.loaded)


@router.get("/api/shots/{shot_id}/lut/{revision}/{frame}.cube", response_class=Response)
def lut_file(services: Shared, shot_id: str, revision: int, frame: int, size: int = 33) -> Response:
    """What of a look is pointwise, as a .cube file."""
    benched, lut, _ = _lut(services, shot_id, revision, frame, size)
    return Response(write_cube(lut), media_type="text/plain", headers=attachment(f"{benched.name} {size}.cube"))


@router.get("/api/shots/{shot_id}/lut/{revision}/{frame}.cdl", response_class=Response)
def cdl_file(services: Shared, shot_id: str, revision: int, frame: int) -> Response:
    """A look that is a colour decision list, as one."""
    benched = services.projects.bench.open(shot_id, revision)
    params = as_cdl(benched.look, frame, float(benched.under.rate))
    if params is None:
        raise BadRequest("This look is no colour decision list: that is one pass of slope, offset, power and saturation, everywhere and in full.")
    return Response(write_cdl(params, benched.name), media_type="application/xml", headers=attachment(f"{benched.name}.cdl"))


@router.get("/api/shots/{shot_id}/lut/{revision}/{frame}")
def lut_loss(services: Shared, shot_id: str, revision: int, frame: int, size: int = 33) -> LutView:
    """What a look loses as a LUT, measured on a frame."""
    benched, lut, left_out = _lut(services, shot_id, revision, frame, size)
    request = Request(node=benched.worn(benched.look), frame=frame, width=LUT_WIDTH)
    found = loss(lut, services.screen.pictures.picture(request.but(view="source")), services.screen.pictures.picture(request))
    cdl = as_cdl(benched.look, frame, float(benched.under.rate)) is not None
    return LutView(cdl=cdl, left_out=[LeftOutView(name=x.name, why=x.why) for x in left_out], mean=round(found.mean, 3), largest=round(found.largest, 2))


@router.get("/api/shots/{shot_id}/frames/{revision}/{frame}.png", response_class=Response)
def frame_file(services: Shared, shot_id: str, revision: int, frame: int, shows: Shows = "result", selection: str | None = None) -> Response:
    """One frame at full size, as a PNG to keep: the finished picture, a selection's matte, or the picture with the matte as its alpha channel."""
    ExportOptions(format="png-8", shows=shows, selection=selection).check()
    benched = services.projects.bench.open(shot_id, revision)
    request = Request(node=benched.shown(benched.look), frame=frame)
    matte = None if shows == "result" else services.screen.pictures.picture(request.but(view="matte", selection=selection))
    picture = matte if matte is not None and shows == "matte" else services.screen.pictures.picture(request)
    data = encode_png(picture, level=6, alpha=matte[0] if matte is not None and shows == "alpha" else None)
    return Response(data, media_type="image/png", headers=attachment(f"{benched.name} {frame}.png"))
