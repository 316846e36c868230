"""Benchmarks: `make bench`. Ratios within one run; machines are noisy, so nothing here is a test."""
