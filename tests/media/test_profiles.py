"""Colour profiles that pictures carry, beside LittleCMS (as Pillow has it)."""

import io
import struct
from pathlib import Path

import numpy as np
import pytest
from PIL import Image, ImageCms
from sklearn.datasets import load_sample_image

from wenditas.core.kernel import as_picture
from wenditas.media.profiles import profile_of, read_profile

# Display P3's primaries relative to D50, as its published profile has them (from memory).
WIDE = ((0.51512, 0.2412, -0.00105), (0.29198, 0.69225, 0.04189), (0.1571, 0.06657, 0.78407))
PHOTO = load_sample_image("flower.jpg")[::4, ::4]


def fixed(value: float) -> int:
    return round(value * 65536)


def profile(curve: bytes) -> bytes:
    """A display profile of wide primaries and one curve for all channels."""
    tags = {name: b"XYZ " + bytes(4) + struct.pack(">3i", *map(fixed, xyz)) for name, xyz in zip((b"rXYZ", b"gXYZ", b"bXYZ"), WIDE, strict=True)}
    tags |= dict.fromkeys((b"rTRC", b"gTRC", b"bTRC"), curve)
    tags[b"wtpt"] = b"XYZ " + bytes(4) + struct.pack(">3i", *map(fixed, (0.9642, 1.0, 0.8249)))
    first, table, body = 128 + 4 + 12 * len(tags), b"", b""
    for name, data in tags.items():
        padded = data + bytes(-len(data) % 4)
        table += struct.pack(">4sII", name, first + len(body), len(data))
        body += padded
    head = struct.pack(">I4sI4s4s4s", first + len(body), b"none", 0x02400000, b"mntr", b"RGB ", b"XYZ ") + bytes(12) + b"acsp" + bytes(28)
    head += struct.pack(">3i", *map(fixed, (0.9642, 1.0, 0.8249)))
    return head + bytes(128 - len(head)) + struct.pack(">I", len(tags)) + table + body


GAMMA = b"curv" + bytes(4) + struct.pack(">IH", 1, round(2.2 * 256)) + bytes(2)
TABLE = b"curv" + bytes(4) + struct.pack(">I", 256) + b"".join(struct.pack(">H", round(65535 * (n / 255) ** 1.8)) for n in range(256))
FORMS = {
    0: (2.4,),
    1: (2.4, 1 / 1.055, 0.055 / 1.055),
    3: (2.4, 1 / 1.055, 0.055 / 1.055, 1 / 12.92, 0.04045),
}
PARA = {f"form {kind}": b"para" + bytes(4) + struct.pack(">HH", kind, 0) + struct.pack(f">{len(v)}i", *map(fixed, v)) for kind, v in FORMS.items()}


@pytest.mark.parametrize("curve", [GAMMA, TABLE, *PARA.values()], ids=["gamma", "table", *PARA])
def test_colours_are_those_of_littlecms(curve: bytes, tmp_path: Path) -> None:
    data = profile(curve)
    Image.fromarray(PHOTO).save(tmp_path / "wide.png", icc_profile=data)
    theirs = ImageCms.profileToProfile(Image.fromarray(PHOTO), ImageCms.ImageCmsProfile(io.BytesIO(data)), ImageCms.createProfile("sRGB"), renderingIntent=1)
    found = profile_of(tmp_path / "wide.png")
    assert found is not None
    ours = found.meant(as_picture(np.moveaxis(PHOTO, 2, 0) / 255))
    apart = np.abs(ours - np.moveaxis(np.asarray(theirs), 2, 0) / 255)
    assert apart.mean() < 0.004 and np.percentile(apart, 99) < 0.02
    assert np.abs(ours - np.moveaxis(PHOTO, 2, 0) / 255).max() > 0.05  # it does something


def test_srgb_s_own_profile_changes_nothing_that_is_seen() -> None:
    found = read_profile(ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes())
    assert found is not None
    picture = as_picture(np.moveaxis(PHOTO, 2, 0) / 255)
    assert np.abs(found.meant(picture) - picture).max() < 0.006


def test_none_another_kind_or_a_damaged_one_is_passed_over(tmp_path: Path) -> None:
    Image.fromarray(PHOTO).save(tmp_path / "plain.png")
    assert profile_of(tmp_path / "plain.png") is None and profile_of(tmp_path / "not there.png") is None
    whole = profile(GAMMA)
    assert read_profile(b"") is None and read_profile(whole[:200]) is None
    assert read_profile(whole[:16] + b"CMYK" + whole[20:]) is None
    assert read_profile(profile(b"mft2" + bytes(40))) is None
