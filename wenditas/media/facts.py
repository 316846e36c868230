"""What is known about a piece of footage."""

from fractions import Fraction
from typing import Literal

from pydantic import BaseModel

Kind = Literal["video", "still"]
Fields = Literal["", "one a frame", "one a field"]
Signal = Literal["display", "hlg", "pq", "log", "linear"]
CENTRED = ("mjpeg", "webp", "mpeg1video")  # JFIF 1.02, 9; RFC 9649 (as JPEG, common practice); ISO 11172-2, 2.4.1
STILL_SECONDS = 5
STILL_RATE = Fraction(24)


class Facts(BaseModel):
    """Facts read from a file. Sizes are as shown: rotated, with square pixels.

    rate: frames a second as a fraction ("24000/1001"). length: frames after conforming to
    that rate. matrix, full_range: how its signal is decoded; tagged says whether the file
    itself said so. noise: standard deviation of the error of its coded chroma (white is 1), None where it was
    not measured yet. damage: what of the file cannot be used, and what is done about it, a
    sentence each. signal: what it is coded for, by its tags. origin: what it was made from, in words, where that is no single file;
    headroom: what its values were divided by, so that they fit. wave: whether its picture is the wave of sound that came without pictures.
    interlaced: whether its frames hold fields that were filmed one after another; fields: what is made of these, one frame of each
    frame, one of each field, or nothing.
    """

    kind: Kind
    container: str
    codec: str
    pixel_format: str
    bits: int
    width: int
    height: int
    coded_width: int
    coded_height: int
    rotation: int
    rate: str
    length: int
    variable_rate: bool
    sound: str | None
    matrix: Literal["bt709", "bt601", "bt2020", "rgb"]
    full_range: bool
    tagged: bool
    alpha: bool
    noise: float | None = None
    damage: tuple[str, ...] = ()
    signal: Signal = "display"
    origin: str = ""
    headroom: float = 1.0
    wave: bool = False
    interlaced: bool = False
    fields: Fields = ""

    @property
    def frame_rate(self) -> Fraction:
        """The rate as a fraction."""
        return Fraction(self.rate)

    @property
    def centred_chroma(self) -> bool:
        """Whether subsampled chroma lies between luma samples, as in JPEG; else on the even columns, as in H.264."""
        return self.codec in CENTRED

    @property
    def seconds(self) -> float:
        """Length in seconds."""
        return float(self.length / self.frame_rate)
