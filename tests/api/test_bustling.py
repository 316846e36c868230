"""What counts as something that somebody waits for."""

import contextlib
from types import SimpleNamespace

import pytest

from wenditas.api.bustling import Bustling
from wenditas.render.quiet import Bustle


@pytest.mark.parametrize(
    ("path", "waited_for"),
    [
        ("/api/shots/a/pictures/1/0.png", True),
        ("/api/shots/a/checks/1/0", True),  # of one frame
        ("/api/shots/a/checks/1", False),  # of a whole shot
        ("/api/events", False),
    ],
)
def test_what_is_waited_for(path: str, waited_for: bool) -> None:
    bustle, seen = Bustle(), []

    async def answer(scope, receive, send) -> None:  # type: ignore[no-untyped-def]
        seen.append(bustle.quiet_for() == 0)

    services = SimpleNamespace(background=SimpleNamespace(bustle=bustle))
    scope = {"type": "http", "path": path, "app": SimpleNamespace(state=SimpleNamespace(services=services))}
    with contextlib.suppress(StopIteration):
        Bustling(answer)(scope, None, None).send(None)  # type: ignore[arg-type]
    assert seen == [waited_for] and bustle.quiet_for() > 0
