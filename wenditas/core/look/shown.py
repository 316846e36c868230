"""What of a look is to be seen."""

from typing import Literal, get_args

from pydantic import Field

from wenditas.core.params import Params

View = Literal["result", "source", "matte", "selected", "edge", "hatched"]
MATTE_VIEWS = ("matte", "selected", "edge", "hatched")  # views of a selection
VIEWS = get_args(View)
Sight = Literal["usual", "protan", "deutan", "tritan", "steps"]


class Shown(Params):
    """A view of a look: its result, the source, or a selection's matte in some form.

    upto: of the result, only the first so many passes are performed. selection: which one a view shows; none shows an empty matte.
    sight: as it is; as a kind of colour-vision deficiency gives it; or with its smallest steps amplified.
    """

    view: View = "result"
    upto: int | None = Field(None, ge=0)
    selection: str | None = None
    sight: Sight = "usual"

    @property
    def whole(self) -> bool:
        """Whether it is the result of all passes."""
        return self.view == "result" and self.upto is None


RESULT = Shown()
