"""facts, look check, lut: what is in files."""

import hashlib
import json
from contextlib import closing
from pathlib import Path
from typing import Annotated

import typer
from rich.markup import escape

from wenditas.cli.carried import provided
from wenditas.cli.console import app, console, errors, refuse_existing, stopping
from wenditas.core.errors import OnlySound, WenditasError
from wenditas.core.kernel import Picture
from wenditas.core.likeness.proposals import propose
from wenditas.core.look.as_lut import SIZES, as_lut
from wenditas.formats.cube import write_cube
from wenditas.formats.look_json import read_files, read_look, write_look
from wenditas.media.probe import inspect
from wenditas.media.profiles import profile_of
from wenditas.media.reader import Reader
from wenditas.media.scan import scan_sound
from wenditas.media.sound_alone import described, extent
from wenditas.project.likeness import WIDTH as LIKENESS_WIDTH
from wenditas.store.database import new_id


@app.command()
def facts(
    paths: Annotated[list[Path], typer.Argument(metavar="FILE…", help="Videos, stills or sound.")],
    as_json: Annotated[bool, typer.Option("--json", help="As JSON, one object for each file.")] = False,
) -> None:
    """Tell what is known about files: size, rate, length, colour, and what of them is damaged."""
    failed = 0
    for path in paths:
        try:
            found, _ = inspect(path, take=True)
        except OnlySound:
            failed += _sound(path, as_json)
            continue
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
            console.print(f"  {escape(line)}", highlight=False)
    if failed:
        raise typer.Exit(1)


def _sound(path: Path, as_json: bool) -> int:
    """Tell what is known about a file of sound alone. Returns how many failed."""
    try:
        words, seconds, damage = described(path), extent(path)[1], scan_sound(path)
    except (WenditasError, OSError) as error:
        errors.print(f"[bold]{escape(str(path))}:[/bold] {escape(str(error))}", highlight=False)
        return 1
    if as_json:
        print(json.dumps({"file": str(path), "kind": "sound", "sound": words, "seconds": seconds, "damage": damage}))
        return 0
    console.print(f"[bold]{escape(str(path))}[/bold]", highlight=False)
    for line in (f"sound without pictures: {words}", f"{seconds:.2f} s", *damage):
        console.print(f"  {escape(line)}", highlight=False)
    return 0


looks = typer.Typer(help="Look files: what is in them, and whether they are in order.", no_args_is_help=True)
app.add_typer(looks, name="look")


@looks.command()
def check(
    look: Annotated[Path, typer.Argument(help="A look saved from the Bench (JSON).", exists=True, dir_okay=False)],
    upgrade: Annotated[Path | None, typer.Option(help="Write it anew in the newest version of the format.")] = None,
    force: Annotated[bool, typer.Option("--force", help="Replace the file that --upgrade writes.")] = False,
) -> None:
    """Explain a look: its passes and selections, and what this version does not know."""
    with stopping():
        text = look.read_bytes()
        name, parsed = read_look(text)
        carried = read_files(text)
        console.print(
            f"[bold]{escape(name)}[/bold]: {len(parsed.passes)} passes, {len(parsed.selections)} selections, {len(parsed.lanes)} lanes", highlight=False
        )
        for item in parsed.passes:
            state = "" if item.on else ", off"
            known = "" if item.known else "; this version has no such treatment, and leaves it out"
            console.print(f"  {escape(item.name or item.treatment)}: {item.treatment}, {item.amount:g} % {item.side}{state}{known}", highlight=False)
        for file in carried:
            console.print(f"  carries {escape(file.name)}, {len(file.data)} bytes", highlight=False)
        if upgrade is not None:
            refuse_existing(upgrade, force)
            by_digest = {hashlib.sha256(file.data).hexdigest()[:32]: file for file in carried}
            upgrade.write_text(write_look(parsed, name, by_digest), encoding="utf-8")
            console.print(f"Written anew: {upgrade}", highlight=False)
    if any(not item.known for item in parsed.passes):
        raise typer.Exit(1)


@looks.command("from")
def from_picture(
    reference: Annotated[Path, typer.Argument(help="A picture, or a clip, that the footage is to be like.", exists=True, dir_okay=False)],
    footage: Annotated[Path, typer.Argument(help="The clip or still that gets the look.", exists=True, dir_okay=False)],
    target: Annotated[Path, typer.Option("-o", "--output", help="The look file to write (JSON); with several proposals the others are written beside it.")],
    same_scene: Annotated[bool, typer.Option(help="Both show the same scene, lit in another way.")] = False,
    far: Annotated[float, typer.Option(help="How far to go, in percent.", min=0, max=100)] = 100,
    proposals: Annotated[int, typer.Option(help="How many of the proposals to write.", min=1, max=3)] = 1,
    force: Annotated[bool, typer.Option("--force", help="Replace files that exist.")] = False,
) -> None:
    """Measure a picture, and write looks for a piece of footage that are like it."""
    with stopping():
        answer = propose(_frames(footage), [picture for _, picture in _frames(reference)], new_id, same_scene=same_scene, far=far)
        console.print(answer.words, highlight=False)
        for n, proposal in enumerate(answer.proposals[:proposals]):
            path = target if n == 0 else target.with_name(f"{target.stem} {n + 1}{target.suffix}")
            refuse_existing(path, force)
            path.write_text(write_look(proposal.look, f"{proposal.name}, like {reference.name}"[:120], {}), encoding="utf-8")
            console.print(f"[bold]{escape(proposal.name)}[/bold]: {escape(str(path))}", highlight=False)
            for told in proposal.told:
                console.print(f"  {escape(told.words)}", highlight=False)


def _frames(path: Path) -> list[tuple[int, Picture]]:
    """Some frames of a file, small, with their numbers."""
    facts, index = inspect(path, take=True)
    size = max(1, round(facts.height * LIKENESS_WIDTH / facts.width)), LIKENESS_WIDTH
    with closing(Reader(path, facts, index)) as reader:
        numbers = sorted({round(share * (facts.length - 1)) for share in (0.1, 0.5, 0.9)})
        pictures = [(n, reader.picture(n, None if facts.width <= LIKENESS_WIDTH else size)) for n in numbers]
    profile = profile_of(path) if facts.kind == "still" else None
    return pictures if profile is None else [(n, profile.meant(picture)) for n, picture in pictures]


@app.command()
def lut(
    look: Annotated[Path, typer.Argument(help="A look saved from the Bench (JSON).", exists=True, dir_okay=False)],
    target: Annotated[Path, typer.Argument(metavar="OUTPUT", help="The .cube file to write.")],
    size: Annotated[int, typer.Option(help="Samples along an edge: 17, 33 or 65.")] = 33,
    frame: Annotated[int, typer.Option(help="The frame whose values are taken where they are animated.", min=0)] = 0,
    force: Annotated[bool, typer.Option("--force", help="Replace OUTPUT where it exists.")] = False,
) -> None:
    """Write what of a look does the same to a colour wherever it stands as a LUT; what is left out is told."""
    with stopping():
        if size not in SIZES:
            raise ValueError(f"--size is {', '.join(map(str, SIZES))}, not {size}.")
        refuse_existing(target, force)
        text = look.read_bytes()
        name, parsed = read_look(text)
        made, left_out = as_lut(parsed, frame, 24, size, name, provided(read_files(text)).files)
        target.write_text(write_cube(made), encoding="utf-8")
    for item in left_out:
        console.print(f"Left out: {escape(item.name)}: {escape(item.why)}.", highlight=False)
    without = {item.name for item in left_out}
    count = sum(1 for p in parsed.passes if p.on and (p.name or p.treatment) not in without)
    console.print(f"{target} holds {count} of {len(parsed.passes)} passes.", highlight=False)
