"""Files are read in a child process with limits on time and memory, because a hostile or broken one must not take the server with it."""

import errno
import json
import logging
import resource
import traceback
from collections.abc import Callable
from pathlib import Path
from typing import Any

import av

from wenditas.core.errors import DiskFull, FootageDamaged, FootageRefused, OnlySound
from wenditas.stem import stem_of

log = logging.getLogger(__name__)

MEMORY = 4 << 30
BROKEN = "The file broke its reader, or needs too much memory. It may be damaged."
OURS = (TypeError, AttributeError, NameError, ImportError)  # what no file brings about: a fault of the program, or a library that is another than it knows


def asked(module: str, *words: str | Path, seconds: int) -> dict[str, Any]:
    """What a module says of a file by `answer`, run as `python -m MODULE WORDS` would be (see `wenditas.stem`).

    Raises `FootageRefused`, also where it takes too long or breaks; `FootageDamaged`, `OnlySound`, `DiskFull`.
    """
    try:
        told, complained = stem_of(module).run([str(word) for word in words], seconds)
    except TimeoutError as error:
        raise FootageRefused(f"Reading the file took more than {seconds} seconds and was stopped.") from error
    except OSError as error:
        log.error("%s: %s", module, error)
        raise FootageRefused(BROKEN) from error
    if "Traceback" in complained:
        log.error("%s: %s", module, complained)
    return understood(told)


def understood(told: str) -> dict[str, Any]:
    """The answer in the last line of what a child told. Raises as `asked`."""
    try:
        answer: dict[str, Any] = json.loads(told.splitlines()[-1])
    except (IndexError, json.JSONDecodeError) as error:
        raise FootageRefused(BROKEN) from error
    if "full" in answer:
        raise DiskFull("The disk is full: nothing was taken in. Make room and try again.")
    if "damaged" in answer:
        raise FootageDamaged(answer["damaged"])
    if "only sound" in answer:
        raise OnlySound(answer["only sound"])
    if "refused" in answer:
        raise FootageRefused(answer["refused"])
    return answer


def answer(work: Callable[[], dict[str, Any]], seconds: int, memory: int = MEMORY) -> None:
    """Do the work of a child within limits, and print what comes of it as one line of JSON."""
    resource.setrlimit(resource.RLIMIT_AS, (memory, memory))
    resource.setrlimit(resource.RLIMIT_CPU, (seconds, seconds))
    av.logging.set_level(av.logging.PANIC)
    try:
        made = work()
    except FootageDamaged as damaged:
        made = {"damaged": damaged.damage}
    except OnlySound as alone:
        made = {"only sound": str(alone)}
    except FootageRefused as refused:
        made = {"refused": str(refused)}
    except MemoryError:
        made = {"refused": "The file needs too much memory to be read."}
    except (OSError, av.error.FFmpegError) as error:
        made = {"full": True} if error.errno == errno.ENOSPC else {"refused": f"The file cannot be read: {error.strerror}."}
    except OURS as error:
        traceback.print_exc()
        made = {"refused": f"Wenditas met something that it did not expect while it read the file ({type(error).__name__}: {error}). Its log says where."}
    print(json.dumps(made), flush=True)
