"""What is no number, or an absurd one, ends no process and leaves no picture that is none."""

import json
import subprocess
import sys

import numpy as np
import pytest

from wenditas.core.errors import BadFile
from wenditas.core.files import Files
from wenditas.core.kernel import MOST_VALUE
from wenditas.core.look.apply import apply_look
from wenditas.core.look.document import parse_look
from wenditas.core.select.matte import Moment
from wenditas.core.tone.lut import Lut
from wenditas.core.treat import TREATMENTS
from wenditas.formats.cube import read_cube


def test_everything_that_takes_a_picture_takes_any(tmp_path) -> None:
    """Every treatment at every setting, every key, cleaning and measurement, in a process of their own: they used to end it (SIGSEGV)."""
    with (tmp_path / "tried").open("w+") as tried:
        done = subprocess.run([sys.executable, "-m", "tests.core.not_finite"], stdout=tried, stderr=subprocess.PIPE, text=True, timeout=600)
        tried.seek(0)
        lines = tried.read().splitlines()
    assert done.returncode == 0, f"ended by {lines[-1]}: {done.stderr[-2000:]}"
    assert json.loads(done.stderr) == []
    assert len(lines) > 2500


def test_a_lut_of_absurd_values_before_other_passes(random_picture: np.ndarray) -> None:
    """The look that ended the server. Such a LUT is not taken any more, but one may have come in before."""
    files = Files({"absurd": Lut("absurd", np.full((2, 2, 2, 3), 3e38, np.float32) * np.array([1, -1, 1], np.float32))})
    kinds = ["contrast", "saturation", "curves", "gradient-map", "duotone", "posterize"]
    passes = [{"id": "l", "name": "l", "treatment": "lut", "params": {"lut": "absurd"}}]
    passes += [{"id": kind, "name": kind, "treatment": kind, "params": dict(TREATMENTS[kind].example)} for kind in kinds]
    out = apply_look(parse_look({"passes": passes}), random_picture, Moment(files=files))
    assert np.isfinite(out).all()


def test_no_pass_goes_beyond_what_a_half_float_holds(random_picture: np.ndarray) -> None:
    steeper = {"treatment": "contrast", "params": {"contrast": 300}}
    passes = [{"id": f"p{n}", "name": "p", **steeper} for n in range(16)]
    out = apply_look(parse_look({"passes": passes}), random_picture)
    assert out.max() == MOST_VALUE


@pytest.mark.parametrize(
    ("line", "said"), [("3e38 0 0", "Line 3 of the LUT holds 3e.38"), ("0 -65505 0", "holds -65505"), ("nan 0 0", "NaN"), ("0 0 1e999", "infinite")]
)
def test_a_lut_of_absurd_values_is_not_taken(line: str, said: str) -> None:
    with pytest.raises(BadFile, match=said):
        read_cube(f"LUT_1D_SIZE 2\n0 0 0\n{line}\n")


def test_a_domain_without_room_is_not_taken() -> None:
    with pytest.raises(BadFile, match="not above"):
        read_cube("LUT_1D_SIZE 2\nDOMAIN_MIN 0 0 0\nDOMAIN_MAX 1 1e-30 1\n0 0 0\n1 1 1\n")
