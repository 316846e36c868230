"""Which process reads a file, and which one it comes from; or one that never ends. Run by `asked`: `python -m tests.media.told_process [wait]`."""

import os
import signal
import sys

from wenditas.media.apart import answer


def _told() -> dict[str, int]:
    if "wait" in sys.argv:
        signal.pause()
    return {"process": os.getpid(), "stem": os.getppid()}


if __name__ == "__main__":
    answer(_told, 60)
