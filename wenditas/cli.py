"""The command line: serve, demo, apply, warm."""

import atexit
import json
import os
import secrets
import tempfile
import time
from pathlib import Path
from typing import Annotated

import typer
import uvicorn
from platformdirs import user_data_path
from rich.console import Console
from rich.progress import BarColumn, Progress, TaskProgressColumn, TextColumn, TimeRemainingColumn

from wenditas.api.app import create_app
from wenditas.api.security import LOOPBACK
from wenditas.api.services import Services
from wenditas.core.errors import WenditasError
from wenditas.formats.look_json import Carried, read_files, read_look
from wenditas.media.encode import Quality
from wenditas.media.probe import inspect
from wenditas.media.reader import Reader
from wenditas.render.demo import open_demo
from wenditas.render.export import VideoOptions, export_still, export_video
from wenditas.render.files import Files
from wenditas.render.warm import warm_up
from wenditas.store.database import Database

app = typer.Typer(help="Wenditas: isolate, remap and replace colours in moving pictures.", no_args_is_help=True, add_completion=False)
console = Console()
errors = Console(stderr=True)

Data = Annotated[Path, typer.Option("--data", help="The data folder: database, footage, exports.")]
Port = Annotated[int, typer.Option(help="The port to listen on.", min=1, max=65535)]
Host = Annotated[str, typer.Option(help="The address to listen on. Any other than 127.0.0.1 needs an access token, which is printed at start.")]
DEFAULT_DATA = user_data_path("wenditas")


def _run(data: Path, host: str, port: int, path: str = "") -> None:
    loopback = host in ("127.0.0.1", "localhost", "::1")
    token = None if loopback else secrets.token_urlsafe(24)
    hosts = LOOPBACK if loopback else (*LOOPBACK, host, os.uname().nodename)
    address = f"http://{host}:{port}/{path}" + (f"?token={token}" if token else "")
    console.print(f"\n  Wenditas is at [bold]{address}[/bold]\n  Data folder: {data}\n  Stop with Ctrl+C.\n", highlight=False)
    # Pictures on the live channel are compressed already.
    uvicorn.run(create_app(data, hosts, token), host=host, port=port, log_level="warning", timeout_graceful_shutdown=2, ws_per_message_deflate=False)


@app.command()
def serve(data: Data = DEFAULT_DATA, host: Host = "127.0.0.1", port: Port = 8610) -> None:
    """Serve the application on this machine and print its address."""
    _run(data, host, port)


@app.command()
def demo(
    data: Data = DEFAULT_DATA,
    host: Host = "127.0.0.1",
    port: Port = 8610,
    prepare_only: Annotated[bool, typer.Option("--prepare-only", help="Make the demo project and stop.")] = False,
) -> None:
    """Open the demo project, a short film for the Marrow Hill Tramway, and serve it."""
    services = Services.open(data)
    project = open_demo(services.db, services.library, services.pictures)
    services.close()
    if not prepare_only:
        _run(data, host, port, f"projects/{project.id}/footage")


@app.command()
def apply(
    look: Annotated[Path, typer.Argument(help="A look saved from the Bench (JSON).", exists=True, dir_okay=False)],
    source: Annotated[Path, typer.Argument(metavar="INPUT", help="A video or a still picture.", exists=True, dir_okay=False)],
    target: Annotated[Path, typer.Argument(metavar="OUTPUT", help="The file to write: .mp4 for video, .png for a frame.")],
    first: Annotated[int, typer.Option("--in", help="First frame.", min=0)] = 0,
    last: Annotated[int | None, typer.Option("--out", help="Last frame, included. Default: the end.", min=0)] = None,
    quality: Annotated[Quality, typer.Option(help="Smaller files, or finer pictures.")] = "good",
    sound: Annotated[bool, typer.Option(help="Keep the sound.")] = True,
    force: Annotated[bool, typer.Option("--force", help="Replace OUTPUT where it exists.")] = False,
) -> None:
    """Render a saved look on a file, without a server."""
    try:
        text = look.read_bytes()
        _, parsed = read_look(text)
        _provide(read_files(text))
        _apply(parsed, source, target, first, last, quality, sound, force)
    except (WenditasError, ValueError, OSError) as error:
        errors.print(f"[bold]Stopped.[/bold] {error}", highlight=False)
        raise typer.Exit(1) from error
    except KeyboardInterrupt as error:
        errors.print("Cancelled; nothing was kept of the unfinished file.")
        raise typer.Exit(130) from error


def _provide(carried: list[Carried]) -> None:
    """Make the files that a look carries along ready for its passes."""
    folder = tempfile.TemporaryDirectory(prefix="wenditas-")
    atexit.register(folder.cleanup)
    files = Files(Path(folder.name), Database(Path(folder.name) / "files.db"))
    for file in carried:
        files.take_in(file.data, file.name)


def _apply(look, source: Path, target: Path, first: int, last: int | None, quality: str, sound: bool, force: bool) -> None:  # type: ignore[no-untyped-def]
    if target.exists() and not force:
        raise ValueError(f"{target} exists already; give --force to replace it.")
    if target.suffix.lower() not in (".mp4", ".png"):
        raise ValueError(f"OUTPUT is a .mp4 or a .png file, not {target.suffix or 'one without an ending'!r}.")
    for item in look.passes:
        if not item.known:
            errors.print(f"Pass “{item.name}” is left out: this version has no treatment {item.treatment!r}.", highlight=False)
    facts, index = inspect(source)
    end = facts.length - 1 if last is None else last
    if not first <= end < facts.length:
        raise ValueError(f"--in {first} and --out {end} do not lie, in this order, within the frames 0 to {facts.length - 1}.")
    reader = Reader(source, facts, index)
    if target.suffix.lower() == ".png":
        export_still(reader, look, first, target)
        return
    columns = TextColumn("{task.description}"), BarColumn(), TaskProgressColumn(), TextColumn("{task.completed}/{task.total} frames"), TimeRemainingColumn()
    with Progress(*columns, console=console) as bar:
        task = bar.add_task(target.name, total=end - first + 1)
        options = VideoOptions.model_validate({"quality": quality, "sound": sound})
        export_video(reader, source, look, first, end, target, options, lambda done, total: bar.update(task, completed=done))


@app.command()
def warm() -> None:
    """Compile all kernels now, so that no picture waits for the compiler."""
    started = time.perf_counter()
    count = warm_up()
    console.print(f"{count} kernels ready in {time.perf_counter() - started:.1f} s.", highlight=False)


@app.command(hidden=True)
def openapi() -> None:
    """Print the API description that the interface's types are generated from."""
    print(json.dumps(create_app(Path("/nonexistent")).openapi(), indent=1))


def main() -> None:
    """Entry point."""
    app()
