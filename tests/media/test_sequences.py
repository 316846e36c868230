"""Image sequences: numbered pictures of every kind become one lossless file."""

from fractions import Fraction
from pathlib import Path

import cv2
import numpy as np
import OpenImageIO as oiio
import pytest

from wenditas.core.colour.transfer import srgb_encode
from wenditas.core.errors import FootageDamaged, FootageRefused
from wenditas.media.facts import Facts
from wenditas.media.index import Index
from wenditas.media.profiles import profile_of
from wenditas.media.reader import Reader
from wenditas.media.sequence import SequenceJob, numbered, placed, take

H, W = 24, 33


def pixels(number: int, channels: int = 3, top: float = 1.0) -> np.ndarray:
    y, x = np.mgrid[0:H, 0:W]
    planes = [x / (W - 1) * top, y / (H - 1) * top, np.full((H, W), number / 10 * top), np.clip((x + y) / (H + W - 2), 0, 1)]
    return np.stack(planes[:channels], axis=-1).astype(np.float32)


def write(path: Path, values: np.ndarray, format: str, **attributes: object) -> None:
    spec = oiio.ImageSpec(values.shape[1], values.shape[0], values.shape[2], format)
    if values.shape[2] == 4:
        spec.channelnames, spec.alpha_channel = ("R", "G", "B", "A"), 3
    for key, value in attributes.items():
        spec.attribute(key.replace("__", ":"), value)
    out = oiio.ImageOutput.create(str(path))
    assert out.open(str(path), spec) and out.write_image(np.ascontiguousarray(values)) and out.close()


def taken(folder: Path, **how: object) -> tuple[Facts, Reader]:
    names = numbered([p.name for p in folder.iterdir()])[0]
    target, index = folder.parent / f"{folder.name}.mkv", folder.parent / f"{folder.name}.npz"
    facts = take(SequenceJob(folder=folder, names=tuple(names), rate="24", target=target, index=index, **how))  # type: ignore[arg-type]
    return facts, Reader(target, facts, Index.read(index))


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    made = tmp_path / "pictures"
    made.mkdir()
    return made


@pytest.mark.parametrize(
    ("suffix", "format", "near", "said"),
    [
        (".png", "uint8", 0.5 / 255, "PNG pictures, 8 bit"),
        (".png", "uint16", 0.5 / 65535, "PNG pictures, 16 bit"),
        (".tif", "uint8", 0.5 / 255, "TIFF pictures, 8 bit"),
        (".tif", "uint16", 0.5 / 65535, "TIFF pictures, 16 bit"),
        (".dpx", "uint16", 1 / 1023, "DPX pictures"),
    ],
)
def test_values_come_through(folder: Path, suffix: str, format: str, near: float, said: str) -> None:
    for n in range(1, 6):
        write(folder / f"f{n:04d}{suffix}", pixels(n), format)
    facts, reader = taken(folder)
    assert (facts.length, facts.frame_rate, facts.width, facts.height, facts.kind) == (5, 24, W, H, "video") and said in facts.origin and facts.damage == ()
    for n in (0, 3):
        assert np.abs(reader.picture(n).transpose(1, 2, 0) - pixels(n + 1)).max() <= near + 1e-6
    reader.close()


@pytest.mark.parametrize("format", ["half", "float"])
def test_exr_is_linear_and_keeps_what_is_brighter_than_white(folder: Path, format: str) -> None:
    for n in range(3):
        write(folder / f"f.{n}.exr", pixels(n + 1, top=3.0), format)
    facts, reader = taken(folder)
    expected = srgb_encode(pixels(2, top=3.0))
    assert "linear light" in facts.origin and facts.headroom == 2 and facts.damage == ()
    assert expected.max() > 1.5 and np.abs(reader.picture(1).transpose(1, 2, 0) - expected).max() < 1e-3


def test_no_numbers_and_infinite_ones_are_limited_and_said(folder: Path) -> None:
    for n in range(3):
        values = pixels(n)
        if n == 1:
            values[2, 3], values[4, 5], values[6, 7] = np.nan, np.inf, -np.inf
        write(folder / f"f{n}.exr", values, "half")
    with pytest.raises(FootageDamaged, match="no number, infinite"):
        taken(folder)
    facts, reader = taken(folder, take=True)
    picture = reader.picture(1)
    assert np.isfinite(picture).all() and picture[:, 2, 3].max() == 0 and picture[:, 4, 5].min() == pytest.approx(2, abs=1e-3)
    assert "1 pictures" in facts.damage[0]


@pytest.mark.parametrize(("suffix", "format"), [(".png", "uint8"), (".tif", "uint16"), (".exr", "half")])
@pytest.mark.parametrize("multiplied", [False, True])
def test_alpha_straight_or_multiplied(folder: Path, suffix: str, format: str, multiplied: bool) -> None:
    """PNG has it straight (PNG, 3rd edition, 12.4), EXR multiplied (OpenEXR, technical introduction), TIFF says which (TIFF 6.0); or the user does."""
    straight = pixels(5, 4)
    stored = np.concatenate([straight[..., :3] * straight[..., 3:], straight[..., 3:]], axis=-1) if multiplied else straight
    for n in range(3):
        if suffix == ".png":
            image = np.rint(stored * 255).astype(np.uint8)[..., [2, 1, 0, 3]]
            cv2.imwrite(str(folder / f"f{n}.png"), image)
        else:
            write(folder / f"f{n}{suffix}", stored, format, oiio__UnassociatedAlpha=0 if multiplied else 1)
    usual = {".png": False, ".tif": multiplied, ".exr": True}[suffix] == multiplied
    facts, reader = taken(folder, **({} if usual else {"alpha": "multiplied" if multiplied else "straight"}))
    assert facts.alpha and ("as the file says" if usual else "as you said") in facts.origin
    expected = srgb_encode(straight[..., :3]) if suffix == ".exr" else straight[..., :3]
    inner = straight[..., 3] > 0.2
    assert np.abs(reader.picture(1).transpose(1, 2, 0) - expected)[inner].max() < (0.03 if suffix == ".png" else 0.01)
    assert np.abs(reader.alpha(1) - straight[..., 3]).max() < 0.01  # type: ignore[operator]


def test_gaps_are_held_and_said(folder: Path) -> None:
    for n in (7, 8, 11, 13):
        write(folder / f"f{n:03d}.png", pixels(n % 10), "uint8")
    with pytest.raises(FootageDamaged, match="9 to 10, 12"):
        taken(folder)
    facts, reader = taken(folder, take=True)
    assert facts.length == 7 and "4 PNG pictures" in facts.origin
    assert np.array_equal(reader.picture(2), reader.picture(1)) and not np.array_equal(reader.picture(4), reader.picture(3))


def test_what_is_no_sequence_is_refused(folder: Path) -> None:
    for n in range(3):
        write(folder / f"f{n}.png", pixels(n) if n < 2 else pixels(n)[:20], "uint8")
    with pytest.raises(FootageRefused, match=r"f2\.png is 33 × 20"):
        taken(folder, take=True)
    write(folder / "f2.png", pixels(2), "uint8")
    data = (folder / "f1.png").read_bytes()
    (folder / "f1.png").write_bytes(data[:50])
    with pytest.raises(FootageDamaged, match=r"f1\.png"):
        taken(folder)
    assert "In their place the one before" in taken(folder, take=True)[0].damage[0]
    (folder / "f0.png").write_bytes(b"no picture")
    with pytest.raises(FootageRefused, match=r"f0\.png cannot be read"):
        taken(folder, take=True)
    assert not list(folder.parent.glob("*.job.json"))


def test_a_picture_whose_fault_is_no_text_is_refused_by_its_name(folder: Path) -> None:
    """The library quotes the bytes of the file, which are no UTF-8."""
    for n in range(3):
        write(folder / f"f{n}.exr", pixels(n), "half")
        data = bytearray((folder / f"f{n}.exr").read_bytes())
        data[15] ^= 0x80  # in the name of the type of the first attribute
        (folder / f"f{n}.exr").write_bytes(data)
    with pytest.raises(FootageRefused, match=r"f0\.exr cannot be read"):
        taken(folder, take=True)
    assert profile_of(folder / "f0.exr") is None


def test_names() -> None:
    assert numbered(["a1.png", "a2.png", "b.png"]) == [] and numbered(["x2.exr", "x10.exr", "x1.exr", "x1.png"]) == [["x1.exr", "x2.exr", "x10.exr"]]
    with pytest.raises(FootageRefused, match="two pictures with the number 1"):
        placed(["a1.png", "a01.png", "a2.png"])
    with pytest.raises(FootageRefused, match="hardly one"):
        placed(["a1.png", "a9999.png"])
    with pytest.raises(FootageRefused, match="no numbered"):
        placed(["a.png"])
    assert placed(["a3.png", "a1.png"]) == (["a1.png", "a1.png", "a3.png"], ["Pictures are missing: 2. In their place the one before is held."])


def test_the_rate_is_kept(folder: Path) -> None:
    for n in range(4):
        write(folder / f"f{n}.png", pixels(n), "uint8")
    target, index = folder.parent / "a.mkv", folder.parent / "a.npz"
    facts = take(SequenceJob(folder=folder, names=tuple(f"f{n}.png" for n in range(4)), rate="30000/1001", target=target, index=index))
    assert facts.frame_rate == Fraction(30000, 1001) and facts.length == 4
