"""The house as a newcomer finds it."""

import ast
import re
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[1]
SOURCES = [path for path in (ROOT / "src/uvren").rglob("*.py") if "migrations" not in path.parts]
STAGES = {"session", "morning", "reports", "athlete", "return_", "season", "squad", "week", "club",
          "field"}  # fmt: skip


def lengths(path):
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.FunctionDef):
            yield node.name, (node.end_lineno or node.lineno) - node.lineno + 1


def test_no_function_is_longer_than_sixty_lines():
    long = [f"{path.name}: {name} ({lines})" for path in SOURCES for name, lines in lengths(path) if lines > 60]
    assert long == []


@pytest.mark.parametrize("floor", ["services", "web"])
def test_a_stage_has_the_same_name_on_every_floor(floor):
    folders = {path.name for path in (ROOT / "src/uvren" / floor).iterdir() if path.is_dir()} - {"__pycache__"}
    assert folders >= STAGES
    assert folders - STAGES <= {"day", "files"}


def test_sql_stands_in_the_store_only():
    spoken = {"select", "update", "delete", "insert", "func", "text", "or_", "and_", "tuple_"}
    found = [
        f"{path.name}: {alias.name}"
        for path in SOURCES
        if "store" not in path.parts
        for node in ast.walk(ast.parse(path.read_text()))
        if isinstance(node, ast.ImportFrom) and (node.module or "").startswith("sqlalchemy")
        for alias in node.names
        if alias.name in spoken
    ]
    assert found == []


def test_every_module_says_what_it_is_for():
    silent = [str(path) for path in SOURCES if not ast.get_docstring(ast.parse(path.read_text()))]
    assert silent == []


@pytest.mark.parametrize("page", ["README.md", "CONTRIBUTING.md", "docs/method.md", "docs/operate.md"])
def test_what_a_page_names_is_there(page):
    """Paths in backticks: from the root, or as a folder of the program or the screens has them."""
    roots = [ROOT, ROOT / "src/uvren", ROOT / "frontend/src"]
    gone = [
        named
        for named in re.findall(r"`([a-z_]+/[\w./]+)`", (ROOT / page).read_text())
        if not named.startswith(("var/", "frontend/node_modules", "frontend/dist"))
        and not any((root / named).exists() for root in roots)
    ]
    assert gone == []
