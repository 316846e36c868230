"""A reader that calls a library as an older one was called. Run by `asked`: `python -m tests.media.wrong_call FILE`."""

import sys

import av

from wenditas.media.apart import answer

if __name__ == "__main__":
    answer(lambda: {"found": av.open(sys.argv[1], no_such_option=True)}, 60)
