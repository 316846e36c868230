"""What an export will take, told of a few of its frames and of what the others cost."""

from pathlib import Path

import pytest

from tests.core.drawn import footage
from wenditas.core.film import Part, Sequence, Shot
from wenditas.core.look.document import parse_look
from wenditas.render.estimate import dearer
from wenditas.render.job import Job
from wenditas.render.options import ExportOptions


def test_an_estimate_knows_that_other_frames_cost_more() -> None:
    """A film of which the middle is plain and all else is blurred costs more than its middle says."""
    blurred = Shot(
        of=footage(), first=0, last=39, look=parse_look({"passes": [{"id": "b", "name": "b", "treatment": "gaussian-blur", "params": {"radius": 9}}]})
    )
    dear, plain = Part(of=blurred, first=0, last=39), Part(of=footage(), first=0, last=39)
    film = Sequence(parts=(dear, plain, dear))
    job = Job(node=film, first=0, last=119, options=ExportOptions(), target=Path("a.mp4"), segments=Path("s"), media={}, files={})
    assert dearer(job, 54, 12) > 2 and dearer(job, 0, 12) < 1
    assert dearer(job.model_copy(update={"node": blurred, "last": 39}), 10, 12) == pytest.approx(1)
