"""Segments on several machines: a Dask cluster, whose workers see the media under the same paths.

What is small (indexes, LUTs, pictures) goes along; media are read where they lie, and compared with their digests first.
A worker that is lost is Dask's business: its segments are given to another. Needs `wenditas[cluster]`.
"""

import atexit
import hashlib
import shutil
import socket
import tempfile
from collections.abc import Callable
from functools import lru_cache
from pathlib import Path
from typing import Any

from pydantic import BaseModel

from wenditas.compiled import made_by
from wenditas.core.errors import Cancelled, ExportFailed
from wenditas.core.select.tracks import WHOLE
from wenditas.render.job import Job, Stretch
from wenditas.render.perform import Check, Renderer

TRIES = 3  # of a segment whose workers were lost
LOOK = 0.5  # seconds between two looks at whether it was cancelled


class Shipment(BaseModel):
    """A job as it goes to another machine. along: the bytes of small files, by their path here. made_by: the state of the code."""

    job: str
    along: dict[str, bytes]
    made_by: dict[str, str]

    @classmethod
    def of(cls, job: Job) -> "Shipment":
        """What a worker needs. Media are named by their real paths."""
        small = {file.index for file in job.media.values()} | {file.lut for file in job.media.values() if file.lut}
        small |= {path for file in job.files.values() for path in (file.path, file.index) if path is not None}
        return cls(job=job.model_dump_json(context=WHOLE), along={str(p): p.read_bytes() for p in small if p is not None and p.exists()}, made_by=made_by())


def unlike(theirs: dict[str, str], where: str) -> str:
    """What makes a machine write other bytes than this one, in a sentence; empty where nothing does."""
    mine = made_by()
    apart = [name for name in mine if theirs.get(name) != mine[name]]
    if not apart:
        return ""
    if apart == ["processor"]:
        told = f"has another kind of processor ({theirs['processor']}, here {mine['processor']})"
        return f"The worker on {where} {told}: their pictures would differ in the last digit. Start all of them with WENDITAS_CPU=generic."
    differs = ", ".join(f"{name} {theirs.get(name, 'missing')}, here {mine[name]}" for name in apart)
    return f"The worker on {where} runs another version of Wenditas or of its libraries ({differs})."


def render_there(shipment: dict[str, Any], stretch: dict[str, Any]) -> bytes:
    """On a worker: render a segment. Raises `ExportFailed` where this machine is not fit for it."""
    sent = Shipment.model_validate(shipment)
    where = socket.gethostname()
    if sent.made_by != made_by():  # said from where it was sent: there the other one is known
        raise ExportFailed(f"The worker on {where} is unlike the machine that asks: {', '.join(f'{k} {v}' for k, v in made_by().items())}.")
    renderer = _renderer(sent.job, tuple(sorted(sent.along.items())))
    one = Stretch.model_validate(stretch)
    renderer.segment(one)
    path = renderer.job.segment(one)
    data = path.read_bytes()
    path.unlink()
    return data


@lru_cache(maxsize=2)
def _renderer(text: str, along: tuple[tuple[str, bytes], ...]) -> Renderer:
    """A renderer of a job with what came along, kept between its segments."""
    folder = Path(tempfile.mkdtemp(prefix="wenditas-segments-"))
    atexit.register(shutil.rmtree, folder, ignore_errors=True)  # one that is killed leaves it to the system
    places = {}
    for number, (path, data) in enumerate(along):
        places[path] = folder / f"{number}{''.join(Path(path).suffixes)}"
        places[path].write_bytes(data)
    job = Job.model_validate_json(text)
    for file in job.media.values():
        _check(file.path, file.digest)
    media = {id: f.model_copy(update={"index": places[str(f.index)], "lut": f.lut and places[str(f.lut)]}) for id, f in job.media.items()}
    files = {d: f.model_copy(update={"path": places[str(f.path)], "index": f.index and places[str(f.index)]}) for d, f in job.files.items()}
    return Renderer(Job.model_validate({**dict(job), "media": media, "files": files, "segments": folder / "made"}))


def _check(path: Path, digest: str) -> None:
    where = socket.gethostname()
    if not path.exists():
        raise ExportFailed(f"The worker on {where} does not see {path}: media must lie in a folder that all machines see under the same path.")
    with path.open("rb") as file:
        if digest and hashlib.file_digest(file, "sha256").hexdigest() != digest:
            raise ExportFailed(f"What the worker on {where} sees at {path} is another file.")


class Cluster:
    """On the workers of a Dask scheduler, which is waited for so many seconds. Raises `ExportFailed` where there is none."""

    def __init__(self, address: str, patience: float = 10) -> None:
        try:
            from distributed import Client
        except ImportError as error:
            raise ExportFailed("Rendering on several machines needs the extra “cluster”: pip install 'wenditas[cluster]'.") from error
        try:
            self._client = Client(address, timeout=patience)
        except (OSError, TimeoutError, ValueError) as error:
            raise ExportFailed(f"There is no scheduler at {address}: {error}.") from error

    def close(self) -> None:
        """Leave the cluster."""
        self._client.close()

    def run(self, job: Job, stretches: list[Stretch], done: Callable[[Stretch], None], on_the_way: Callable[[Stretch, int], None], cancelled: Check) -> None:
        """See `Executor`."""
        from distributed import wait

        self._check_workers()
        (shipment,) = self._client.scatter([Shipment.of(job).model_dump()], broadcast=True, hash=False)  # in a list: of a dict each value is sent apart
        going = {self._client.submit(render_there, shipment, s.model_dump(), pure=False, retries=TRIES, key=f"segment-{s.name}"): s for s in stretches}
        try:
            while going:
                try:
                    finished = wait(list(going), timeout=LOOK, return_when="FIRST_COMPLETED").done
                except TimeoutError:
                    finished = set()
                if cancelled():
                    raise Cancelled("The export was cancelled.")
                for future in finished:
                    one = going.pop(future)
                    _keep(job.segment(one), future.result())
                    done(one)
        finally:
            self._client.cancel(list(going))

    def _check_workers(self) -> None:
        """Raises `ExportFailed` where a worker would write other bytes: before anything is mixed."""
        told = self._client.run(_who)
        for where, theirs in told.values():
            if words := unlike(theirs, where):
                raise ExportFailed(words)


def _who() -> tuple[str, dict[str, str]]:
    """On a worker: its machine, and what decides which bytes it writes."""
    return socket.gethostname(), made_by()


def _keep(path: Path, data: bytes) -> None:
    part = path.with_name(f"{path.stem}.cluster.part{path.suffix}")
    part.write_bytes(data)
    part.replace(path)
