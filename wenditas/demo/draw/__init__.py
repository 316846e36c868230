"""Draws the demo's footage. Needs the `footage` extra (skia-python); `make footage` runs it."""
