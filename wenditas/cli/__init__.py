"""The command line: one module for each kind of command; importing it adds its commands."""

from wenditas.cli import applying, films, serving, telling
from wenditas.cli.console import app

COMMANDS = (serving, applying, films, telling)


def main() -> None:
    """Entry point."""
    app()
