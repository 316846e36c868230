"""`make bench`."""

import tempfile
from collections.abc import Callable
from importlib import resources
from pathlib import Path

from rich.console import Console
from rich.table import Table

from bench import account, browser, exports, history, keyframes, luts, pictures, reel, where
from wenditas.media.probe import inspect
from wenditas.media.reader import Reader


def main() -> None:
    """Measure everything and print one table."""
    table = Table("What", "Measured")
    with resources.as_file(resources.files("wenditas.demo") / "footage" / "tram-up-the-hill.mp4") as clip, tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        reader = Reader(clip, *inspect(clip))
        frame = reader.picture(60)
        parts: list[Callable[[], list[tuple[str, str]]]] = [
            lambda: pictures.measure(frame, folder),
            lambda: account.measure(Path(clip), folder),
            lambda: luts.measure(frame),
            keyframes.measure,
            lambda: history.measure(folder),
            lambda: where.measure(reader, folder),
            lambda: exports.measure(Path(clip), folder),
            lambda: reel.measure(folder),
            lambda: browser.measure(reader, folder),
        ]
        console = Console(width=130)
        for part in parts:
            for row in part():
                console.print("  ".join(row))  # at once: all of it takes minutes
                table.add_row(*row)
    console.print(table)


if __name__ == "__main__":
    main()
