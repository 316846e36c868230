"""How parameters are declared: ranges, units and labels live in the model and nowhere else.

A parameter model is a Pydantic model whose fields are made with the functions below.
`describe` turns a model into the metadata that the editor is drawn from.
"""

from collections.abc import Mapping
from functools import cache
from itertools import pairwise
from typing import Annotated, Any, Literal, Self

from pydantic import AfterValidator, BaseModel, ConfigDict, Field

from wenditas.core.named import named

Kind = Literal["number", "switch", "choice", "colour", "colours", "curve", "gradient", "file", "points", "bands", "shot", "part"]
Axis = Literal["tone", "hue", "lightness", "saturation"]


class Params(BaseModel):
    """Base of all parameter models: closed, immutable, no NaN and no infinity."""

    model_config = ConfigDict(extra="forbid", frozen=True, allow_inf_nan=False, validate_default=True)

    def model_copy(self, *, update: Mapping[str, Any] | None = None, deep: bool = False) -> Self:
        """A copy with some fields changed. What was worked out from the others and remembered is worked out anew."""
        copied = super().model_copy(update=update, deep=deep)
        for key in copied.__dict__.keys() - type(self).__pydantic_fields__.keys():
            del copied.__dict__[key]
        return copied

    def __getstate__(self) -> dict[str, Any]:
        """Its fields alone: what was worked out from them is worked out anew, in another process too."""
        state: dict[str, Any] = super().__getstate__()  # type: ignore[assignment]
        fields = type(self).__pydantic_fields__
        return {**state, "__dict__": {key: value for key, value in self.__dict__.items() if key in fields}}


Colour = Annotated[str, Field(pattern=r"^#[0-9a-fA-F]{6}$")]
Colours = Annotated[tuple[Colour, ...], Field(max_length=16)]


class Stop(Params):
    """A colour at a place of a gradient, in percent."""

    id: str = Field("", max_length=40)  # one without gets one from its list
    position: float = Field(ge=0, le=100)
    colour: Colour


def _in_order(stops: tuple[Stop, ...]) -> tuple[Stop, ...]:
    """From left to right, each with an id; coincident stops keep their order and make a hard edge, as in CSS."""
    return named(tuple(sorted(stops, key=lambda s: s.position)), "s", "stops")


Gradient = Annotated[tuple[Stop, ...], Field(min_length=1, max_length=64), AfterValidator(_in_order)]


def _rising(points: tuple[tuple[float, float], ...]) -> tuple[tuple[float, float], ...]:
    for (left, _), (right, _) in pairwise(points):
        if right <= left:
            raise ValueError(f"the points of a curve go from left to right, but {right:g} comes after {left:g}")
    return points


Curve = Annotated[tuple[tuple[float, float], ...], Field(min_length=1, max_length=32), AfterValidator(_rising)]


def _field(default: Any, name: str, help: str, kind: Kind, *, animatable: bool = True, limits: dict[str, float] | None = None, **extra: Any) -> Any:
    schema: Any = {"unit": "", "step": 1, "minimum": 0, "maximum": 1, **extra, "animatable": animatable, "kind": kind}
    return Field(default, title=name, description=help, json_schema_extra=schema, **(limits or {}))  # type: ignore[call-overload]


def number(
    default: float,
    name: str,
    help: str,
    *,
    low: float,
    high: float,
    step: float,
    unit: str = "",
    animatable: bool = True,
    at: float | None = None,
    period: float | None = None,
    fine: bool = False,
) -> Any:
    """A number from `low` to `high`, in `unit`, stepped by `step`.

    at: where it belongs on an axis that it is drawn on. period: after how much it comes round to the same again; 360 for angles. fine: seldom changed.
    """
    extra = {"unit": unit, "step": step, "minimum": low, "maximum": high, "at": at, "period": 360 if unit == "°" else period, "fine": fine}
    return _field(default, name, help, "number", animatable=animatable, limits={"ge": low, "le": high}, **extra)


def percent(default: float, name: str, help: str, *, low: float = 0, high: float = 100, step: float = 1) -> Any:
    """A number in percent."""
    return number(default, name, help, low=low, high=high, step=step, unit="%")


def pixels(default: float, name: str, help: str, *, low: float = 0, high: float = 200, step: float = 1) -> Any:
    """A length in pixels of a picture of 1080 lines."""
    return number(default, name, help, low=low, high=high, step=step, unit="px")


def degrees(default: float, name: str, help: str, *, low: float = -180, high: float = 180, step: float = 1) -> Any:
    """An angle."""
    return number(default, name, help, low=low, high=high, step=step, unit="°")


def seed() -> Any:
    """A whole number that makes one random pattern differ from another."""
    return number(1, "Seed", "Each number gives another pattern.", low=0, high=9999, step=1, animatable=False)


def switch(default: bool, name: str, help: str, *, animatable: bool = True) -> Any:
    """Something that is on or off."""
    return _field(default, name, help, "switch", animatable=animatable)


def choice(default: str, name: str, help: str) -> Any:
    """One of the words of the field's `Literal` type."""
    return _field(default, name, help, "choice", animatable=False)


def colour(default: str, name: str, help: str) -> Any:
    """A colour as #rrggbb; the field is a `Colour`."""
    return _field(default, name, help, "colour")


def colours(default: tuple[str, ...], name: str, help: str) -> Any:
    """A list of colours; the field is a `Colours`."""
    return _field(default, name, help, "colours")


def curve(
    default: tuple[tuple[float, float], ...], name: str, help: str, *, axis: Axis, low: float, high: float, unit: str = "%", when: dict[str, str] | None = None
) -> Any:
    """A curve over tone, hue, lightness or saturation, from `low` to `high`; the field is a `Curve`.

    x runs in percent, over hue in degrees. when: what choices beside it are to be, for it to count at all.
    """
    return _field(default, name, help, "curve", axis=axis, minimum=low, maximum=high, unit=unit, when=when or {})


def gradient(default: tuple[tuple[float, str], ...], name: str, help: str) -> Any:
    """Colour stops; the field is a `Gradient`."""
    return _field(named(tuple(Stop(position=p, colour=c) for p, c in default), "s", "stops"), name, help, "gradient")


def bands(default: tuple[Params, ...], name: str, help: str, of: type[Params]) -> Any:
    """A list of models with ids, whose numbers are each animated alone; the field is a tuple of `of`."""
    return _field(default, name, help, "bands", animatable=False, fields=[info.model_dump(mode="json") for info in describe(of)])


def file(name: str, help: str, accepts: Literal["lut", "picture"]) -> Any:
    """A file that was taken into the project, by its digest; empty where none is chosen. The field is a `str`."""
    return _field("", name, help, "file", animatable=False, accepts=accepts)


def shot(name: str, help: str) -> Any:
    """A shot of the project, by its id; empty where none is chosen. The field is a `str`."""
    return _field("", name, help, "shot", animatable=False)


def part(name: str, help: str) -> Any:
    """A selection of the shot that is chosen, by its id; empty for all of it. The field is a `str`."""
    return _field("", name, help, "part", animatable=False)


class ParamInfo(BaseModel):
    """What the editor needs to draw one parameter. A switch has 0 and 1 for its ends; a curve its range of y.

    when: what choices beside it are to be, for it to count; empty where it always does.
    """

    key: str
    name: str
    help: str
    kind: Kind
    unit: str
    low: float
    high: float
    step: float
    default: Any
    animatable: bool
    choices: list[str] = []
    axis: Axis | None = None
    accepts: str | None = None
    at: float | None = None
    period: float | None = None
    fine: bool | None = None
    when: dict[str, str] | None = None
    fields: list["ParamInfo"] = []


def describe(model: type[BaseModel]) -> list[ParamInfo]:
    """The declared parameters of a model, in order; other fields are left out."""
    infos = []
    for key, schema in model.model_json_schema()["properties"].items():
        if "kind" not in schema:
            continue
        default = schema["default"]
        infos.append(
            ParamInfo(
                key=key,
                name=schema["title"],
                help=schema["description"],
                kind=schema["kind"],
                unit=schema["unit"],
                low=schema["minimum"],
                high=schema["maximum"],
                step=schema["step"],
                default=float(default) if schema["kind"] in ("number", "switch") else default,
                animatable=schema["animatable"],
                choices=schema.get("enum", [schema["const"]] if "const" in schema else []),
                axis=schema.get("axis"),
                accepts=schema.get("accepts"),
                at=schema.get("at"),
                period=schema.get("period"),
                fine=schema.get("fine") or None,
                when=schema.get("when") or None,
                fields=schema.get("fields", []),
            )
        )
    return infos


@cache
def _conditions(model: type[BaseModel]) -> tuple[tuple[str, dict[str, str]], ...]:
    return tuple((info.key, info.when) for info in describe(model) if info.when)


def uncounted(params: BaseModel) -> set[str]:
    """The parameters that do not count, as the choices beside them stand."""
    return {key for key, when in _conditions(type(params)) if any(getattr(params, other) != wanted for other, wanted in when.items())}
