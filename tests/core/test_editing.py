"""Edits, history and the eye's edits: values in, values out."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from isometron.demos.catalogue import demo
from isometron.document.edits import (
    add_volume,
    change_volume,
    delete_volumes,
    duplicate_volumes,
    resize_volume,
    turn_volume,
)
from isometron.document.eyes.eye_edits import (
    away_from,
    move_horizon,
    pivot,
    raise_eye,
    set_viewing_distance,
    step_to,
    tilt_view,
    turn_object,
    turn_of,
)
from isometron.document.fresh import new_document
from isometron.document.history import History
from isometron.document.model import DocumentError
from isometron.document.store.files import encode_document
from isometron.solve.drawing import solve
from isometron.view.placing import horizon_on_sheet
from isometron.view.vanishing import point_count

CART = demo("tea-cart")

STEPS = (
    lambda d, n: resize_volume(d, d.volumes[n % len(d.volumes)].id, n % 3, 100.0 + n),
    lambda d, n: turn_volume(d, d.volumes[n % len(d.volumes)].id, float(n)),
    lambda d, n: duplicate_volumes(d, [d.volumes[n % len(d.volumes)].id]),
    lambda d, n: change_volume(d, d.volumes[n % len(d.volumes)].id, "rename", name=f"Part {n}"),
    lambda d, n: delete_volumes(d, [d.volumes[n % len(d.volumes)].id] if len(d.volumes) > 3 else []),
    lambda d, n: raise_eye(d, 900.0 + n),
    lambda d, n: turn_object(d, float(n)),
)


@given(st.lists(st.tuples(st.integers(0, len(STEPS) - 1), st.integers(0, 90)), max_size=15))
def test_undo_all_and_redo_all_byte_for_byte(steps):
    history = History.of(CART)
    for which, number in steps:
        history.do(STEPS[which](history.document, number))
    last = encode_document(history.document)
    while history.undo():
        pass
    assert encode_document(history.document) == encode_document(CART)
    assert not history.changed
    while history.redo():
        pass
    assert encode_document(history.document) == last


def test_an_edit_that_changes_nothing_leaves_no_step():
    history = History.of(CART)
    assert not history.do(resize_volume(CART, "body", 0, 1800.0))
    assert history.undo_name is None
    history.do(resize_volume(CART, "body", 0, 1700.0))
    assert history.undo_name == "resize Body"
    history.undo()
    assert history.redo_name == "resize Body"


def test_turning_is_about_the_middle_and_comes_back():
    turned = turn_volume(CART, "body", 30.0).document
    back = turn_volume(turned, "body", 0.0).document
    middle = [solve(d).scene.corners_of(1).mean(axis=0) for d in (CART, turned)]
    assert middle[0] == pytest.approx(middle[1], abs=1e-5)
    assert back.volume("body").corner == pytest.approx(CART.volume("body").corner, abs=1e-5)


def test_duplicates_stand_beside_with_new_names():
    edit = duplicate_volumes(CART, ["wheel-front", "body"])
    assert [edit.document.volume(i).name for i in edit.selection] == ["Body 2", "Front wheel 2"]
    assert edit.document.volume(edit.selection[0]).corner[0] == pytest.approx(40.0 + 1800.0)
    with pytest.raises(DocumentError, match="already has a volume with the id 'body'"):
        add_volume(CART, CART.volume("body"))


@pytest.mark.parametrize(
    "edit",
    [
        lambda d: raise_eye(d, 2600.0),
        lambda d: tilt_view(d, -20.0),
        lambda d: step_to(d, 3000.0),
        lambda d: turn_object(d, 20.0),
        lambda d: set_viewing_distance(d, 300.0),
    ],
    ids=["height", "tilt", "away", "turn", "viewing distance"],
)
def test_the_object_keeps_its_place_on_the_sheet(edit):
    changed = edit(CART).document
    places = []
    for document in (CART, changed):
        u, v = document.eye.project(pivot(document))[0][0]
        places.append(document.sheet.from_corner(u, v))
    assert places[0] == pytest.approx(places[1], abs=1e-5)


def test_eye_fields_say_what_was_set():
    assert turn_of(turn_object(CART, 20.0).document) == pytest.approx(20.0)
    assert away_from(step_to(CART, 3000.0).document) == pytest.approx(3000.0)
    moved = move_horizon(tilt_view(CART, 10.0).document, 100.0).document
    assert horizon_on_sheet(moved.eye, moved.sheet) == pytest.approx(100.0)
    with pytest.raises(DocumentError, match="at least 10 mm"):
        step_to(CART, 0.0)


def test_one_two_and_three_point_are_one_engine():
    counts = {}
    for turn, tilt in ((0.0, 0.0), (30.0, 0.0), (30.0, -15.0), (0.0, -15.0)):
        document = new_document(turn_deg=turn, tilt_deg=tilt)
        counts[turn, tilt] = point_count(document.eye, np.eye(3))
    assert counts == {(0.0, 0.0): 1, (30.0, 0.0): 2, (30.0, -15.0): 3, (0.0, -15.0): 2}
