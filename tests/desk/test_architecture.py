"""The examples of docs/architecture.md: each is one file and one line, and works."""

import re
import sys
import types
from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QPushButton

from isometron.demos.catalogue import demo
from isometron.desk.board.overlays.register import OVERLAYS
from isometron.desk.deeds import deed as deeds
from isometron.desk.deeds.register import DEEDS
from isometron.desk.deeds.tools import TOOLS
from isometron.desk.stages import panel
from isometron.solve.again import Again
from isometron.solve.drawing import solve
from isometron.solve.layers.register import LAYERS
from isometron.surfaces.export import EXPORTS, export_bytes
from isometron.surfaces.painters.svg import svg_text

PAGE = Path(__file__).parents[2] / "docs" / "architecture.md"
EXAMPLES = dict(re.findall(r"```python (\w+)\n(.*?)```", PAGE.read_text(), re.DOTALL))


@pytest.fixture
def example(monkeypatch):
    def made(name):
        module = types.ModuleType(f"example_{name}")
        monkeypatch.setitem(sys.modules, module.__name__, module)
        exec(compile(EXAMPLES[name], f"{PAGE} ({name})", "exec"), vars(module))
        return module

    return made


def test_every_example_of_the_page_is_tried():
    assert set(EXAMPLES) == {"layer", "overlay", "deed", "tool", "stage", "export"}
    for path in re.findall(r"`((?:\w+/)+\w+\.py)`", PAGE.read_text()):
        root = PAGE.parents[1]
        assert (root / "src" / "isometron" / path).exists() or (root / path).exists(), path


def test_a_layer(example, monkeypatch):
    monkeypatch.setitem(LAYERS, "middle", example("layer").MIDDLE)
    document = demo("tea-cart")
    drawing = solve(document)
    assert drawing.of("middle").lines.points.tolist() == [[-3.0, 0.0, 3.0, 0.0], [0.0, -3.0, 0.0, 3.0]]
    assert "M207.0000" in svg_text(drawing), "it is on paper without a word to any painter"
    moved = Again(drawing).solve(document)
    assert np.array_equal(moved.of("middle").lines.points, drawing.of("middle").lines.points)


def test_an_overlay(example, desk, monkeypatch):
    hand = desk(demo("tea-cart"))
    before = hand.board.grab().toImage().pixelColor(0, 0)
    monkeypatch.setitem(OVERLAYS, "frame", example("overlay").FRAME)
    hand.board.update()
    after = hand.board.grab().toImage().pixelColor(0, 0)
    assert after.red() > before.red() + 60 and after.red() > after.green() + 60


def test_a_deed(example, desk, monkeypatch):
    monkeypatch.setitem(DEEDS, "select_nothing", example("deed").NOTHING)
    hand = desk(demo("tea-cart"))
    action = hand.desk.actions_by_deed["select_nothing"]
    assert not action.isEnabled() and action.shortcut().toString() == "Ctrl+Shift+A"
    hand.session.select(("body",))
    assert action.isEnabled() and deeds.key_words("Ctrl+Shift+A") == "Ctrl+Shift+A"
    hand.key(Qt.Key.Key_A, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
    assert hand.session.selection == ()


def test_a_tool(example, desk, monkeypatch):
    monkeypatch.setitem(TOOLS, "step", example("tool").STEP)
    hand = desk(demo("tea-cart"))
    button = next(
        b for b in hand.desk.stages.body("Block").findChildren(QPushButton) if b.text().startswith("Step off")
    )
    button.click()
    assert hand.board.has_tool and button.isChecked()


def test_a_stage(example, desk, monkeypatch):
    light = example("stage").LIGHT
    monkeypatch.setattr(panel, "STAGES", (*panel.STAGES, light))
    hand = desk(demo("tea-cart"))
    names = [b.text() for b in hand.desk.stages.findChildren(QPushButton)]
    assert any("8 Light" in name for name in names), names
    hand.desk.stages.open("Light")
    assert hand.desk.stages.opened_name == "Light" and hand.desk.stages.body("Light").isVisible()


def test_an_export(example, monkeypatch):
    monkeypatch.setitem(EXPORTS, ".txt", example("export")._txt)
    drawing = solve(demo("tea-cart"))
    lines = export_bytes(drawing, Path("sheet.txt")).decode().splitlines()
    assert len(lines) == len(drawing.marks.lines) and all(len(line.split()) == 4 for line in lines)
