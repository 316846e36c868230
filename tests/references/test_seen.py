"""The picture of errors says what it shows: red where something is missing, blue where something leaks."""

from pathlib import Path

import cv2
import numpy as np

from bench.seen import LINE, WIDTH, Seen, write_sheet


def test_what_is_missing_is_red_and_what_leaks_is_blue(tmp_path: Path) -> None:
    truth, matte = np.zeros((90, 160), np.float32), np.zeros((90, 160), np.float32)
    truth[:, :80], matte[:, 40:120] = 1, 1
    write_sheet(tmp_path / "seen.png", [Seen("half", np.full((3, 90, 160), 0.5, np.float32), truth, {"ours": matte})])
    drawn = cv2.imread(str(tmp_path / "seen.png"))[:, :, ::-1].astype(int)
    row = drawn[LINE + 90, WIDTH:]
    missing, right, leaking, nothing = row[40], row[120], row[200], row[300]
    assert missing[0] > missing[2] + 100 and leaking[2] > leaking[0] + 100
    assert np.ptp(right) == 0 and 0 < right[0] < 80 and nothing.sum() == 0
