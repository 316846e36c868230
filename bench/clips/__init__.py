"""Clips whose true mattes are known: what is drawn is laid over its ground by a coverage, and that coverage is the truth.

Each clip is on one of two halves: methods are made on the one and reported on the other.
"""

from bench.clips import composed, demo
from bench.clips.clip import REPORTED, WORKED_ON, Clip

CLIPS: tuple[Clip, ...] = (*demo.CLIPS, *composed.CLIPS)

__all__ = ["CLIPS", "REPORTED", "WORKED_ON", "Clip"]
