"""LUT, decision list and gradient files: round trips, outside readers, and clear errors."""

import xml.etree.ElementTree as ElementTree
from pathlib import Path

import numpy as np
import PyOpenColorIO as ocio
import pytest
from colour.io import read_LUT_IridasCube

from wenditas.core.errors import BadFile
from wenditas.core.params import Stop
from wenditas.core.tone.lut import Lut, apply_lut
from wenditas.core.treat.cdl import Cdl
from wenditas.formats.cdl import read_cdl, write_cdl
from wenditas.formats.cube import read_cube, write_cube
from wenditas.formats.gradients import colour_from_css, read_css, read_gradient, read_svg, write_css, write_svg


def cube(size: int = 5) -> Lut:
    return Lut("Kiln “night”", np.random.default_rng(1).random((size, size, size, 3), np.float32), (0, 0, 0), (1, 1, 1))


def test_cube_round_trip() -> None:
    for lut in (cube(), Lut("Line", np.random.default_rng(2).random((9, 3), np.float32), (-0.5, 0, 0), (1.5, 1, 2))):
        again = read_cube(write_cube(lut))
        assert again.cube == lut.cube and again.low == lut.low and again.high == lut.high and again.title == lut.title
        assert again.table == pytest.approx(lut.table, abs=1e-7)


def test_cube_reads_as_opencolorio_and_colour_science_read_it(tmp_path: Path) -> None:
    path = tmp_path / "a.cube"
    path.write_text(write_cube(cube()), "utf-8")
    theirs = read_LUT_IridasCube(str(path))  # colour-science: red first
    assert read_cube(path.read_text("utf-8")).table.transpose(2, 1, 0, 3) == pytest.approx(theirs.table, abs=1e-6)
    transform = ocio.FileTransform(src=str(path), interpolation=ocio.INTERP_TETRAHEDRAL)
    picture = np.random.default_rng(3).random((3, 4, 5), np.float32)
    pixels = np.ascontiguousarray(picture.transpose(1, 2, 0))
    ocio.Config.CreateRaw().getProcessor(transform).getDefaultCPUProcessor().applyRGB(pixels)
    assert apply_lut(picture, cube()) == pytest.approx(pixels.transpose(2, 0, 1), abs=1e-5)


GOOD = 'TITLE "a # b"\n# comment\nLUT_3D_SIZE 2\n' + "0 0 0\n" * 7 + "1 1 1 # end\n"


def test_comments_and_blank_lines_are_passed_over() -> None:
    assert read_cube(GOOD.replace("\n", "\n\n")).title == "a # b"


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("", "neither"),
        (GOOD.replace("1 1 1 # end\n", ""), "7"),
        (GOOD + "0 0 0\n", "9"),
        (GOOD.replace("0 0 0\n", "0 nan 0\n", 1), "Line 4"),
        (GOOD.replace("0 0 0\n", "0 inf 0\n", 1), "Line 4"),
        (GOOD.replace("0 0 0\n", "0 0\n", 1), "Line 4"),
        (GOOD.replace("0 0 0\n", "0 0 zero\n", 1), "Line 4"),
        (GOOD.replace("SIZE 2", "SIZE 1"), "from 2"),
        (GOOD.replace("SIZE 2", "SIZE 100000"), "from 2"),
        (GOOD.replace("SIZE 2", "SIZE two"), "“two”"),
        ("LUT_1D_SIZE 4\n" + GOOD, "second size"),
        (GOOD + "DOMAIN_MAX 0 1 1\n", "not above"),
        ("SHAPER 3\n" + GOOD, "SHAPER"),
    ],
)
def test_bad_luts_say_where(text: str, says: str) -> None:
    with pytest.raises(BadFile, match=says):
        read_cube(text)


PARAMS = Cdl(slope_red=1.2, slope_green=0.9, offset_blue=-0.05, power_red=0.8, saturation=1.3)


@pytest.mark.parametrize("kind", ["cdl", "cc", "ccc"])
def test_decision_lists_round_trip_and_read_in_opencolorio(kind, tmp_path: Path) -> None:
    path = tmp_path / f"a.{kind}"
    path.write_text(write_cdl(PARAMS, "shot-7", kind), "utf-8")
    assert read_cdl(path.read_text("utf-8")) == [("shot-7", PARAMS)]
    theirs = ocio.CDLTransform.CreateFromFile(str(path), "shot-7")
    assert theirs.getSlope() == pytest.approx([1.2, 0.9, 1]) and theirs.getOffset() == pytest.approx([0, 0, -0.05])
    assert theirs.getPower() == pytest.approx([0.8, 1, 1]) and theirs.getSat() == pytest.approx(1.3)


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("nonsense", "well-formed"),
        ("<a/>", "no ColorCorrection"),
        ("<!DOCTYPE a [<!ENTITY b 'c'>]><a>&b;</a>", "entities"),
        ("<ColorCorrection><SOPNode><Slope>1 1</Slope></SOPNode></ColorCorrection>", "Slope"),
        ("<ColorCorrection><SOPNode><Power>1 nan 1</Power></SOPNode></ColorCorrection>", "Power"),
        ("<ColorCorrection><SOPNode><Slope>9 1 1</Slope></SOPNode></ColorCorrection>", "range"),
    ],
)
def test_bad_decision_lists_say_why(text: str, says: str) -> None:
    with pytest.raises(BadFile, match=says):
        read_cdl(text)


STOPS = [Stop(position=0, colour="#102030"), Stop(position=40.5, colour="#ff8800"), Stop(position=100, colour="#ffffff")]


def test_gradients_round_trip() -> None:
    assert read_svg(write_svg(STOPS, "Kiln & co")) == STOPS
    assert read_css(write_css(STOPS)) == STOPS
    assert ElementTree.fromstring(write_svg(STOPS, "Kiln & co")).find("{http://www.w3.org/2000/svg}title").text == "Kiln & co"  # type: ignore[union-attr]


def test_gradients_as_others_write_them() -> None:
    red, blue = '<stop offset=".25" style="stop-color: rgb(255, 0, 0); x:1"/>', '<stop offset="80%" stop-color="blue"/>'
    svg = f'<svg xmlns="http://www.w3.org/2000/svg"><linearGradient>{red}{blue}</linearGradient></svg>'
    assert read_gradient(svg) == [Stop(position=25, colour="#ff0000"), Stop(position=80, colour="#0000ff")]
    css = "background: linear-gradient(45deg, rgb(0 128 255), #fff 30%, gold, black 90% 100%);"
    assert read_gradient(css) == [
        Stop(position=0, colour="#0080ff"),
        Stop(position=30, colour="#ffffff"),
        Stop(position=60, colour="#ffd700"),
        Stop(position=90, colour="#000000"),
        Stop(position=100, colour="#000000"),
    ]
    assert colour_from_css("#F80") == "#ff8800" and colour_from_css("rgb(100% 0% 50%)") == "#ff0080"
    back = read_css("linear-gradient(red 60%, blue 20%)")
    assert [s.position for s in back] == [60, 60]  # never before the one before it


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("radial-gradient(red, blue)", "linear-gradient"),
        ("<svg/>", "no linearGradient"),
        ("<svg>", "well-formed"),
        ("<!DOCTYPE a><svg/>", "entities"),
        ("linear-gradient(rouge, blue)", "rouge"),
        ('<linearGradient xmlns="http://www.w3.org/2000/svg"><stop offset="x"/></linearGradient>', "“x”"),
        ('<linearGradient xmlns="http://www.w3.org/2000/svg"/>', "no stops"),
        ("linear-gradient(" + ", ".join(["red"] * 65) + ")", "65"),
    ],
)
def test_bad_gradients_say_why(text: str, says: str) -> None:
    with pytest.raises(BadFile, match=says):
        read_gradient(text)
