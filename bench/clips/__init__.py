"""Clips whose true mattes are known: what is drawn is laid over its ground by a coverage, and that coverage is the truth.

Each clip is on one of two halves: methods are made on the one and reported on the other. A few more were
drawn when the method was done.
"""

from bench.clips import composed, demo
from bench.clips.clip import FRESH, REPORTED, WORKED_ON, Clip

CLIPS: tuple[Clip, ...] = (*demo.CLIPS, *composed.CLIPS)

__all__ = ["CLIPS", "FRESH", "REPORTED", "WORKED_ON", "Clip"]
