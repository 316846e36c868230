"""Names of colours against the survey that they come from."""

import matplotlib._color_data as survey
import numpy as np
import pytest

from wenditas.core.colour.hexes import rgb_from_hex
from wenditas.core.colour.names import colour_name, distinct_names
from wenditas.core.colour.naming import ALSO, PEOPLE_SAY


def terms() -> dict[str, str]:
    """What each colour of the survey (xkcd 2010, CC0, carried by matplotlib) is called here, by the last word of its name."""
    words = {name.lower(): name for name in PEOPLE_SAY} | {word: name for name, others in ALSO.items() for word in others.split()}
    found = {}
    for name, code in survey.XKCD_COLORS.items():
        last = name.removeprefix("xkcd:").replace("/", " ").split()[-1]
        if last in words:
            found[code] = words[last]
    return found


def test_the_table_is_the_survey() -> None:
    assert {f"#{code}": name for name, codes in PEOPLE_SAY.items() for code in codes.split()} == terms()


def test_colours_are_called_what_people_call_them() -> None:
    asked = terms()
    right = [colour_name(rgb_from_hex(code)) == name for code, name in asked.items()]
    assert np.mean(right) > 0.88  # the survey's own names overlap


@pytest.mark.parametrize("name", PEOPLE_SAY)
def test_what_people_call_just_that_has_that_name(name: str) -> None:
    assert colour_name(rgb_from_hex(survey.XKCD_COLORS[f"xkcd:{name.lower()}"])) == name


def test_two_colours_never_have_one_name() -> None:
    assert distinct_names([[0.8, 0.1, 0.1], [0.55, 0.02, 0.02], [0.1, 0.2, 0.8]]) == ["Light red", "Dark red", "Blue"]
    assert distinct_names([[0.8, 0.1, 0.1]] * 3) == ["Red", "Red 2", "Red 3"]
    assert distinct_names([[0.9, 0.55, 0.1], [0.9, 0.6, 0.35]])[0] in ("Orange", "Vivid orange")
    assert distinct_names([]) == []
