"""The history of a look with twenty tracked shapes: what ten thousand edits take on disk, and how long an edit takes."""

import random
import statistics
import time
from pathlib import Path

from wenditas.core.look.commands import parse_commands
from wenditas.core.select.tracks import Track, TrackFrame
from wenditas.media.facts import Facts
from wenditas.project.documents import Documents, Edit
from wenditas.store import footage, projects
from wenditas.store.database import Database, new_id

EDITS, SHAPES, FRAMES = 10_000, 20, 1440
FACTS = Facts(
    kind="video", container="c", codec="h264", pixel_format="yuv420p", bits=8, width=64, height=36, coded_width=64, coded_height=36,
    rotation=0, rate="24", length=FRAMES, variable_rate=False, sound=None, matrix="bt709", full_range=False, tagged=True, alpha=False,
)  # fmt: skip


def _track(chance: random.Random) -> Track:
    values = [[round(chance.uniform(-900, 900), 5) for _ in range(4)] for _ in range(FRAMES)]
    return Track(tuple(TrackFrame(frame=n, values=tuple(v), confidence=round(chance.random(), 3)) for n, v in enumerate(values)))


def measure(folder: Path, edits: int = EDITS) -> list[tuple[str, str]]:
    """Rows of (what, how much and how fast). Edits are of amounts, feathers, paths, tolerances and keyframes, as in work."""
    chance = random.Random(1)
    db = Database(folder / "history.db")
    project = projects.add_project(db, "Film")
    row = footage.FootageRow(id=new_id(), project_id=project.id, name="a.mp4", suffix=".mp4", digest="0", bytes=1, facts=FACTS.model_dump())
    footage.add_footage(db, row)
    documents = Documents(db, lambda _: FACTS)
    shot = documents.new_shot(row.id, "A").id
    tracks = tuple(_track(chance) for _ in range(SHAPES))

    def edit(*commands: dict, new: tuple[Track, ...] = ()) -> float:
        start = time.perf_counter()
        documents.edit(shot, Edit(documents.load(shot).revision, parse_commands(commands), "Edit", new_id(), "bench", new))
        return time.perf_counter() - start

    points = [{"x": 10.0 * n, "y": 7.0 * n} for n in range(8)]
    shapes = [{"id": f"f{n}", "name": f"F{n}", "kind": "path", "points": points, "track": t.digest} for n, t in enumerate(tracks)]
    passes = [{"id": f"p{n}", "name": f"P{n}", "treatment": "saturation"} for n in range(6)]
    lane = {"target": "passes/p0/amount", "keyframes": [{"frame": 0, "value": 0}]}
    edit({"do": "add", "target": "look/selections", "value": {"id": "s", "name": "S", "keys": [{"id": "k", "type": "hue"}], "shapes": shapes}}, new=tracks)
    edit(*({"do": "add", "target": "look/passes", "value": p} for p in passes), {"do": "set", "target": "look/lanes/passes~1p0~1amount", "value": lane})

    def some(n: int) -> dict:
        shape = f"look/selections/s/shapes/f{chance.randrange(SHAPES)}"
        moved = [{**p, "x": round(p["x"] + chance.random(), 2)} for p in points]
        return chance.choice(
            [
                {"do": "set", "target": f"look/passes/p{chance.randrange(6)}/amount", "value": n % 101},
                {"do": "set", "target": f"{shape}/feather_out", "value": n % 200},
                {"do": "set", "target": f"{shape}/points", "value": moved},
                {"do": "set", "target": "look/selections/s/keys/k/tolerance", "value": n % 90},
                {"do": "set", "target": f"look/lanes/passes~1p0~1amount/keyframes/{n % FRAMES}", "value": {"frame": n % FRAMES, "value": n % 101}},
            ]
        )

    times = [edit(some(n)) for n in range(edits)]
    db.close()
    size = sum(p.stat().st_size for p in folder.glob("history.db*"))
    words = f"{edits:,} edits of a look with {SHAPES} tracked shapes: on disk; an edit (half, 95 % within)"
    quick = statistics.quantiles(times, n=20)
    return [(words, f"{size / 1e6:.1f} MB; {1000 * statistics.median(times):.1f} ms, {1000 * quick[-1]:.1f} ms")]
