"""Sound without pictures: it becomes footage whose picture is its wave, so that whatever lists, plays and lays a track of footage takes it too.

One Matroska file: the sound, decoded and down to stereo, as FLAC of 24 bits, so that it begins where it began whatever it was coded as;
and its wave as a video that stands still. It is written apart: `python -m wenditas.media.sound_alone SOURCE TARGET INDEX [take]`.
"""

import sys
from collections.abc import Iterable, Iterator
from fractions import Fraction
from pathlib import Path
from typing import Any

import av
import numpy as np

from wenditas.core.errors import FootageDamaged, FootageRefused
from wenditas.media.apart import answer, asked
from wenditas.media.decode import decoded
from wenditas.media.facts import Facts
from wenditas.media.index import Index
from wenditas.media.opening import open_media
from wenditas.media.probe import inspect
from wenditas.media.scan import scan_sound
from wenditas.media.sound import peaks, stretch

RATE = Fraction(24)
WIDTH, HEIGHT, GROUND, INK = 960, 240, 24, 200  # of the picture: pixels, and code values of 255
MOST_HOURS, SECONDS = 6, 600  # of sound; of work
MOST_RATE = 192_000  # samples a second
LAYOUTS = {1: "mono", 2: "stereo"}
CALLED = {"wav": "WAV", "flac": "FLAC", "mp3": "MP3", "mov,mp4,m4a,3gp,3g2,mj2": "M4A", "ogg": "OGG", "aiff": "AIFF", "matroska,webm": "Matroska"}


def described(path: Path) -> str:
    """What a file of sound holds, in words: its kind, layout and rate."""
    with open_media(path) as container:
        sound, kind = container.streams.audio[0], container.format
        layout = LAYOUTS.get(sound.channels, f"{sound.channels} channels")
        return f"{CALLED.get(kind.name, kind.long_name)} {layout}, {sound.sample_rate / 1000:g} kHz"


def extent(path: Path) -> tuple[float, float]:
    """When the first sound stream begins and how long it is, in seconds of its own time. Raises `FootageRefused` where none of it can be decoded."""
    start, end = None, 0.0
    with open_media(path) as container:
        for frame in decoded(container, container.streams.audio[0]):
            at = end if frame.pts is None else float(frame.pts * frame.time_base)
            start = at if start is None else start
            end = max(end, at + frame.samples / frame.sample_rate)
            if end - start > MOST_HOURS * 3600:
                raise FootageRefused(f"The sound is longer than {MOST_HOURS} hours.")
    if start is None:
        raise FootageRefused("None of the sound in this file can be decoded. It may be damaged or encrypted.")
    return start, end - start


def drawn(wave: np.ndarray) -> np.ndarray:
    """A picture of a wave, given as the loudest samples of short stretches, 0 to 1: `(240, 960, 3)`, light on dark, without colour."""
    places = np.linspace(0, wave.size, WIDTH + 1).astype(int)
    heights = np.array([wave[a : max(b, a + 1)].max(initial=0) for a, b in zip(np.minimum(places[:-1], wave.size - 1), places[1:], strict=True)])
    from_middle = np.abs(np.arange(HEIGHT) + 0.5 - HEIGHT / 2)[:, None]
    lit = from_middle <= np.maximum(heights * (HEIGHT / 2 - 8), 1)
    return np.repeat(np.where(lit, INK, GROUND).astype(np.uint8)[..., None], 3, axis=-1)


def convert(source: Path, target: Path, take: bool = False) -> tuple[Facts, Index]:
    """Write the file. Raises `FootageRefused`; `FootageDamaged` where a part of the sound can be used, and `take` does not say so."""
    start, seconds = extent(source)
    damage = scan_sound(source)
    if damage and not take:
        raise FootageDamaged(damage)
    with open_media(source) as container:
        sound = container.streams.audio[0]
        rate = min(sound.sample_rate, MOST_RATE)
    wave = np.frombuffer(peaks(source, start, seconds), np.uint8).astype(np.float32) / 255
    picture = av.VideoFrame.from_ndarray(drawn(wave), format="rgb24").reformat(format="yuv420p")
    frames = max(1, round(seconds * RATE))
    with av.open(str(target), "w", format="matroska", options={"fflags": "+bitexact"}) as out:
        video = out.add_stream("libx264", rate=RATE, options={"preset": "ultrafast", "crf": "12"})
        video.width, video.height, video.pix_fmt = WIDTH, HEIGHT, "yuv420p"
        sound = out.add_stream("flac", rate=rate, layout="stereo", format="s32")
        shown = 0
        for part in _whole(stretch(source, start, seconds, rate), rate):
            while shown < frames and shown / RATE * rate <= part.pts:
                out.mux(video.encode(_at(picture, shown)))
                shown += 1
            out.mux(sound.encode(part))
        for n in range(shown, frames):
            out.mux(video.encode(_at(picture, n)))
        out.mux(video.encode(None))
        out.mux(sound.encode(None))
    facts, index = inspect(target, take=True)
    about = {"origin": described(source), "sound": described(source), "wave": True, "damage": damage, "notes": ()}
    return facts.model_copy(update=about), index


def _whole(frames: Iterable[av.AudioFrame], rate: int) -> Iterator[av.AudioFrame]:
    """Stereo float frames as whole numbers of 24 bits, in the top of 32, as many at once as FLAC takes."""
    resampler = av.AudioResampler(format="s32", layout="stereo", rate=rate, frame_size=4096)
    for frame in frames:
        yield from resampler.resample(frame)
    yield from resampler.resample(None)


def _at(picture: av.VideoFrame, number: int) -> av.VideoFrame:
    picture.pts, picture.time_base = number, 1 / RATE
    return picture


def take_sound(source: Path, target: Path, index_path: Path, take: bool = False) -> Facts:
    """`convert` in a child process; the index is written to `index_path`. Raises what `convert` raises, then no file is left."""
    try:
        return Facts.model_validate(asked("wenditas.media.sound_alone", source, target, index_path, *(["take"] if take else []), seconds=SECONDS))
    except BaseException:
        target.unlink(missing_ok=True)
        raise


def _made(source: Path, target: Path, index_path: Path, take: bool) -> dict[str, Any]:
    facts, index = convert(source, target, take)
    index.save(index_path)
    return facts.model_dump(mode="json")


if __name__ == "__main__":
    answer(lambda: _made(Path(sys.argv[1]), Path(sys.argv[2]), Path(sys.argv[3]), "take" in sys.argv[4:]), SECONDS)
