"""The one place where errors become HTTP."""

import errno
import sqlite3
from pathlib import Path

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from pydantic import BaseModel
from starlette.exceptions import HTTPException

from wenditas.api.models.reels import ReelView
from wenditas.api.models.shots import ShotView
from wenditas.core import errors
from wenditas.store.database import DISK_FULL

STATUS: list[tuple[type[errors.WenditasError], int]] = [
    (errors.NotFound, 404),
    (errors.Conflict, 409),
    (errors.TooLarge, 413),
    (errors.FootageRefused, 422),
    (errors.BadRequest, 422),
    (errors.DiskFull, 507),
    (errors.CannotStore, 507),
    (errors.DataFolderError, 503),
    (errors.Cancelled, 499),
    (errors.ExportFailed, 500),
    (errors.WenditasError, 500),
]


class Problem(BaseModel):
    """An error as the interface receives it. newest: the shot as it stands, where an edit does not fit it; held: what a damaged file can be taken by."""

    kind: str
    message: str
    newest: ShotView | ReelView | None = None
    held: str | None = None


def status_of(error: errors.WenditasError) -> int:
    """The HTTP status of an error, by the nearest entry of the tree."""
    return next(status for kind, status in STATUS if isinstance(error, kind))


def problem_of(error: errors.WenditasError) -> Problem:
    """The body of an error."""
    newest = error.newest if isinstance(error, errors.Overtaken) else None
    held = error.held if isinstance(error, errors.FootageDamaged) else None
    return Problem(kind=type(error).__name__, message=str(error), newest=newest, held=held)


def answer(error: errors.WenditasError) -> JSONResponse:
    """An error as an answer."""
    return JSONResponse(problem_of(error).model_dump(mode="json"), status_code=status_of(error))


def _translated(error: Exception) -> errors.WenditasError:
    """Errors of Python and SQLite that have a cause in the request or the disk, as ours."""
    if isinstance(error, OSError) and error.errno in (errno.ENOSPC, errno.EDQUOT):
        return errors.DiskFull(DISK_FULL)
    if isinstance(error, OSError) and error.errno in (errno.ENAMETOOLONG, errno.EINVAL):
        return errors.NotFound("There is nothing of that name.")
    if isinstance(error, FileNotFoundError):
        return errors.NotFound(f"{Path(str(error.filename or 'A file')).name} is missing from the data folder.")
    if isinstance(error, OSError):
        return errors.CannotStore(f"The data folder cannot be used as it is: {error.strerror or error}. Nothing was changed.")
    if isinstance(error, UnicodeEncodeError):
        return errors.BadRequest("A text in this request holds half of a character pair, which cannot be stored.")
    if isinstance(error, OverflowError):
        return errors.BadRequest("A number in this request is too large.")
    if isinstance(error, RecursionError):
        return errors.BadRequest("This request is nested too deep.")
    if isinstance(error, sqlite3.OperationalError):
        return errors.CannotStore(f"The database cannot be used now: {error}. Nothing was changed; try again.")
    raise error


def install(app: FastAPI) -> None:
    """Register the handlers."""

    async def ours(request: Request, error: Exception) -> JSONResponse:
        return answer(error if isinstance(error, errors.WenditasError) else _translated(error))

    async def malformed(request: Request, error: Exception) -> JSONResponse:
        assert isinstance(error, RequestValidationError)
        first = error.errors()[0]
        place = "/".join(str(part) for part in first["loc"])
        message = f"{place}: {first['msg']}".encode(errors="replace").decode()
        return JSONResponse(Problem(kind="BadRequest", message=message).model_dump(), status_code=422)

    async def said(request: Request, error: Exception) -> JSONResponse:
        assert isinstance(error, HTTPException)
        message = error.detail if error.status_code != 404 else "There is nothing at this address."
        return JSONResponse(Problem(kind="BadRequest", message=message).model_dump(), status_code=error.status_code, headers=error.headers)

    for kind in (errors.WenditasError, sqlite3.OperationalError, OSError, UnicodeEncodeError, OverflowError, RecursionError):
        app.add_exception_handler(kind, ours)
    app.add_exception_handler(RequestValidationError, malformed)
    app.add_exception_handler(HTTPException, said)
