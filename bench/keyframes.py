"""Ten thousand keyframes in one lane: an edit of the document, and the look at a frame."""

from bench.timing import best
from wenditas.core.look.animate import look_at
from wenditas.core.look.commands import Set, apply_commands
from wenditas.core.look.document import ShotDocument, parse_look, parse_shot

COUNT = 10_000


def measure() -> list[tuple[str, str]]:
    """Rows of (what, how fast)."""
    keyframes = [{"frame": n, "value": n % 101} for n in range(COUNT)]
    lanes = [{"target": "passes/p/amount", "keyframes": keyframes}]
    look = parse_look({"passes": [{"id": "p", "name": "p", "treatment": "tint"}], "lanes": lanes})
    plain = ShotDocument(first=0, last=COUNT - 1, look=look).model_dump(mode="json")
    commands = [Set(target="look/lanes/passes~1p~1amount/keyframes/5000/value", value=7)]
    edited = best(lambda: parse_shot(apply_commands(plain, commands), COUNT), 3)
    shown = best(lambda: look_at(look, 5000, 24), 20)
    return [(f"{COUNT:,} keyframes: an edit; the look at a frame", f"{1000 * edited:.0f} ms; {1000 * shown:.2f} ms")]
