"""Work that nobody waits for any more is given up: whoever begins it says how that is known."""

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar

from wenditas.core.errors import Cancelled

Gone = Callable[[], bool]
_gone: ContextVar[Gone | None] = ContextVar("gone", default=None)


@contextmanager
def until(gone: Gone) -> Iterator[None]:
    """What is rendered within this block is given up once `gone()`."""
    token = _gone.set(gone)
    try:
        yield
    finally:
        _gone.reset(token)


def checking() -> Callable[[], None]:
    """What to call between the parts of the work that begins now; it raises `Cancelled` once nobody waits for it."""
    gone = _gone.get()

    def check() -> None:
        if gone is not None and gone():
            raise Cancelled("Nobody waits for this picture any more.")

    return check
