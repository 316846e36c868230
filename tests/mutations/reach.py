"""Which tests reach a place, and how long each takes: told by one run of all of them with coverage, before anything is made wrong."""

import subprocess
import sys
from dataclasses import dataclass
from pathlib import Path
from xml.etree import ElementTree

from coverage import CoverageData

TESTS = [f"tests/{name}" for name in ("core", "references", "project", "store", "render", "api", "formats", "media")]


@dataclass(frozen=True)
class Reach:
    """Of each file and line the tests that go through it; seconds: how long each test took."""

    lines: dict[str, dict[int, frozenset[str]]]
    seconds: dict[str, float]

    def of(self, path: Path, line: int) -> list[str]:
        """The tests that go through a line of a file, quickest first; those of the whole file where none does (a constant, or what is compiled)."""
        there = self.lines.get(str(path), {})
        found = there.get(line) or frozenset[str]().union(*there.values())
        return sorted(found & set(self.seconds), key=lambda test: (self.seconds[test], test))


def measured(at: Path) -> Reach:
    """Run all tests without a browser once, in a copy of the tree."""
    told = at / "mutations-told.xml"
    command = [sys.executable, "-m", "pytest", "-q", "-n", "2", "--dist", "loadfile", "-m", "not long", "-p", "no:cacheprovider"]
    coverage = ["--cov=wenditas", "--cov-context=test", "--cov-report=", f"--junitxml={told}", "-o", "junit_family=xunit1"]
    subprocess.run([*command, *coverage, *TESTS], cwd=at, check=True, stdout=subprocess.DEVNULL)
    data = CoverageData(str(at / ".coverage"))
    data.read()
    lines = {}
    for file in data.measured_files():
        by_line = data.contexts_by_lineno(file)
        lines[str(Path(file).relative_to(at))] = {line: frozenset(c.split("|")[0] for c in contexts if c) for line, contexts in by_line.items()}
    cases = ElementTree.parse(told).getroot().iter("testcase")
    seconds = {f"{case.get('file')}::{case.get('name')}": float(case.get("time", 0)) for case in cases}
    return Reach(lines, seconds)
