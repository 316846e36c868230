"""The demo project that servers of tests get copies of, made once for a state of the program. `make test` makes it while checks run."""

import hashlib
import shutil
import subprocess
from pathlib import Path

from filelock import FileLock

from tests.command_line import COMMAND

ROOT = Path(__file__).parents[1]


def demo() -> Path:
    """Its data folder."""
    data = ROOT / ".stamps" / f"demo-{_state()}"
    with FileLock(f"{data}.lock"):
        if not data.is_dir():
            for old in (*data.parent.glob("demo-*"), *data.parent.glob("seen-*")):
                if old.is_dir():
                    shutil.rmtree(old)
            part = data.with_name("part")
            shutil.rmtree(part, ignore_errors=True)
            subprocess.run([*COMMAND, "demo", "--data", str(part), "--prepare-only"], check=True)
            part.rename(data)
    return data


def _state() -> str:
    """A name for all that a data folder is made of."""
    found = hashlib.sha256()
    for path in sorted(p for p in (ROOT / "wenditas").rglob("*") if p.suffix in {".py", ".sql", ".json", ".mp4"} and "site" not in p.parts):
        found.update(path.read_bytes())
    return found.hexdigest()[:16]


if __name__ == "__main__":
    demo()
