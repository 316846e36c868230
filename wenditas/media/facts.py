"""What is known about a piece of footage."""

from fractions import Fraction
from typing import Annotated, Literal

from pydantic import BaseModel, Field

from wenditas.core.bounds import MOST_FRAMES, Side

Kind = Literal["video", "still"]
Fields = Literal["", "one a frame", "one a field"]
Signal = Literal["display", "hlg", "pq", "log", "linear"]
CENTRED = ("mjpeg", "webp", "mpeg1video")  # JFIF 1.02, 9; RFC 9649 (as JPEG, common practice); ISO 11172-2, 2.4.1
STILL_SECONDS = 5
STILL_RATE = Fraction(24)


class Facts(BaseModel):
    """Facts read from a file. Sizes are as shown: rotated, with square pixels.

    sound: the track that is used, in words; sounds, pictures: all that a file has, where it has several; sound_track, picture_track:
    which of them are used. rate: frames a second as a fraction ("24000/1001"). length: frames after conforming to
    that rate. matrix, full_range: how its signal is decoded; tagged says whether the file
    itself said so. noise: standard deviation of the error of its coded chroma (white is 1), None where it was
    not measured yet. damage: what of the file cannot be used, and what is done about it, a
    sentence each. notes: what of it is used otherwise than it is, a sentence each. signal: what it is coded for, by its tags.
    origin: what it was made from, in words, where that is no single file; headroom: what its values were divided by, so that they
    fit. wave: whether its picture is the wave of sound that came without pictures. interlaced: whether its frames hold fields that were
    filmed one after another; fields: what is made of these, one frame of each frame, one of each field, or nothing.
    """

    kind: Kind
    container: str
    codec: str
    pixel_format: str
    bits: int = Field(ge=1, le=64)
    width: Side
    height: Side
    coded_width: Side
    coded_height: Side
    rotation: Literal[0, 90, 180, 270]
    rate: Annotated[str, Field(pattern=r"^[1-9][0-9]{0,8}(/[1-9][0-9]{0,8})?$")]
    length: int = Field(ge=1, le=MOST_FRAMES)
    variable_rate: bool
    sound: str | None
    sounds: tuple[str, ...] = ()
    sound_track: int = Field(0, ge=0, le=1000)
    pictures: tuple[str, ...] = ()
    picture_track: int = Field(0, ge=0, le=1000)
    matrix: Literal["bt709", "bt601", "bt2020", "rgb"]
    full_range: bool
    tagged: bool
    alpha: bool
    noise: float | None = Field(None, ge=0, allow_inf_nan=False)
    damage: tuple[str, ...] = ()
    notes: tuple[str, ...] = ()
    signal: Signal = "display"
    origin: str = ""
    headroom: float = Field(1.0, gt=0, le=65504)
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
