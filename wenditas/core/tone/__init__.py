"""Curves, gradients and patterns that treatments share."""
