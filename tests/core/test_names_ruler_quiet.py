"""What version 5 of the file added: names of vanishing points, the ruler, warnings told to be quiet."""

import re

import msgspec
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from isometron.construct.schools import construct
from isometron.demos.catalogue import demo
from isometron.document.edits import change_document, paste_volumes
from isometron.document.eyes.eye_edits import raise_eye, turn_object
from isometron.document.eyes.point_names import name_point, point_word
from isometron.document.fresh import new_document
from isometron.document.hushing import hush
from isometron.document.joining import join
from isometron.document.lengths.ruler import DIVISIONS, Ruler, on_ruler
from isometron.document.lengths.units import parse_length
from isometron.document.model import DocumentError
from isometron.document.store.files import decode_document, encode_document, least_version
from isometron.solve.drawing import solve
from isometron.solve.showing import level_words
from isometron.view.vanishing import vanishing
from isometron.volumes.box import Box
from isometron.volumes.relations import Repeat

CART = demo("tea-cart")


def right(document):
    return vanishing(document.eye, (1.0, 0.0, 0.0)).at


@given(st.floats(10.0, 80.0), st.floats(200.0, 2500.0))
def test_a_name_goes_where_its_point_goes(turn, height):
    named = name_point(CART, right(CART), "quay").document
    moved = raise_eye(turn_object(named, turn).document, height).document
    assert point_word(moved, right(moved), "R") == "quay"
    assert point_word(moved, vanishing(moved.eye, (0.0, 1.0, 0.0)).at, "L") == "L"


def test_names_are_one_each_and_are_taken_away_by_nothing():
    other = vanishing(CART.eye, (0.0, 1.0, 0.0)).at
    named = name_point(CART, right(CART), " quay ").document
    with pytest.raises(DocumentError, match="Another vanishing point"):
        name_point(named, other, "quay")
    assert name_point(named, right(CART), "").document.points == ()
    assert [p.name for p in name_point(named, right(CART), "hall").document.points] == ["hall"]


def test_worksheets_speak_of_points_by_their_names():
    named = name_point(CART, right(CART), "quay").document
    plain, own = (construct(document, "counter", "measuring") for document in (CART, named))
    letter = {spot.name: spot for step in plain.steps for spot in step.points}
    mine = {spot.name: spot for step in own.steps for spot in step.points}
    (old,) = (name for name in letter if name not in mine)
    assert old in ("VP L", "VP R") and mine["VP quay"].at == letter[old].at
    assert not any(re.search(rf"{old}\\b", step.sentence) for step in own.steps)
    assert any("VP quay" in step.sentence for step in own.steps[2:])


@given(st.floats(0.0, 900.0), st.sampled_from([(unit, part) for unit in DIVISIONS for part in DIVISIONS[unit]]))
def test_a_length_is_read_to_the_nearest_division(mm, engraved):
    unit, division = engraved
    ruler = Ruler(unit=unit, division=division)
    read = parse_length(on_ruler(mm, ruler), "mm")
    assert abs(read - mm) <= division / 2 + 1e-6
    assert abs(read / division - round(read / division)) < 1e-6


@pytest.mark.parametrize("school", ["plan", "measuring", "diagonal"])
@pytest.mark.parametrize("long", [150.0, 300.0, 600.0])
def test_lines_longer_than_the_ruler_get_marks_that_lie_on_them_within_its_reach(school, long):
    document = change_document(CART, "ruler", ruler=Ruler(length=long, kind="clear")).document
    free, done = construct(CART, "counter", school), construct(document, "counter", school)
    told = 0
    for bare, step in zip(free.steps, done.steps, strict=True):
        marks = [spot for spot in step.points if spot.name.startswith("way ")]
        lengths = np.hypot(*(step.lines[:, 2:] - step.lines[:, :2]).T) if len(step.lines) else np.zeros(0)
        assert bool(marks) == bool((lengths > long - 10.0).any())
        assert len(bare.points) == len(step.points) - len(marks)
        for line in step.lines[lengths > long - 10.0]:
            along = (line[2:] - line[:2]) / np.hypot(*(line[2:] - line[:2]))
            own = sorted(
                float((np.array(m.at) - line[:2]) @ along) for m in marks
                if abs((m.u - line[0]) * along[1] - (m.v - line[1]) * along[0]) < 1e-6
            )  # fmt: skip
            stops = [0.0, *own, float(np.hypot(*(line[2:] - line[:2])))]
            assert max(np.diff(stops)) <= long - 10.0 + 1e-6
            told += 1
        assert ("longer than the ruler" in step.sentence) == bool(marks)
    assert told > 0 or long > 500.0
    assert all("way " not in spot.name for step in free.steps for spot in step.points)


def test_quiet_is_per_volume_and_kind_and_comes_back():
    floating = Box(id="lamp", name="Lamp", size=(100.0, 100.0, 100.0), corner=(0.0, 0.0, 900.0))
    sunk = Box(id="crate", name="Crate", size=(400.0, 400.0, 400.0), corner=(1000.0, 0.0, 0.0))
    other = Box(id="tub", name="Tub", size=(400.0, 400.0, 400.0), corner=(1200.0, 0.0, 0.0))
    document = paste_volumes(new_document(), (floating, sunk, other)).document

    def codes(drawn):
        return {(finding.code, finding.volumes) for finding in drawn}

    loud = codes(solve(document).findings)
    assert {("floating", ("lamp",)), ("sharing-space", ("crate", "tub"))} <= loud
    hushed = document
    for code, ids in (("floating", ("lamp",)), ("sharing-space", ("crate", "tub"))):
        hushed = hush(hushed, code, ids, quiet=True).document
    assert hushed.volume("lamp").hangs and hushed.volume("crate").quiet == ("sharing-space",)
    drawing = solve(hushed)
    assert codes(drawing.quiet_findings) == {("floating", ("lamp",)), ("sharing-space", ("crate", "tub"))}
    assert codes(drawing.findings) == loud - codes(drawing.quiet_findings)
    assert least_version(hushed) == 5 and decode_document(encode_document(hushed), "x") == hushed
    both = hush(hushed, "sharing-space", ("tub", "crate"), quiet=True).document
    assert both.volume("tub").quiet == ("sharing-space",)
    back = hush(both, "sharing-space", ("crate", "tub"), quiet=False).document
    assert ("sharing-space", ("crate", "tub")) in codes(solve(back).findings) and least_version(back) == 1


def stack(**fields):
    base = Box(id="base", name="Base", size=(500.0, 500.0, 200.0), corner=(0.0, 0.0, 0.0))
    thing = Box(id="thing", name="Thing", size=(100.0, 100.0, 100.0), corner=(0.0, 0.0, 0.0))
    return paste_volumes(new_document(), (base, msgspec.structs.replace(thing, **fields))).document


@pytest.mark.parametrize(
    ("fields", "floats"),
    [
        ({"corner": (900.0, 0.0, 400.0)}, True),
        ({"corner": (500.0, 0.0, 100.0)}, False),  # touches sideways
        (
            {"corner": (900.0, 0.0, 0.0), "copies": (Repeat(along="high", count=3, pitch=300.0),)},
            False,
        ),  # copies of what stands
        ({"corner": (900.0, 0.0, 50.0), "copies": (Repeat(along="high", count=3, pitch=300.0),)}, True),
    ],
)
def test_floats_is_said_only_of_what_nothing_holds(fields, floats):
    found = {finding.volumes for finding in solve(stack(**fields)).findings if finding.code == "floating"}
    assert found == ({("thing",)} if floats else set())


def test_what_is_joined_to_something_that_stands_does_not_float():
    hung = join(stack(corner=(900.0, 0.0, 400.0)), "thing", "base").document
    assert not [f for f in solve(hung).findings if f.code == "floating"]


def test_what_hangs_by_intent_holds_what_touches_it():
    lamp = stack(corner=(900.0, 0.0, 400.0), hangs=True)
    shade = Box(id="shade", name="Shade", size=(100.0, 100.0, 50.0), corner=(900.0, 0.0, 350.0))
    assert not [f for f in solve(paste_volumes(lamp, (shade,)).document).findings if f.code == "floating"]


def test_above_on_and_below_are_told_for_each_row_of_rows():
    cube = Box(
        id="c", name="Cube", size=(300.0, 300.0, 300.0), corner=(0.0, 0.0, 0.0), hangs=True,
        copies=(Repeat(along="long", count=3, pitch=600.0), Repeat(along="high", count=3, pitch=1350.0)),
    )  # fmt: skip
    words = level_words(solve(paste_volumes(new_document(), (cube,)).document), 0).splitlines()
    assert ["below eye level" in words[0], "across eye level" in words[1], "above eye level" in words[2]] == [
        True
    ] * 3
    assert "row 3 of 3" in words[2] and "from 1350 mm to 1650 mm" in words[1]


def test_files_are_written_in_the_lowest_version_that_holds_them():
    named = name_point(CART, right(CART), "quay").document
    for changed in (named, change_document(CART, "r", ruler=Ruler()).document):
        data = encode_document(changed)
        assert msgspec.json.decode(data)["version"] == 5 and decode_document(data, "x") == changed
    old = msgspec.json.decode(encode_document(CART))
    assert old["version"] == 4 and not {"points", "ruler"} & set(old)
    assert decode_document(msgspec.json.encode(old), "x") == CART
