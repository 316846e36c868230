"""The command line with all that a server needs, which is loaded once for many servers: each is split off (see `wenditas.stem`). Run by `outside`."""

from wenditas.api import app, server  # noqa: F401  # what takes longest to load
from wenditas.cli import main, serving  # noqa: F401

if __name__ == "__main__":
    main()
