"""Takes, and the history of a shot: any state can be returned to, none is overwritten."""

from fastapi import APIRouter

from wenditas.api.models.asked import GoRequest, NameRequest, TakeRequest
from wenditas.api.models.shots import ShotView
from wenditas.api.routes.shots import moved
from wenditas.api.shared import Shared
from wenditas.app.services import Services
from wenditas.store import history
from wenditas.store import takes as store
from wenditas.store.history import EditRow
from wenditas.store.takes import TakeRow

router = APIRouter(tags=["takes"])


def _changed(services: Services, shot_id: str) -> None:
    services.hub.publish(kind="takes", id=shot_id)


@router.get("/api/shots/{shot_id}/history")
def list_edits(services: Shared, shot_id: str) -> list[EditRow]:
    """Edits in words, newest first."""
    return history.edits_of(services.db, services.projects.bench.document_of(shot_id))


@router.post("/api/shots/{shot_id}/head")
def go_to(services: Shared, shot_id: str, request: GoRequest) -> ShotView:
    """Return to any state of the shot; what came after it stays in the history."""
    history.go_to(services.db, services.projects.bench.document_of(shot_id), request.base, request.revision)
    return moved(services, shot_id)


@router.get("/api/shots/{shot_id}/takes")
def takes(services: Shared, shot_id: str) -> list[TakeRow]:
    """Saved versions, newest first."""
    return store.takes(services.db, services.projects.bench.document_of(shot_id))


@router.post("/api/shots/{shot_id}/takes")
def save(services: Shared, shot_id: str, request: TakeRequest) -> TakeRow:
    """Save a state of the shot under a name."""
    row = store.add_take(services.db, services.projects.bench.document_of(shot_id), request.revision, request.name)
    _changed(services, row.document_id)
    return row


@router.patch("/api/takes/{take}")
def rename(services: Shared, take: str, request: NameRequest) -> TakeRow:
    """Give a take another name."""
    row = store.rename_take(services.db, take, request.name)
    _changed(services, row.document_id)
    return row


@router.delete("/api/takes/{take}", status_code=204)
def remove(services: Shared, take: str) -> None:
    """Remove a take; `restore` brings it back."""
    store.set_removed(services.db, take, True)
    _changed(services, store.take(services.db, take).document_id)


@router.post("/api/takes/{take}/restore", status_code=204)
def restore(services: Shared, take: str) -> None:
    """Bring a removed take back."""
    store.set_removed(services.db, take, False)
    _changed(services, store.take(services.db, take).document_id)
