"""`python -m wenditas.demo.draw`: draw the demo's footage again."""

from pathlib import Path

from wenditas.demo.draw import film, tram

FOLDER = Path(__file__).parent.parent / "footage"


def main() -> None:
    """Draw every shot of the film."""
    sound = film.soundtrack(tram.FRAMES / 24, 3, [(146.8, 220.0, 293.7), (130.8, 196.0, 329.6), (146.8, 220.0, 370.0)], 0.05)
    film.shoot(tram.TramShot(), tram.FRAMES, tram.WIDTH, tram.HEIGHT, sound, FOLDER / "tram-up-the-hill.mp4")


if __name__ == "__main__":
    main()
