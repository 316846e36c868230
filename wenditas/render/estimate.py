"""How long an export will take and how large its file will be: some of its frames are exported, and measured."""

import math
import tempfile
import time
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from wenditas.core.film import resolve
from wenditas.core.work.operation import cost
from wenditas.render.job import Job
from wenditas.render.perform import Here, perform

SAMPLE = 12  # frames
GLANCES = 200  # frames of which it is worked out what they cost
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
    seconds = frame_time * count * dearer(job, middle, sampled)
    return Estimate(round(groups * one + (count - groups) * each + sound), BEGIN + seconds, sampled)


def dearer(job: Job, first: int, sampled: int) -> float:
    """How many times as much the frames of a job cost on the average as those that were measured: a reel is not the same all along."""
    if job.options.shows == "matte":
        return 1.0
    size = job.options.canvas(job.node)
    each = [cost(resolve(job.node, n, (size.height, size.width))) for n in job.frames[:: max(1, len(job.frames) // GLANCES)]]
    measured = [cost(resolve(job.node, n, (size.height, size.width))) for n in range(first, first + sampled)]
    return (sum(each) / len(each)) / max(sum(measured) / len(measured), 1e-9)


def _measured(job: Job, first: int, count: int, folder: Path, gone: Callable[[], bool]) -> tuple[int, float]:
    """The bytes and seconds of some frames."""
    with tempfile.TemporaryDirectory(prefix="estimate-", dir=folder) as scratch:
        target = Path(scratch) / f"sample{job.options.suffix}"
        last = min(first + round(count * job.node.rate / job.options.canvas(job.node).rate) - 1, job.last)
        changed = {"first": first, "last": last, "target": target, "segments": Path(scratch) / "segments", "sound": None, "mix": ()}
        start = time.perf_counter()
        made = perform(Job.model_validate({**dict(job), **changed}), lambda done, total: None, gone, Here())
        return made.bytes, time.perf_counter() - start
