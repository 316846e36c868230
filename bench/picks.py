"""First clicks: how often one click on a thing names the colour that a person would, and selects about its area. `python -m bench.picks`.

Every clip of `bench.clips`, at four shares of its light, encoded as H.264, is clicked at three places of the thing (where it is rather dark,
middling and rather light). The right name is that of its colour in full light; the right area lies between half and twice the true one.
"""

import tempfile
from collections.abc import Callable
from pathlib import Path

import numpy as np
from rich.console import Console
from rich.table import Table

from bench.clips import CLIPS
from bench.keys import Way, encoded, picks
from bench.timing import at_most
from wenditas.core.colour.names import colour_name
from wenditas.core.kernel import Matte, Picture
from wenditas.core.look.commands import apply_commands
from wenditas.core.look.document import Look, parse_look
from wenditas.core.select.denoise import Noise, denoised
from wenditas.core.select.fit import fit_to_picks
from wenditas.core.select.matte import Moment, selection_matte
from wenditas.core.select.picks import Pick
from wenditas.project.picking import Around, light_of, picked

LIGHTS, CRF = (1.0, 0.5, 0.2, 0.1), 28
LIT = 75  # percentile of the thing's luma: people name a thing by its lit side
PATCH, IN = 5, 0.9  # pixels that a click takes the median of; share of them that is to be selected


def _called(frame: Picture, truth: Matte) -> set[str]:
    """What people call the thing in full light: by its lit side, or by the middle of it."""
    inside = frame[:, truth > 0.95]
    order = np.argsort(inside.mean(axis=0))
    return {colour_name(np.median(inside[:, order[int(len(order) * low / 100) :]], axis=1)) for low in (0, LIT)}


def clicked(frame: Picture, noise: Noise, pick: Pick) -> tuple[str, Matte]:
    """The name and the matte that a first click makes."""

    def around(picture: Picture) -> Around:
        return Around(light_of(picture), noise, lambda key: fit_to_picks(key, lambda _: denoised(picture, noise), noise).key)

    found = picked(Look(), pick, None, False, around=around(frame))
    look = parse_look(apply_commands({"look": Look().model_dump(mode="json")}, found.commands)["look"])
    (selection,) = look.selections
    return selection.name, selection_matte(selection, frame, Moment(noise=noise))


def main(say: Callable[[str], None] = print) -> None:
    """Click everywhere and tell."""
    table = Table("light", "clicks", "right name", "right area", "what was picked is in", "of them more than a third of the frame", title="First clicks")
    with tempfile.TemporaryDirectory() as folder:
        for light in LIGHTS[: at_most(len(LIGHTS), 1)]:
            told = []
            for clip in CLIPS[: at_most(len(CLIPS), 1)]:
                frames, truth = clip.draw(3, at_most(540, 216))
                names = _called(frames[0], truth[0])
                read, noise = encoded(frames, Way("", CRF, light, 0.013), Path(folder))
                for pick in picks(read[0], truth[0]):
                    name, matte = clicked(read[0], noise, pick)
                    row, column = int(pick.y * matte.shape[0]), int(pick.x * matte.shape[1])
                    patch = matte[row - 2 : row + 3, column - 2 : column + 3]
                    area = float(matte.sum() / truth[0].sum())
                    told.append((name in names, 0.5 <= area <= 2, patch.mean() >= IN, matte.mean() > 1 / 3))
            shares = [f"{100 * v:.0f} %" for v in np.mean(told, axis=0)]
            table.add_row(f"{light:g}", str(len(told)), *shares)
    Console(width=130).print(table)
    say(f"Clicked at {len(LIGHTS)} shares of the light.")


if __name__ == "__main__":
    main()
