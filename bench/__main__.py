"""`make bench`."""

import tempfile
from importlib import resources
from pathlib import Path

from rich.console import Console
from rich.table import Table

from bench import browser, exports, history, keyframes, luts, pictures, where
from wenditas.media.probe import inspect
from wenditas.media.reader import Reader


def main() -> None:
    """Measure everything and print one table."""
    table = Table("What", "Measured")
    with resources.as_file(resources.files("wenditas.demo") / "footage" / "tram-up-the-hill.mp4") as clip, tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        reader = Reader(clip, *inspect(clip))
        frame = reader.picture(60)
        rows = pictures.measure(frame) + luts.measure(frame) + keyframes.measure() + history.measure(folder) + where.measure(reader)
        for row in rows + exports.measure(Path(clip), folder) + browser.measure(folder):
            table.add_row(*row)
    Console(width=130).print(table)


if __name__ == "__main__":
    main()
