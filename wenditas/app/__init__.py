"""The application without HTTP: what is shared, opened and closed once. The page and the command line both stand on it."""
