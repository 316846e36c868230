"""Endings of files that can become footage by themselves."""

SUFFIXES = {".mp4", ".m4v", ".mov", ".mkv", ".webm", ".avi", ".png", ".jpg", ".jpeg", ".tif", ".tiff", ".webp"}
