"""Objects: things that are stroked on the picture, and carried through a shot by motion and colour."""
