"""Looks from pictures, and shots matched to shots."""

import cv2
import numpy as np
from fastapi import APIRouter

from wenditas.api.models.likeness import LikenessAnswer, LikenessRequest, MatchAnswer, MatchRequest, ProposalView, Reference, ToldView
from wenditas.api.routes.sheet import within
from wenditas.api.routes.shots import moved, stored
from wenditas.api.shared import Shared
from wenditas.app.services import Services
from wenditas.core.errors import BadLook, NotFound, WenditasError
from wenditas.core.film import Shown
from wenditas.core.kernel import Picture
from wenditas.core.look.document import tracks_of
from wenditas.core.tiles import single_threaded
from wenditas.core.treat.overlay_picture import Still
from wenditas.media.profiles import profile_of
from wenditas.project import edits
from wenditas.project.documents import Edit
from wenditas.project.likeness import WIDTH, likened, numbers_of, under
from wenditas.render.request import Request
from wenditas.store import files, history
from wenditas.store.database import new_id

router = APIRouter(tags=["likeness"])


def _small(picture: Picture) -> Picture:
    height, width = picture.shape[1:]
    if width <= WIDTH:
        return picture
    size = WIDTH, max(1, round(height * WIDTH / width))
    return np.stack([cv2.resize(np.ascontiguousarray(plane), size, interpolation=cv2.INTER_AREA) for plane in picture])


def _reference(services: Services, reference: Reference) -> list[Picture]:
    if reference.file is not None:
        still = services.projects.files.load(reference.file)
        if not isinstance(still, Still):
            raise NotFound("This file is no picture.")
        alpha, profile = still.planes[3], profile_of(services.projects.files.path(files.file(services.db, reference.file)))
        picture = _small(np.asarray(np.where(alpha > 0, still.planes[:3] / np.maximum(alpha, 1e-6), 0), np.float32))
        return [picture if profile is None else profile.meant(picture)]
    if reference.shot is None:
        raise BadLook("A look is taken from a picture file, or from a frame of a shot.")
    shown = Shown(view="source" if reference.source else "result")
    benched = services.projects.bench.open(reference.shot)
    numbers = numbers_of(services.projects.carrying.frames(reference.shot)) if reference.frame is None else [reference.frame]
    node = benched.shown(benched.look)
    return [services.screen.pictures.picture(Request(node=node, frame=n, width=WIDTH, shown=shown), "sheet") for n in numbers]


def _of_shot(services: Services, shot_id: str) -> list[tuple[int, Picture]]:
    """Frames of a shot's source, with their numbers."""
    benched = services.projects.bench.open(shot_id)
    numbers = numbers_of(services.projects.carrying.frames(shot_id))
    return [(n, services.screen.pictures.picture(Request(node=benched.under, frame=n, width=WIDTH), "sheet")) for n in numbers]


@router.post("/api/shots/{shot_id}/likeness")
def likeness(services: Shared, shot_id: str, request: LikenessRequest) -> LikenessAnswer:
    """Looks for a shot that are like a picture: the likeliest is put on it (one step to undo), all are kept as takes."""
    pictures, shot = _reference(services, request.reference), _of_shot(services, shot_id)
    with single_threaded():
        found = likened(shot, pictures, request.same_scene, request.far)
    own, rows = services.projects.documents.load(shot_id).document.look, []
    looks = [under(p.look, own) if request.same_scene else p.look for p in found.answer.proposals]  # what is matched keeps the look that it has
    for proposal, look in zip(found.answer.proposals, looks, strict=True):
        row = services.projects.carrying.kept_as_take(shot_id, look, f"{proposal.name}, like {request.name}")
        rows.append(
            ProposalView(
                name=proposal.name, kind=proposal.kind, take=row.id, revision=row.revision, told=[ToldView(id=t.id, words=t.words) for t in proposal.told]
            )
        )
    services.hub.publish(kind="takes", id=shot_id)
    first = found.answer.proposals[0]
    done = stored(services, shot_id, request, edits.whole_look(looks[0]), f"{first.name}, like {request.name}")
    spread = {"seen": found.seen.tolist(), "shot": found.shot.tolist(), "result": found.result.tolist()}
    return LikenessAnswer(view=done, made=done.made, words=found.answer.words, proposals=rows, **spread)


@router.post("/api/projects/{project_id}/match")
def match(services: Shared, project_id: str, request: MatchRequest) -> MatchAnswer:
    """Match the sources of shots to that of one, under the looks that they have. Taken back as what is carried over is."""
    within(services, project_id, [*request.shots, request.to])
    pictures = _reference(services, Reference(shot=request.to, source=True))
    made: dict[str, int] = {}
    refused: dict[str, str] = {}
    for shot_id in request.shots:
        if shot_id == request.to:
            refused[shot_id] = "The others are matched to this one."
            continue
        try:
            with single_threaded():
                look = likened(_of_shot(services, shot_id), pictures, request.same_scene, 100).answer.proposals[0].look
            own = services.projects.documents.load(shot_id).document.look
            matched = under(look, own)
            edit = Edit(
                history.head_id(services.db, shot_id), edits.whole_look(matched), "Matched to another shot", new_id(), "", tuple(tracks_of(matched).values())
            )
            made[shot_id] = services.projects.documents.edit(shot_id, edit)
            moved(services, shot_id)
        except WenditasError as error:
            refused[shot_id] = str(error)
    return MatchAnswer(made=made, refused=refused)
