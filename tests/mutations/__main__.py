"""Makes the program wrong in one place after another, and tells which of the faults the tests see: make mutations.

Chosen by a seed, so the same each time. What is told of a survivor in docs/mutations.md is its reason, or the test that sees it.
"""

import os
import random
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Callable
from pathlib import Path

from tests.mutations.places import Mutation, in_page, in_python
from tests.mutations.reach import Reach, measured

ROOT = Path(__file__).parents[2]
PARTS = {  # how many mutations of what
    "web/src/engine": 40,
    "wenditas/core": 16,
    "wenditas/project": 12,
    "wenditas/render": 12,
}
MOST = 150  # tests that are asked, the quickest of those that reach a place first, before all the others are
SECONDS = 900


def chosen(part: str, count: int, seed: int) -> list[Mutation]:
    """Mutations of a part, as many of each kind."""
    suffix, find = (".ts", in_page) if part.startswith("web") else (".py", in_python)
    found: dict[str, list[Mutation]] = {}
    for path in sorted((ROOT / part).rglob(f"*{suffix}")):
        if ".test." not in path.name and path.name != "testing.ts":
            for mutation in find(path.relative_to(ROOT), path.read_text()):
                found.setdefault(mutation.kind, []).append(mutation)
    dice = random.Random(f"{part} {seed}")
    kinds = sorted(found)
    return [dice.choice(found[kinds[n % len(kinds)]]) for n in range(count)]


def copy(into: Path) -> None:
    """The tree as it stands, with what is installed beside it."""
    files = subprocess.run(["git", "ls-files", "-co", "--exclude-standard"], cwd=ROOT, capture_output=True, text=True, check=True).stdout.splitlines()
    for name in files:
        if (ROOT / name).is_file():
            (into / name).parent.mkdir(parents=True, exist_ok=True)
            shutil.copy2(ROOT / name, into / name)
    (into / "web/node_modules").symlink_to(ROOT / "web/node_modules")
    if (ROOT / "wenditas/api/site").is_dir():
        (into / "wenditas/api/site").symlink_to(ROOT / "wenditas/api/site")


def seen(command: list[str], at: Path, **more: str) -> bool:
    """Whether a command fails, or does not come to an end."""
    try:
        return (
            subprocess.run(command, cwd=at, env={**os.environ, **more}, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL, timeout=SECONDS).returncode != 0
        )
    except subprocess.TimeoutExpired:
        return True


def seen_by_page(at: Path, mutation: Mutation) -> bool:
    """Whether the page's own tests or its compiler see a fault: those first that read the file."""
    file = str(mutation.path.relative_to("web"))
    ways = (["vitest", "related", file, "--run", "--bail=1"], ["tsc", "--noEmit", "-p", "."], ["vitest", "run", "--bail=1"])
    return any(seen(["npx", *way], at / "web") for way in ways)


def seen_by_python(reach: Reach) -> Callable[[Path, Mutation], bool]:
    """Whether the tests that reach a place see a fault there."""

    def sees(at: Path, mutation: Mutation) -> bool:
        compiled = "kernel" in (ROOT / mutation.path).read_text()  # what is folded into kernels is compiled anew; nothing else need be
        cache = {} if compiled else {"NUMBA_CACHE_DIR": str(kernels())}
        tests = reach.of(mutation.path, mutation.line)
        pytest = [sys.executable, "-m", "pytest", "-q", "-x", "-p", "no:cacheprovider", "-n", "2"]
        return any(seen([*pytest, *some], at, PYTHONPATH=str(at), **cache) for some in (tests[:MOST], tests[MOST:]) if some)

    return sees


def kernels() -> Path:
    """Where the kernels of the tree as it stands are compiled."""
    from wenditas.compiled import engine

    return ROOT / "wenditas/__pycache__" / f"kernels-{engine()}"


def tried(mutation: Mutation, at: Path, sees: Callable[[Path, Mutation], bool]) -> bool:
    """Whether a mutation is seen; the tree is as it was afterwards."""
    target = at / mutation.path
    text = target.read_text()
    target.write_text(mutation.applied(text))
    try:
        return sees(at, mutation)
    finally:
        target.write_text(text)


def main(parts: list[str], seed: int = 1) -> None:
    """Try the mutations of some parts, of all where none is named, and tell of each."""
    survived, count = [], 0
    with tempfile.TemporaryDirectory(prefix="wenditas-mutations-") as folder:
        copy(Path(folder))
        parts = parts or list(PARTS)
        sees = dict.fromkeys(parts, seen_by_page)
        if python := [part for part in parts if not part.startswith("web")]:
            sees |= dict.fromkeys(python, seen_by_python(measured(Path(folder))))  # all tests are run once for all of them
        for part in parts:
            for mutation in chosen(part, PARTS[part], seed):
                count += 1
                caught = tried(mutation, Path(folder), sees[part])
                print("caught  " if caught else "SURVIVED", mutation, flush=True)
                survived += [] if caught else [mutation]
    print(f"{count - len(survived)} of {count} caught")


if __name__ == "__main__":
    main(sys.argv[1:])
