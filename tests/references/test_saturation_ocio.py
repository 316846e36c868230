"""Saturation against OpenColorIO's ASC CDL."""

import numpy as np
import PyOpenColorIO as ocio
import pytest

from wenditas.core.treat.saturation import Saturation, saturation


@pytest.mark.parametrize("percent", [0, 35, 100, 160, 200])
def test_saturation_equals_asc_cdl(percent: float) -> None:
    # No clamping in either: ASC CDL 1.2 limits to 0-1, OpenColorIO's CDL_NO_CLAMP does not, as our pictures do not.
    transform = ocio.CDLTransform(slope=[1, 1, 1], offset=[0, 0, 0], power=[1, 1, 1], sat=percent / 100)
    transform.setStyle(ocio.CDL_NO_CLAMP)
    processor = ocio.Config.CreateRaw().getProcessor(transform).getDefaultCPUProcessor()
    picture = np.random.default_rng(4).random((3, 9, 11), np.float32)
    theirs = np.ascontiguousarray(picture.transpose(1, 2, 0))
    processor.applyRGB(theirs)
    assert saturation(picture, Saturation(saturation=percent)) == pytest.approx(theirs.transpose(2, 0, 1), abs=1e-4)
