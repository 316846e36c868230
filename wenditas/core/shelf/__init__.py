"""The shelf: starter looks, and how a look is put on a shot."""

from wenditas.core.shelf.dress import PICK, Where, dress
from wenditas.core.shelf.starters import STARTERS, Starter

__all__ = ["PICK", "STARTERS", "Starter", "Where", "dress"]
