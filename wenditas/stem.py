"""A process that children start from at once: it has loaded what they need, has one thread, does nothing, and splits for each (`fork`, POSIX.1-2017).

Loading takes a child that is started by itself half a second where it reads a file, which is more than most files take, and nearly two
where it exports. `python -m wenditas.stem MODULE SOCKET`.
"""

import importlib
import json
import os
import runpy
import select
import signal
import socket
import subprocess
import sys
import threading
import traceback
import warnings
from collections.abc import Sequence
from contextlib import suppress
from functools import cache
from typing import TextIO

IDLE = 120  # seconds that it stays for, where nobody asks
MESSAGE = 1 << 16  # bytes that are taken at once
STDERR = 2
TRIES = 2  # one that has just ended is followed by another


class Child:
    """A process that has split off, in a session of its own. Its end is told by a pipe that nobody but it holds."""

    def __init__(self, pid: int, alive: int) -> None:
        self.pid, self._alive = pid, alive

    def ended(self, seconds: float | None = 0) -> bool:
        """Whether it has ended, or does within so many seconds; None waits for it."""
        waiting = select.poll()  # which takes files of any number
        waiting.register(self._alive)
        return bool(waiting.poll(None if seconds is None else seconds * 1000))

    def kill(self) -> None:
        """End it at once, and what it has started."""
        if not self.ended():
            for end in (os.killpg, os.kill):  # it may not have its session yet
                with suppress(ProcessLookupError):
                    end(self.pid, signal.SIGKILL)

    def __del__(self) -> None:
        os.close(self._alive)


class Stem:
    """Starts children that run a module as `python -m MODULE WORDS` would. Safe to be used from several threads."""

    def __init__(self, module: str) -> None:
        self._module, self._lock = module, threading.Lock()
        self._door: socket.socket | None = None

    def run(self, words: Sequence[str], seconds: float) -> tuple[str, str]:
        """What a child says on standard output and on standard error until it ends.

        Raises `TimeoutError`, once it is killed, where it has not ended after so many seconds; `OSError` where none can be started.
        """
        out, err = (os.memfd_create(name) for name in ("out", "err"))  # not in files, which a full disk would cut short
        try:
            child = self.start(words, out, err)
            if not child.ended(seconds):
                child.kill()
                raise TimeoutError
            return _whole(out), _whole(err)
        finally:
            os.close(out)
            os.close(err)

    def follow(self, words: Sequence[str]) -> tuple[Child, TextIO]:
        """A child, and what it says on standard output, as it says it; it complains where this process does. Raises `OSError` as `start`."""
        told, its_end = os.pipe()
        lines = open(told, encoding="utf-8")  # noqa: SIM115  # whoever follows closes it
        try:
            return self.start(words, its_end, STDERR), lines
        except OSError:
            lines.close()
            raise
        finally:
            os.close(its_end)

    def start(self, words: Sequence[str], out: int, err: int) -> Child:
        """A child that writes to these two files. Raises `OSError` where none can be started."""
        alive, its_end = os.pipe()
        try:
            return Child(self._ask(words, (out, err, its_end)), alive)
        except OSError:
            os.close(alive)
            raise
        finally:
            os.close(its_end)

    def ready(self) -> None:
        """Have all loaded, so that `start` takes no time. Raises as it does."""
        self._ask(None, ())

    def _ask(self, words: Sequence[str] | None, files: Sequence[int]) -> int:
        """For a child, whose number is told; without words for the answer alone."""
        with self._lock:
            for _ in range(TRIES):
                try:
                    self._door = self._door or self._start()
                    socket.send_fds(self._door, [json.dumps(words).encode() + b"\n"], list(files))
                    if told := self._door.recv(MESSAGE):
                        return int(told)
                except (BrokenPipeError, ConnectionError):
                    pass
                if self._door is not None:
                    self._door.close()
                    self._door = None
        raise OSError(f"no process can be started for {self._module}")

    def _start(self) -> socket.socket:
        ours, its = socket.socketpair()
        with its:
            command = [sys.executable, "-m", __name__, self._module, str(its.fileno())]
            nothing = subprocess.DEVNULL
            subprocess.Popen(command, stdin=nothing, stdout=nothing, pass_fds=[its.fileno()], start_new_session=True)
        return ours


@cache
def stem_of(module: str) -> Stem:
    """The one for a module."""
    return Stem(module)


def _whole(file: int) -> str:
    os.lseek(file, 0, os.SEEK_SET)
    with open(file, encoding="utf-8", errors="replace", closefd=False) as text:
        return text.read()


def _become(module: str, words: Sequence[str], files: Sequence[int]) -> int:
    """The child: run the module with its words. Returns the exit code."""
    os.setsid()
    signal.signal(signal.SIGCHLD, signal.SIG_DFL)
    for number, file in enumerate(files[:2], 1):
        os.dup2(file, number)
    sys.argv = [module, *words]
    warnings.filterwarnings("ignore", category=RuntimeWarning, module="runpy")  # that the module is loaded already: it is meant to be
    try:
        runpy.run_module(module, run_name="__main__", alter_sys=True)
    except SystemExit as end:
        return end.code if isinstance(end.code, int) else 1
    except BaseException:
        traceback.print_exc()
        return 1
    return 0


def main(module: str, door: socket.socket) -> None:
    """Split for each that asks, until nobody has for a while, or there is nobody any more."""
    importlib.import_module(module)
    signal.signal(signal.SIGCHLD, signal.SIG_IGN)  # nobody waits for the ended
    door.settimeout(IDLE)
    while True:
        try:
            asked, files, _, _ = socket.recv_fds(door, MESSAGE, 3)
        except TimeoutError:
            return
        while asked and not asked.endswith(b"\n"):
            asked += door.recv(MESSAGE)
        if not asked:
            return
        words = json.loads(asked)
        pid = os.getpid() if words is None else os.fork()
        if not pid:
            door.close()
            code = _become(module, words, files)
            with suppress(OSError):
                sys.stdout.flush()
                sys.stderr.flush()
            os._exit(code)
        for file in files:
            os.close(file)
        door.sendall(str(pid).encode())


if __name__ == "__main__":
    main(sys.argv[1], socket.socket(fileno=int(sys.argv[2])))
