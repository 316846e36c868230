"""The command line: serve, demo, apply, lut, facts, look check, warm."""

import atexit
import hashlib
import json
import os
import secrets
import socket
import tempfile
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Annotated, Any

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
from wenditas.core.look.document import Look
from wenditas.formats.cube import write_cube
from wenditas.formats.look_json import Carried, read_files, read_look, write_look
from wenditas.media.encode import Quality
from wenditas.media.noise import measured
from wenditas.media.probe import inspect
from wenditas.media.reader import Reader
from wenditas.project.demo import open_demo
from wenditas.project.files import Files as ProjectFiles
from wenditas.project.files import files_of
from wenditas.project.library import SUFFIXES, node_of
from wenditas.project.names import named_by
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
STILLS = {".png", ".jpg", ".jpeg", ".tif", ".tiff", ".webp"}


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
    paths: Annotated[list[Path], typer.Argument(metavar="INPUT… [OUTPUT]", help="A file and what to write; with --out-dir any number of files and folders.")],
    out_dir: Annotated[Path | None, typer.Option("--out-dir", help="A folder to write to: every INPUT gets a file there.", file_okay=False)] = None,
    pattern: Annotated[str, typer.Option(help="Names in --out-dir, made of {name} and {look}.")] = "{name} {look}",
    first: Annotated[int, typer.Option("--in", help="First frame.", min=0)] = 0,
    last: Annotated[int | None, typer.Option("--out", help="Last frame, included. Default: the end.", min=0)] = None,
    quality: Annotated[Quality, typer.Option(help="Smaller files, or finer pictures.")] = "good",
    sound: Annotated[bool, typer.Option(help="Keep the sound.")] = True,
    force: Annotated[bool, typer.Option("--force", help="Replace files that exist.")] = False,
) -> None:
    """Render a saved look on a file, or on many, without a server.

    For one: wenditas apply night.json tram.mov tram-night.mp4

    For many: wenditas apply night.json footage/ more/*.mov --out-dir night
    """
    with _stopping():
        text = look.read_bytes()
        name, parsed = read_look(text)
        files = _provided(read_files(text))
        if out_dir is None:
            if len(paths) != 2:
                raise ValueError("Give one INPUT and one OUTPUT, or --out-dir for many.")
            return _apply(parsed, files, *paths, first, last, quality, sound, force)
        failed = _apply_all(
            parsed, files, paths, out_dir, lambda source: named_by(pattern, {"name": source.stem, "look": name}), (first, last, quality, sound, force)
        )
    if failed:
        raise typer.Exit(1)


def _named(pattern: str, look: str, source: Path) -> tuple[str, str | None]:
    return named_by(pattern, {"name": source.stem, "look": look})


def _apply_all(look: Look, files: Files, paths: list[Path], out_dir: Path, named: Callable[[Path], tuple[str, str | None]], how: tuple[Any, ...]) -> int:
    """Render every file, also of folders; what fails is told and the others go on. Returns how many failed."""
    sources = list(dict.fromkeys(file for path in paths for file in (_footage_in(path) if path.is_dir() else [path])))
    if not sources:
        raise ValueError("There are no videos or stills in these folders.")
    out_dir.mkdir(parents=True, exist_ok=True)
    done, failed, taken = 0, 0, set[Path]()
    for source in sources:
        name, unknown = named(source)
        if unknown is not None:
            raise ValueError(f"--pattern can hold {{name}} and {{look}}; {{{unknown}}} is none of them.")
        ending = ".png" if source.suffix.lower() in STILLS else ".mp4"
        target = next(p for p in (out_dir / f"{name}{k}{ending}" for k in ("", *(f" {n}" for n in range(2, 10_000)))) if p not in taken)
        taken.add(target)
        try:
            _apply(look, files, source, target, *how)
            done += 1
        except (WenditasError, ValueError, OSError) as error:
            failed += 1
            errors.print(f"[bold]{escape(source.name)}:[/bold] {escape(str(error))}", highlight=False)
    console.print(f"{done} of {len(sources)} files are in {out_dir}." + (f" {failed} failed." if failed else ""), highlight=False)
    return failed


def _footage_in(folder: Path) -> list[Path]:
    return sorted(p for p in folder.rglob("*") if p.is_file() and p.suffix.lower() in SUFFIXES)


@contextmanager
def _stopping() -> Iterator[None]:
    """Whatever a user can cause is told in a sentence."""
    try:
        yield
    except (WenditasError, ValueError, OSError) as error:
        errors.print(f"[bold]Stopped.[/bold] {escape(str(error))}", highlight=False)
        raise typer.Exit(1) from error
    except KeyboardInterrupt as error:
        errors.print("Cancelled; nothing was kept of the unfinished file.")
        raise typer.Exit(130) from error


@app.command()
def facts(
    paths: Annotated[list[Path], typer.Argument(metavar="FILE…", help="Videos or stills.")],
    as_json: Annotated[bool, typer.Option("--json", help="As JSON, one object for each file.")] = False,
) -> None:
    """Tell what is known about files: size, rate, length, colour, and what of them is damaged."""
    failed = 0
    for path in paths:
        try:
            found, _ = inspect(path, take=True)
        except (WenditasError, OSError) as error:
            failed += 1
            if as_json:
                print(json.dumps({"file": str(path), "error": str(error)}))
            else:
                errors.print(f"[bold]{escape(str(path))}:[/bold] {escape(str(error))}", highlight=False)
            continue
        if as_json:
            print(json.dumps({"file": str(path), **found.model_dump(mode="json"), "seconds": found.seconds}))
            continue
        console.print(f"[bold]{escape(str(path))}[/bold]", highlight=False)
        told = [f"{found.kind}, {found.codec} in {found.container}", f"{found.width} × {found.height}", f"{found.bits} bit, {found.pixel_format}"]
        told += [] if found.kind == "still" else [f"{float(found.frame_rate):.6g} frames a second, {found.length} frames, {found.seconds:.2f} s"]
        told += [f"{found.matrix}, {'full' if found.full_range else 'video'} range" + ("" if found.tagged else ", not tagged"), found.sound or "no sound"]
        for line in (*told, *found.damage):
            console.print(f"  {escape(line)}", highlight=False, soft_wrap=True)
    if failed:
        raise typer.Exit(1)


looks = typer.Typer(help="Look files: what is in them, and whether they are in order.", no_args_is_help=True)
app.add_typer(looks, name="look")


@looks.command()
def check(
    look: Annotated[Path, typer.Argument(help="A look saved from the Bench (JSON).", exists=True, dir_okay=False)],
    upgrade: Annotated[Path | None, typer.Option(help="Write it anew in the newest version of the format.")] = None,
    force: Annotated[bool, typer.Option("--force", help="Replace the file that --upgrade writes.")] = False,
) -> None:
    """Explain a look: its passes and selections, and what this version does not know."""
    with _stopping():
        text = look.read_bytes()
        name, parsed = read_look(text)
        carried = read_files(text)
        console.print(
            f"[bold]{escape(name)}[/bold]: {len(parsed.passes)} passes, {len(parsed.selections)} selections, {len(parsed.lanes)} lanes", highlight=False
        )
        for item in parsed.passes:
            state = "" if item.on else ", off"
            known = "" if item.known else "; this version has no such treatment, and leaves it out"
            console.print(
                f"  {escape(item.name or item.treatment)}: {item.treatment}, {item.amount:g} % {item.side}{state}{known}", highlight=False, soft_wrap=True
            )
        for file in carried:
            console.print(f"  carries {escape(file.name)}, {len(file.data)} bytes", highlight=False)
        if upgrade is not None:
            if upgrade.exists() and not force:
                raise ValueError(f"{upgrade} exists already; give --force to replace it.")
            by_digest = {hashlib.sha256(file.data).hexdigest()[:32]: file for file in carried}
            upgrade.write_text(write_look(parsed, name, by_digest), encoding="utf-8")
            console.print(f"Written anew: {upgrade}", highlight=False)
    if any(not item.known for item in parsed.passes):
        raise typer.Exit(1)


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
    with _stopping():
        if size not in SIZES:
            raise ValueError(f"--size is {', '.join(map(str, SIZES))}, not {size}.")
        if target.exists() and not force:
            raise ValueError(f"{target} exists already; give --force to replace it.")
        text = look.read_bytes()
        name, parsed = read_look(text)
        made, left_out = as_lut(parsed, frame, 24, size, name, _provided(read_files(text)))
        target.write_text(write_cube(made), encoding="utf-8")
    for item in left_out:
        console.print(f"Left out: {escape(item.name)}: {escape(item.why)}.", highlight=False)
    without = {item.name for item in left_out}
    count = sum(1 for p in parsed.passes if p.on and (p.name or p.treatment) not in without)
    console.print(f"{target} holds {count} of {len(parsed.passes)} passes.", highlight=False)


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
