"""Image sequences: numbered pictures that become one lossless file, FFV1 of 8 or 16 bits in Matroska.

So that whatever reads, plays and exports video takes them too. EXR pictures, which hold linear light, are coded by the sRGB
function, with room for twice the nominal range; alpha comes out straight. It is done apart:
`python -m wenditas.media.sequence JOB.json`, progress as JSON lines.
"""

import json
import re
import sys
from collections.abc import Callable, Iterator, Sequence
from fractions import Fraction
from itertools import groupby, pairwise
from pathlib import Path
from typing import Any, Literal

import av
import numpy as np
from pydantic import BaseModel

from wenditas.core.colour.transfer import srgb_encode
from wenditas.core.errors import Cancelled, FootageDamaged, FootageRefused
from wenditas.media.apart import BROKEN, MEMORY, answer, understood
from wenditas.media.facts import Facts, Signal
from wenditas.media.index import RATE_LIMITS, Index
from wenditas.media.probe import check_size, inspect
from wenditas.media.reasons import reason
from wenditas.stem import stem_of

PICTURES = {".png", ".tif", ".tiff", ".exr", ".dpx"}
LEAST = 3  # numbered pictures that are taken for a sequence
MOST_FRAMES, MOST_GAP = 100_000, 1000
SECONDS = 6 * 3600  # of work
HEADROOM = 2.0
NUMBER = re.compile(r"^(.*?)(\d+)(\.[A-Za-z]+)$")
Alpha = Literal["guess", "straight", "multiplied"]
LOG = ("printing density", "logarithmic", "kodaklog", "cineon")


class _Unlike(FootageRefused):
    """A picture that is not like the first one."""


class SequenceJob(BaseModel):
    """Pictures in a folder, by their names in order, and what becomes of them."""

    folder: Path
    names: tuple[str, ...]
    rate: str
    alpha: Alpha = "guess"
    target: Path
    index: Path
    take: bool = False


def numbered(names: Sequence[str]) -> list[list[str]]:
    """Runs of pictures whose names differ by a number alone, in its order; at least three, of one kind each.

    >>> numbered(["a9.png", "a10.png", "b.png", "a8.png", "a1.exr"])
    [['a8.png', 'a9.png', 'a10.png']]
    """
    found: dict[tuple[str, str], list[tuple[int, str]]] = {}
    for name in names:
        match = NUMBER.match(name)
        if match and match[3].lower() in PICTURES:
            found.setdefault((match[1], match[3].lower()), []).append((int(match[2]), name))
    return [[name for _, name in sorted(run)] for run in found.values() if len(run) >= LEAST]


def placed(names: Sequence[str]) -> tuple[list[str], list[str]]:
    """The picture shown at each frame, the one before it where a number is missing; and what is missing, in words. Raises `FootageRefused`."""
    matches = [NUMBER.match(name) for name in names]
    if not names or not all(matches):
        raise FootageRefused("These are no numbered pictures: a sequence is of names like frame-0001.png.")
    numbers = [int(m[2]) for m in matches if m]
    order = sorted(zip(numbers, names, strict=True))
    shown, missing = [order[0][1]], []
    for (before, held), (number, name) in pairwise(order):
        if number == before:
            raise FootageRefused(f"There are two pictures with the number {number}: {held} and {name}.")
        if number - before - 1 > MOST_GAP:
            raise FootageRefused(f"Between {held} and {name} {number - before - 1} pictures are missing; they are hardly one sequence.")
        shown += [held] * (number - before - 1) + [name]
        missing += list(range(before + 1, number))
    if len(shown) > MOST_FRAMES:
        raise FootageRefused(f"The sequence is of {len(shown)} pictures; at most {MOST_FRAMES} are taken.")
    runs = [[n for _, n in run] for _, run in groupby(enumerate(missing), lambda pair: pair[1] - pair[0])]
    gaps = ", ".join(str(run[0]) if len(run) == 1 else f"{run[0]} to {run[-1]}" for run in runs)
    return shown, [f"Pictures are missing: {gaps}. In their place the one before is held."] if missing else []


class _Picture(BaseModel):
    """What a picture tells of itself."""

    width: int
    height: int
    channels: int
    kind: str
    linear: bool
    log: bool
    told: Literal["straight", "multiplied", ""]


def _opened(path: Path):  # type: ignore[no-untyped-def]
    import OpenImageIO as oiio

    config = oiio.ImageSpec()
    config.attribute("oiio:UnassociatedAlpha", 1)  # as it lies in the file
    found = oiio.ImageInput.open(str(path), config)
    if found is None:
        raise FootageRefused(f"{path.name} cannot be read: {reason() or 'it is damaged, or not what its name says'}.")
    return found


def _told(path: Path) -> _Picture:
    with _closing(_opened(path)) as image:
        spec = image.spec()
        suffix = path.suffix.lower()
        if image.format_name() not in ("png", "tiff", "openexr", "dpx"):
            raise FootageRefused(f"{path.name} is a {image.format_name()} picture; sequences are of PNG, TIFF, EXR or DPX pictures.")
        check_size(spec.width, spec.height)
        told: Literal["straight", "multiplied", ""] = ""
        if suffix == ".exr":
            told = "multiplied"
        elif suffix == ".png" or spec.getattribute("tiff:UnassociatedAlpha") or spec.getattribute("oiio:UnassociatedAlpha"):
            told = "straight"
        elif suffix in (".tif", ".tiff") and spec.alpha_channel >= 0:
            told = "multiplied"
        transfer = str(spec.getattribute("dpx:Transfer") or "").lower()
        kind = {"uint8": "8 bit", "uint16": "16 bit", "half": "half float", "float": "float"}.get(str(spec.format), str(spec.format))
        bits = spec.getattribute("oiio:BitsPerSample")
        if suffix == ".dpx" and bits:
            kind = f"{bits} bit"
        return _Picture(
            width=spec.width, height=spec.height, channels=spec.nchannels, kind=kind, told=told,
            linear=suffix == ".exr" or transfer == "linear", log=any(word in transfer for word in LOG),
        )  # fmt: skip


class _closing:
    """Closes an image input; its own protocol is none of Python's."""

    def __init__(self, image: Any) -> None:
        self.image = image

    def __enter__(self) -> Any:
        return self.image

    def __exit__(self, *_: object) -> None:
        self.image.close()


class _Reader:
    """Reads pictures of one sequence as float `(h, w, 3 or 4)`, coded, with straight alpha."""

    def __init__(self, job: SequenceJob, first: _Picture) -> None:
        self.job, self.first = job, first
        self.alpha = first.channels in (2, 4)
        self.multiplied = {"straight": False, "multiplied": True}.get(job.alpha, first.told == "multiplied")
        self.guessed = self.alpha and job.alpha == "guess" and not first.told
        self.limited: set[str] = set()
        self.broken: set[str] = set()

    def guess(self, names: Sequence[str]) -> None:
        """Whether colours are multiplied by alpha, where neither file nor user says: no colour is above its alpha then, and some alpha is between 0 and 1."""
        seen = False
        for name in names:
            pixels = self._raw(name)
            if (pixels[..., :-1].max(axis=-1) > pixels[..., -1] + 1 / 255).any():
                self.multiplied = False
                return
            seen = seen or bool(((pixels[..., -1] > 0.02) & (pixels[..., -1] < 0.98)).any())
        self.multiplied = seen

    def _raw(self, name: str) -> np.ndarray:
        told = _told(self.job.folder / name)
        if (told.width, told.height, told.channels) != (self.first.width, self.first.height, self.first.channels):
            first = f"{self.first.width} × {self.first.height} with {self.first.channels} channels"
            raise _Unlike(f"{name} is {told.width} × {told.height} with {told.channels} channels, the first picture {first}; all of a sequence are alike.")
        with _closing(_opened(self.job.folder / name)) as image:
            pixels = image.read_image("float")
        if pixels is None:
            raise FootageRefused(f"{name} is damaged.")
        return np.asarray(pixels, np.float32).reshape(told.height, told.width, told.channels)

    def picture(self, name: str) -> np.ndarray:
        """One picture, limited to what the file can hold."""
        pixels = self._raw(name)
        good = np.isfinite(pixels)
        if not good.all():
            self.limited.add(name)
            pixels = np.nan_to_num(pixels, nan=0.0, posinf=1e6, neginf=0.0)
        colours, alpha = (pixels[..., :-1], np.clip(pixels[..., -1:], 0, 1)) if self.alpha else (pixels, None)
        if colours.shape[-1] == 1:
            colours = np.repeat(colours, 3, axis=-1)
        colours = colours[..., :3]
        if alpha is not None and self.multiplied:
            colours = np.where(alpha > 1e-6, colours / np.maximum(alpha, 1e-6), 0)
        if self.first.linear:
            colours = srgb_encode(colours)
        top = HEADROOM if self.first.linear else 1.0
        if self.first.linear and float(colours.max(initial=0)) > top + 1e-4:
            self.limited.add(name)
        colours = np.clip(colours, 0, top)
        return np.asarray(colours if alpha is None else np.concatenate([colours, alpha], axis=-1), np.float32)


def convert(job: SequenceJob, said: Callable[[int, int], None] = lambda done, total: None) -> tuple[Facts, Index]:
    """Write a sequence as one file. Raises `FootageRefused`; `FootageDamaged` where a part can be used, and `take` does not say so."""
    shown, damage = placed(job.names)
    first = _told(job.folder / shown[0])
    reader = _Reader(job, first)
    if reader.guessed:
        reader.guess(shown[:: max(1, len(shown) // 5)])
    rate = Fraction(job.rate)
    if not RATE_LIMITS[0] <= rate <= RATE_LIMITS[1]:
        raise FootageRefused(f"{float(rate):g} frames a second are not taken; choose from {RATE_LIMITS[0]} to {RATE_LIMITS[1]}.")
    deep = first.kind != "8 bit"
    pixels = ("gbrap16le" if reader.alpha else "gbrp16le") if deep else ("bgra" if reader.alpha else "bgr0")
    headroom = HEADROOM if first.linear else 1.0
    with av.open(str(job.target), "w", format="matroska", options={"fflags": "+bitexact"}) as out:
        stream = out.add_stream("ffv1", rate=rate, options={"level": "3", "slices": "4", "slicecrc": "1", "g": "1"})
        stream.width, stream.height, stream.pix_fmt = first.width, first.height, pixels
        stream.codec_context.time_base = 1 / rate
        for number, frame in enumerate(_frames(reader, shown, pixels, headroom)):
            frame.pts, frame.time_base = number, 1 / rate
            out.mux(stream.encode(frame))
            said(number + 1, len(shown))
        out.mux(stream.encode(None))
    damage += _said_of(reader)
    if damage and not job.take:
        raise FootageDamaged(damage)
    facts, index = inspect(job.target)
    return facts.model_copy(update=_as_told(reader, len(set(shown)), damage, headroom)), index


def _frames(reader: _Reader, shown: Sequence[str], pixels: str, headroom: float) -> Iterator[av.VideoFrame]:
    held: tuple[str, np.ndarray] | None = None
    for name in shown:
        if held is None or held[0] != name:
            try:
                held = name, reader.picture(name)
            except FootageRefused as error:
                if held is None or isinstance(error, _Unlike):
                    raise
                reader.broken.add(name)
                held = name, held[1]
        yield _frame(held[1] / headroom if held[1].shape[-1] == 3 else np.concatenate([held[1][..., :3] / headroom, held[1][..., 3:]], axis=-1), pixels)


def _frame(picture: np.ndarray, pixels: str) -> av.VideoFrame:
    if pixels.startswith("bgr"):
        codes = np.rint(picture * 255).astype(np.uint8)
        alpha = codes[..., 3:] if codes.shape[-1] == 4 else np.full((*codes.shape[:2], 1), 255, np.uint8)
        frame = av.VideoFrame(picture.shape[1], picture.shape[0], pixels)
        packed = np.concatenate([codes[..., 2::-1], alpha], axis=-1)
        rows = np.zeros((packed.shape[0], frame.planes[0].line_size), np.uint8)
        rows[:, : packed.shape[1] * 4] = packed.reshape(packed.shape[0], -1)
        frame.planes[0].update(rows.tobytes())
        return frame
    codes16 = np.rint(picture * 65535).astype(np.uint16)
    frame = av.VideoFrame(picture.shape[1], picture.shape[0], pixels)
    for plane, channel in zip(frame.planes, (1, 2, 0, 3), strict=False):
        rows16 = np.zeros((codes16.shape[0], plane.line_size // 2), np.uint16)
        rows16[:, : codes16.shape[1]] = codes16[..., channel]
        plane.update(rows16.tobytes())
    return frame


def _said_of(reader: _Reader) -> list[str]:
    found = []
    if reader.broken:
        names = sorted(reader.broken)
        found.append(f"{len(names)} pictures are damaged, the first is {names[0]}. In their place the one before is held.")
    if reader.limited:
        found.append(f"In {len(reader.limited)} pictures values are no number, infinite, or above {HEADROOM:g} times white; they are limited.")
    return found


def _as_told(reader: _Reader, pictures: int, damage: Sequence[str], headroom: float) -> dict[str, Any]:
    first = reader.first
    kind = Path(reader.job.names[0]).suffix[1:].upper().replace("TIF", "TIFF").replace("TIFFF", "TIFF")
    alpha = ""
    if reader.alpha:
        said = "as you said" if reader.job.alpha != "guess" else "guessed" if reader.guessed else "as the file says"
        alpha = f", alpha {'multiplied in' if reader.multiplied else 'straight'} ({said})"
    light = ", linear light" if first.linear else ", logarithmic" if first.log else ""
    signal: Signal = "log" if first.log else "display"
    return {"origin": f"{pictures} {kind} pictures, {first.kind}{light}{alpha}", "headroom": headroom, "signal": signal, "damage": tuple(damage)}


def take(job: SequenceJob, said: Callable[[int, int], None] = lambda done, total: None, gone: Callable[[], bool] = lambda: False) -> Facts:
    """`convert` in a child process; the index is written where the job says. Raises what `convert` raises, and `Cancelled` once `gone()`."""
    path = job.target.with_suffix(".job.json")
    path.write_text(job.model_dump_json(), "utf-8")
    line = ""
    try:
        process, lines = stem_of("wenditas.media.sequence").follow([str(path)])
        with lines:
            try:
                for line in lines:
                    told = json.loads(line)
                    if "done" in told:
                        said(told["done"], told["total"])
                    if gone():
                        raise Cancelled("Taking in the sequence was cancelled.")
            finally:
                process.kill()
                process.ended(None)
    finally:
        path.unlink(missing_ok=True)
    found = understood(line)
    if "facts" not in found:
        raise FootageRefused(BROKEN)
    return Facts.model_validate(found["facts"])


def _made(path: Path) -> dict[str, Any]:
    job = SequenceJob.model_validate_json(path.read_text("utf-8"))
    facts, index = convert(job, lambda done, total: print(json.dumps({"done": done, "total": total}), flush=True))
    index.save(job.index)
    return {"facts": facts.model_dump(mode="json")}


if __name__ == "__main__":
    answer(lambda: _made(Path(sys.argv[1])), SECONDS, 2 * MEMORY)
