"""Places in a source at which it can be made wrong: a comparison turned, a constant one more or less, a call dropped."""

import ast
import re
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

TURNED: dict[type[ast.cmpop], str] = {
    ast.Lt: ">=", ast.LtE: ">", ast.Gt: "<=", ast.GtE: "<", ast.Eq: "!=", ast.NotEq: "==",
    ast.In: "not in", ast.NotIn: "in", ast.Is: "is not", ast.IsNot: "is",
}  # fmt: skip
PAGE_TURNED = {"<": ">=", "<=": ">", ">": "<=", ">=": "<", "===": "!==", "!==": "==="}


@dataclass(frozen=True)
class Mutation:
    """A piece of a file, and what takes its place. line: from 1, and what stands in it; at: the piece's characters in the whole text."""

    path: Path
    line: int
    at: tuple[int, int]
    kind: str
    row: str
    new: str

    def __str__(self) -> str:
        return f"{self.path}:{self.line} {self.kind} to {self.new.strip()!r} in: {self.row.strip()[:140]}"

    def applied(self, text: str) -> str:
        """The text with it."""
        first, last = self.at
        return text[:first] + self.new + text[last:]


def in_python(path: Path, text: str) -> Iterator[Mutation]:
    """All mutations of a Python source; annotations and docstrings are left alone."""
    starts = [0]
    for row in text.encode().splitlines(keepends=True):
        starts.append(starts[-1] + len(row))
    raw = text.encode()

    def place(first: tuple[int, int], last: tuple[int, int]) -> tuple[int, int]:
        ends = (starts[first[0] - 1] + first[1], starts[last[0] - 1] + last[1])
        return len(raw[: ends[0]].decode()), len(raw[: ends[1]].decode())

    def made(node: ast.expr | ast.stmt, kind: str, new: str, at: tuple[int, int] | None = None) -> Mutation:
        at = at or place((node.lineno, node.col_offset), (node.end_lineno or 0, node.end_col_offset or 0))
        return Mutation(path, node.lineno, at, kind, text.splitlines()[node.lineno - 1], new)

    tree = ast.parse(text)
    left_alone = {id(n) for holder in ast.walk(tree) for a in ("annotation", "returns") if getattr(holder, a, None) for n in ast.walk(getattr(holder, a))}
    for node in ast.walk(tree):
        if id(node) in left_alone:
            continue
        if isinstance(node, ast.Compare) and len(node.ops) == 1:
            right = node.comparators[0]
            at = place((node.left.end_lineno or 0, node.left.end_col_offset or 0), (right.lineno, right.col_offset))
            if text[at[0] : at[1]].count("(") == text[at[0] : at[1]].count(")") == 0:
                yield made(node, "turned", f" {TURNED[type(node.ops[0])]} ", at)
        elif isinstance(node, ast.Constant) and type(node.value) in (int, float):
            for by in (1, -1):
                yield made(node, "constant", f"({node.value + by})")
        elif isinstance(node, ast.Expr) and isinstance(node.value, ast.Call):
            yield made(node, "dropped", "pass")


STRING = re.compile(r"`[^`]*`|\"[^\"]*\"|'[^']*'|//.*|/\*.*\*/")


def in_page(path: Path, text: str) -> Iterator[Mutation]:
    """All mutations of a TypeScript source that is formatted as ours is: one statement a line, operators between spaces."""
    start = 0
    for number, row in enumerate(text.splitlines(keepends=True), 1):
        bare = STRING.sub(lambda found: "·" * len(found[0]), row)
        first, start = start, start + len(row)
        if bare.lstrip().startswith(("*", "/*", "import ", "export type", "type ", "export interface")):
            continue
        for found in re.finditer(r"(?<= )(<=|>=|<|>|===|!==)(?= )", bare):
            yield Mutation(path, number, (first + found.start(), first + found.end()), "turned", row, PAGE_TURNED[found[0]])
        for found in re.finditer(r"(?<![\w.#$])\d+(\.\d+)?(?![\w.])", bare):
            for by in (1, -1):
                yield Mutation(path, number, (first + found.start(), first + found.end()), "constant", row, f"({float(found[0]) + by:g})")
        called = re.fullmatch(r"(\s+)((?:void )?(?:this\.)?[\w.]+\(.*\));\n", bare)
        if called and "super(" not in bare and bare.count("(") == bare.count(")"):
            yield Mutation(path, number, (first + called.start(2), first + called.end(2)), "dropped", row, "")
