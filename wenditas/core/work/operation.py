"""Operations: the steps of the work for one picture, as plain data. An operation's digest names what it computes."""

import hashlib
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from typing import Any, Literal, Protocol

import numpy as np
from pydantic import BaseModel

from wenditas.core.files import NO_FILES, Files
from wenditas.core.kernel import Matte, Picture
from wenditas.core.tiles import Load

Size = tuple[int, int]  # height, width


class Sources(Protocol):
    """Where the frames of footage come from. Footage is whatever `source` was given."""

    def load(self, footage: Any, frame: int, size: Size) -> Load:
        """A frame scaled to `(height, width)`, to be loaded tile by tile."""
        ...

    def alpha(self, footage: Any, frame: int, size: Size) -> Matte | None:
        """The alpha channel of a frame at the same size; None where there is none."""
        ...

    def thing(self, footage: Any, frame: int, strokes: Any, size: Size) -> Matte:
        """The matte of an object, which was stroked on some frames, at another."""
        ...


@dataclass(frozen=True)
class Place:
    """Where an operation works. height, width: of the whole frame; first: the first row of the tile; files: LUTs and pictures."""

    height: int
    width: int
    first: int = 0
    files: Files = NO_FILES


Array = Picture | Matte
Rows = Callable[[Sequence[Any], Any, Place], None]  # inputs, output, place: a tile of each
Whole = Callable[[Sequence[Any], Place], Any]  # inputs and place to the output, all of them whole frames
Band = Callable[[Sequence[Any], Any, tuple[int, int]], None]  # whole inputs, the whole output, and the rows to fill


@dataclass(frozen=True)
class Kind:
    """What an operation of a kind does. One of `rows`, `whole` and `load` says how; each is given the operation's parameters first.

    gives: a picture `(3, h, w)` or a matte `(h, w)`. rows: by pixel, tile by tile. whole: on whole frames. load: a leaf, from the sources.
    over: the output begins as the first input: overwritten where nobody else reads it, else copied. band: the same as `rows` for inputs that are whole.
    prepares: whether tables are made for its parameters, which are worth keeping.
    cost: nanoseconds of one core that a pixel takes; of a kind with many members their median (measured at 960 x 540, November 2026).
    derived: whether a leaf is worked out by the sources, not read: no frame of footage.
    keeps: the places of inputs that are likely to be read for other pictures too, from this place on.
    """

    name: str
    gives: Literal["picture", "matte"] = "picture"
    rows: Callable[[Any], Rows] | None = None
    whole: Callable[[Any], Whole] | None = None
    load: Callable[[Any, Size, Sources], Load] | None = None
    over: bool = False
    band: Callable[[Any], Band] | None = None
    prepares: bool = False
    cost: float = 1.0
    keeps: int | None = None
    derived: bool = False

    @property
    def by_pixel(self) -> bool:
        """Whether a pixel depends on the same pixel of the inputs alone."""
        return self.rows is not None


class Op:
    """One operation: a kind, its parameters, its inputs and the size of what it gives. Equal digests name the same computation."""

    __slots__ = ("digest", "inputs", "kind", "own", "params", "size")

    def __init__(self, kind: Kind, params: Any, inputs: Sequence["Op"], size: Size, named: str | None = None) -> None:
        """named: the parameters as text, where they have been put so already (see `plain`)."""
        self.digest: str
        self.kind, self.params, self.inputs, self.size = kind, params, tuple(inputs), size
        self.own = f"{kind.name} {plain(params) if named is None else named}"
        parts = [self.own, f"{size[0]} {size[1]}", *(op.digest for op in self.inputs)]
        self.digest = hashlib.blake2b("\0".join(parts).encode(), digest_size=16).hexdigest()

    @property
    def nbytes(self) -> int:
        """Bytes of what it gives, as float32."""
        return self.size[0] * self.size[1] * (12 if self.kind.gives == "picture" else 4)

    def __repr__(self) -> str:
        return f"<{self.own[:60]} {self.size[1]}x{self.size[0]} of {len(self.inputs)}>"


def plain(value: Any) -> str:
    """Parameters as text: the same for the same values, and other for others."""
    if isinstance(value, BaseModel):
        return f"{type(value).__name__}{value.model_dump_json()}"
    if isinstance(value, tuple):
        return f"({','.join(map(plain, value))})"
    if isinstance(value, np.ndarray):
        return f"{value.dtype}{value.shape}{hashlib.blake2b(np.ascontiguousarray(value).tobytes(), digest_size=16).hexdigest()}"
    if isinstance(value, int | float) and not isinstance(value, bool):
        return repr(value + 0.0)  # 1 and 1.0, 0 and -0 are one
    if value is None or isinstance(value, str | bool):
        return repr(value)
    raise TypeError(f"{type(value).__name__} is no plain parameter of an operation")


@dataclass
class Graph:
    """An operation and all that it is made of, each after its inputs. known: those that need not be worked out."""

    root: Op
    known: Callable[[str], Any] = field(default=lambda digest: None)

    def __post_init__(self) -> None:
        self.values: dict[str, Any] = {}
        self.ops: list[Op] = []
        self._put_in_order()

    def _put_in_order(self) -> None:
        """Depth first, without recursion: looks over looks are as deep as they are long."""
        done, waiting = set[str](), [(self.root, False)]
        while waiting:
            op, entered = waiting.pop()
            if op.digest in done and not entered:
                continue
            if entered:
                self.ops.append(op)
                continue
            done.add(op.digest)
            value = self.known(op.digest)
            waiting.append((op, True))
            if value is not None:
                self.values[op.digest] = value
                continue
            waiting.extend((needed, False) for needed in reversed(op.inputs) if needed.digest not in done)

    def users(self) -> dict[str, list[Op]]:
        """The operations that read each one."""
        found: dict[str, list[Op]] = {op.digest: [] for op in self.ops}
        for op in self.ops:
            if op.digest not in self.values:
                for needed in op.inputs:
                    found[needed.digest].append(op)
        return found


def reads(root: Op, known: Callable[[str], Any] = lambda digest: None) -> list[Op]:
    """The leaves of an operation that are read from footage, in the order in which they are needed. known: what is at hand under a digest."""
    graph = Graph(root, known)
    return [op for op in graph.ops if op.kind.load is not None and not op.kind.derived and op.digest not in graph.values]


def cost(root: Op, known: Callable[[str], Any] = lambda digest: None) -> float:
    """About how many seconds of one core an operation takes, with all that it is made of. Compares pictures; promises nothing of a machine."""
    graph = Graph(root, known)
    return sum(op.kind.cost * op.size[0] * op.size[1] for op in graph.ops if op.digest not in graph.values) * 1e-9
