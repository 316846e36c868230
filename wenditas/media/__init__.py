"""Footage in and out through PyAV: probe, decode, encode, stills."""
