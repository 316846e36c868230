"""Dither and levels: what a treatment made exact stays exact in 8 bits; what is smooth stays dithered."""

from pathlib import Path

import av
import cv2
import numpy as np
import pytest

from tests.core.treatments import one_pass
from tests.media.clips import make_clip
from wenditas.core.look.apply import apply_look
from wenditas.core.treat import TREATMENTS
from wenditas.media.convert import to_rgb8
from wenditas.media.levels import levels_of
from wenditas.media.probe import inspect
from wenditas.render.from_file import job_from_file
from wenditas.render.options import ExportOptions
from wenditas.render.perform import Here, perform

Y, X = np.mgrid[0:96, 0:160].astype(np.float32)
SMOOTH = np.stack([0.5 + 0.6 * np.sin(X / 31 + Y / 23), 0.5 + 0.6 * np.sin(X / 33 + Y / 21), 0.5 + 0.6 * np.sin(X / 29)]).astype(np.float32)
RAMPS = {"across": X / 200, "down": Y / 120, "aslant": (X + Y) / 300, "steep": (X + 3 * Y) / 500, "flat": (5 * X + Y) / 1000}


def posterized(**params: object) -> np.ndarray:
    return apply_look(one_pass(TREATMENTS["posterize"], {"levels": 5, **params}), SMOOTH)


@pytest.mark.parametrize("border", ["hard", "blue noise", "random", "ordered"])
def test_five_greys_are_five_values(border: str) -> None:
    """0, 25, 50, 75 and 100 % are 0, 64, 128, 191 and 255; in grain, where a pixel stands alone, a few are the code beside."""
    found = to_rgb8(posterized(border=border, grain=2))
    exact = {0, 64, 128, 191, 255}
    assert exact <= set(np.unique(found).tolist()) <= {*exact, 63, 127, 192}
    assert np.isin(found, [*exact]).mean() > (0.999 if border == "hard" else 0.97)


@pytest.mark.parametrize("way", RAMPS)
def test_ramps_are_dithered_as_before(way: str) -> None:
    ramp = np.stack([RAMPS[way]] * 3).astype(np.float32)
    assert levels_of(ramp).mean() < 0.02 if levels_of(ramp).size else True
    found = to_rgb8(ramp).astype(np.float64)
    small, wanted = (cv2.resize(p, (20, 12), interpolation=cv2.INTER_AREA) for p in (found[..., 0], RAMPS[way].astype(np.float64) * 255))
    assert np.abs(small - wanted)[1:-1, 1:-1].max() < 0.2  # means are kept; rounding alone misses them by up to a half
    assert len(np.unique(np.diff(found[:, 5, 0] if way == "down" else found[5, :, 0]))) > 2


def test_noise_has_no_levels() -> None:
    assert levels_of(np.random.default_rng(1).random((3, 32, 400), np.float32)).size == 0


def test_an_export_of_posterized_grey_holds_five(tmp_path: Path) -> None:
    clip = make_clip(tmp_path / "in.mp4", count=2)
    facts, index = inspect(clip)
    look = one_pass(TREATMENTS["posterize"], {"levels": 5})
    job = job_from_file(clip, facts, index, look, (0, 1), tmp_path / "out.zip", ExportOptions(format="png-8"), tmp_path / "work")
    perform(job, executor=Here())
    import zipfile

    with zipfile.ZipFile(tmp_path / "out.zip") as archive:
        image = cv2.imdecode(np.frombuffer(archive.read(archive.namelist()[0]), np.uint8), cv2.IMREAD_COLOR)
    assert len(np.unique(image)) <= 5
    film = job_from_file(clip, facts, index, look, (0, 1), tmp_path / "out.mp4", ExportOptions(format="h264", quality="fine"), tmp_path / "work2")
    perform(film, executor=Here())
    with av.open(str(tmp_path / "out.mp4")) as container:
        luma = np.asarray(next(container.decode(video=0)).to_ndarray()[: facts.height])
    values, counts = np.unique(luma, return_counts=True)
    assert set(values[counts > 0.02 * luma.size].tolist()) <= {16, 71, 126, 180, 235}
