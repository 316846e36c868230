"""The way from a node to its operations: each picture of each node is resolved once."""

from typing import TYPE_CHECKING

from wenditas.core.look.resolve import Worn
from wenditas.core.look.shown import RESULT, Shown
from wenditas.core.select.operations import FINE
from wenditas.core.work.operation import Op, Size

if TYPE_CHECKING:
    from wenditas.core.film.nodes.moving import Moving
    from wenditas.core.film.nodes.shot import Dressed
    from wenditas.core.select.objects.part import ObjectPart


class Resolving:
    """What is resolved on the way to one picture. copies: of which kind of copies of the footage it is made; none: of the originals.
    moving: whether it is seen only in passing, so that what takes long and is seen at rest alone is left out.

    Nodes are told apart by identity: they live as long as the one that is resolved.
    """

    def __init__(self, copies: str = "", moving: bool = False) -> None:
        self.copies, self.moving = copies, moving
        self._pictures: dict[tuple[int, int, Size, Shown], Op] = {}
        self._worn: dict[tuple[int, Size], Worn] = {}

    def picture(self, node: "Moving", frame: int, size: Size, shown: Shown = RESULT) -> Op:
        """A view of a node at a frame; beyond the ends the first or last one."""
        frame = node.held(frame)
        place = (id(node), frame, size, shown)
        found = self._pictures.get(place)
        if found is None:
            found = self._pictures[place] = node.resolve(frame, size, shown, self)
        return found

    def alpha(self, node: "Moving", frame: int, size: Size) -> Op | None:
        """The alpha channel of a node at a frame; None where it has none."""
        return node.resolve_alpha(node.held(frame), size, self)

    def thing(self, node: "Moving", part: "ObjectPart", frame: int, size: Size) -> Op | None:
        """The matte of an object in a node at a frame, with its fine edge where that is asked for; None where it is no footage."""
        found = node.resolve_thing(part, node.held(frame), size, self)
        if found is None or part.fine == 0 or self.moving:
            return found
        return Op(FINE, part.fine, (found, self.picture(node, frame, size)), size)

    def worn(self, node: "Dressed", size: Size) -> Worn:
        """The look of a node that has one, over what lies under it."""
        place = (id(node), size)
        found = self._worn.get(place)
        if found is None:
            found = self._worn[place] = Worn(node.look, float(node.rate), node.under(size, self), size)
        return found
