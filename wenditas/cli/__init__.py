"""The command line: one module for each kind of command, read only where one of its commands is asked for; importing it adds them."""

import sys
from importlib import import_module

COMMANDS = {  # which module has each command, and what it does: help alone needs nothing of the rest
    "serve": ("serving", "Serve the application on this machine and print its address."),
    "demo": ("serving", "Open the demo project, a short film for the Marrow Hill Tramway, and serve it."),
    "apply": ("applying", "Render a saved look on a file, or on many, without a server."),
    "render": ("films", "Render the reel of a project, one of its shots, or a look on a file; here, or on several machines."),
    "sheet": ("films", "Write a sheet: all shots of a project under their own looks and under looks of the shelf, as one picture with names."),
    "archive": ("films", "A project as one file: documents, histories, looks, footage."),
    "look": ("telling", "Look files: what is in them, and whether they are in order."),
    "facts": ("telling", "Tell what is known about files: size, rate, length, colour, and what of them is damaged."),
    "lut": ("telling", "Write what of a look does the same to a colour wherever it stands as a LUT; what is left out is told."),
    "warm": ("serving", "Compile all kernels now, so that no picture waits for the compiler."),
}


def main() -> None:
    """Entry point."""
    from wenditas.cli.reading import reading

    with reading():
        from wenditas.cli.console import app, only_named

    known = COMMANDS.get(sys.argv[1]) if len(sys.argv) > 1 else None
    if known is None:  # help, or what is no command: told of by their names
        only_named({name: words for name, (_, words) in COMMANDS.items()})()
    else:
        with reading():
            import_module(f"wenditas.cli.{known[0]}")
        app()
