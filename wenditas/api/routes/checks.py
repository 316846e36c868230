"""Checks: what a look makes, measured on a frame, and over a shot as lines."""

from collections.abc import Iterable
from functools import partial

import cv2
import numpy as np
from fastapi import APIRouter, Response
from fastapi.responses import StreamingResponse

from wenditas.api.lines import Gone, Lines, Say
from wenditas.api.models.checks import CheckView, MarkView
from wenditas.api.shared import Shared
from wenditas.app.services import Services
from wenditas.core.errors import NotFound
from wenditas.core.film import Shot
from wenditas.core.measure.checks import CHECKS
from wenditas.core.measure.checks.record import Mark
from wenditas.core.tiles import single_threaded

router = APIRouter(tags=["checks"])
HATCH = 6  # pixels between the lines of what lights up
PATIENCE = 1.0  # seconds at most that a check waits, before each frame, for what somebody waits for


@router.get("/api/checks")
def list_checks() -> list[CheckView]:
    """All checks, with what they measure, from where their thresholds are, and how what they find is fixed."""
    return [CheckView(**{key: getattr(check, key) for key in CheckView.model_fields}) for check in CHECKS.values()]


def view_of(marks: Iterable[Mark]) -> list[MarkView]:
    """Marks as they go over the wire."""
    return [
        MarkView(
            check=m.check,
            name=CHECKS[m.check].name,
            frame=m.frame,
            first=m.span[0],
            last=m.span[1],
            value=round(m.value, 2),
            unit=CHECKS[m.check].unit,
            words=m.words,
            selection=m.selection,
            fix=m.fix.words if m.fix else None,
            commands=list(m.fix.commands) if m.fix else [],
        )
        for m in marks
    ]


def _node(services: Services, shot_id: str, revision: int) -> tuple[Shot, tuple[int, int]]:
    benched = services.projects.bench.open(shot_id, revision)
    return benched.worn(benched.look), benched.ends


@router.get("/api/shots/{shot_id}/checks/{revision}", response_class=StreamingResponse)
def over_shot(services: Shared, shot_id: str, revision: int) -> Lines:
    """The marks of a whole shot, as they become known (lines of JSON): how many frames are done, and all marks so far."""
    node, ends = _node(services, shot_id, revision)

    def work(say: Say, gone: Gone) -> None:
        total = ends[1] - ends[0] + 1
        for done, marks in services.screen.checking.over_shot(node, ends, gone, partial(services.background.bustle.give_way, PATIENCE)):
            say({"kind": "marks", "done": done, "total": total, "marks": [m.model_dump(mode="json") for m in view_of(marks)]})

    return Lines(services.background.long, work)


@router.get("/api/shots/{shot_id}/checks/{revision}/{frame}")
def at_frame(services: Shared, shot_id: str, revision: int, frame: int) -> list[MarkView]:
    """The marks of a frame, the worst of each check."""
    node, ends = _node(services, shot_id, revision)
    return view_of(services.screen.checking.at(node, min(max(frame, ends[0]), ends[1]), ends))


@router.get("/api/shots/{shot_id}/checks/{revision}/{frame}/{check}.png", response_class=Response)
def where(services: Shared, shot_id: str, revision: int, frame: int, check: str, selection: str | None = None) -> Response:
    """Where on the picture a mark of a frame is: hatched lines, to be laid over it."""
    node, ends = _node(services, shot_id, revision)
    with single_threaded():
        marks = services.screen.checking.at(node, min(max(frame, ends[0]), ends[1]), ends)
    found = next((m for m in marks if m.check == check and m.where is not None and selection in (None, m.selection)), None)
    if found is None or found.where is None:
        raise NotFound("There is no mark of this check on this frame.")
    area = cv2.resize(found.where, (640, max(1, round(640 * found.where.shape[0] / found.where.shape[1]))), interpolation=cv2.INTER_LINEAR)
    y, x = np.mgrid[0 : area.shape[0], 0 : area.shape[1]]
    light = ((x + y) % HATCH < HATCH // 2).astype(np.uint8) * 255
    image = np.dstack([light, light, light, (np.clip(area, 0, 1) * 220).astype(np.uint8)])
    ok, data = cv2.imencode(".png", image)
    if not ok:
        raise OSError("PNG encoding failed")
    return Response(bytes(data), media_type="image/png", headers={"cache-control": "private, max-age=3600"})
