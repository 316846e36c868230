"""serve, demo and warm."""

import errno
import os
import secrets
import socket
import time
from collections.abc import Sequence
from pathlib import Path
from typing import Annotated

import typer
from platformdirs import user_data_path
from rich.markup import escape
from rich.progress import BarColumn, Progress, TaskProgressColumn, TextColumn, TimeRemainingColumn
from uvicorn.importer import import_from_string

from wenditas.app.services import Services
from wenditas.cli.console import app, console, errors
from wenditas.cli.reading import reading
from wenditas.core.errors import WenditasError
from wenditas.media.memory import ask, bytes_of
from wenditas.project.demo import open_demo
from wenditas.render.warm import is_cold, warm_up

Data = Annotated[Path, typer.Option("--data", help="The data folder: database, footage, exports.")]
Port = Annotated[int, typer.Option(help="The port to listen on.", min=1, max=65535)]
Host = Annotated[str, typer.Option(help="The address to listen on. Any other than 127.0.0.1 needs an access token, which is printed at start.")]
SERVER = "wenditas.api.server:serve"  # what answers requests: named, since the command line knows nothing of it
DEFAULT_DATA = user_data_path("wenditas")


Media = Annotated[list[Path] | None, typer.Option("--media", help="A folder from which footage can be used where it lies; may be given several times.")]


Memory = Annotated[
    str | None,
    typer.Option("--memory", metavar="<size>", help="About how much memory it may take, as 1G or 900M: smaller caches, more that is made again."),
]


def _ask_for(memory: str | None) -> None:
    """Hold to a total of memory, from before anything is opened."""
    if memory is None:
        return
    try:
        ask(bytes_of(memory))
    except WenditasError as error:
        errors.print(f"[bold]Stopped.[/bold] {error}", highlight=False)
        raise typer.Exit(1) from error


def open_data(data: Path, media: Sequence[Path] = ()) -> Services:
    """The data folder, or a sentence that says why it cannot be opened."""
    try:
        return Services.open(data, media)
    except WenditasError as error:
        errors.print(f"[bold]Stopped.[/bold] {error}", highlight=False)
        raise typer.Exit(1) from error


def _addresses(host: str) -> list[str]:
    """By what names the server can be reached: where it listens on all addresses, this machine's name and its addresses."""
    if host not in ("0.0.0.0", "::", ""):
        return [f"[{host}]" if ":" in host else host]
    found = {str(info[4][0]) for info in socket.getaddrinfo(os.uname().nodename, None)} if host else set()
    return ["127.0.0.1", os.uname().nodename, *sorted(f"[{a}]" if ":" in a else a for a in found if not a.startswith(("127.", "::1", "fe80")))]


def _run(data: Path, host: str, port: int, path: str = "", services: Services | None = None) -> None:
    loopback = host in ("127.0.0.1", "localhost", "::1")
    token = None if loopback else secrets.token_urlsafe(24)
    names = _addresses(host)
    try:
        listening = _listen(host, port)
    except OSError as error:
        if services is not None:
            services.close()
        why = "another program listens there; choose another with --port" if error.errno == errno.EADDRINUSE else error.strerror
        errors.print(f"[bold]Stopped.[/bold] Port {port} of {host} cannot be used: {why}.", highlight=False)
        raise typer.Exit(1) from error
    services = services or open_data(data)
    shown = "\n                 ".join(f"[bold]http://{escape(name)}:{port}/{path}{_token(path, token)}[/bold]" for name in names)
    console.print(f"\n  Wenditas is at {shown}\n  Data folder: {data}\n  Stop with Ctrl+C.\n", highlight=False)
    with reading():
        answer = import_from_string(SERVER)
    answer(services, listening, names, token)


def _listen(host: str, port: int) -> socket.socket:
    """A socket that listens, before anything is said of it. Raises `OSError`."""
    family, kind, protocol, _, address = socket.getaddrinfo(host or None, port, type=socket.SOCK_STREAM, flags=socket.AI_PASSIVE)[0]
    made = socket.socket(family, kind, protocol)
    try:
        made.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        made.bind(address)
        made.listen(128)
        return made
    except OSError:
        made.close()
        raise


def _token(path: str, token: str | None) -> str:
    return f"{'&' if '?' in path else '?'}token={token}" if token else ""


def _compiled() -> None:
    """Compile kernels where that was not done yet, with progress: once for an installation, a minute or two."""
    if not is_cold():
        return
    console.print("  This is the first start: the kernels are compiled for this machine, once.", highlight=False)
    with Progress(TextColumn("  {task.description}"), BarColumn(), TaskProgressColumn(), TimeRemainingColumn(), console=console) as bar:
        task = bar.add_task("Compiling", total=None)
        warm_up(lambda done, total: bar.update(task, completed=done, total=total))


@app.command()
def serve(data: Data = DEFAULT_DATA, host: Host = "127.0.0.1", port: Port = 8610, media: Media = None, memory: Memory = None) -> None:
    """Serve the application on this machine and print its address.

    With footage that stays where it is: wenditas serve --media /mnt/rushes --media ~/Videos
    """
    _ask_for(memory)
    _run(data, host, port, services=open_data(data, media or ()))


@app.command()
def demo(
    data: Data = DEFAULT_DATA,
    host: Host = "127.0.0.1",
    port: Port = 8610,
    media: Media = None,
    memory: Memory = None,
    prepare_only: Annotated[bool, typer.Option("--prepare-only", help="Make the demo project and stop.")] = False,
) -> None:
    """Open the demo project, a short film for the Marrow Hill Tramway, and serve it."""
    _ask_for(memory)
    _compiled()
    services = open_data(data, media or ())
    try:
        project = open_demo(services.db, services.projects.library, services.projects.documents, services.make_ready)
    except (WenditasError, OSError) as error:
        services.close()
        errors.print(f"[bold]Stopped.[/bold] The demo project cannot be made. {error}", highlight=False)
        raise typer.Exit(1) from error
    if prepare_only:
        services.close()
    else:
        _run(data, host, port, f"projects/{project.id}/reel?first", services)


@app.command()
def warm() -> None:
    """Compile all kernels now, so that no picture waits for the compiler."""
    started = time.perf_counter()
    count = warm_up()
    console.print(f"{count} kernels ready in {time.perf_counter() - started:.1f} s.", highlight=False)
