"""Wenditas: isolate, remap and replace colours in moving pictures."""

import os

from wenditas.compiled import choose_processor, use_own_cache

__version__ = "0.1.0"

choose_processor()  # before NumPy, OpenCV and Numba look at it
use_own_cache()  # before anything imports Numba
os.environ.setdefault("SVT_LOG", "1")  # the AV1 encoder tells errors alone
