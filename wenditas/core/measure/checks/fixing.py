"""Parts of fixing steps: commands that add passes and selections to a look, or change one."""

from typing import Any

from wenditas.core.measure.checks.record import Command, Fix, Steps
from wenditas.core.select.picks import Pick
from wenditas.core.select.selection import Selection

LIST = "look/passes"


def fresh(taken: set[str], stem: str) -> str:
    """A name that is not taken: the same one for the same look."""
    return next(name for n in range(1, 10_000) if (name := f"{stem}-{n}") not in taken)


def add_pass(look: Steps, stem: str, name: str, treatment: str, before: str | None = None, **more: Any) -> Command:
    """A pass at the end of a look, or before another."""
    id = fresh({p.id for p in look.passes}, stem)
    return {"do": "add", "target": LIST, "value": {"id": id, "name": name, "treatment": treatment, **more}, "before": before}


def add_pick(selection: str, key: str, pick: Pick) -> Command:
    """One more pick for a key by hue or by colour."""
    return {"do": "add", "target": f"look/selections/{selection}/keys/{key}/picks", "value": pick.model_dump(mode="json")}


def left_out(selection: Selection, box: tuple[float, float, float, float], frame: int) -> tuple[Command, Command]:
    """A rectangle that leaves a box out of a selection, on a frame alone. box: left, top, right, bottom in pixels of a 1080-line picture."""
    id = fresh({s.id for s in selection.shapes}, "left-out")
    left, top, right, bottom = (round(v, 1) for v in box)
    shape = {"id": id, "name": f"Left out at {frame}", "kind": "rectangle", "points": [{"x": left, "y": top}, {"x": right, "y": bottom}]}
    target = f"selections/{selection.id}/shapes/{id}/on"
    pins = [(frame - 1, False), (frame, True), (frame + 1, False)]
    lane = {"target": target, "keyframes": [{"frame": at, "value": on, "how": "hold"} for at, on in pins if at >= 0]}
    return (
        {"do": "add", "target": f"look/selections/{selection.id}/shapes", "value": shape},
        {"do": "set", "target": "look/lanes/" + target.replace("/", "~1"), "value": lane},
    )


def first_pass(look: Steps) -> str | None:
    """What stands first in a look, to be put before; None where there is nothing."""
    return look.passes[0].id if look.passes else None


def cleaned(words: str, selection: str, key: str, value: float) -> Fix:
    """Another value of the cleaning of a selection, as a step."""
    return Fix(words, ({"do": "set", "target": f"look/selections/{selection}/cleaning/{key}", "value": value},))
