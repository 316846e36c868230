"""Projects."""

from fastapi import APIRouter

from wenditas.api.models.asked import NameRequest
from wenditas.api.models.shots import ProjectView
from wenditas.api.shared import Shared
from wenditas.api.views import project_view
from wenditas.app.services import Services
from wenditas.project.demo import open_demo
from wenditas.project.duplicate import duplicated
from wenditas.store import footage, projects
from wenditas.store.projects import Project

router = APIRouter(tags=["projects"])


@router.get("/api/projects")
def list_projects(services: Shared) -> list[Project]:
    """All projects, oldest first."""
    return projects.all_projects(services.db)


@router.post("/api/projects")
def add_project(services: Shared, request: NameRequest) -> Project:
    """A new, empty project."""
    return projects.add_project(services.db, request.name)


@router.post("/api/projects/demo")
def demo_project(services: Shared) -> Project:
    """The demo project, made on first use."""
    return open_demo(services.db, services.projects.library, services.projects.documents, services.make_ready)


@router.get("/api/projects/removed")
def list_removed(services: Shared) -> list[Project]:
    """Projects that were removed, and can be brought back."""
    return projects.removed_projects(services.db)


@router.patch("/api/projects/{project_id}")
def rename_project(services: Shared, project_id: str, request: NameRequest) -> Project:
    """Give a project another name."""
    return _told(services, projects.rename_project(services.db, project_id, request.name))


@router.post("/api/projects/{project_id}/duplicate")
def duplicate_project(services: Shared, project_id: str) -> Project:
    """A project once more, by itself, over the same footage. Exports stay with the first."""
    made = duplicated(services.projects.library, project_id)
    for row in footage.footage_of(services.db, made.id):
        services.background.later(services.make_ready, row.id)
    return _told(services, made)


@router.delete("/api/projects/{project_id}")
def remove_project(services: Shared, project_id: str) -> Project:
    """Remove a project. Its footage, shots and exports stay on the disk, and come back with it."""
    return _told(services, projects.set_removed(services.db, project_id, True))


@router.post("/api/projects/{project_id}/restore")
def restore_project(services: Shared, project_id: str) -> Project:
    """Bring a removed project back."""
    return _told(services, projects.set_removed(services.db, project_id, False))


def _told(services: Services, project: Project) -> Project:
    services.hub.publish(kind="project", id=project.id)
    return project


@router.get("/api/projects/{project_id}")
def one_project(services: Shared, project_id: str) -> ProjectView:
    """A project with all it holds."""
    return project_view(services, project_id)
