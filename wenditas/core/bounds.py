"""How much there may be of anything that moves. Apart, since files are read in processes that need nothing else of the core."""

from typing import Annotated

from pydantic import Field

MOST_FRAMES, MOST_SIDE = 10_000_000, 16_384
Side = Annotated[int, Field(ge=1, le=MOST_SIDE)]
