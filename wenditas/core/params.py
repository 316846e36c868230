"""How parameters are declared: ranges, units and labels live in the model and nowhere else.

A parameter model is a Pydantic model whose fields are made with `number` or `switch`.
`describe` turns a model into the metadata that the editor is drawn from.
"""

from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field


class Params(BaseModel):
    """Base of all parameter models: closed, immutable, no NaN and no infinity."""

    model_config = ConfigDict(extra="forbid", frozen=True, allow_inf_nan=False)


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
) -> Any:
    """A number from `low` to `high`, in `unit`, stepped by `step`."""
    extra: Any = {"unit": unit, "step": step, "animatable": animatable, "kind": "number"}
    return Field(default, ge=low, le=high, title=name, description=help, json_schema_extra=extra)


def switch(default: bool, name: str, help: str, *, animatable: bool = True) -> Any:
    """Something that is on or off."""
    extra: Any = {"unit": "", "step": 1, "animatable": animatable, "kind": "switch", "minimum": 0, "maximum": 1}
    return Field(default, title=name, description=help, json_schema_extra=extra)


class ParamInfo(BaseModel):
    """What the editor needs to draw one parameter. A switch has 0 and 1 for its ends."""

    key: str
    name: str
    help: str
    kind: Literal["number", "switch"]
    unit: str
    low: float
    high: float
    step: float
    default: float
    animatable: bool


def describe(model: type[BaseModel]) -> list[ParamInfo]:
    """The declared parameters of a model, in order; other fields are left out."""
    infos = []
    for key, schema in model.model_json_schema()["properties"].items():
        if "kind" not in schema:
            continue
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
                default=float(schema["default"]),
                animatable=schema["animatable"],
            )
        )
    return infos
