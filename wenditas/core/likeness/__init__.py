"""A look from a picture: what a reference shows is measured, and said again as passes that can be edited."""
