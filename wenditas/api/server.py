"""The web server on a data folder that is open."""

import socket
from contextlib import suppress
from typing import Any

import uvicorn
from fastapi import FastAPI

from wenditas.api.app import create_app
from wenditas.api.patience import Patient
from wenditas.api.security import LOOPBACK
from wenditas.app.services import Services

MOST_MESSAGE = 8 << 20  # bytes of one message on the live channel


def serve(services: Services, listening: socket.socket, names: list[str], token: str | None) -> None:
    """Answer on a socket until stopped. names: by which it may be reached, beside those of this machine; token: needed off loopback."""
    app = create_app(services.projects.library.folder, (*LOOPBACK, *names), token, services)
    with suppress(KeyboardInterrupt):
        uvicorn.Server(configured(app)).run([listening])


def configured(app: FastAPI, port: int = 0, grace: int = 2) -> uvicorn.Config:
    """How the application is spoken to, wherever it is served. port: where no socket is given; grace: seconds for answers under way at the end."""
    # Pictures on the live channel are compressed already.
    options: dict[str, Any] = {"log_level": "warning", "timeout_graceful_shutdown": grace, "proxy_headers": False, "http": Patient}
    return uvicorn.Config(app, port=port, **options, ws_per_message_deflate=False, ws_max_size=MOST_MESSAGE)
