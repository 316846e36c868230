"""The reel as a cut list, and cut lists as a reel: clips are known by the names of their files."""

from collections.abc import Callable
from dataclasses import dataclass
from fractions import Fraction
from math import floor
from pathlib import PurePath
from typing import Any

from wenditas.core.errors import BadRequest
from wenditas.core.film.document import GAP, ReelDocument
from wenditas.core.look.commands import Command, Set
from wenditas.formats.cut import Clip, Cut
from wenditas.project.library import Library
from wenditas.project.reels import Made
from wenditas.store import footage, shots
from wenditas.store.footage import FootageRow
from wenditas.store.shots import ShotRow


def _at(frame: int, rate: Fraction, to: Fraction) -> int:
    """A frame at one rate, at another: the nearest, halves up."""
    return floor(frame * to / rate + Fraction(1, 2))


def cut_of(library: Library, made: Made, name: str) -> Cut:
    """A reel as a cut at its own rate. What no cut list can carry is told."""
    if made.reel is None:
        raise BadRequest("The reel is empty: there is nothing to hand on yet.")
    cuts, clips, told = made.reel.cuts(), [], []
    for n, (item, placed) in enumerate(zip(made.document.items, made.reel.items, strict=True)):
        if item.shot == GAP:
            clips.append(Clip.gap(cuts[n + 1] - cuts[n]))
            continue
        row = shots.shot(library.db, item.shot)
        media = footage.footage(library.db, row.footage_id).name
        overlap = made.overlaps.get(made.document.items[n - 1].id) if n else None
        dissolve, early = 0, 0
        if overlap:  # a cut list names frames of films: edge frames that are held are none
            held, early = overlap.held_out + overlap.held_in, overlap.before - overlap.held_in
            dissolve = overlap.before + overlap.behind - held
            told += [f"The dissolve into “{row.name}” lasts {dissolve} frames instead of {dissolve + held}: its footage has no more."] if held else []
        clips.append(Clip(row.name, media, _at(item.first, placed.of.rate, made.rate), cuts[n + 1] - cuts[n], dissolve, early))
        if placed.of.rate != made.rate:
            told.append(f"“{row.name}” runs at {float(placed.of.rate):g} frames a second; its frames are counted at {float(made.rate):g}.")
    document = made.document
    reveals = sum(transition.kind == "reveal" for transition in document.transitions)
    told += [f"{reveals} reveal{'s become' if reveals > 1 else ' becomes a'} dissolve{'s' if reveals > 1 else ''}."] if reveals else []
    told += [f"{len(document.spans)} spans are left out."] if document.spans else []
    told += ["The looks of the shots, how they lie in the frame, gains and fades are left out."]
    told += ["The track of sound is left out."] if document.track else []
    return Cut(name, made.rate, tuple(clips), tuple(dict.fromkeys(told)))


@dataclass(frozen=True)
class Taken:
    """A cut list as commands on a reel: what was found of it, and what was not, a sentence each."""

    commands: list[Command]
    count: int
    told: tuple[str, ...]


def taken(library: Library, project_id: str, cut: Cut, new_shot: Callable[[str, str], ShotRow], new_id: Callable[[], str]) -> Taken:
    """A cut in place of a reel's items. Footage is found by the names of files; new_shot makes a shot of some where it has none.

    Raises `BadRequest` where nothing of it is in the project.
    """
    rows = footage.footage_of(library.db, project_id)
    known = shots.shots_of(library.db, project_id)
    told, items, transitions = list(cut.told), list[dict[str, Any]](), list[dict[str, Any]]()
    missing = 0
    follows = False  # whether the clip before was found, so that it can give way
    for clip in cut.clips:
        if clip.is_gap:
            items.append({"id": new_id(), "shot": GAP, "first": 0, "last": clip.frames - 1})
            follows = False
            continue
        piece = _piece(rows, clip)
        if piece is None:
            told.append(f"“{clip.media}” is not in this project: its clip is left out.")
            missing, follows = missing + 1, False
            continue
        own = [s for s in known if s.footage_id == piece.id]
        shot = next((s for s in own if s.name == clip.name), own[0] if own else None)
        if shot is None:
            shot = new_shot(piece.id, PurePath(piece.name).stem or piece.name)
            known.append(shot)
        facts = library.facts(piece.id)
        first = _at(clip.first, cut.rate, facts.frame_rate)
        last = first + max(1, _at(clip.frames, cut.rate, facts.frame_rate)) - 1
        if facts.kind != "still" and last >= facts.length:
            told.append(f"“{clip.media}” has {facts.length} frames, fewer than its clip uses: it is shortened.")
            last = facts.length - 1
            first = min(first, last)
        id = new_id()
        if clip.dissolve and follows:
            at = "after" if clip.early == 0 else "before" if clip.early == clip.dissolve else "centred"
            transitions.append({"id": new_id(), "after": items[-1]["id"], "kind": "dissolve", "frames": clip.dissolve, "at": at})
        items.append({"id": id, "shot": shot.id, "first": first, "last": last})
        follows = True
    found = sum(item["shot"] != GAP for item in items)
    if not found:
        raise BadRequest(f"None of the {missing} clips of this list is in the project: bring their files in first.")
    document = ReelDocument.model_validate({"items": items, "transitions": transitions})
    plain = document.model_dump(mode="json")
    commands: list[Command] = [Set(target=key, value=plain[key]) for key in ("transitions", "spans", "items")]
    fps = str(cut.rate)
    return Taken([*commands, Set(target="fps", value=fps)], found, tuple(dict.fromkeys(told)))


def _piece(rows: list[FootageRow], clip: Clip) -> FootageRow | None:
    """The footage of a clip: of that name, or of that name without its ending."""
    names = [clip.media.lower(), clip.name.lower()]
    for same in (lambda row, n: row.name.lower() == n, lambda row, n: PurePath(row.name).stem.lower() == PurePath(n).stem.lower()):
        found = next((row for n in names for row in rows if n and same(row, n)), None)
        if found is not None:
            return found
    return None
