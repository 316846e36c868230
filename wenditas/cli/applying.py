"""apply: a look on files."""

import hashlib
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import Annotated, Any

import typer
from pydantic import ValidationError
from rich.markup import escape

from wenditas.cli.carried import Provided, provided
from wenditas.cli.console import app, console, errors, frames_bar, refuse_existing, stopping
from wenditas.core.errors import WenditasError
from wenditas.core.film import Shot
from wenditas.core.look.document import Look
from wenditas.formats.look_json import read_files, read_look
from wenditas.media.as_node import footage_of
from wenditas.media.noise import measured
from wenditas.media.probe import inspect
from wenditas.media.reader import Reader
from wenditas.media.reading import tone_mapping
from wenditas.media.writing import FORMATS
from wenditas.media.writing.record import Quality
from wenditas.project.kinds import SUFFIXES
from wenditas.project.names import named_by
from wenditas.render.cluster import Cluster
from wenditas.render.export import export_still
from wenditas.render.from_file import job_from_file, mapped
from wenditas.render.options import ExportOptions
from wenditas.render.perform import Executor, Here, Processes, perform
from wenditas.render.sources import FileSources

STILLS = {".png", ".jpg", ".jpeg", ".tif", ".tiff", ".webp"}
FORMAT_HELP = f"What to write: {', '.join(FORMATS)}. Default: by the ending of OUTPUT, else h264."
USUAL = {".mp4": "h264", ".mov": "prores-422-hq", ".mkv": "ffv1", ".webm": "vp9", ".zip": "png-8", ".webp": "webp", ".gif": "gif", "": "png-8"}


@dataclass(frozen=True)
class How:
    """What is the same for every file of a run."""

    look: Look
    carried: Provided
    first: int
    last: int | None
    format: str | None
    quality: Quality
    sound: bool
    width: int | None
    fps: float | None
    force: bool
    executor: Executor | None
    shows: str = "result"
    selection: str | None = None

    def options(self, target: Path) -> ExportOptions:
        """The options of an export to a target."""
        chosen = next((s.id for s in self.look.selections if self.selection in (s.name, s.id)), self.selection)
        about = {"quality": self.quality, "sound": self.sound, "width": self.width, "fps": self.fps}
        return options_for(target, self.format, **about, shows=self.shows, selection=chosen)


def options_for(target: Path, format: str | None, **more: Any) -> ExportOptions:
    """The options of an export to a target. Raises `ValueError` where its ending is of no format, or of another."""
    suffix = target.suffix.lower()
    id = format or USUAL.get(suffix)
    if id is None:
        endings = ", ".join(s for s in USUAL if s)
        raise ValueError(f"OUTPUT ends in {suffix!r}, which is no format that can be written: it is {endings}, or .png for one frame.")
    if id not in FORMATS:
        raise ValueError(f"There is no format {id!r}; there are {', '.join(FORMATS)}.")
    made = FORMATS[id]
    if suffix != made.suffix and not (made.pictures and not suffix):
        raise ValueError(f"{made.name} is written to {made.suffix} files, not to {suffix or 'a folder'}.")
    try:
        return ExportOptions(format=id, folder=made.pictures and not suffix, **more)
    except ValidationError as error:
        raise ValueError(f"{error.errors()[0]['msg'].removeprefix('Value error, ')}.") from error


@contextmanager
def executor_of(processes: int | None, on: str | None = None) -> Iterator[Executor | None]:
    """Where segments are rendered: on a cluster, in so many processes, or as is usual."""
    if on is None:
        yield None if processes is None else Here() if processes == 1 else Processes(processes)
        return
    cluster = Cluster(on)
    try:
        yield cluster
    finally:
        cluster.close()


@app.command()
def apply(
    look: Annotated[Path, typer.Argument(help="A look saved from the Bench (JSON).", exists=True, dir_okay=False)],
    paths: Annotated[list[Path], typer.Argument(metavar="INPUT… [OUTPUT]", help="A file and what to write; with --out-dir any number of files and folders.")],
    out_dir: Annotated[Path | None, typer.Option("--out-dir", help="A folder to write to: every INPUT gets a file there.", file_okay=False)] = None,
    pattern: Annotated[str, typer.Option(help="Names in --out-dir, made of {name} and {look}.")] = "{name} {look}",
    first: Annotated[int, typer.Option("--in", help="First frame.", min=0)] = 0,
    last: Annotated[int | None, typer.Option("--out", help="Last frame, included. Default: the end.", min=0)] = None,
    format: Annotated[str | None, typer.Option(help=FORMAT_HELP)] = None,
    quality: Annotated[Quality, typer.Option(help="Smaller files, or finer pictures.")] = "good",
    sound: Annotated[bool, typer.Option(help="Keep the sound.")] = True,
    width: Annotated[int | None, typer.Option(help="Pixels across. Default: as the footage.", min=16, max=16384)] = None,
    fps: Annotated[float | None, typer.Option(help="Frames a second of a loop.", min=1, max=60)] = None,
    processes: Annotated[int | None, typer.Option(help="How many processes share the work. Default: one for two cores.", min=1, max=64)] = None,
    force: Annotated[bool, typer.Option("--force", help="Replace files that exist.")] = False,
) -> None:
    """Render a saved look on a file, or on many, without a server.

    For one: wenditas apply night.json tram.mov tram-night.mp4

    For many: wenditas apply night.json footage/ more/*.mov --out-dir night --format prores-422-hq

    As numbered pictures in a folder: wenditas apply night.json tram.mov night/ --format exr-half
    """
    with stopping(), executor_of(processes) as executor:
        text = look.read_bytes()
        name, parsed = read_look(text)
        how = How(parsed, provided(read_files(text)), first, last, format, quality, sound, width, fps, force, executor)
        for item in parsed.passes:
            if not item.known:
                errors.print(f"Pass “{item.name}” is left out: this version has no treatment {item.treatment!r}.", highlight=False)
        if out_dir is None:
            if len(paths) != 2:
                raise ValueError("Give one INPUT and one OUTPUT, or --out-dir for many.")
            return render_file(how, *paths)
        failed = _apply_all(how, paths, out_dir, pattern, name)
    if failed:
        raise typer.Exit(1)


def _apply_all(how: How, paths: list[Path], out_dir: Path, pattern: str, look: str) -> int:
    """Render every file, also of folders; what fails is told and the others go on. Returns how many failed."""
    sources = list(dict.fromkeys(file for path in paths for file in (_footage_in(path) if path.is_dir() else [path])))
    if not sources:
        raise ValueError("There are no videos or stills in these folders.")
    out_dir.mkdir(parents=True, exist_ok=True)
    done, failed, taken = 0, 0, set[Path]()
    usual = FORMATS[how.format].suffix if how.format in FORMATS else ".mp4"
    for source in sources:
        name, unknown = named_by(pattern, {"name": source.stem, "look": look})
        if unknown is not None:
            raise ValueError(f"--pattern can hold {{name}} and {{look}}; {{{unknown}}} is none of them.")
        ending = ".png" if source.suffix.lower() in STILLS and how.format is None else usual
        target = next(p for p in (out_dir / f"{name}{k}{ending}" for k in ("", *(f" {n}" for n in range(2, 10_000)))) if p not in taken)
        taken.add(target)
        try:
            render_file(how, source, target)
            done += 1
        except (WenditasError, ValueError, OSError) as error:
            failed += 1
            errors.print(f"[bold]{escape(source.name)}:[/bold] {escape(str(error))}", highlight=False)
    console.print(f"{done} of {len(sources)} files are in {out_dir}." + (f" {failed} failed." if failed else ""), highlight=False)
    return failed


def _footage_in(folder: Path) -> list[Path]:
    return sorted(p for p in folder.rglob("*") if p.is_file() and p.suffix.lower() in SUFFIXES)


def render_file(how: How, source: Path, target: Path) -> None:
    """A look on one file. Raises `ValueError` and what rendering raises."""
    still = target.suffix.lower() == ".png" and how.format is None
    if target.exists() and source.exists() and target.samefile(source):
        raise ValueError("INPUT and OUTPUT are the same file; choose another name for OUTPUT.")
    refuse_existing(target, how.force)
    options = None if still else how.options(target)
    facts, index = inspect(source, take=True)
    facts = facts.model_copy(update={"noise": measured(source, facts, index)})
    for sentence in facts.damage:
        errors.print(f"{source.name}: {sentence}", highlight=False)
    end = facts.length - 1 if how.last is None else how.last
    if not how.first <= end < facts.length:
        raise ValueError(f"--in {how.first} and --out {end} do not lie, in this order, within the frames 0 to {facts.length - 1}.")
    if options is None:
        footage = footage_of("input", facts)
        node = Shot(of=footage, first=0, last=footage.length - 1, look=how.look, files=tuple(how.carried.used))
        through = tone_mapping(mapped(facts)) if mapped(facts) else None
        reader = {purpose: Reader(source, facts, index, lut=through) for purpose in ("in order", "beside")}
        export_still(node, how.first, target, FileSources(lambda content, purpose, number: reader[purpose]), how.carried.files)
        return
    with _beside(target) as work, frames_bar() as bar:
        digest = file_digest(source)
        job = job_from_file(source, facts, index, how.look, (how.first, end), target, options, work, how.carried.used, digest)
        task = bar.add_task(target.name, total=len(job.frames))
        perform(job, lambda done, total: bar.update(task, completed=done), executor=how.executor)


def file_digest(path: Path) -> str:
    """SHA-256 of a file, by which other machines know it."""
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


@contextmanager
def _beside(target: Path) -> Iterator[Path]:
    """A folder beside a target, for what is made on the way."""
    with tempfile.TemporaryDirectory(prefix=f".{target.stem[:40]}-", dir=target.resolve().parent) as folder:
        yield Path(folder)
