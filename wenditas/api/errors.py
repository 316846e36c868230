"""The one place where errors become HTTP."""

import sqlite3

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from pydantic import BaseModel

from wenditas.core import errors

STATUS: list[tuple[type[errors.WenditasError], int]] = [
    (errors.NotFound, 404),
    (errors.Conflict, 409),
    (errors.TooLarge, 413),
    (errors.FootageRefused, 422),
    (errors.BadRequest, 422),
    (errors.ExportFailed, 500),
    (errors.WenditasError, 500),
]


class Problem(BaseModel):
    """An error as the interface receives it."""

    kind: str
    message: str
    current: int | None = None


def status_of(error: errors.WenditasError) -> int:
    """The HTTP status of an error, by the nearest entry of the tree."""
    return next(status for kind, status in STATUS if isinstance(error, kind))


def problem_of(error: errors.WenditasError) -> Problem:
    """The body of an error."""
    current = error.current if isinstance(error, errors.StaleRevision) else None
    return Problem(kind=type(error).__name__, message=str(error), current=current)


def install(app: FastAPI) -> None:
    """Register the handlers."""

    async def ours(request: Request, error: Exception) -> JSONResponse:
        assert isinstance(error, errors.WenditasError)
        return JSONResponse(problem_of(error).model_dump(), status_code=status_of(error))

    async def disk(request: Request, error: Exception) -> JSONResponse:
        full = "full" in str(error) or "No space" in str(error)
        message = "The disk is full: nothing was changed. Make room and try again." if full else f"The data folder cannot be written: {error}"
        return JSONResponse(Problem(kind="Disk", message=message).model_dump(), status_code=507)

    async def malformed(request: Request, error: Exception) -> JSONResponse:
        assert isinstance(error, RequestValidationError)
        first = error.errors()[0]
        place = "/".join(str(part) for part in first["loc"])
        return JSONResponse(Problem(kind="BadRequest", message=f"{place}: {first['msg']}").model_dump(), status_code=422)

    app.add_exception_handler(errors.WenditasError, ours)
    app.add_exception_handler(RequestValidationError, malformed)
    app.add_exception_handler(sqlite3.OperationalError, disk)
    app.add_exception_handler(OSError, disk)
