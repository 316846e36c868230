"""render, sheet, archive: what is done with whole projects, without a server."""

import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Annotated

import typer
from rich.markup import escape

from wenditas.app.jobs import job_for
from wenditas.app.services import Services
from wenditas.cli.applying import FORMAT_HELP, How, executor_of, options_for, render_file
from wenditas.cli.carried import provided
from wenditas.cli.console import app, console, frames_bar, refuse_existing, stopping
from wenditas.cli.serving import DEFAULT_DATA, Data
from wenditas.core.errors import NotFound
from wenditas.formats.look_json import read_files, read_look
from wenditas.media.writing.record import Quality
from wenditas.project.archive import read_in, written
from wenditas.project.columns import OWN
from wenditas.render.contact import Cell, contact_sheet
from wenditas.render.job import Job
from wenditas.render.perform import perform
from wenditas.render.request import Request
from wenditas.store import projects, shelf, shots

Force = Annotated[bool, typer.Option("--force", help="Replace files that exist.")]


@contextmanager
def _opened(data: Path) -> Iterator[Services]:
    """A data folder, which no server may use meanwhile."""
    services = Services.open(data)
    try:
        yield services
    finally:
        services.close()


def _project(services: Services, name: str) -> projects.Project:
    """A project by its name or id. Raises `NotFound`."""
    found = projects.all_projects(services.db)
    for project in found:
        if name in (project.id, project.name):
            return project
    raise NotFound(f"There is no project {name!r} in this data folder" + (f"; there are {', '.join(p.name for p in found)}." if found else ", nor any other."))


def _shot(services: Services, project_id: str, name: str) -> shots.ShotRow:
    found = shots.shots_of(services.db, project_id)
    for shot in found:
        if name in (shot.id, shot.name):
            return shot
    raise NotFound(f"The project has no shot {name!r}; there are {', '.join(s.name for s in found) or 'none'}.")


@app.command()
def render(
    what: Annotated[str, typer.Argument(metavar="PROJECT|LOOK", help="A project of the data folder, by its name; or a look (JSON).")],
    paths: Annotated[list[Path], typer.Argument(metavar="[INPUT] OUTPUT", help="What to write; for a look, what to put it on before that.")],
    shot: Annotated[str | None, typer.Option(help="A shot of the project, by its name. Default: the reel.")] = None,
    shows: Annotated[str, typer.Option(help="result, matte or alpha.")] = "result",
    selection: Annotated[str | None, typer.Option(help="The selection whose matte is written, by its name.")] = None,
    format: Annotated[str | None, typer.Option(help=FORMAT_HELP)] = None,
    quality: Annotated[Quality, typer.Option(help="Smaller files, or finer pictures.")] = "good",
    sound: Annotated[bool, typer.Option(help="Keep the sound.")] = True,
    width: Annotated[int | None, typer.Option(help="Pixels across.", min=16, max=16384)] = None,
    fps: Annotated[float | None, typer.Option(help="Frames a second of a loop.", min=1, max=60)] = None,
    processes: Annotated[int | None, typer.Option(help="How many processes share the work. Default: one for two cores.", min=1, max=64)] = None,
    on: Annotated[str | None, typer.Option(metavar="tcp://HOST:PORT", help="A Dask scheduler whose workers render: see docs/cluster.md.")] = None,
    data: Data = DEFAULT_DATA,
    force: Force = False,
) -> None:
    """Render the reel of a project, one of its shots, or a look on a file; here, or on several machines.

    A reel: wenditas render "The Marrow Hill Tramway" film.mp4

    A shot's matte: wenditas render "The Marrow Hill Tramway" matte.mov --shot "The kiln" --shows matte --selection Kiln

    On a cluster: wenditas render night.json /shared/tram.mov night.mp4 --on tcp://10.0.0.5:8786
    """
    with stopping(), executor_of(processes, on) as executor:
        if what.endswith(".json"):
            if len(paths) != 2:
                raise ValueError("For a look give one INPUT and one OUTPUT.")
            text = Path(what).read_bytes()
            how = How(read_look(text)[1], provided(read_files(text)), 0, None, format, quality, sound, width, fps, force, executor, shows, selection)
            return render_file(how, *paths)
        if len(paths) != 1:
            raise ValueError("For a project give one OUTPUT.")
        target = paths[0]
        refuse_existing(target, force)
        with _opened(data) as services, tempfile.TemporaryDirectory(prefix=".render-", dir=target.resolve().parent) as work, frames_bar() as bar:
            project = _project(services, what)
            options = options_for(target, format, quality=quality, sound=sound, width=width, fps=fps, shows=shows, selection=selection)
            if shot is None:
                id = services.projects.documents.begin_reel(project.id, {}).id
            else:
                id = _shot(services, project.id, shot).id
                look = services.projects.documents.load(id).document.look
                chosen = next((s.id for s in look.selections if selection in (s.name, s.id)), selection)
                options = options.model_copy(update={"selection": chosen})
            made = job_for(services.projects.bench, id, services.projects.documents.loaded(id).revision, options)
            job = Job.model_validate({**dict(made), "target": target.resolve(), "segments": Path(work).resolve() / "segments"})
            task = bar.add_task(target.name, total=len(job.frames))
            done = perform(job, lambda count, total: bar.update(task, completed=count), executor=executor)
        console.print(f"{target}: {done.told}, sha256 {done.digest}", highlight=False)


@app.command()
def sheet(
    project: Annotated[str, typer.Argument(help="A project of the data folder, by its name.")],
    target: Annotated[Path, typer.Argument(metavar="OUTPUT", help="The .png file to write.")],
    looks: Annotated[list[str] | None, typer.Option("--look", help="A look of the shelf, by its name; may be given several times.")] = None,
    width: Annotated[int, typer.Option(help="Pixels across a picture.", min=64, max=1920)] = 320,
    data: Data = DEFAULT_DATA,
    force: Force = False,
) -> None:
    """Write a sheet: all shots of a project under their own looks and under looks of the shelf, as one picture with names.

    wenditas sheet "The Marrow Hill Tramway" sheet.png --look "Heat camera" --look "Two-ink print"
    """
    with stopping():
        refuse_existing(target, force)
        if target.suffix.lower() != ".png":
            raise ValueError(f"OUTPUT is a .png file, not {target.suffix or 'one without an ending'!r}.")
        with _opened(data) as services:
            film = _project(services, project)
            columns = [OWN, *(_column(services, name) for name in looks or ())]
            rows = []
            for row in shots.shots_of(services.db, film.id):
                cells = [_cell(services, row, column, width) for column in columns]
                rows.append((row.name, cells))
            if not rows:
                raise ValueError(f"“{film.name}” has no shots yet.")
            heads = ["As it is", *(looks or ())]
            target.write_bytes(contact_sheet(film.name, heads, rows, width))
        console.print(f"{target}: {len(rows)} shots under {len(columns)} looks.", highlight=False)


def _column(services: Services, name: str) -> str:
    from wenditas.core.shelf import STARTERS

    found = [(id, starter.name) for id, starter in STARTERS.items()] + [(row.id, row.name) for row in shelf.items(services.db)]
    for id, called in found:
        if name in (id, called):
            return f"shelf:{id}"
    raise NotFound(f"There is no look {name!r} on the shelf; there are {', '.join(called for _, called in found)}.")


def _cell(services: Services, row: shots.ShotRow, column: str, width: int) -> Cell:
    found = services.projects.carrying.cell(row.id, column)
    node = services.projects.nodes.shot(row.footage_id, found.look)
    request = Request(node=node, frame=services.projects.carrying.frames(row.id).stands, width=width)
    return Cell(services.screen.pictures.picture(request, "sheet"), "" if column == OWN else found.words)


archives = typer.Typer(help="A project as one file: documents, histories, looks, footage.", no_args_is_help=True)
app.add_typer(archives, name="archive")


@archives.command()
def save(
    project: Annotated[str, typer.Argument(help="A project of the data folder, by its name.")],
    target: Annotated[Path, typer.Argument(metavar="OUTPUT", help="The .zip file to write.")],
    media: Annotated[bool, typer.Option(help="Footage too, not only what was made of it.")] = True,
    data: Data = DEFAULT_DATA,
    force: Force = False,
) -> None:
    """Write a project to an archive.

    wenditas archive save "The Marrow Hill Tramway" tramway.zip --no-media
    """
    with stopping():
        refuse_existing(target, force)
        part = target.with_name(f"{target.name}.part")
        try:
            with _opened(data) as services, part.open("wb") as out:
                film = _project(services, project)
                for piece in written(services.projects.library, services.projects.files, film.id, media):
                    out.write(piece)
            part.replace(target)
        finally:
            part.unlink(missing_ok=True)
        console.print(f"{target} holds “{escape(film.name)}”{'' if media else ', without its footage'}.", highlight=False)


@archives.command("open")
def open_archive(path: Annotated[Path, typer.Argument(metavar="FILE", exists=True, dir_okay=False)], data: Data = DEFAULT_DATA) -> None:
    """Make a project of an archive: all of it, or nothing.

    wenditas archive open tramway.zip
    """
    with stopping(), _opened(data) as services:
        film = read_in(services.projects.library, services.projects.files, path)
        console.print(f"“{escape(film.name)}” is in {data}.", highlight=False)
