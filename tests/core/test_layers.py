"""What each room of the core may use from outside, and that none of them reads, writes or asks the world.

Which room may use which stands in pyproject.toml and is held by lint-imports; for the front end in
web/src/testing/layers.ts.
"""

import ast
import re
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[2]
CORE = ROOT / "wiretrace"

# Beyond the standard library.
OUTSIDE = {
    "catalogue": {"numpy"},
    "checks": {"numpy", "scipy"},
    "cli": {"click", "numpy", "pydantic"},
    "explain": {"numpy"},
    "faults": {"pydantic"},
    "interchange": {"ezdxf", "pydantic", "reportlab"},
    "instruments": {"pydantic"},
    "layout": set(),
    "library": set(),
    "network": {"numpy", "scipy"},
    "patterns": {"pydantic"},
    "program": set(),
    "sequences": {"pydantic"},
    "simulation": {"numpy"},
    "diagnosis": {"numpy"},
    "document": {"pydantic"},
    "sizing": {"numpy", "pydantic"},
    "training": {"numpy", "pydantic"},
    "transport": {"numpy", "pydantic"},
}
# Modules by which a program reads files, opens connections, starts others, or tells the time.
WORLD = {
    *("asyncio", "ftplib", "glob", "http", "logging", "multiprocessing", "os", "pathlib", "random", "requests"),
    *("shutil", "smtplib", "socket", "sqlite3", "ssl", "subprocess", "tempfile", "threading", "time", "urllib"),
}
ASKS = {"open", "print", "input", "exec", "eval"}


def imported(path: Path) -> Iterator[str]:
    for node in ast.walk(ast.parse(path.read_text("utf-8"))):
        if isinstance(node, ast.Import):
            yield from (name.name.partition(".")[0] for name in node.names)
        elif isinstance(node, ast.ImportFrom) and node.module:
            yield node.module.partition(".")[0]


def rooms() -> set[str]:
    """Folders with a module in them: an earlier checkout may have left others behind."""
    return {path.name for path in CORE.iterdir() if path.is_dir() and any(path.glob("*.py"))}


def test_every_room_is_listed() -> None:
    assert rooms() == set(OUTSIDE)


@pytest.mark.parametrize("room", sorted(OUTSIDE))
def test_a_room_uses_what_is_listed_and_nothing_else(room: str) -> None:
    found = {name for path in (CORE / room).rglob("*.py") for name in imported(path)} - {"wiretrace"}
    outside = {name for name in found if name not in sys.stdlib_module_names}
    assert outside == OUTSIDE[room]
    if room != "cli":
        assert found & WORLD == set()


@pytest.mark.parametrize("room", sorted(set(OUTSIDE) - {"cli"}))
def test_a_room_reads_and_writes_nothing(room: str) -> None:
    called = [
        f"{path.relative_to(ROOT)}:{node.lineno} {node.func.id}"
        for path in (CORE / room).rglob("*.py")
        for node in ast.walk(ast.parse(path.read_text("utf-8")))
        if isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id in ASKS
    ]
    assert called == []


MOST_LINES = 350
MOST_IN_A_FUNCTION = 60
SOURCES = [
    path
    for folder in ("wiretrace", "server", "scripts", "web/src", "tests", "benchmarks")
    for path in (ROOT / folder).rglob("*")
    if path.suffix in {".py", ".ts", ".tsx", ".css"} and ".gen." not in path.name
]


def test_no_file_is_long() -> None:
    assert len(SOURCES) > 250
    lengths = {str(path.relative_to(ROOT)): len(path.read_text("utf-8").splitlines()) for path in SOURCES}
    assert {name: lines for name, lines in lengths.items() if lines > MOST_LINES} == {}


def test_no_function_is_long() -> None:
    long = [
        f"{path.relative_to(ROOT)} {node.name}"
        for path in SOURCES
        if path.suffix == ".py"
        for node in ast.walk(ast.parse(path.read_text("utf-8")))
        if isinstance(node, ast.FunctionDef) and (node.end_lineno or 0) - node.lineno + 1 > MOST_IN_A_FUNCTION
    ]
    assert long == []


def test_sizes_of_type_are_tokens() -> None:
    """Outside the tokens no style and no view names a size of type in pixels."""
    sized = re.compile(r"""font(?:-size)?:[^;]*\b\d[\d.]*px|fontSize="\d""")
    styles = [path for path in SOURCES if path.suffix in {".css", ".tsx"} and path.name != "tokens.css"]
    assert [path.name for path in styles if sized.search(path.read_text("utf-8"))] == []
