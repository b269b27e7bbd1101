"""Hold the rooms of src/isometron to their order: a room imports only rooms that stand before it."""

from __future__ import annotations

import ast
import sys
from graphlib import CycleError, TopologicalSorter
from pathlib import Path

HOUSE = Path(__file__).parent.parent / "src" / "isometron"
ROOMS = ("geometry", "view", "volumes", "document", "values", "pictures", "starters", "demos", "solve", "construct", "match",
         "critique", "practice", "tools", "surfaces", "cli", "desk")  # fmt: skip
FREE = {"errors", "wording", "assets", "__init__"}
QT_ROOMS = {"desk"}
QT_FILES = {"surfaces/fonts.py", "surfaces/png.py", "surfaces/offscreen.py",
            "surfaces/painters/qt_page.py", "surfaces/painters/qt_strokes.py"}  # fmt: skip
NOT_CALLED = {"utils", "helpers", "manager", "common"}


def imported(tree: ast.AST) -> set[str]:
    """Every module named in an import anywhere in the file, lazy ones included."""
    names = set()
    for node in ast.walk(tree):
        if isinstance(node, ast.Import):
            names |= {alias.name for alias in node.names}
        elif isinstance(node, ast.ImportFrom) and node.module:
            names.add(node.module)
            names |= {f"{node.module}.{alias.name}" for alias in node.names}
    return names


def faults(path: Path) -> list[str]:
    """What is wrong with one file's imports."""
    relative = path.relative_to(HOUSE).as_posix()
    room = relative.split("/")[0] if "/" in relative else None
    found = []
    if path.stem in NOT_CALLED or room in NOT_CALLED:
        found.append(f"{relative}: this name says nothing; name the one thing it does")
    if room is not None and room not in ROOMS and room not in FREE:
        found.append(f"{relative}: the room {room!r} has no place in the order")
    for module in sorted(imported(ast.parse(path.read_text()))):
        parts = module.split(".")
        if parts[0] == "PyQt6" and room not in QT_ROOMS and relative not in QT_FILES:
            found.append(f"{relative}: imports {module}; only the desk and the painters may")
        if parts[0] != "isometron" or len(parts) < 2 or parts[1] in FREE or relative == "__main__.py":
            continue
        if room in ROOMS and parts[1] in ROOMS and ROOMS.index(parts[1]) > ROOMS.index(room):
            found.append(f"{relative}: imports {module}, and {parts[1]!r} stands after {room!r}")
        if parts[1] == "desk" and room != "desk":
            found.append(f"{relative}: imports {module}; nothing imports the desk")
    return found


def circles(files: list[Path]) -> list[str]:
    """Modules that import each other in a circle, lazy imports and those for types included."""
    names = {path: ".".join(("isometron", *path.relative_to(HOUSE).with_suffix("").parts)) for path in files}
    graph = {
        name: {module for module in imported(ast.parse(path.read_text())) if module in names.values()} - {name}
        for path, name in names.items()
    }
    try:
        tuple(TopologicalSorter(graph).static_order())
    except CycleError as error:
        return ["a circle of imports: " + " > ".join(error.args[1])]
    return []


def main() -> int:
    files = sorted(HOUSE.rglob("*.py"))
    found = sorted({fault for path in files for fault in faults(path)}) + circles(files)
    if len(files) < 20:
        found.append(f"only {len(files)} files found below {HOUSE}: is the house elsewhere?")
    print("\n".join(found) or f"Room order holds in {len(files)} files.")
    return 1 if found else 0


if __name__ == "__main__":
    sys.exit(main())
