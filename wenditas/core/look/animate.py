"""A look at one frame: every animated value worked out, so that nothing after this knows of keyframes."""

from bisect import bisect_right
from collections.abc import Sequence
from typing import Any

from wenditas.core.colour.hexes import hex_from_rgb, rgb_from_hex
from wenditas.core.colour.oklab import oklab_from_rgb, rgb_from_oklab
from wenditas.core.look.document import Look
from wenditas.core.look.lanes import Keyframe, Lane, Way, subject
from wenditas.core.params import ParamInfo, Stop
from wenditas.core.select.shapes import Point, tangents
from wenditas.core.tone.curves import curve, ring
from wenditas.core.tone.gradient import gradient

MOST_POINTS = 32


def passage(keyframe: Keyframe, t: float) -> float:
    """How far a value has gone at a share `t` (0-1) of the way to the next keyframe.

    hold: 0 until the next; linear: t; smooth: t + ease (3 t^2 - 2 t^3 - t), which at full ease is the smoothstep,
    the cubic Hermite curve with level ends. Source: definition; cubic Hermite basis.

    >>> passage(Keyframe(frame=0, value=0, how="smooth"), 0.25)
    0.15625
    """
    if keyframe.how == "hold":
        return 0.0
    if keyframe.how == "linear":
        return t
    return t + keyframe.ease / 100 * (t * t * (3 - 2 * t) - t)


def mix_colours(one: str, other: str, t: float) -> str:
    """Two colours mixed in Oklab, as #rrggbb. Source: Oklab (Ottosson 2020); interpolation as in CSS Color 4, 12."""
    a, b = (oklab_from_rgb(rgb_from_hex(c)) for c in (one, other))
    return hex_from_rgb(rgb_from_oklab(a + (b - a) * t))


def turn(one: float, other: float, t: float, way: Way, period: float = 360) -> float:
    """An angle, or another number that comes round, on its way to another: as the numbers say, round the short side, or round the long one."""
    if way == "as typed":
        return one + (other - one) * t
    short = (other - one + period / 2) % period - period / 2
    far = short - period if short > 0 else short + period
    return one + (short if way == "short" else far) * t


def _curves(one: Sequence[Any], other: Sequence[Any], t: float, over_hue: bool) -> Any:
    if len(one) != len(other):
        places = sorted({p[0] for p in (*one, *other)})
        if len(places) > MOST_POINTS:
            return one if t < 1 else other
        draw = ring if over_hue else curve
        one, other = ([(x, float(y)) for x, y in zip(places, draw(c, places), strict=True)] for c in (one, other))
    return tuple((a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t) for a, b in zip(one, other, strict=True))


def _gradients(one: Sequence[Stop], other: Sequence[Stop], t: float) -> Any:
    if len(one) != len(other):
        places = sorted({s.position for s in (*one, *other)})
        one, other = ([Stop(position=p, colour=hex_from_rgb(gradient(g, p / 100))) for p in places] for g in (one, other))
    pairs = zip(one, other, strict=True)
    return tuple(Stop(position=a.position + (b.position - a.position) * t, colour=mix_colours(a.colour, b.colour, t)) for a, b in pairs)


def _paths(one: Sequence[Point], other: Sequence[Point], t: float) -> tuple[Point, ...]:
    """Point by point; where tangents are fixed in either, all are mixed as they stand."""
    places = [a.model_copy(update={"x": a.x + (b.x - a.x) * t, "y": a.y + (b.y - a.y) * t}) for a, b in zip(one, other, strict=True)]
    if not any(p.arrive or p.leave for p in (*one, *other)):
        return tuple(places)
    arrive, leave = (a + (b - a) * t for a, b in zip(tangents(one), tangents(other), strict=True))
    return tuple(p.model_copy(update={"arrive": tuple(arrive[n]), "leave": tuple(leave[n])}) for n, p in enumerate(places))


def _between(info: ParamInfo, one: Any, other: Any, t: float, way: Way) -> Any:
    if t <= 0:
        return one
    if info.kind == "number":
        return turn(one, other, t, way, info.period) if info.period else one + (other - one) * t
    if info.kind == "colour":
        return mix_colours(one, other, t)
    if info.kind == "colours":
        return tuple(mix_colours(a, b, t) for a, b in zip(one, other, strict=True)) if len(one) == len(other) else one
    if info.kind == "curve":
        return _curves(one, other, t, info.axis == "hue")
    if info.kind == "gradient":
        return _gradients(one, other, t)
    if info.kind == "points":
        return _paths(one, other, t)
    return one


def _within(info: ParamInfo, value: float) -> float:
    """A number brought back into its range: what comes round by whole turns, all others to the nearer end."""
    if info.low <= value <= info.high:
        return value
    if info.period and info.high - info.low >= info.period:
        return (value - info.low) % info.period + info.low
    return min(max(value, info.low), info.high)


def value_at(lane: Lane, info: ParamInfo, frame: float, rate: float) -> Any:
    """The value of a lane at a frame: before the first keyframe the first, after the last the last, between them mixed; plus the drift.

    rate: frames a second; drift counts seconds from the lane's start. A drift of 100 degrees a second comes round after 3.6 s (common practice).
    """
    keyframes = lane.keyframes
    n = bisect_right(keyframes, frame, key=lambda k: k.frame) - 1
    if n < 0:
        value = keyframes[0].value
    elif n == len(keyframes) - 1:
        value = keyframes[n].value
    else:
        one, other = keyframes[n], keyframes[n + 1]
        t = passage(one, (frame - one.frame) / (other.frame - one.frame))
        value = _between(info, one.value, other.value, t, lane.way)
    if info.kind != "number":
        return value
    return _within(info, float(value) + lane.drift * (frame - lane.start) / rate)


PERCENT = ParamInfo(key="amount", name="Amount", help="", kind="number", unit="%", low=0, high=100, step=1, default=100.0, animatable=True)


def percent_at(keyframes: tuple[Keyframe, ...], frame: float) -> float:
    """A share in percent at a frame, from keyframes of its own."""
    return float(value_at(Lane(target="amount", keyframes=keyframes), PERCENT, frame, 1))


def _put(node: Any, words: Sequence[str], value: Any) -> Any:
    """A copy of a model, list or dictionary with one value deep inside replaced."""
    if not words:
        return value
    head, rest = words[0], words[1:]
    if isinstance(node, dict):
        return {**node, head: _put(node.get(head), rest, _plain(value) if not rest else value)}
    if isinstance(node, list):
        return [_put(item, rest, value) if item.get("id") == head else item for item in node]
    if isinstance(node, tuple):
        return tuple(_put(item, rest, value) if item.id == head else item for item in node)
    return node.model_copy(update={head: _put(getattr(node, head), rest, value)})


def _plain(value: Any) -> Any:
    """Parameters of passes are plain JSON."""
    if isinstance(value, tuple):
        return [_plain(v) for v in value]
    return value.model_dump(mode="json") if isinstance(value, Stop) else value


def lane_value(look: Look, lane: Lane, frame: int, rate: float) -> Any:
    """The value of one lane of a look at a frame; None where what it animates is of an unknown kind."""
    info, adapter = subject(look, lane.target)
    return None if adapter is None else value_at(lane, info, frame, rate)


def look_at(look: Look, frame: int, rate: float) -> Look:
    """The look as it is at a source frame: no lanes, all values worked out. A look without lanes is returned as it is."""
    if not look.lanes:
        return look
    found: dict[str, dict[str, Any]] = {}  # what is animated, by its list and its id
    for lane in look.lanes:
        info, adapter = subject(look, lane.target)
        if adapter is None:
            continue
        items, id, *words = lane.target.split("/")
        known = found.get(items)
        if known is None:
            known = found[items] = {item.id: item for item in getattr(look, items)}
        if items == "passes" and words[0] != "params" and known[id].known:
            known[id].settled  # noqa: B018  # once for all frames: the copies go on with it
        known[id] = _put(known[id], words, value_at(lane, info, frame, rate))
    return look.model_copy(update={"lanes": (), **{items: tuple(known.values()) for items, known in found.items()}})
