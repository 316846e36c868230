"""Work on footage and documents together: previews, playback, exports, caches."""
