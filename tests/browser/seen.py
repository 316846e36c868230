"""The demo once it was looked at, so that no test waits for first pictures that it is not about. `make test` makes it while checks run."""

import shutil
import subprocess
import sys
from pathlib import Path

from filelock import FileLock
from playwright.sync_api import sync_playwright

from tests import prepared
from tests.api.conftest import wait_for
from tests.browser.servers import Host, Server, chromium


def demo() -> Path:
    """Its data folder; every server gets a copy. Made in a process of its own: tests that are under way have a browser already."""
    made = prepared.demo()
    data = made.with_name(made.name.replace("demo", "seen"))
    with FileLock(f"{data}.lock"):
        if not data.is_dir():
            part = data.with_name("part-seen")
            shutil.rmtree(part, ignore_errors=True)
            shutil.copytree(made, part)
            subprocess.run([sys.executable, "-m", "tests.browser.seen", str(part)], check=True)
            part.rename(data)
    return data


def _look(data: Path) -> None:
    """As somebody does who opens the Bench, then the Sheet."""
    host = Host()
    server = Server(host, data)
    with sync_playwright() as playwright:
        page = playwright.chromium.launch(**chromium()).new_page(viewport={"width": 1280, "height": 800})
        page.goto(server.url)
        page.get_by_role("button", name="Open on the Bench", exact=True).first.click()
        page.wait_for_selector("[data-settled=true]", timeout=60_000)
        wait_for(lambda: any((data / "cache" / "over-time").glob("*[!t]")))  # the curve of the selection, which each test would measure again
        page.get_by_role("link", name="Sheet", exact=True).click()
        page.wait_for_function(
            "() => document.querySelectorAll('[data-cell] img').length >= Math.max(1, document.querySelectorAll('[data-cell]').length)", timeout=120_000
        )
    server.stop()
    host.close()


if __name__ == "__main__":
    _look(Path(sys.argv[1])) if sys.argv[1:] else demo()
