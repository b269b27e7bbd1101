"""The lessons of the handbook work as they are written: the deeds that make their pictures, at a real window."""

import importlib.util
from pathlib import Path

import pytest

from isometron.demos.catalogue import demo
from isometron.document.fresh import new_document
from isometron.document.pictures.placing import in_place
from isometron.volumes.cut.profiles import CutBody
from isometron.volumes.marks.face_marks import CourseMark, OpeningMark

ROOT = Path(__file__).parents[2]


@pytest.fixture(scope="module")
def lessons():
    spec = importlib.util.spec_from_file_location("lessons", ROOT / "docs" / "lessons.py")
    made = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(made)
    return made


def test_a_kiosk_step_by_step(home, desk, lessons):
    hand, looks, said = desk(new_document(away=6500.0, eye_height=1650.0), size=(1120, 720)), [], []
    hand.session.said.connect(lambda words, caution: caution and said.append(words))
    lessons.form_lesson(hand.desk, looks.append)
    walls, roof = hand.session.document.volumes
    assert looks == ["form-1", "form-2", "form-3"]
    assert all("2297.6" in words for words in said), "the roof says how high the walls become, and nothing is refused"
    assert isinstance(walls, CutBody) and walls.wall == 60.0 and walls.size[:2] == (2200.0, 1400.0)
    hatch, door, *planks = walls.marks
    assert isinstance(hatch, OpeningMark) and (hatch.wide, hatch.high, hatch.sill) == (1300.0, 800.0, 80.0)
    assert isinstance(door, OpeningMark) and (door.wide, door.high, door.sill) == (700.0, 1800.0, 0.0)
    assert len(planks) == 2 and all(isinstance(mark, CourseMark) and mark.pattern == "planks" for mark in planks)
    assert roof.joined is not None and roof.joined.to == walls.id


def test_a_photograph_step_by_step(home, desk, lessons):
    hand, looks = desk(demo("market-snapshot"), size=(1120, 720)), []
    picture = hand.session.document.pictures[0]

    def look(name):
        document = hand.session.document
        looks.append((name, document.eye.position[2], bool(hand.session.drawing.of("carried").pictures)))

    lessons.photograph_lesson(hand.desk, look)
    names, heights, carried = zip(*looks, strict=True)
    assert names == ("photograph-1", "photograph-2", "photograph-3")
    assert heights[1:] == (2600.0, 2600.0) and carried == (False, True, False)
    assert in_place(hand.session.document, picture)
