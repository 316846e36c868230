"""The command line: serve, demo, apply, warm."""

import atexit
import json
import os
import secrets
import socket
import tempfile
import time
from pathlib import Path
from typing import Annotated

import typer
import uvicorn
from platformdirs import user_data_path
from rich.console import Console
from rich.markup import escape
from rich.progress import BarColumn, Progress, TaskProgressColumn, TextColumn, TimeRemainingColumn

from wenditas.api.app import create_app
from wenditas.api.security import LOOPBACK
from wenditas.api.services import Services
from wenditas.core.errors import WenditasError
from wenditas.core.files import NO_FILES, Files
from wenditas.core.film import Shot
from wenditas.core.look.as_lut import SIZES, as_lut
from wenditas.formats.cube import write_cube
from wenditas.formats.look_json import Carried, read_files, read_look
from wenditas.media.encode import Quality
from wenditas.media.noise import measured
from wenditas.media.probe import inspect
from wenditas.media.reader import Reader
from wenditas.project.demo import open_demo
from wenditas.project.files import Files as ProjectFiles
from wenditas.project.files import files_of
from wenditas.project.library import node_of
from wenditas.render.export import Sound, VideoOptions, export_still, export_video
from wenditas.render.sources import FileSources
from wenditas.render.warm import warm_up
from wenditas.store.database import Database

app = typer.Typer(help="Wenditas: isolate, remap and replace colours in moving pictures.", no_args_is_help=True, add_completion=False)
console = Console()
errors = Console(stderr=True)

Data = Annotated[Path, typer.Option("--data", help="The data folder: database, footage, exports.")]
Port = Annotated[int, typer.Option(help="The port to listen on.", min=1, max=65535)]
Host = Annotated[str, typer.Option(help="The address to listen on. Any other than 127.0.0.1 needs an access token, which is printed at start.")]
MOST_MESSAGE = 8 << 20  # bytes of one message on the live channel
DEFAULT_DATA = user_data_path("wenditas")


def _open(data: Path) -> Services:
    """The data folder, or a sentence that says why it cannot be opened."""
    try:
        return Services.open(data)
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
    services = services or _open(data)
    shown = "\n                 ".join(f"[bold]http://{escape(name)}:{port}/{path}{f'?token={token}' if token else ''}[/bold]" for name in names)
    console.print(f"\n  Wenditas is at {shown}\n  Data folder: {data}\n  Stop with Ctrl+C.\n", highlight=False, soft_wrap=True)
    app = create_app(data, (*LOOPBACK, *names), token, services)
    # Pictures on the live channel are compressed already.
    uvicorn.run(
        app, host=host, port=port, log_level="warning", timeout_graceful_shutdown=2, ws_per_message_deflate=False, ws_max_size=MOST_MESSAGE, proxy_headers=False
    )


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
    services = _open(data)
    try:
        project = open_demo(services.db, services.library, services.documents, services.make_ready)
    except (WenditasError, OSError) as error:
        services.close()
        errors.print(f"[bold]Stopped.[/bold] The demo project cannot be made. {error}", highlight=False)
        raise typer.Exit(1) from error
    if prepare_only:
        services.close()
    else:
        _run(data, host, port, f"projects/{project.id}/footage", services)


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
        _apply(parsed, _provided(read_files(text)), source, target, first, last, quality, sound, force)
    except (WenditasError, ValueError, OSError) as error:
        errors.print(f"[bold]Stopped.[/bold] {error}", highlight=False)
        raise typer.Exit(1) from error
    except KeyboardInterrupt as error:
        errors.print("Cancelled; nothing was kept of the unfinished file.")
        raise typer.Exit(130) from error


def _provided(carried: list[Carried]) -> Files:
    """The files that a look carries along, for its passes."""
    if not carried:
        return NO_FILES
    folder = tempfile.TemporaryDirectory(prefix="wenditas-")
    atexit.register(folder.cleanup)
    kept = ProjectFiles(Path(folder.name), Database(Path(folder.name) / "files.db"))
    for file in carried:
        kept.take_in(file.data, file.name)
    return kept.loaded


def _apply(look, files: Files, source: Path, target: Path, first: int, last: int | None, quality: str, sound: bool, force: bool) -> None:  # type: ignore[no-untyped-def]
    if target.exists() and not force:
        raise ValueError(f"{target} exists already; give --force to replace it.")
    if target.suffix.lower() not in (".mp4", ".png"):
        raise ValueError(f"OUTPUT is a .mp4 or a .png file, not {target.suffix or 'one without an ending'!r}.")
    for item in look.passes:
        if not item.known:
            errors.print(f"Pass “{item.name}” is left out: this version has no treatment {item.treatment!r}.", highlight=False)
    if target.exists() and target.samefile(source):
        raise ValueError("INPUT and OUTPUT are the same file; choose another name for OUTPUT.")
    facts, index = inspect(source, take=True)
    facts = facts.model_copy(update={"noise": measured(source, facts, index)})
    for sentence in facts.damage:
        errors.print(f"{source.name}: {sentence}", highlight=False)
    end = facts.length - 1 if last is None else last
    if not first <= end < facts.length:
        raise ValueError(f"--in {first} and --out {end} do not lie, in this order, within the frames 0 to {facts.length - 1}.")
    footage = node_of("input", facts)
    node = Shot(of=footage, first=0, last=footage.length - 1, look=look, files=tuple(files_of(look)))
    reader = {purpose: Reader(source, facts, index) for purpose in ("in order", "beside")}
    sources = FileSources(lambda content, purpose, number: reader[purpose])
    if target.suffix.lower() == ".png":
        export_still(node, first, target, sources, files)
        return
    columns = TextColumn("{task.description}"), BarColumn(), TaskProgressColumn(), TextColumn("{task.completed}/{task.total} frames"), TimeRemainingColumn()
    with Progress(*columns, console=console) as bar:
        task = bar.add_task(target.name, total=end - first + 1)
        options = VideoOptions.model_validate({"quality": quality, "sound": sound})
        start = float(int(index.times[0]) * index.time_base) + first / float(facts.frame_rate)
        heard = Sound(source, start) if sound and facts.sound is not None else None
        export_video(node, (first, end), target, options, sources, files, heard, lambda done, total: bar.update(task, completed=done))


@app.command()
def lut(
    look: Annotated[Path, typer.Argument(help="A look saved from the Bench (JSON).", exists=True, dir_okay=False)],
    target: Annotated[Path, typer.Argument(metavar="OUTPUT", help="The .cube file to write.")],
    size: Annotated[int, typer.Option(help="Samples along an edge: 17, 33 or 65.")] = 33,
    frame: Annotated[int, typer.Option(help="The frame whose values are taken where they are animated.", min=0)] = 0,
    force: Annotated[bool, typer.Option("--force", help="Replace OUTPUT where it exists.")] = False,
) -> None:
    """Write what of a look does the same to a colour wherever it stands as a LUT; what is left out is told."""
    try:
        if size not in SIZES:
            raise ValueError(f"--size is {', '.join(map(str, SIZES))}, not {size}.")
        if target.exists() and not force:
            raise ValueError(f"{target} exists already; give --force to replace it.")
        text = look.read_bytes()
        name, parsed = read_look(text)
        made, left_out = as_lut(parsed, frame, 24, size, name, _provided(read_files(text)))
        target.write_text(write_cube(made), encoding="utf-8")
    except (WenditasError, ValueError, OSError) as error:
        errors.print(f"[bold]Stopped.[/bold] {error}", highlight=False)
        raise typer.Exit(1) from error
    for item in left_out:
        console.print(f"Left out: {escape(item.name)}: {escape(item.why)}.", highlight=False)
    console.print(
        f"{target} holds {len(parsed.passes) - sum(1 for p in parsed.passes if p.name in {i.name for i in left_out})} of {len(parsed.passes)} passes.",
        highlight=False,
    )


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
