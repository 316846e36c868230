"""`make moving`: the picture that moves in the README, from the demo's reel."""

import subprocess
import sys
import tempfile
from pathlib import Path

HERE = Path(__file__).parent
MOST = 3_000_000  # bytes
WIDTH, FPS = 480, 6


def run(*words: object) -> None:
    """Run a command of Wenditas. Raises `CalledProcessError`."""
    subprocess.run([Path(sys.executable).with_name("wenditas"), *map(str, words)], check=True)


def main() -> None:
    """Render the demo's film small, as an animated WebP."""
    with tempfile.TemporaryDirectory() as folder:
        run("demo", "--data", folder, "--prepare-only")
        target = Path(folder) / "film.webp"
        run("render", "The Marrow Hill Tramway", target, "--format", "webp", "--width", WIDTH, "--fps", FPS, "--quality", "small", "--data", folder)
        size = target.stat().st_size
        if size > MOST:
            raise SystemExit(f"The picture has {size} bytes, more than {MOST}: take it smaller or slower.")
        (HERE / "film.webp").write_bytes(target.read_bytes())
        print(f"film.webp, {size} bytes")


if __name__ == "__main__":
    main()
