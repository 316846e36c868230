"""What an export is to be: what is shown, in which format, how finely."""

from fractions import Fraction
from math import ceil
from typing import Any, Literal, Self

from pydantic import Field, model_validator

from wenditas.core.errors import BadRequest
from wenditas.core.film import Node
from wenditas.core.film.nodes import Frame
from wenditas.core.params import Params
from wenditas.media.writing import FORMATS
from wenditas.media.writing.record import Canvas, Format, Quality

Shows = Literal["result", "matte", "alpha"]
OLD_KINDS = {  # of options that were stored before there was a list of formats
    "video": ("result", "h264"),
    "matte": ("matte", "h264"),
    "matte pictures": ("matte", "png-8"),
    "alpha": ("alpha", "prores-4444"),
    "alpha pictures": ("alpha", "png-8"),
}


class ExportOptions(Params):
    """What to write, and how.

    shows: the finished picture; a selection's matte, in grey; or the finished picture with the matte as its alpha channel. The latter
    two name a selection. format: of `FORMATS`. width: of the pictures, in pixels; as they are by default. fps: of a loop, as they are
    by default. folder: pictures lie in a folder rather than a ZIP file. stretch: the frames of a reel that are written, first and last
    included; all of it by default.
    """

    shows: Shows = "result"
    selection: str | None = Field(None, max_length=80)
    format: str = "h264"
    quality: Quality = "good"
    sound: bool = True
    width: int | None = Field(None, ge=16, le=16384)
    fps: float | None = Field(None, ge=1, le=60)
    folder: bool = False
    stretch: tuple[Frame, Frame] | None = None

    @model_validator(mode="before")
    @classmethod
    def _upgrade(cls, data: Any) -> Any:
        if isinstance(data, dict) and "kind" in data:
            data = dict(data)
            shows, format = OLD_KINDS.get(data.pop("kind"), ("result", "no such kind"))
            return {"shows": shows, "format": format, **data}
        return data

    @model_validator(mode="after")
    def _check(self) -> Self:
        if self.format not in FORMATS:
            raise ValueError(f"there is no format {self.format!r}; there are {', '.join(FORMATS)}")
        if self.shows == "alpha" and not self.made.alpha:
            able = ", ".join(f.name for f in FORMATS.values() if f.alpha)
            raise ValueError(f"{self.made.name} cannot carry alpha; {able} can")
        if self.fps is not None and not self.made.loop:
            raise ValueError("only a loop can have a rate of its own")
        if self.stretch is not None and self.stretch[0] > self.stretch[1]:
            raise ValueError(f"the stretch ends at frame {self.stretch[1]}, before it begins at {self.stretch[0]}")
        if self.folder and not self.made.pictures:
            raise ValueError("only numbered pictures can lie in a folder")
        return self

    @property
    def made(self) -> Format:
        """The format."""
        return FORMATS[self.format]

    @property
    def suffix(self) -> str:
        """Of the file; none for a folder."""
        return "" if self.folder else self.made.suffix

    @property
    def heard(self) -> bool:
        """Whether sound goes with it."""
        return self.sound and self.shows == "result" and self.made.sound is not None

    def check(self) -> None:
        """Raises `BadRequest` where a matte is asked for and no selection is named."""
        if self.shows != "result" and self.selection is None:
            raise BadRequest("This export needs a selection whose matte is to be written.")

    def canvas(self, node: Node) -> Canvas:
        """What pictures of a node are written on."""
        width, height = node.size
        if self.width is not None and self.width != width:
            width, height = self.width, max(1, round(height * self.width / width))
        return Canvas(width, height, self.rate(node), self.quality, self.shows == "alpha", self.shows == "matte")

    def rate(self, node: Node) -> Fraction:
        """Frames a second that are written: the node's, or those asked for; an even part of them where the format cannot hold as many."""
        rate = node.rate if self.fps is None else Fraction(self.fps).limit_denominator(1001)
        most = self.made.most_rate
        return rate if most is None or rate <= most else rate / ceil(rate / most)

    def told(self, node: Node) -> tuple[str, ...]:
        """What a format leaves out of a node, a sentence each."""
        asked, rate = node.rate if self.fps is None else Fraction(self.fps).limit_denominator(1001), self.rate(node)
        if rate == asked:
            return ()
        return (f"{self.made.name} holds at most {self.made.most_rate} frames a second: of {float(asked):.6g} it keeps {float(rate):.6g}.",)

    def frames(self, node: Node, first: int, last: int) -> list[int]:
        """The frames of a node that are written, from a stretch of it: all, or for another rate the nearest in time."""
        step = node.rate / self.rate(node)
        if step == 1:
            return list(range(first, last + 1))
        count = max(1, round((last - first + 1) / step))
        return [min(first + int(n * step + Fraction(1, 2)), last) for n in range(count)]
