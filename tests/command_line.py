"""The command line, as a user runs it in a process of its own, and the same commands within the tests' process, which is there already."""

import contextlib
import subprocess
import sys
from importlib import import_module
from pathlib import Path

from typer.testing import CliRunner

from wenditas.cli import COMMANDS
from wenditas.cli.console import app

for module, _ in COMMANDS.values():
    import_module(f"wenditas.cli.{module}")  # which adds its commands
COMMAND = [sys.executable, "-c", "from wenditas.cli import main; main()"]


def run(*words: str, cwd: Path | None = None) -> subprocess.CompletedProcess[str]:
    """In a process of its own."""
    return subprocess.run([*COMMAND, *words], capture_output=True, text=True, cwd=cwd, timeout=120)


def run_here(*words: str, cwd: Path) -> subprocess.CompletedProcess[str]:
    """Within this process; what no command expected is raised."""
    with contextlib.chdir(cwd):
        done = CliRunner().invoke(app, list(words))
    if done.exception is not None and not isinstance(done.exception, SystemExit):
        raise done.exception
    return subprocess.CompletedProcess(words, done.exit_code, done.stdout, done.stderr)
