"""This state of the code against another commit, row by row, in turn: `make bench-against BASE=HEAD~1`."""

import os
import subprocess
import sys
import tempfile
from pathlib import Path

from rich.console import Console
from rich.table import Table

from bench.timing import at_most, once, paired

ROOT = Path(__file__).parents[1]


class Side:
    """The rows, running on one state of the code."""

    def __init__(self, tree: Path, clip: Path) -> None:
        # The rows are this commit's; what they measure is the tree's. Where both have a module, the tree's comes first.
        run = f"import sys; sys.path.insert(0, {str(tree)!r}); sys.argv = ['rows', {str(clip)!r}]; exec(open({str(ROOT / 'bench' / 'rows.py')!r}).read())"
        env = {**os.environ, "PYTHONPATH": str(tree)}
        self._process = subprocess.Popen([sys.executable, "-c", run], stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True, cwd=tree, env=env)
        self.names = self._line().rstrip("\n").split("\t")

    def _line(self) -> str:
        assert self._process.stdout is not None
        line = self._process.stdout.readline()
        if not line:
            raise SystemExit("the rows cannot run on that commit")
        return line

    def seconds(self, name: str) -> float:
        """Run one row."""
        assert self._process.stdin is not None
        self._process.stdin.write(name + "\n")
        self._process.stdin.flush()
        return float(self._line())

    def stop(self) -> None:
        """End the process."""
        self._process.kill()


def main(base: str) -> None:
    """Compare and print one table."""
    with tempfile.TemporaryDirectory() as name:
        tree = ROOT if once() else Path(name) / "base"  # to show that it runs, this very tree will do: nothing is compiled anew
        if tree != ROOT:
            subprocess.run(["git", "worktree", "add", "--detach", str(tree), base], cwd=ROOT, check=True, capture_output=True)
        try:
            clip = ROOT / "wenditas" / "demo" / "footage" / "tram-up-the-hill.mp4"
            ours, theirs = Side(ROOT, clip), Side(tree, clip)
            table = Table("What", "Now", f"Speed against {base} (the middle half of the pairs)")
            for row in ours.names[: at_most(99, 2)]:
                found = paired(lambda row=row: ours.seconds(row), lambda row=row: theirs.seconds(row), 15)  # type: ignore[misc]
                table.add_row(row, f"{1000 * found.ours:.1f} ms", str(found))
            ours.stop()
            theirs.stop()
        finally:
            if tree != ROOT:
                subprocess.run(["git", "worktree", "remove", "--force", str(tree)], cwd=ROOT, check=False, capture_output=True)
    Console(width=130).print(table)


if __name__ == "__main__":
    main(sys.argv[1] if len(sys.argv) > 1 else "HEAD")
