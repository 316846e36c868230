"""Edits of a document as commands that name targets: set a value, add an item, remove one, move one before another."""

from collections.abc import Callable, Sequence
from typing import Annotated, Any, Literal

from pydantic import Field, TypeAdapter, ValidationError

from wenditas.core.errors import BadEdit, TargetGone
from wenditas.core.look.plain import check_plain
from wenditas.core.look.targets import MOST_CHARACTERS, MOST_WORDS, NAMED_BY, ORDERED_BY, join, name_of, overlap, place, split
from wenditas.core.params import Params

Target = Annotated[str, Field(max_length=MOST_CHARACTERS)]
Change = Callable[[Any, str, str], Any]  # the value that holds something, by what key it is held itself, what in it is changed
MOST_COMMANDS = 500
MOST_VALUES = 400_000  # in all commands together: many keyframes may be set at once


class Set(Params):
    """Give a target another value. A lane or keyframe that is not there yet is added: it is named by what it says."""

    do: Literal["set"] = "set"
    target: Target
    value: Any


class Add(Params):
    """Add an item to the list that the target names, before the item of a name, at the end where None."""

    do: Literal["add"] = "add"
    target: Target
    value: Any
    before: Target | None = None


class Remove(Params):
    """Remove the item of a list that the target names."""

    do: Literal["remove"] = "remove"
    target: Target


class Move(Params):
    """Move the item that the target names before another of its list, to the end where None."""

    do: Literal["move"] = "move"
    target: Target
    before: Target | None = None


Command = Annotated[Set | Add | Remove | Move, Field(discriminator="do")]
Commands = tuple[Command, ...]
_COMMANDS: TypeAdapter[Commands] = TypeAdapter(Commands)


def parse_commands(data: Any) -> Commands:
    """Commands from plain JSON data. Raises `BadEdit`."""
    try:
        return _COMMANDS.validate_python(data)
    except ValidationError as error:
        raise BadEdit(f"This edit is not understood: {error.errors()[0]['msg']}") from error


def apply_commands(document: Any, commands: Sequence[Command]) -> Any:
    """The plain document after the commands, one after another; the one given is not changed, and shares what stays the same.

    Raises `TargetGone` where a target is not there, `BadEdit` where a command makes no sense.
    """
    if len(commands) > MOST_COMMANDS:
        raise BadEdit(f"An edit may have {MOST_COMMANDS} commands at most; this one has {len(commands)}.")
    left = MOST_VALUES
    for command in commands:
        if isinstance(command, Set | Add):
            left -= _counted(command.value, left)
        document = _within(document, command.target, _words(command), "", _CHANGES[type(command)](command))
    return document


def _words(command: Command) -> list[str]:
    """The words of what a command changes. Raises `BadEdit` where that is nothing, or lies deeper than anything does."""
    words = split(command.target)
    if not words or len(words) > MOST_WORDS:
        raise BadEdit(f"An edit cannot change {command.target[:80]!r}.")
    return words


def _counted(value: Any, left: int) -> int:
    try:
        return check_plain(value, most=left)
    except ValueError as error:
        raise BadEdit(f"This edit cannot be stored: {error}.") from error


def _within(node: Any, target: str, words: Sequence[str], key: str, change: Change) -> Any:
    """A copy of `node` in which the place that the words lead to is changed."""
    word, rest = words[0], words[1:]
    if isinstance(node, dict):
        if not rest:
            return change(node, key, word)
        if word not in node:
            raise TargetGone(target)
        return {**node, word: _in_order(word, _within(node[word], target, rest, word, change))}
    if not isinstance(node, list):
        raise TargetGone(target)
    if not rest:
        return change(node, key, word)
    at = place(node, key, word)
    if at is None:
        raise TargetGone(target)
    return [*node[:at], _within(node[at], target, rest, word, change), *node[at + 1 :]]


def _in_order(key: str, items: Any) -> Any:
    """A list in its order where it has one, as the validation will have it; what makes no sense is left to that."""
    by = ORDERED_BY.get(key)
    if by is None or not isinstance(items, list) or not all(isinstance(i, dict) and isinstance(i.get(by), int | float) for i in items):
        return items
    return sorted(items, key=lambda item: item[by])


def _set(command: Set) -> Change:
    def change(holder: Any, key: str, word: str) -> Any:
        if isinstance(holder, dict):
            return {**holder, word: command.value}
        at = place(holder, key, word)
        if name_of(command.value, key) != word:
            raise BadEdit(f"What is put at {command.target[:80]!r} has another name.")
        if at is None and key not in NAMED_BY:
            raise TargetGone(command.target)
        return [*holder, command.value] if at is None else [*holder[:at], command.value, *holder[at + 1 :]]

    return change


def _before(items: list[Any], key: str, name: str | None, target: str) -> int:
    if name is None:
        return len(items)
    at = place(items, key, name)
    if at is None:
        raise TargetGone(f"{target}/{name}")
    return at


def _add(command: Add) -> Change:
    def change(holder: Any, key: str, word: str) -> Any:
        if not isinstance(holder, dict) or not isinstance(holder.get(word), list):
            raise TargetGone(command.target)
        items, name = holder[word], name_of(command.value, word)
        if not name:
            raise BadEdit(f"What is added to {command.target[:80]!r} needs a name.")
        if place(items, word, name) is not None:
            raise BadEdit(f"{command.target[:80]!r} has a {name[:40]!r} already.")
        at = _before(items, word, command.before, command.target)
        return {**holder, word: _in_order(word, [*items[:at], command.value, *items[at:]])}

    return change


def _taken_out(holder: Any, key: str, word: str, target: str) -> tuple[Any, list[Any]]:
    at = place(holder, key, word) if isinstance(holder, list) else None
    if at is None:
        raise TargetGone(target)
    return holder[at], [*holder[:at], *holder[at + 1 :]]


def _remove(command: Remove) -> Change:
    return lambda holder, key, word: _taken_out(holder, key, word, command.target)[1]


def _move(command: Move) -> Change:
    def change(holder: Any, key: str, word: str) -> Any:
        if command.before == word:
            return holder
        item, others = _taken_out(holder, key, word, command.target)
        at = _before(others, key, command.before, command.target)
        return [*others[:at], item, *others[at:]]

    return change


_CHANGES: dict[type, Callable[[Any], Change]] = {Set: _set, Add: _add, Remove: _remove, Move: _move}
PLACE = "@place"  # of an item among the others: what a move changes


def touched(commands: Sequence[Command]) -> list[str]:
    """The targets that commands change, for telling whether two edits meet. What is animated is touched with its lane. Raises `BadEdit`."""
    found = []
    for command in commands:
        target, last = command.target, _words(command)[-1]
        if isinstance(command, Add):
            target = f"{target}/{join([name_of(command.value, last)])}"
        elif isinstance(command, Move):
            target = f"{target}/{PLACE}"
        found.append(target)
        words = split(target)
        if words[-2:-1] == ["lanes"]:
            found.append("/".join([*target.split("/")[:-2], words[-1]]))
    return found


def first_conflict(mine: Sequence[str], theirs: Sequence[str]) -> str | None:
    """The first of my touched targets that one of theirs meets; None where all are different."""
    return next((a for a in mine if any(overlap(a, b) for b in theirs)), None)
