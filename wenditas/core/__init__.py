"""The job itself: colour, selections, treatments, looks. No I/O, no web, no database."""
