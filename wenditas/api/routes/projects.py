"""Projects."""

from fastapi import APIRouter

from wenditas.api.models.asked import NameRequest
from wenditas.api.models.shots import ProjectView
from wenditas.api.services import Shared
from wenditas.api.views import project_view
from wenditas.project.demo import open_demo
from wenditas.store import projects
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
    return open_demo(services.db, services.library, services.documents, services.make_ready)


@router.get("/api/projects/{project_id}")
def one_project(services: Shared, project_id: str) -> ProjectView:
    """A project with all it holds."""
    return project_view(services, project_id)
