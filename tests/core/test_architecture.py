"""Imports point one way: api, cli -> app -> render, project -> store, media, formats -> core; in core film -> look -> treat, select -> work -> tone, colour."""

import ast
from pathlib import Path

import pytest

import wenditas

ROOT = Path(wenditas.__file__).parent
BASE = {"core", "media", "formats", "store"}
ALLOWED = {
    "core": set(),
    "media": {"core"},
    "formats": {"core"},
    "store": {"core"},
    "project": BASE,
    "render": BASE,
    "app": BASE | {"project", "render"},
    "api": BASE | {"project", "render", "app"},
    "demo": BASE | {"project", "render"},
    "cli": BASE | {"project", "render", "app"},
}
FREE = {"bounds", "errors", "kernel", "params", "tiles", "files", "named"}  # modules of core that all of it may use
CORE = {  # film -> look -> treat, select -> work -> tone, colour; what is measured and shelved lies above the look
    "colour": set(),
    "tone": {"colour"},
    "work": {"colour", "tone"},
    "select": {"colour", "tone", "work"},
    "treat": {"colour", "tone", "select", "work"},
    "look": {"colour", "tone", "select", "treat", "work"},
    "film": {"colour", "tone", "select", "treat", "look", "work"},
    "measure": {"colour", "tone", "select", "treat"},
    "shelf": {"colour", "tone", "select", "treat", "look"},
    "likeness": {"colour", "tone", "select", "treat", "look", "shelf"},
}
OUTSIDE_CORE = {"fastapi", "starlette", "uvicorn", "sqlite3", "av", "pathlib", "subprocess", "socket", "typer", "rich"}


def imported(path: Path) -> list[str]:
    names: list[str] = []
    for node in ast.walk(ast.parse(path.read_text("utf-8"))):
        if isinstance(node, ast.Import):
            names += [alias.name for alias in node.names]
        elif isinstance(node, ast.ImportFrom):
            assert node.level == 0, f"{path}: relative import"
            names.append(node.module or "")
    return names


@pytest.mark.parametrize("layer", sorted(ALLOWED))
def test_imports_point_one_way(layer: str) -> None:
    files = list((ROOT / layer).rglob("*.py"))
    assert files
    for path in files:
        for name in imported(path):
            parts = name.split(".")
            if parts[0] == "wenditas" and len(parts) > 1 and parts[1] in ALLOWED:
                assert parts[1] == layer or parts[1] in ALLOWED[layer], f"{path.relative_to(ROOT)} imports {name}"


@pytest.mark.parametrize("room", sorted(CORE))
def test_imports_inside_core_point_one_way(room: str) -> None:
    for path in (ROOT / "core" / room).rglob("*.py"):
        for name in imported(path):
            parts = name.split(".")
            if parts[:2] == ["wenditas", "core"] and len(parts) > 2 and parts[2] not in FREE:
                assert parts[2] == room or parts[2] in CORE[room], f"{path.relative_to(ROOT)} imports {name}"


def test_core_does_no_io() -> None:
    for path in (ROOT / "core").rglob("*.py"):
        bad = {name.split(".")[0] for name in imported(path)} & OUTSIDE_CORE
        assert not bad, f"{path.relative_to(ROOT)} imports {bad}"


def test_every_layer_is_known() -> None:
    folders = {p.name for p in ROOT.iterdir() if p.is_dir() and (p / "__init__.py").exists()}
    assert folders == set(ALLOWED)
    assert {p.name for p in (ROOT / "core").iterdir() if p.is_dir() and (p / "__init__.py").exists()} == set(CORE)
