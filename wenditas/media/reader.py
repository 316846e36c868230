"""Exact frame access: any frame by its number, forward reading without seeking, a small cache."""

import contextlib
import threading
from collections import OrderedDict
from pathlib import Path

import av
import cv2
import numpy as np
from av.video.reformatter import VideoReformatter

from wenditas.core.colour.ycbcr import LUMA_601, LUMA_709, LUMA_2020, Signal
from wenditas.core.errors import FootageRefused
from wenditas.core.kernel import Matte, Picture, as_picture
from wenditas.core.tone.lut import Lut
from wenditas.media.convert import Planes
from wenditas.media.decode import decoded, decoder_of, picture_streams
from wenditas.media.facts import Facts
from wenditas.media.fields import BESIDE, deinterlaced
from wenditas.media.index import Index
from wenditas.media.opening import open_media
from wenditas.media.reading import through

WEIGHTS = {"bt709": LUMA_709, "bt601": LUMA_601, "bt2020": LUMA_2020}
DIRECT = {  # pixel formats read plane by plane: subsampled across, down
    **dict.fromkeys(("yuv420p", "yuvj420p", "yuv420p10le", "yuv420p12le"), (True, True)),
    **dict.fromkeys(("yuv422p", "yuvj422p", "yuv422p10le", "yuv422p12le"), (True, False)),
    **dict.fromkeys(("yuv444p", "yuvj444p", "yuv444p10le", "yuv444p12le", "yuv444p16le"), (False, False)),
}
# Other layouts of the same samples, rearranged without loss by libswscale before they are read.
SAME_SAMPLES = {"nv12": "yuv420p", "nv21": "yuv420p", "p010le": "yuv420p10le", "yuyv422": "yuv422p", "uyvy422": "yuv422p", "yuva420p": "yuv420p"} | {
    "yuva444p10le": "yuv444p10le",
    "yuva444p12le": "yuv444p12le",
    "yuva422p10le": "yuv422p10le",
    "yuva444p": "yuv444p",
    "yuv410p": "yuv420p",
    "yuv411p": "yuv422p",
    "yuv440p": "yuv444p",
}
KEPT, ASKED = 6, 4  # decoded frames kept: the last ones passed, and the last ones that were asked for; fewer of large footage
KEPT_BYTES = 96 << 20
DECODERS = 16  # frames that a decoder holds of its own: references, and one for each thread
SEEK = 4  # frames that could be decoded in the time a seek takes


class Reader:
    """One open file. Thread-safe; frames are conformed frame numbers from 0. lut: what its signal is read through."""

    def __init__(self, path: Path, facts: Facts, index: Index, threads: int = 0, lut: Lut | None = None) -> None:
        self.facts, self.index, self._lut = facts, index, lut
        self._path, self._threads = path, threads
        self._lock = threading.Lock()
        self._kept: OrderedDict[int, av.VideoFrame] = OrderedDict()
        self._asked: OrderedDict[int, av.VideoFrame] = OrderedDict()
        self._made: OrderedDict[tuple[int, int | None], av.VideoFrame] = OrderedDict()  # of fields
        self._last: tuple[int, av.VideoFrame] | None = None  # what decoding gave last: held where the next ones are damaged
        self._container: av.container.InputContainer | None = None
        self._next = 0  # source frame that decoding will give next
        self._open()

    def _open(self) -> None:
        self._release()
        self._container = open_media(self._path)
        self._stream = picture_streams(self._container)[self.facts.picture_track]
        self._decoder = decoder_of(self._stream)
        self._decoder.thread_type = "AUTO"
        self._decoder.thread_count = self._threads
        self._decoding = decoded(self._container, self._stream, decoder=self._decoder)
        self._last, self._next, self._started = None, 0, 0

    def _release(self) -> None:
        container, self._container = self._container, None
        if container is not None:
            self._decoding.close()
            container.close()

    def close(self) -> None:
        """Release the file once whoever reads from it is done; a later read opens it again."""
        with self._lock:
            self._release()
            self._kept.clear()
            self._asked.clear()
            self._made.clear()

    def __del__(self) -> None:
        # A container and its decoder hold each other; left to the collector they would stay open, threads and all.
        if getattr(self, "_container", None) is not None:
            self._release()

    def twin(self) -> "Reader":
        """Another reader of the same file, with a position of its own."""
        return Reader(self._path, self.facts, self.index, self._threads, self._lut)

    def source_frame(self, number: int) -> int:
        """The source frame behind a conformed frame number, limited to what there is."""
        if self.facts.kind == "still":
            return 0
        return int(self.index.order[min(max(number, 0), len(self.index.order) - 1)])

    def frame(self, number: int) -> av.VideoFrame:
        """The decoded frame; for one that is damaged the one before it. Raises `FootageRefused` where none can be decoded."""
        wanted = self.source_frame(number)
        with self._lock:
            try:
                return self._whole(wanted, number % 2) if self.facts.fields else self._found(wanted)
            except (av.error.FFmpegError, StopIteration) as error:
                with contextlib.suppress(av.error.FFmpegError):
                    self._open()
                raise FootageRefused(f"Frame {number} of this footage cannot be decoded.") from error

    def _found(self, wanted: int) -> av.VideoFrame:
        """A source frame as it is coded."""
        found = self._asked.get(wanted, self._kept.get(wanted))
        if found is None:
            if self._container is None:
                self._open()
            found = self._decode(wanted)
            _keep(self._asked, wanted, found, self._fitting(ASKED))
        return found

    def _whole(self, wanted: int, half: int) -> av.VideoFrame:
        """A source frame, or one of its fields, as a whole picture: with those beside it, of which the last may not be decodable."""
        field = half if self.facts.fields == "one a field" else None
        found = self._made.get((wanted, field))
        if found is None:
            around: list[av.VideoFrame] = []
            for n in range(max(wanted - BESIDE, 0), min(wanted + BESIDE, len(self.index.times) - 1) + 1):
                frame = self._found(n)
                if not around or frame is not around[-1]:  # one that is damaged is held
                    around.append(frame)
            here = self._found(wanted)
            found = deinterlaced(around, next(n for n, frame in enumerate(around) if frame is here), field)
            self._made[wanted, field] = found
            while len(self._made) > self._fitting(ASKED):
                self._made.popitem(last=False)
        return found

    def _decode(self, wanted: int) -> av.VideoFrame:
        if not self._goes_on_to(wanted):
            self._seek(wanted)
        while True:
            held, later = self._run_to(wanted)
            if held is not None:
                return held
            # Nothing at or before it since the key frame that decoding began with: from the one before that.
            before = self._started - 1
            if later is not None and before < 0:
                return later
            if before < 0:
                raise StopIteration
            self._seek(before)

    def _run_to(self, wanted: int) -> tuple[av.VideoFrame | None, av.VideoFrame | None]:
        """Decode on until a frame is reached: it, or what is held in its place; and where there is neither, what came after it."""
        before = self._last if self._last is not None and self._last[0] <= wanted else None
        for frame in self._decoding:
            time = frame.pts if frame.pts is not None else frame.dts
            at = int(np.searchsorted(self.index.times, time, side="right")) - 1 if time is not None else self._next
            self._last, self._next = (at, frame), at + 1
            if at >= 0:
                _keep(self._kept, at, frame, self._fitting(KEPT))  # also what is passed on the way: another thread may be about to ask for it
            if at == wanted:
                return frame, None
            if at > wanted:
                return (None if before is None else before[1]), frame
            before = at, frame
        # The stream has ended: what came last is the nearest there is, and the next read starts anew.
        self._next = len(self.index.times) + 1
        return (None if before is None else before[1]), None

    def ready_for(self, number: int) -> bool:
        """Whether a frame is held, or comes by decoding on."""
        wanted = self.source_frame(number)
        with self._lock:
            return wanted in self._asked or wanted in self._kept or (self._container is not None and self._goes_on_to(wanted))

    def _goes_on_to(self, wanted: int) -> bool:
        """Whether decoding on reaches a frame as soon as seeking to the key frame before it would."""
        if not self._next <= wanted:
            return False
        keys = np.flatnonzero(self.index.keys[: wanted + 1])
        return not len(keys) or int(keys[-1]) <= self._next + SEEK

    def _fitting(self, most: int) -> int:
        least = 1 + 2 * BESIDE if self.facts.fields else 1
        return max(least, min(most, KEPT_BYTES // 2 // self.frame_bytes))

    @property
    def frame_bytes(self) -> int:
        """Memory of one decoded frame."""
        return self.facts.coded_width * self.facts.coded_height * (3 if self.facts.matrix == "rgb" else 2) * (2 if self.facts.bits > 8 else 1) or 1

    @property
    def nbytes(self) -> int:
        """Memory that the reader may hold, about."""
        return self.frame_bytes * (self._fitting(KEPT) + self._fitting(ASKED) + DECODERS)

    def _seek(self, wanted: int) -> None:
        assert self._container is not None
        keys = np.flatnonzero(self.index.keys[: wanted + 1])
        start = self._started = int(keys[-1]) if len(keys) else 0
        if self.facts.kind == "still" or len(self.index.times) == 1:
            self._open()
            return
        self._container.seek(int(self.index.times[start]), stream=self._stream, backward=True)
        self._decoder.flush_buffers()
        self._decoding = decoded(self._container, self._stream, decoder=self._decoder)
        self._last, self._next = None, start

    def planes(self, number: int) -> Planes | None:
        """The frame as planes to read tile by tile, where no rotation, scaling or other format stands in the way."""
        if self._lut is not None or self.facts.rotation or (self.facts.coded_width, self.facts.coded_height) != (self.facts.width, self.facts.height):
            return None
        return as_planes(self.frame(number), self.facts)

    def alpha(self, number: int, size: tuple[int, int] | None = None) -> Matte | None:
        """The frame's alpha channel, 0-1, upright, scaled to `(h, w)`; None where the footage has none."""
        return _alpha_of(self.frame(number), self.facts, size) if self.facts.alpha else None

    def picture(self, number: int, size: tuple[int, int] | None = None) -> Picture:
        """The frame as a float picture `(3, h, w)`, upright, with square pixels, scaled to `(h, w)`."""
        frame = self.frame(number)
        if size is not None and self.facts.matrix != "rgb" and not self.facts.rotation:
            return self._read(frame_picture(_shrink(frame, size, self.facts), self.facts))
        picture = _conform(frame_picture(frame, self.facts), self.facts)
        return self._read(picture if size is None else scale(picture, size))

    def _read(self, picture: Picture) -> Picture:
        return picture if self._lut is None else through(self._lut, picture)


def _keep(frames: OrderedDict[int, av.VideoFrame], number: int, frame: av.VideoFrame, most: int) -> None:
    frames[number] = frame
    while len(frames) > most:
        frames.popitem(last=False)


def _alpha_of(frame: av.VideoFrame, facts: Facts, size: tuple[int, int] | None) -> Matte | None:
    if not facts.alpha:
        return None
    coded = _reformat(frame, frame.width, frame.height, "rgba64le", 2).to_ndarray()
    alpha = coded[:, :, 3].astype(np.float32) / np.float32(65535)
    upright = np.rot90(alpha, facts.rotation // 90) if facts.rotation else alpha
    scaled: Matte = scale(as_picture(upright)[None], size or (facts.height, facts.width))[0]
    return scaled


def as_planes(frame: av.VideoFrame, facts: Facts) -> Planes | None:
    """A Y'CbCr frame as `Planes`; None for R'G'B' formats."""
    name = frame.format.name
    if facts.matrix == "rgb":
        return None
    if name not in DIRECT:
        name = SAME_SAMPLES.get(name, "yuv444p")
        levels = 2 if facts.full_range else 1
        frame = _reformat(frame, frame.width, frame.height, name, levels)
    bits = frame.format.components[0].bits
    arrays = []
    for plane in frame.planes:
        dtype = np.uint8 if bits == 8 else np.uint16
        lines = np.frombuffer(plane, np.uint8).view(dtype)
        arrays.append(lines.reshape(-1, plane.line_size // dtype().itemsize))
    signal = Signal(WEIGHTS[facts.matrix], facts.full_range, bits)
    return Planes((arrays[0], arrays[1], arrays[2]), frame.width, frame.height, DIRECT[name], signal, facts.centred_chroma)


def frame_picture(frame: av.VideoFrame, facts: Facts) -> Picture:
    """A decoded frame as a float picture `(3, h, w)` as coded (neither turned nor scaled)."""
    planes = as_planes(frame, facts)
    if planes is None:
        deep = max(c.bits for c in frame.format.components) > 8
        name = "rgb48le" if deep else "rgb24"
        coded = _reformat(frame, frame.width, frame.height, name, 2).to_ndarray()
        return as_picture(coded.transpose(2, 0, 1) / np.float32((65535 if deep else 255) / facts.headroom))
    return planes.picture()


_local = threading.local()


def _reformat(frame: av.VideoFrame, width: int, height: int, name: str, levels: int) -> av.VideoFrame:
    """libswscale through a context of this thread's own: a frame's built-in one must not be shared between threads."""
    scalers = _local.__dict__.setdefault("scalers", {})
    key = (frame.format.name, frame.width, frame.height, width, height, name)
    if key not in scalers:
        if len(scalers) > 16:
            scalers.clear()
        scalers[key] = VideoReformatter()
    # With several threads it damages the first line of each one's part where the size stays and the width is no multiple of 16.
    return scalers[key].reformat(frame, width, height, name, interpolation="AREA", src_color_range=levels, dst_color_range=levels, threads=1)


def _shrink(frame: av.VideoFrame, size: tuple[int, int], facts: Facts) -> av.VideoFrame:
    """A Y'CbCr frame scaled by libswscale at 16 bits: four times as fast as scaling three float planes."""
    height, width = size
    levels = 2 if facts.full_range else 1
    return _reformat(frame, width, height, "yuv444p16le", levels)


def _conform(picture: Picture, facts: Facts) -> Picture:
    if facts.rotation:
        picture = as_picture(np.rot90(picture, facts.rotation // 90, axes=(1, 2)))
    return scale(picture, (facts.height, facts.width))


def scale(picture: Picture, size: tuple[int, int]) -> Picture:
    """A float picture at another `(height, width)`: area average down, bilinear up."""
    height, width = size
    if picture.shape[1:] == (height, width):
        return picture
    shrinking = height < picture.shape[1] or width < picture.shape[2]
    method = cv2.INTER_AREA if shrinking else cv2.INTER_LINEAR
    return np.stack([cv2.resize(plane, (width, height), interpolation=method) for plane in picture])


def fit(facts: Facts, width: int) -> tuple[int, int] | None:
    """`(height, width)` of a preview at most `width` wide; None where the footage is no larger."""
    if width >= facts.width:
        return None
    return max(1, round(facts.height * width / facts.width)), width
