"""Endings of files that can become footage by themselves."""

SUFFIXES = {".mp4", ".m4v", ".mov", ".mkv", ".webm", ".avi", ".png", ".jpg", ".jpeg", ".tif", ".tiff", ".webp"}
SOUNDS = {".wav", ".flac", ".mp3", ".m4a", ".ogg", ".opus", ".aif", ".aiff"}
