"""The wheel, installed in an environment of its own, serves the page and holds the demo.

What it depends on is lent from this environment, so that the test needs no network; the package itself is the installed one.
"""

import os
import subprocess
import sys
import sysconfig
import tomllib
import zipfile
from pathlib import Path

import httpx
import pytest
from packaging.requirements import Requirement

from tests.api.conftest import wait_for
from tests.faults.conftest import free_port

ROOT = Path(__file__).parents[2]


@pytest.fixture(scope="module")
def wheel(tmp_path_factory: pytest.TempPathFactory) -> Path:
    folder = tmp_path_factory.mktemp("wheel")
    command = [sys.executable, "-m", "pip", "wheel", "-q", "--no-deps", "-w", str(folder), str(ROOT)]
    done = subprocess.run(command, capture_output=True, text=True, cwd=folder)
    assert done.returncode == 0, done.stderr
    return next(folder.glob("wenditas-*.whl"))


def test_it_holds_all_that_is_needed(wheel: Path) -> None:
    with zipfile.ZipFile(wheel) as archive:
        names = set(archive.namelist())
    files = {
        str(p.relative_to(ROOT))
        for part in ("demo/footage", "demo/looks", "store/migrations", "api/site")
        for p in (ROOT / "wenditas" / part).rglob("*")
        if p.is_file()
    }
    files |= {str(p.relative_to(ROOT)) for p in (ROOT / "wenditas").rglob("*.py")}
    assert {f for f in files if "__pycache__" not in f} <= names and "wenditas/demo/reel.json" in names
    assert not [n for n in names if n.startswith(("tests/", "bench/", "web/"))]


@pytest.mark.long(found_by="test_it_holds_all_that_is_needed, above")
def test_installed_alone_it_serves_the_page(wheel: Path, tmp_path: Path) -> None:
    environment = tmp_path / "env"
    subprocess.run([sys.executable, "-m", "venv", str(environment)], check=True)
    python = environment / "bin" / "python"
    subprocess.run([str(python), "-m", "pip", "install", "-q", "--no-deps", str(wheel)], check=True)
    own = Path(subprocess.run([str(python), "-c", "import sysconfig; print(sysconfig.get_paths()['purelib'])"], capture_output=True, text=True).stdout.strip())
    (own / "lent.pth").write_text(sysconfig.get_paths()["purelib"] + "\n")
    where = subprocess.run([str(python), "-c", "import wenditas; print(wenditas.__file__)"], capture_output=True, text=True, cwd=tmp_path)
    assert str(environment) in where.stdout, where.stderr
    port, log = free_port(), (tmp_path / "log").open("wb")
    command = [str(environment / "bin" / "wenditas"), "serve", "--data", str(tmp_path / "data"), "--port", str(port)]
    server = subprocess.Popen(command, stdout=log, stderr=log, cwd=tmp_path, env={k: v for k, v in os.environ.items() if k != "PYTHONPATH"})
    try:

        def page() -> httpx.Response | None:
            assert server.poll() is None, (tmp_path / "log").read_text()
            try:
                return httpx.get(f"http://127.0.0.1:{port}/", timeout=5)
            except httpx.TransportError:
                return None

        answer = wait_for(page, 120)
        assert answer.status_code == 200 and "<title>" in answer.text
        script = answer.text.split('src="')[1].split('"')[0]
        assert httpx.get(f"http://127.0.0.1:{port}{script}").status_code == 200
        assert httpx.get(f"http://127.0.0.1:{port}/api/catalogue", timeout=60).json()["treatments"]
    finally:
        server.kill()
        server.wait()


def test_what_it_depends_on_has_an_end_and_admits_what_is_tested() -> None:
    """The wheel takes the newest release that it is allowed: one that took away an option made all footage unreadable."""
    project = tomllib.loads((ROOT / "pyproject.toml").read_text("utf-8"))["project"]
    locked = dict(line.split("==") for line in (ROOT / "requirements.lock").read_text("utf-8").splitlines() if "==" in line)
    for needed in map(Requirement, project["dependencies"]):
        assert any(bound.operator in ("<", "<=", "==", "~=") for bound in needed.specifier), f"{needed.name} may be of any later release"
        assert needed.specifier.contains(locked[needed.name].split(";")[0].strip()), f"{needed} is not what is tested: {locked[needed.name]}"
