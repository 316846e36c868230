"""Operations: each kind says how in one way, costs something, and gives the same by tiles, by bands and as a whole; graphs are linear."""

from typing import Any

import numpy as np
import pytest

from tests.core.drawn import Drawn, footage
from wenditas.core.film import Memo, Node, Shot, Span, resolve, run
from wenditas.core.film.operations import KINDS
from wenditas.core.look.document import parse_look
from wenditas.core.tiles import Held, Load
from wenditas.core.work.mixing import BLEND, BOUND, COLOUR, EVEN, SOURCE, blended, bounded
from wenditas.core.work.operation import Graph, Op, Place, cost, plain, reads
from wenditas.core.work.schedule import schedule

SIZE = (300, 401)


@pytest.mark.parametrize("name", sorted(KINDS))
def test_a_kind_says_how_in_one_way(name: str) -> None:
    kind = KINDS[name]
    assert sum(how is not None for how in (kind.rows, kind.whole, kind.load)) == 1 and kind.cost > 0
    assert kind.band is None or (kind.rows is not None and kind.over)
    assert len(KINDS) == len({id(kind) for kind in KINDS.values()})


def test_parameters_as_text_tell_values_apart_and_nothing_else() -> None:
    assert plain((1, 0.0, True, None, "a")) == plain((1.0, -0.0, True, None, "a"))
    texts = [plain(v) for v in (1, "1", True, None, (1,), ((1,),), (1, 2), ("1,2",), np.zeros(2), np.zeros((2, 1)), np.zeros(2, np.float32))]
    assert len(set(texts)) == len(texts)
    with pytest.raises(TypeError, match="no plain parameter"):
        plain({})


class Pictures:
    def __init__(self) -> None:
        self.loaded: list[int] = []

    def load(self, footage: Any, frame: int, size: tuple[int, int]) -> Load:
        self.loaded.append(frame)
        return Held(np.random.default_rng(frame).random((3, *size), np.float32))

    def alpha(self, footage: Any, frame: int, size: tuple[int, int]) -> None:
        return None


def source(frame: int) -> Op:
    return Op(SOURCE, ("a", frame), (), SIZE)


@pytest.mark.parametrize("mode", ["normal", "multiply", "luminosity"])
def test_blending_by_tiles_equals_blending_whole(mode: str) -> None:
    """Within a chain, by itself on what is whole, and by the kernel on whole pictures: the same bytes, and the inputs are left alone."""
    under, over, matte = source(1), source(2), Op(EVEN, 0.3, (), SIZE)
    alone = blended(mode, 0.7, under, over, matte)  # type: ignore[arg-type]
    pictures = Pictures()
    chained = run(bounded(alone), sources=pictures)
    pictures_whole = [np.random.default_rng(n).random((3, *SIZE), np.float32) for n in (1, 2)]
    expected = pictures_whole[0].copy()
    work = BLEND.rows((mode, 0.7, False))  # type: ignore[misc]
    work([expected, pictures_whole[1], np.full(SIZE, 0.3, np.float32)], expected, Place(*SIZE))
    assert np.array_equal(chained, expected) and np.array_equal(run(alone, sources=Pictures()), expected)
    twice = Op(BLEND, ("screen", 1.0, False), (alone, alone), SIZE)  # whose inputs are one
    assert np.isfinite(run(twice, sources=Pictures())).all()
    assert sorted(pictures.loaded) == [1, 2]


def test_what_has_no_effect_is_no_operation() -> None:
    one, other = source(1), source(2)
    assert blended("normal", 1, one, other) is other and blended("normal", 0.5, one, source(1)) is one
    assert bounded(bounded(one)).digest == bounded(one).digest
    assert (
        resolve(Shot(of=footage(), first=0, last=9, look=parse_look({"passes": [treated("a", "exposure", amount=0), treated("b", "neutral")]})), 3)
        .inputs[0]
        .kind
        is SOURCE
    )


def treated(id: str, treatment: str, **more: Any) -> dict[str, Any]:
    return {"id": id, "name": id, "treatment": treatment, **more}


def counts(nodes: list[Node]) -> list[int]:
    return [len(Graph(resolve(node, 20)).ops) for node in nodes]


def test_graphs_are_linear_in_passes_spans_and_trails() -> None:
    def passes(count: int) -> Node:
        return Shot(of=footage(), first=0, last=39, look=parse_look({"passes": [treated(f"p{n}", "hue-shift", params={"shift": 9}) for n in range(count)]}))

    def spans(count: int) -> Node:
        node: Node = footage()
        for _ in range(count):
            node = Span(of=node, first=0, last=39, look=parse_look({"passes": [treated("p", "tint")]}))
        return node

    def trails(count: int) -> Node:
        looks = [treated(f"p{n}", "trails", params={"copies": 2, "spacing": 1}) for n in range(count)]
        return Shot(of=footage(), first=0, last=39, look=parse_look({"passes": looks}))

    four, eight, sixteen, more = counts([passes(n) for n in (4, 8, 16, 32)])
    assert (eight - four) * 2 == sixteen - eight and (sixteen - eight) * 2 == more - sixteen
    assert counts([spans(10)])[0] <= 10 * 4 and counts([trails(12)])[0] <= 12 * 25 * 2


def test_what_is_read_and_what_it_costs_is_told_of_the_graph() -> None:
    trails = Shot(of=footage(), first=0, last=39, look=parse_look({"passes": [treated("t", "trails", params={"copies": 2, "spacing": 3})]}))
    op = resolve(trails, 10)
    assert sorted(leaf.params[1] for leaf in reads(op)) == [4, 7, 10]
    assert cost(op) > cost(resolve(footage(), 10)) * 3
    memo, sources = Memo(), Drawn()
    run(op, sources=sources, memo=memo)
    later = resolve(trails, 13)
    assert sorted(leaf.params[1] for leaf in reads(later, memo.get)) == [13]  # the others are remembered
    assert cost(later, memo.get) < cost(later)


def test_a_schedule_lets_go_of_what_is_read_no_more() -> None:
    """Twenty blurs one after another hold two pictures, not twenty."""
    blurs = [treated(f"b{n}", "gaussian-blur", params={"radius": 9}) for n in range(20)]
    op = resolve(Shot(of=footage(), first=0, last=9, look=parse_look({"passes": blurs})), 3)
    found = schedule(op)
    assert found.holds() <= 3 * op.nbytes and len(found.steps) >= 20
    assert Op(COLOUR, (0.0, 0.0, 0.0), (), (0, 5)).nbytes == 0 and run(Op(BOUND, None, (source(1),), (0, 5)), sources=Pictures()).shape == (3, 0, 5)
