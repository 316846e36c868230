"""What the commands share: where they write, and how they stop."""

from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from pathlib import Path

import typer
from rich.console import Console
from rich.markup import escape
from rich.progress import BarColumn, Progress, TaskProgressColumn, TextColumn, TimeRemainingColumn

from wenditas.core.errors import WenditasError

HELP = "Wenditas: isolate, remap and replace colours in moving pictures."
app = typer.Typer(help=HELP, no_args_is_help=True, add_completion=False)


@app.callback(help=HELP)
def _commands() -> None:
    """A module may have one command alone: it is one of several all the same."""


console = Console(soft_wrap=True)  # a path that is broken over lines cannot be copied, nor found by another program
errors = Console(stderr=True, soft_wrap=True)


def only_named(commands: Mapping[str, str]) -> typer.Typer:
    """The command line with nothing behind the names of its commands, for its help."""
    named = typer.Typer(help=HELP, no_args_is_help=True, add_completion=False)
    for name, words in commands.items():
        named.command(name, help=words)(lambda: None)
    return named


@contextmanager
def stopping() -> Iterator[None]:
    """Whatever a user can cause is told in a sentence."""
    try:
        yield
    except (WenditasError, ValueError, OSError) as error:
        errors.print(f"[bold]Stopped.[/bold] {escape(str(error))}", highlight=False)
        raise typer.Exit(1) from error
    except KeyboardInterrupt as error:
        errors.print("Cancelled; nothing was kept of the unfinished file.")
        raise typer.Exit(130) from error


def frames_bar() -> Progress:
    """A progress bar that counts frames."""
    columns = TextColumn("{task.description}"), BarColumn(), TaskProgressColumn(), TextColumn("{task.completed}/{task.total} frames"), TimeRemainingColumn()
    return Progress(*columns, console=console)


def refuse_existing(target: Path, force: bool) -> None:
    """Raises `ValueError` where there is something already that is not to be replaced."""
    if target.exists() and not force:
        raise ValueError(f"{target} exists already; give --force to replace it.")
