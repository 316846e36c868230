"""Versions of the look document, and how older ones become the newest: dict to dict, one step each.

A step meets what other programs wrote too: what it does not understand it leaves as it is, for the validation to refuse.
"""

from collections.abc import Callable, Mapping
from typing import Any, Literal

from wenditas.core.errors import BadLook
from wenditas.core.look.names import BY_BAND, BY_CURVE, EIGHT_HUES, Renamed, in_version_2, with_bands

SCHEMA: Literal[5] = 5
Document = dict[str, Any]


def _items(holder: Any, key: str) -> list[Document]:
    found = holder.get(key) if isinstance(holder, dict) else None
    return [item for item in found if isinstance(item, dict)] if isinstance(found, list | tuple) else []


def changed_items(holder: Document, key: str, change: Callable[[Document], Document]) -> Document:
    """A document with every object of one of its lists changed; one that has no such list as it is."""
    if not _items(holder, key):
        return holder
    return {**holder, key: [change(item) if isinstance(item, dict) else item for item in holder[key]]}


def _numbered(holder: Document, key: str, stem: str) -> Document:
    """The holder with ids for the objects of one of its lists."""
    numbers = iter(range(1, 1_000_000))
    return changed_items(holder, key, lambda item: {**item, "id": f"{stem}{next(numbers)}"})


def _named_parts(selection: Document) -> Document:
    """Keys and picks get ids, by where they stand."""
    return changed_items(_numbered(selection, "keys", "k"), "keys", lambda key: _numbered(_numbered(key, "picks", "p"), "refused", "n"))


def _renamed_params(item: Document) -> Document:
    """A pass with the new names of its treatment and parameters."""
    treatment, params = item.get("treatment"), item.get("params")
    if not isinstance(treatment, str) or not isinstance(params, dict):
        return item
    renamed = in_version_2(treatment)
    return {**item, "treatment": renamed.treatment, "params": renamed.values(params)}


def _moved_lane(lane: Document, renames: dict[str, Renamed]) -> Document:
    """A lane with its key named by id, its parameter by its new name and its values in the new unit."""
    words = str(lane.get("target", "")).split("/")
    if words[0] == "selections" and words[2:3] == ["keys"] and len(words) == 5 and words[3].isdigit():
        words[3] = f"k{int(words[3]) + 1}"
        return {**lane, "target": "/".join(words)}
    if words[0] == "passes" and words[2:3] == ["params"] and len(words) == 4 and words[1] in renames:
        return renames[words[1]].lane(lane, words)
    return lane


def _to_version_2(data: Document) -> Document:
    """Keys and picks have ids and lanes name keys by them; treatments and parameters have the names of today."""
    renames = {str(p.get("id")): in_version_2(p["treatment"]) for p in _items(data, "passes") if isinstance(p.get("treatment"), str)}
    data = changed_items(data, "selections", _named_parts)
    data = changed_items(data, "passes", _renamed_params)
    return changed_items(data, "lanes", lambda lane: _moved_lane(lane, renames))


def _with_bands(item: Document) -> Document:
    treatment, params = item.get("treatment"), item.get("params", {})
    if not isinstance(treatment, str) or treatment not in BY_BAND or not isinstance(params, dict):
        return item
    return {**item, "treatment": "hue-bands", "params": with_bands(treatment, params)}


def _banded_lane(lane: Document, banded: dict[str, str]) -> Document:
    words = str(lane.get("target", "")).split("/")
    if words[0] != "passes" or words[2:3] != ["params"] or len(words) != 4 or words[1] not in banded or words[3] not in EIGHT_HUES:
        return lane
    return {**lane, "target": "/".join([*words[:3], "bands", words[3], BY_BAND[banded[words[1]]]])}


def _to_version_3(data: Document) -> Document:
    """Selections are keyed in the picture as it is, as they were before there was calm; the treatments with fixed bands are hue bands."""
    banded = {str(p.get("id")): p["treatment"] for p in _items(data, "passes") if p.get("treatment") in BY_BAND}
    data = changed_items(data, "passes", _with_bands)
    data = changed_items(data, "lanes", lambda lane: _banded_lane(lane, banded))
    return changed_items(data, "selections", lambda s: {**s, "cleaning": {**s["cleaning"], "calm": 0} if isinstance(s.get("cleaning"), dict) else {"calm": 0}})


def _as_it_was_keyed(selection: Document) -> Document:
    cleaning = selection.get("cleaning", {})
    if not isinstance(cleaning, dict):
        return selection
    renamed = {"denoise_chroma" if key == "calm" else key: value for key, value in cleaning.items()}
    return {**selection, "cleaning": {"denoise_chroma": 100, "follow": 0, **renamed}}


def _lane_of_chroma(lane: Document) -> Document:
    words = str(lane.get("target", "")).split("/")
    return {**lane, "target": "/".join([*words[:3], "denoise_chroma"])} if words[0] == "selections" and words[2:] == ["cleaning", "calm"] else lane


def _to_version_4(data: Document) -> Document:
    """Selections denoise chroma as they did, under its new name, and their edges do not follow the picture's, as they did not."""
    data = changed_items(data, "selections", _as_it_was_keyed)
    return changed_items(data, "lanes", _lane_of_chroma)


def _over_colour(item: Document) -> Document:
    treatment, params = item.get("treatment"), item.get("params", {})
    if not isinstance(treatment, str) or treatment not in BY_CURVE or not isinstance(params, dict):
        return item
    changes, over, key = BY_CURVE[treatment]
    renamed = {f"{changes}_over_{over}" if name == key else name: value for name, value in params.items()}
    return {**item, "treatment": "curves-over-colour", "params": {"changes": changes, "over": over, **renamed}}


def _lane_over_colour(lane: Document, curves: dict[str, str]) -> Document:
    words = str(lane.get("target", "")).split("/")
    if words[0] != "passes" or words[2:3] != ["params"] or len(words) != 4 or words[1] not in curves:
        return lane
    changes, over, key = BY_CURVE[curves[words[1]]]
    return {**lane, "target": "/".join([*words[:3], f"{changes}_over_{over}"])} if words[3] == key else lane


def _to_version_5(data: Document) -> Document:
    """The treatments of one curve over hue, lightness or saturation each are one, curves over colour."""
    curves = {str(p.get("id")): p["treatment"] for p in _items(data, "passes") if isinstance(p.get("treatment"), str) and p["treatment"] in BY_CURVE}
    data = changed_items(data, "passes", _over_colour)
    return changed_items(data, "lanes", lambda lane: _lane_over_colour(lane, curves))


# UPGRADES[n] turns a version n document into version n + 1.
UPGRADES: dict[int, Callable[[Document], Document]] = {1: _to_version_2, 2: _to_version_3, 3: _to_version_4, 4: _to_version_5}


def upgraded(data: Any, what: str, newest: int, upgrades: Mapping[int, Callable[[Document], Document]]) -> Document:
    """A document at its newest version. what: "look", "reel". Raises `BadLook` where it is none, or is newer than this program."""
    if not isinstance(data, dict):
        raise BadLook(f"A {what} is a JSON object, not {type(data).__name__}.")
    version = data.get("schema_version", newest)
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise BadLook(f"A {what}'s schema_version is a whole number from 1 to {newest}, not {version!r}.")
    if version > newest:
        raise BadLook(f"This {what} was written by a newer Wenditas (version {version} of the format; this one reads up to {newest}).")
    for step in range(version, newest):
        data = {**upgrades[step](data), "schema_version": step + 1}
    document: Document = data
    return document


def upgrade_look(data: Any) -> Document:
    """The look at the newest version. Raises `BadLook` where it is no look or is newer than this program."""
    return upgraded(data, "look", SCHEMA, UPGRADES)
