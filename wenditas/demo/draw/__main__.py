"""`python -m wenditas.demo.draw`: draw the demo's footage again; names of clips draw only these."""

import sys
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Any

from wenditas.demo.draw import awnings, dusk, film, kiln, marionette, orchard, tram, umbrella

FOLDER = Path(__file__).parent.parent / "footage"
CLIPS: dict[str, tuple[Callable[[], film.Shot], Any, Sequence[tuple[float, ...]], float]] = {
    "tram-up-the-hill": (tram.TramShot, tram, [(146.8, 220.0, 293.7), (130.8, 196.0, 329.6), (146.8, 220.0, 370.0)], 0.05),
    "umbrella-in-the-rain": (umbrella.UmbrellaShot, umbrella, [(174.6, 261.6, 349.2), (155.6, 233.1, 311.1)], 0.12),
    "six-awnings": (awnings.AwningsShot, awnings, [(196.0, 293.7, 392.0), (220.0, 277.2, 440.0)], 0.03),
    "the-kiln": (kiln.KilnShot, kiln, [(98.0, 146.8, 196.0), (87.3, 130.8, 207.7)], 0.16),
    "the-marionette": (marionette.MarionetteShot, marionette, [(261.6, 329.6, 392.0), (246.9, 311.1, 370.0)], 0.02),
    "orchard-path": (orchard.OrchardShot, orchard, [(174.6, 220.0, 261.6), (196.0, 246.9, 293.7)], 0.06),
    "hill-at-dusk": (dusk.DuskShot, dusk, [(110.0, 164.8, 220.0), (123.5, 185.0, 246.9)], 0.04),
}


def main(names: list[str]) -> None:
    """Draw shots of the film."""
    for seed, (name, (shot, scene, chords, rumble)) in enumerate(CLIPS.items(), 3):
        if not names or name in names:
            sound = film.soundtrack(scene.FRAMES / 24, seed, chords, rumble)
            film.shoot(shot(), scene.FRAMES, scene.WIDTH, scene.HEIGHT, sound, FOLDER / f"{name}.mp4", getattr(scene, "NOISE", film.NOISE))


if __name__ == "__main__":
    main(sys.argv[1:])
