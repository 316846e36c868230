"""Which operations are worked out whole, and in what order; what a picture needs is known before it is begun."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from wenditas.core.errors import BadRequest
from wenditas.core.work.operation import Graph, Op

MOST_AT_ONCE = 1536 << 20  # bytes of pictures that one picture may hold at a time


class TooHeavy(BadRequest):
    """A picture that is made of more others than fit into memory."""


@dataclass(frozen=True)
class Step:
    """An operation that is worked out whole, with those by pixel that go through its tiles without leaving them (itself last)."""

    target: Op
    chain: tuple[Op, ...]
    kept: bool  # worth remembering for other pictures

    @property
    def reads(self) -> tuple[str, ...]:
        """The digests of the whole pictures and mattes that it reads."""
        within = {op.digest for op in self.chain}
        read = (needed.digest for op in self.chain for needed in op.inputs)
        return tuple(dict.fromkeys(digest for digest in read if digest not in within))


@dataclass(frozen=True)
class Schedule:
    """The steps to a picture, in order. values: what is known already. last: after which step each whole value is read no more."""

    steps: tuple[Step, ...]
    values: dict[str, Any]
    last: dict[str, int]

    def holds(self) -> int:
        """Bytes that are held at most at a time, without what is known already."""
        held, most = 0, 0
        sizes = {step.target.digest: step.target.nbytes for step in self.steps}
        for n, step in enumerate(self.steps):
            held += sizes[step.target.digest]
            most = max(most, held)
            held -= sum(sizes.get(digest, 0) for digest in step.reads if self.last[digest] == n)
        return most

    def check(self) -> None:
        """Raises `TooHeavy` where more would be held than there may be."""
        if self.holds() > MOST_AT_ONCE:
            raise TooHeavy(
                f"This look reads more than {len(self.steps) - 1} other pictures for one of its own, more than fit into memory at this size. "
                "Turn off one of its trails."
            )


def _nothing(digest: str) -> Any:
    return None


def _none_of(digests: list[str]) -> frozenset[str]:
    return frozenset()


def _read_whole(users: dict[str, list[Op]], op: Op) -> bool:
    return any(not user.kind.by_pixel for user in users[op.digest])


def _kept(ops: list[Op], root: Op, users: dict[str, list[Op]], shared: frozenset[str]) -> set[str]:
    """What is worth remembering: what an operation reads of other moments, with the frames of footage for it, and the last of what was in
    a graph before this one, where something new begins."""
    found = {needed.digest for op in ops if op.kind.keeps is not None for needed in op.inputs[op.kind.keeps :]}
    frames: dict[Any, set[str]] = {}
    for op in ops if found else ():
        if op.kind.load is not None:
            frames.setdefault((op.kind.name, op.params[:-1], op.size), set()).add(op.digest)
    for digests in frames.values():
        found |= digests if len(digests) > 1 else set()
    for op in ops:
        if op is not root and op.inputs and op.digest in shared and any(user.digest not in shared for user in users[op.digest]):
            found.add(op.digest)
    return found


def schedule(root: Op, known: Callable[[str], Any] = _nothing, shared: Callable[[list[str]], frozenset[str]] = _none_of) -> Schedule:
    """How to get to a picture. known: what is at hand under a digest; shared: which of some digests were in a graph before.

    Worked out whole are: the picture itself, what is not by pixel, what such operations read, what is worth keeping, and what two of
    these need by different ways. All else goes through tiles.
    """
    graph = Graph(root, known)
    users = graph.users()
    kept = _kept(graph.ops, root, users, shared([op.digest for op in graph.ops if op.inputs]))
    owner: dict[str, str] = {}  # of each operation by pixel the one whole one that it is worked out for
    whole: list[Op] = []
    for op in reversed(graph.ops):
        if op.digest in graph.values:
            continue
        owners = {owner.get(user.digest, user.digest) for user in users[op.digest]}
        alone = op is not root and op.digest not in kept and len(owners) == 1 and not _read_whole(users, op)
        if alone and (op.kind.by_pixel or op.kind.load is not None):
            owner[op.digest] = owners.pop()
        else:
            whole.append(op)
    chains: dict[str, list[Op]] = {op.digest: [] for op in whole}
    for op in graph.ops:
        if op.digest not in graph.values:
            chains[owner.get(op.digest, op.digest)].append(op)
    steps = tuple(Step(op, tuple(chains[op.digest]), op.digest in kept) for op in reversed(whole))
    last = {digest: n for n, step in enumerate(steps) for digest in step.reads}
    return Schedule(steps, graph.values, last)
