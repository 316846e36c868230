"""Keyframes: lanes of values over source frames, one lane for each animated parameter of a look."""

from collections.abc import Sequence
from functools import cache
from itertools import pairwise
from typing import Annotated, Any, Literal, get_args

from pydantic import BaseModel, Field, TypeAdapter, ValidationError, field_validator
from pydantic.fields import FieldInfo

from wenditas.core.look.plain import check_plain
from wenditas.core.params import ParamInfo, Params, describe, number
from wenditas.core.select.clean import Cleaning
from wenditas.core.select.keys import KEYS
from wenditas.core.select.shapes import Shape
from wenditas.core.treat import TREATMENTS

How = Literal["hold", "linear", "smooth"]
Way = Literal["as typed", "short", "long"]
MOST_KEYFRAMES, MOST_LANES, LAST_FRAME = 20_000, 256, 10_000_000


class Keyframe(Params):
    """A value at a source frame, and how it goes on to the next: held, straight, or eased.

    ease: how much a smooth passage slows down at its ends; at 0 % it is straight.
    """

    frame: int = Field(ge=0, le=LAST_FRAME)
    value: Any
    how: How = "smooth"
    ease: float = number(100, "Ease", "How much a smooth passage slows down at its ends.", low=0, high=100, step=5, unit="%")


class Lane(Params):
    """The keyframes of one parameter, in order, and a constant rate added on top.

    target: which parameter: `passes/ID/amount`, `passes/ID/on`, `passes/ID/params/KEY`, `passes/ID/params/KEY/BAND/FIELD`, `bundles/ID/amount`,
    `bundles/ID/on`, `selections/ID/keys/ID/KEY`, `selections/ID/cleaning/KEY`, `selections/ID/shapes/ID/KEY`. drift: units a second, counted from `start`.
    way: how angles turn from one keyframe to the next.
    """

    target: str = Field(min_length=1, max_length=200)
    keyframes: tuple[Keyframe, ...] = Field(min_length=1, max_length=MOST_KEYFRAMES)
    drift: float = Field(0, ge=-10_000, le=10_000)
    start: int = Field(0, ge=0, le=LAST_FRAME)
    way: Way = "as typed"

    @property
    def owner(self) -> str:
        """The pass, bundle or selection that the lane belongs to, as `passes/ID`."""
        return "/".join(self.target.split("/")[:2])

    @field_validator("keyframes")
    @classmethod
    def _in_order(cls, keyframes: tuple[Keyframe, ...]) -> tuple[Keyframe, ...]:
        frames = [keyframe.frame for keyframe in keyframes]
        if frames == sorted(set(frames)):
            return keyframes
        found = tuple(sorted(keyframes, key=lambda k: k.frame))
        for one, next_one in pairwise(found):
            if one.frame == next_one.frame:
                raise ValueError(f"two keyframes stand at frame {one.frame}; there can be only one")
        return found


@cache
def _field(model: type[BaseModel], key: str) -> tuple[ParamInfo, TypeAdapter[Any]]:
    info = next((p for p in describe(model) if p.key == key), None)
    if info is None or not info.animatable:
        raise ValueError(f"{key!r} cannot be animated")
    return info, _adapter(model, key)


@cache
def _adapter(model: type[BaseModel], key: str) -> TypeAdapter[Any]:
    """What all values of a lane are validated with, at once."""
    field: FieldInfo = model.model_fields[key]
    return TypeAdapter(tuple[_annotated(field), ...], config=None)  # type: ignore[arg-type, misc]


def _annotated(field: FieldInfo) -> Any:
    return Annotated[field.annotation, *field.metadata] if field.metadata else field.annotation


def _band_field(item: Any, key: str, band: str, field: str) -> tuple[ParamInfo, TypeAdapter[Any]]:
    """What a number of one of the bands of a pass is. Raises `KeyError` where the band is gone."""
    bands = item.params.get(key)
    if not isinstance(bands, list | tuple) or all(isinstance(b, str | float | int) for b in bands):
        raise ValueError(f"{key!r} has no bands")
    if all(b["id"] != band for b in bands):
        raise KeyError(f"the pass has no band {band!r}")
    model = get_args(TREATMENTS[item.treatment].params.model_fields[key].annotation)[0]
    return _field(model, field)


SWITCH = ParamInfo(key="on", name="On", help="", kind="switch", unit="", low=0, high=1, step=1, default=1.0, animatable=True)
SWITCHES: TypeAdapter[Any] = TypeAdapter(tuple[bool, ...])
PATH = ParamInfo(key="points", name="Path", help="", kind="points", unit="px", low=-20_000, high=20_000, step=1, default=[], animatable=True)


def _part(items: Any, id: str, what: str) -> Any:
    found = next((item for item in items if item.id == id), None)
    if found is None:
        raise KeyError(f"the look has no {what} {id!r}")
    return found


def subject(look: Any, target: str) -> tuple[ParamInfo, TypeAdapter[Any] | None]:
    """What a target names: the parameter's declaration, and what a tuple of its values is validated with (None where any are kept).

    Raises `KeyError` where the pass, selection or shape is gone, `ValueError` where the target makes no sense.
    """
    words = target.split("/")
    if words[0] in ("passes", "bundles") and len(words) >= 3:
        item = _part(getattr(look, words[0]), words[1], "pass" if words[0] == "passes" else "bundle")
        if words[2:] == ["on"]:
            return SWITCH, SWITCHES
        if words[2:] == ["amount"]:
            return _field(type(item), "amount")  # type: ignore[arg-type]
        if words[0] == "passes" and len(words) == 4 and words[2] == "params":
            if not item.known:
                return PATH, None
            return _field(TREATMENTS[item.treatment].params, words[3])
        if words[0] == "passes" and len(words) == 6 and words[2] == "params":
            if not item.known:
                return PATH, None
            return _band_field(item, words[3], words[4], words[5])
    if words[0] == "selections" and len(words) >= 4:
        selection = _part(look.selections, words[1], "selection")
        if words[2] == "cleaning" and len(words) == 4:
            return _field(Cleaning, words[3])
        if words[2] == "keys" and len(words) == 5:
            key = _part(selection.keys, words[3], "key")
            model: type[BaseModel] = KEYS[key.type].model
            return (SWITCH, SWITCHES) if words[4] == "on" else _field(model, words[4])
        if words[2] == "shapes" and len(words) == 5:
            _part(selection.shapes, words[3], "shape")
            if words[4] == "on":
                return SWITCH, SWITCHES
            return (PATH, _adapter(Shape, "points")) if words[4] == "points" else _field(Shape, words[4])
    raise ValueError(f"a lane's target {target!r} names no parameter")


def checked(look: Any, lane: Lane) -> Lane:
    """The lane with its values validated by what they animate. Raises as `subject` does, and `ValueError` naming the keyframe."""
    info, adapter = subject(look, lane.target)
    if lane.drift and info.kind != "number":
        raise ValueError(f"{info.name} is not a number, so it cannot drift")
    if adapter is None:
        check_plain([keyframe.value for keyframe in lane.keyframes])
        return lane
    try:
        values = adapter.validate_python(tuple(keyframe.value for keyframe in lane.keyframes))
    except ValidationError as error:
        first = error.errors()[0]
        raise ValueError(f"the keyframe at frame {lane.keyframes[first['loc'][0]].frame} of {info.name}: {first['msg']}") from error  # type: ignore[index]
    _check_values(info, lane, values)
    return lane.model_copy(update={"keyframes": tuple(map(_with_value, lane.keyframes, values))})


def _with_value(keyframe: Keyframe, value: Any) -> Keyframe:
    same = type(keyframe.value) is type(value) and keyframe.value == value  # else most of the time went by in copying
    return keyframe if same else keyframe.model_copy(update={"value": value})


def _check_values(info: ParamInfo, lane: Lane, values: Sequence[Any]) -> None:
    """Raise `ValueError` where a number is out of range, or paths differ in the number of their points."""
    if info.kind == "number":
        out = next((n for n, value in enumerate(values) if not info.low <= value <= info.high), None)
        if out is not None:
            raise ValueError(f"the keyframe at frame {lane.keyframes[out].frame} of {info.name} is {values[out]!r}; it lies from {info.low:g} to {info.high:g}")
    elif info.kind == "points":
        count = len(values[0])
        out = next((n for n, value in enumerate(values) if len(value) != count), None)
        if out is not None:
            raise ValueError(f"the path at frame {lane.keyframes[out].frame} has {len(values[out])} points, the first one {count}")
