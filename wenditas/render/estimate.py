"""How long an export will take and how large its file will be: some of its frames are exported, and measured."""

import math
import tempfile
import time
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from wenditas.render.job import Job
from wenditas.render.perform import Here, perform

SAMPLE = 12  # frames
BEGIN = 1.5  # seconds until the process of an export has its first frame in work
SOUND = 256_000 / 8  # bytes a second


@dataclass(frozen=True)
class Estimate:
    """bytes, seconds: of the whole export. sampled: frames that were measured for it."""

    bytes: int
    seconds: float
    sampled: int


def estimate(job: Job, folder: Path, gone: Callable[[], bool] = lambda: False) -> Estimate:
    """What a job will take, from frames in the middle of its stretch, exported into `folder` and thrown away.

    The first frame of each group of an encoded stream is much larger than those that follow from it
    (a group is a second long here), so one frame alone and several together are measured.
    Raises what the export would raise, and `Cancelled` once `gone()`.
    """
    count, rate = len(job.frames), job.options.canvas(job.node).rate
    sampled = min(SAMPLE, count)
    middle = job.frames[(count - sampled) // 2]
    one, first_time = _measured(job, middle, 1, folder, gone)
    if sampled == 1:
        return Estimate(one, BEGIN + first_time, 1)
    several, time_of_all = _measured(job, middle, sampled, folder, gone)
    each = max(several - one, 0) / (sampled - 1)
    groups = math.ceil(count / round(rate))
    sound = SOUND * count / float(rate) if job.options.heard and (job.sound or job.mix) else 0
    frame_time = min(max(time_of_all - first_time, 0) / (sampled - 1), time_of_all / sampled)  # what is done once is in both
    return Estimate(round(groups * one + (count - groups) * each + sound), BEGIN + frame_time * count, sampled)


def _measured(job: Job, first: int, count: int, folder: Path, gone: Callable[[], bool]) -> tuple[int, float]:
    """The bytes and seconds of some frames."""
    with tempfile.TemporaryDirectory(prefix="estimate-", dir=folder) as scratch:
        target = Path(scratch) / f"sample{job.options.suffix}"
        last = min(first + round(count * job.node.rate / job.options.canvas(job.node).rate) - 1, job.last)
        changed = {"first": first, "last": last, "target": target, "segments": Path(scratch) / "segments", "sound": None, "mix": ()}
        start = time.perf_counter()
        made = perform(Job.model_validate({**dict(job), **changed}), lambda done, total: None, gone, Here())
        return made.bytes, time.perf_counter() - start
