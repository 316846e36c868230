"""The application: routers, guard, the built interface."""

import asyncio
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from pathlib import Path

from fastapi import FastAPI
from fastapi.responses import FileResponse, PlainTextResponse, Response
from fastapi.staticfiles import StaticFiles

from wenditas import __version__
from wenditas.api import errors
from wenditas.api.bustling import Bustling
from wenditas.api.gone import Watch
from wenditas.api.limits import Limits
from wenditas.api.routes import (
    archives,
    catalogue,
    checks,
    exports,
    files,
    footage,
    intake,
    likeness,
    live,
    palettes,
    projects,
    reels,
    sheet,
    shelf,
    shots,
    takes,
    where,
)
from wenditas.api.security import LOOPBACK, Guard
from wenditas.app.services import Services

SITE = Path(__file__).parent / "site"


def create_app(folder: Path, hosts: tuple[str, ...] = LOOPBACK, token: str | None = None, opened: Services | None = None) -> FastAPI:
    """The application on a data folder, which may be open already. `hosts`: accepted Host names; `token`: needed off loopback."""

    @asynccontextmanager
    async def life(app: FastAPI) -> AsyncIterator[None]:
        services = opened or Services.open(folder)
        services.hub.attach(asyncio.get_running_loop())
        services.start()
        app.state.services = services
        yield
        services.close()

    app = FastAPI(title="Wenditas", version=__version__, lifespan=life, docs_url=None, redoc_url=None, openapi_url="/api/openapi.json")
    errors.install(app)
    for module in (catalogue, archives, projects, intake, footage, shots, reels, sheet, where, shelf, likeness, palettes, takes, files, exports, checks, live):
        app.include_router(module.router)
    _serve_site(app)
    app.add_middleware(Bustling)
    app.add_middleware(Watch)
    app.add_middleware(Limits)
    app.add_middleware(Guard, hosts=hosts, token=token)
    return app


def _serve_site(app: FastAPI) -> None:
    if (SITE / "assets").is_dir():
        app.mount("/assets", StaticFiles(directory=SITE / "assets"), name="assets")

    @app.get("/{path:path}", include_in_schema=False)
    def page(path: str) -> Response:
        """Every address of the interface is the one page."""
        if path.startswith("api/"):
            return PlainTextResponse("There is nothing at this address.", status_code=404)
        icon = SITE / path
        if path in ("icon.svg",) and icon.is_file():
            return FileResponse(icon)
        index = SITE / "index.html"
        if not index.is_file():
            return PlainTextResponse("The interface is not built yet: run `make build`.", status_code=503)
        return FileResponse(index, headers={"cache-control": "no-cache"})
