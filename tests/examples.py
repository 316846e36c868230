"""How often a property is tried: some times in every run, ten times as often in `make soak`."""

import os

TIMES = int(os.environ.get("WENDITAS_EXAMPLES", "1"))
