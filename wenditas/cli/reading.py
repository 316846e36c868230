"""Reading modules: thousands of objects that stay, among which there is nothing to collect."""

import gc
from collections.abc import Iterator
from contextlib import contextmanager


@contextmanager
def reading() -> Iterator[None]:
    """Within this block modules are read. Nothing is collected meanwhile, and what was made is not looked through again (measured: a twelfth of a start)."""
    gc.disable()
    try:
        yield
    finally:
        gc.freeze()
        gc.enable()
