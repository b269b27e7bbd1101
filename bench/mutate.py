"""Small mutations of the program, and whether a test notices: python bench/mutate.py [N] [ROOM] [--seed S].

First every test is run once and it is written down which lines it runs (coverage by context). Then N mutants are made, by turns
of the rooms, seeded: a comparison, an operator, a number, a condition is changed in one place. Of the tests that run the line,
the quickest are run until one fails or the time for a mutant is up. Survivors are printed by room.
"""

from __future__ import annotations

import argparse
import ast
import json
import os
import random
import shutil
import sqlite3
import subprocess
import sys
import tempfile
from collections import defaultdict
from collections.abc import Iterator
from pathlib import Path

ROOT = Path(__file__).parent.parent
HOUSE = ROOT / "src" / "isometron"


def _compiled(path: Path) -> bool:
    """Whether a file is compiled when the program is installed: a mutant of it must be built first."""
    return path.name.endswith("_loops.py") or path.parent.name == "sight"


BUDGET, SECONDS = 20.0, 120.0
"""Seconds of tests for one mutant, as they took when all were run, and until one that no longer ends is given up."""
KEPT = ROOT / "build" / "mutate"
OTHERWISE = {"cli": ["tests/core/test_command_line.py"]}
"""What is run for lines that no test is seen to run: these run in processes of their own."""
LOOPS = [
    "tests/core/test_loops.py",
    "tests/core/test_marks.py",
    "tests/core/test_raster.py",
    "tests/core/test_rounds.py",
]
"""What is run for compiled files, whose lines nobody counts."""

COMPARISONS = {ast.Lt: ast.LtE, ast.LtE: ast.Lt, ast.Gt: ast.GtE, ast.GtE: ast.Gt, ast.Eq: ast.NotEq, ast.NotEq: ast.Eq,
               ast.Is: ast.IsNot, ast.IsNot: ast.Is, ast.In: ast.NotIn, ast.NotIn: ast.In}  # fmt: skip
OPERATORS = {ast.Add: ast.Sub, ast.Sub: ast.Add, ast.Mult: ast.Div, ast.Div: ast.Mult, ast.BitAnd: ast.BitOr,
             ast.BitOr: ast.BitAnd, ast.Mod: ast.Mult, ast.Pow: ast.Mult}  # fmt: skip


def places(tree: ast.Module) -> Iterator[tuple[ast.AST, str]]:
    """Yield nodes inside functions that can be changed, and how."""
    for function in ast.walk(tree):
        if not isinstance(function, ast.FunctionDef):
            continue
        for statement in function.body:
            for node in ast.walk(statement):
                if isinstance(node, ast.Compare) and type(node.ops[0]) in COMPARISONS:
                    yield node, "comparison"
                elif isinstance(node, ast.BinOp) and type(node.op) in OPERATORS:
                    yield node, "operator"
                elif isinstance(node, ast.BoolOp):
                    yield node, "and or"
                elif isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.Not):
                    yield node, "not"
                elif isinstance(node, ast.If | ast.IfExp):
                    yield node, "condition"
                elif isinstance(node, ast.Constant) and type(node.value) in (int, float, bool):
                    yield node, "number"


def mutated(node: ast.AST, how: str) -> None:
    """Change a node in place."""
    if isinstance(node, ast.Compare):
        node.ops[0] = COMPARISONS[type(node.ops[0])]()
    elif isinstance(node, ast.BinOp):
        node.op = OPERATORS[type(node.op)]()
    elif isinstance(node, ast.BoolOp):
        node.op = ast.Or() if isinstance(node.op, ast.And) else ast.And()
    elif isinstance(node, ast.UnaryOp):
        node.op, node.operand = ast.UAdd(), ast.Call(ast.Name("bool", ast.Load()), [node.operand], [])
    elif isinstance(node, ast.If | ast.IfExp):
        node.test = ast.UnaryOp(ast.Not(), node.test)
    elif isinstance(node, ast.Constant):
        value = node.value
        node.value = (
            (not value) if isinstance(value, bool) else value + 1 if isinstance(value, int) else 1.1 * value + 0.01
        )


def environment(root: Path) -> dict[str, str]:
    """The sources of a copy are found before those that are installed."""
    own = {"QT_QPA_PLATFORM": "offscreen", "HYPOTHESIS_STORAGE_DIRECTORY": str(KEPT / "hypothesis"), "PYTHONPATH": str(root / "src")}  # fmt: skip
    return os.environ | own


def who_runs_what() -> None:
    """Run every test once, and keep which lines each runs and how long it takes."""
    KEPT.mkdir(parents=True, exist_ok=True)
    report = KEPT / "durations.txt"
    command = [sys.executable, "-m", "pytest", "-n", "2", "--dist", "loadfile", "-q", "--cov=isometron", "--cov-context=test",
               "--cov-report=", "--durations=0", "--durations-min=0", "-p", "no:randomly"]  # fmt: skip
    done = subprocess.run(command, cwd=ROOT, env=environment(ROOT) | {"COVERAGE_FILE": str(KEPT / "coverage")}, capture_output=True, text=True)  # fmt: skip
    report.write_text(done.stdout)
    print(done.stdout.strip().splitlines()[-1], flush=True)


def tests_of() -> dict[tuple[str, int], list[str]]:
    """Return the tests that run each line: of every file in turn the quickest that is left, for `BUDGET` seconds in all."""
    from coverage.numbits import numbits_to_nums

    took: dict[str, float] = defaultdict(lambda: 1.0)
    for line in (KEPT / "durations.txt").read_text().splitlines():
        parts = line.split()
        if len(parts) == 3 and parts[1] == "call" and parts[0].endswith("s"):
            took[parts[2]] = float(parts[0][:-1])
    found: dict[tuple[str, int], set[str]] = defaultdict(set)
    rows = sqlite3.connect(KEPT / "coverage").execute(
        "select file.path, context.context, line_bits.numbits from line_bits join file on file.id = file_id "
        "join context on context.id = context_id where context.context like '%|run'"
    )
    for path, context, bits in rows:
        name = str(Path(path).resolve())
        for line in numbits_to_nums(bits):
            found[name, line].add(context.removesuffix("|run"))
    return {key: within_budget(names, took) for key, names in found.items()}


def within_budget(names: set[str], took: dict[str, float]) -> list[str]:
    """Return tests for a budget of seconds, files by turns."""
    files: dict[str, list[str]] = defaultdict(list)
    for name in sorted(names, key=lambda one: (-took[one], one)):
        files[name.split("::")[0]].append(name)
    chosen, spent = [], 0.0
    while files and spent < BUDGET:
        for file in sorted(files, key=lambda one: took[files[one][-1]]):
            chosen.append(files[file].pop())
            spent += took[chosen[-1]]
            if not files[file]:
                del files[file]
            if spent >= BUDGET:
                break
    return chosen


def built(copy: Path) -> bool:
    """Build the compiled loops of a copy anew."""
    done = subprocess.run([sys.executable, "setup.py", "-q", "build_ext", "--inplace"], cwd=copy, capture_output=True)
    return done.returncode == 0


def copied() -> Path:
    """Return a copy of the project whose sources can be changed."""
    copy = Path(tempfile.mkdtemp()) / "copy"
    shutil.copytree(ROOT, copy, ignore=shutil.ignore_patterns(".venv", ".git", "screenshots", "mutate"))
    return copy


def noticed(copy: Path, path: Path, text: str, names: list[str]) -> bool:
    """Whether a test fails with a changed source in place of its own."""
    target = copy / path.relative_to(ROOT)
    original = target.read_text()
    target.write_text(text)
    compiled = _compiled(path)
    try:
        if compiled and not built(copy):
            return True
        command = [sys.executable, "-m", "pytest", "-x", "-q", "-p", "no:cacheprovider", *names]
        done = subprocess.run(
            command,
            cwd=copy,
            env=environment(copy),
            capture_output=True,
            timeout=SECONDS,
        )
        return done.returncode != 0
    except subprocess.TimeoutExpired:
        return True  # a loop that no longer ends is noticed
    finally:
        target.write_text(original)
        if compiled:
            built(copy)


def candidates(
    room: str, tests: dict[tuple[str, int], list[str]], dice: random.Random
) -> list[tuple[Path, int, int]]:
    """Return (file, which of its places, line) of a room, in a random order: those that any test runs or none does."""
    found = []
    for path in sorted((HOUSE / room).rglob("*.py")):
        for number, (node, _) in enumerate(places(ast.parse(path.read_text()))):
            found.append((path, number, node.lineno))
    dice.shuffle(found)
    return found


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("number", nargs="?", type=int, default=100)
    parser.add_argument("room", nargs="?")
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--again", action="store_true", help="use what is kept of who runs what")
    options = parser.parse_args()
    if not (options.again and (KEPT / "coverage").exists()):
        who_runs_what()
    tests, dice = tests_of(), random.Random(options.seed)
    rooms = (
        [options.room] if options.room else sorted(p.name for p in HOUSE.iterdir() if (p / "__init__.py").exists())
    )
    waiting = {room: candidates(room, tests, dice) for room in rooms}
    score: dict[str, list[int]] = {room: [0, 0] for room in rooms}
    survivors = []
    copy = copied()
    for turn in range(options.number):
        left = [room for room in rooms if waiting[room]]
        if not left:
            break
        room = left[turn % len(left)]
        path, number, line = waiting[room].pop()
        tree = ast.parse(path.read_text())
        node, how = list(places(tree))[number]
        before = ast.unparse(node).splitlines()[0][:60]
        mutated(node, how)
        names = LOOPS if _compiled(path) else tests.get((str(path.resolve()), line)) or OTHERWISE.get(room, [])
        caught = bool(names) and noticed(copy, path, ast.unparse(ast.fix_missing_locations(tree)), names)
        score[room][0] += caught
        score[room][1] += 1
        if not caught:
            survivors.append(
                f"{path.relative_to(HOUSE)}:{line} {how}: {before}" + ("" if names else " (no test runs it)")
            )
            print("survived", survivors[-1], flush=True)
    for room, (caught, tried) in score.items():
        if tried:
            print(f"{room:<12} {caught:>3} of {tried:<3} {100 * caught / tried:.0f} %")
    caught, tried = (sum(own[k] for own in score.values()) for k in (0, 1))
    print(f"all          {caught:>3} of {tried:<3} {100 * caught / max(tried, 1):.0f} %")
    (KEPT / "survivors.json").write_text(json.dumps(survivors, indent=1))
    shutil.rmtree(copy.parent)
    return 0


if __name__ == "__main__":
    sys.exit(main())
