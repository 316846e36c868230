"""Wenditas: isolate, remap and replace colours in moving pictures."""

__version__ = "0.1.0"
