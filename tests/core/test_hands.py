"""Hands on volumes with plain values: what pulling, lifting, turning, putting away and reordering may and may not change."""

import msgspec
import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from isometron.document.edits import add_volume, move_volumes, paste_volumes, reorder_volumes
from isometron.document.eyes.eye_edits import (
    away_from,
    lift_horizon,
    pivot,
    set_viewing_distance,
    step_back_keeping_size,
    turn_of,
    turn_view,
)
from isometron.document.fresh import new_document
from isometron.solve.drawing import solve
from isometron.solve.report import report
from isometron.tools.adjust import adjust_tool
from isometron.tools.handles import Grip, handle_at, handles, turning_circle
from isometron.tools.measure import measure_tool, spot_at
from isometron.tools.pencil import Act, Pencil, ToolContext
from isometron.tools.snapping import level_targets, nearest_snap, size_targets
from isometron.view.placing import horizon_on_sheet
from isometron.view.plan import arm_angles, bearing, plan_points, snapped
from isometron.volumes.box import Box
from tests.strategies import boxes, documents

GRAIN = 0.6
TILTED = new_document(away=9000.0, eye_height=3000.0, tilt_deg=-8.0)


def stroke(drawing, handle, text, ids=("v0",), move=(4.0, 5.0), proportion="free"):
    """One stroke at a handle: press, a little way, a typed figure, Enter."""
    tool = adjust_tool(ToolContext(drawing, GRAIN, proportion), handle, ids)
    next(tool)
    u, v = handle.at
    tool.send(Pencil(Act.PRESS, u, v))
    tool.send(Pencil(Act.MOVE, u + move[0], v + move[1]))
    try:
        preview = tool.send(Pencil(Act.ENTER, u + move[0], v + move[1], text))
    except StopIteration as end:
        return end.value
    raise AssertionError(preview.refusal)


def alone(box):
    """The box alone before the eye."""
    return solve(add_volume(TILTED, msgspec.structs.replace(box, see_through=False)).document)


def seen(box):
    """The same, for random boxes that the eye sees all of."""
    drawing = alone(box)
    assume((drawing.picture.camera[:, 2] > 300.0).all())
    return drawing


@given(boxes(), st.floats(20.0, 2000.0))
def test_pulling_a_face_leaves_the_opposite_face_where_it_is(box, length):
    drawing = seen(box)
    typed = f"{length:.2f}"
    for handle in handles(drawing, 0, GRAIN):
        if handle.grip is not Grip.FACE:
            continue
        try:
            edit = stroke(drawing, handle, typed)
        except AssertionError:
            continue
        if edit is None:
            continue  # a face seen so flat that its direction is a point
        after = solve(edit.document)
        outward = handle.sign * drawing.scene.rotations[0][:, handle.axis]
        before_low = (drawing.scene.vertices @ outward).min()
        assert (after.scene.vertices @ outward).min() == pytest.approx(before_low, abs=1e-4)
        size = list(box.size)
        size[handle.axis] = float(typed)
        assert edit.document.volumes[0].size == pytest.approx(tuple(size))


@given(boxes(), st.floats(0.0, 900.0))
def test_a_typed_lift_is_the_height_of_the_lowest_corner(box, height):
    drawing = seen(box)
    handle = next((h for h in handles(drawing, 0, GRAIN) if h.grip is Grip.LIFT), None)
    assume(handle is not None)
    edit = stroke(drawing, handle, f"{height:.2f}")
    low = solve(edit.document).scene.vertices[:, 2].min()
    assert low == pytest.approx(float(f"{height:.2f}"), abs=1e-4)
    gap = solve(edit.document).scene.vertices - drawing.scene.vertices
    assert np.ptp(gap[:, :2]) == pytest.approx(0.0, abs=1e-6)


@given(boxes(), st.floats(-180.0, 180.0))
def test_a_typed_turn_is_on_the_spot(box, angle):
    drawing = seen(box)
    handle = next(h for h in handles(drawing, 0, GRAIN) if h.grip is Grip.TURN)
    edit = stroke(drawing, handle, f"{angle:.2f}")
    assert edit.document.volumes[0].yaw_deg == pytest.approx(float(f"{angle:.2f}"))
    middles = [d.scene.vertices.mean(axis=0) for d in (drawing, solve(edit.document))]
    assert middles[0] == pytest.approx(middles[1], abs=1e-4)


@pytest.mark.parametrize(("proportion", "expected"), [("ratio", (600, 300, 150)), ("cube", (600, 600, 600))])
def test_proportions_are_kept(proportion, expected):
    box = Box(id="v0", name="B", corner=(0.0, 0.0, 0.0), size=(400.0, 200.0, 100.0))
    drawing = alone(box)
    handle = next(h for h in handles(drawing, 0, GRAIN) if (h.grip, h.axis) == (Grip.FACE, 0))
    assert stroke(drawing, handle, "600", proportion=proportion).document.volumes[0].size == pytest.approx(expected)


@given(boxes(0), boxes(1))
def test_snap_targets_are_where_they_say(one, other):
    drawing = solve(add_volume(add_volume(TILTED, one).document, other).document)
    direction = drawing.scene.rotations[0][:, 0]
    origin = drawing.scene.corners_of(0)[1]
    reach = (drawing.scene.corners_of(1) - origin) @ direction
    targets = level_targets(drawing, {0}, origin, direction)
    assert min(t.length for t in targets) == pytest.approx(reach.min(), abs=1e-3)
    assert max(t.length for t in targets) == pytest.approx(reach.max(), abs=1e-3)
    assert any(t.words == f"middle of {other.name}" for t in targets)
    equal = size_targets(drawing, 0, 0, one.size[0])
    assert sorted(one.size[0] + t.length for t in equal) == pytest.approx(sorted(other.size))
    nearest = nearest_snap(targets, reach.max() + 3.0, 5.0)
    assert nearest is not None and abs(nearest.length - reach.max() - 3.0) <= 5.0
    assert nearest_snap(targets, reach.max() + 50.0, 5.0) is None


def test_handles_are_found_by_nearness():
    drawing = alone(Box(id="v0", name="B", corner=(0.0, 0.0, 0.0), size=(400.0, 300.0, 500.0)))
    found = handles(drawing, 0, GRAIN)
    for handle in found:
        assert handle_at(found, handle.at[0] + 0.3, handle.at[1], 2.0) is handle
    assert handle_at(found, 500.0, 500.0, 2.0) is None
    assert handle_at([], 0.0, 0.0, 2.0) is None
    assert len(turning_circle(drawing, 0)) == 72


@given(documents(least=1))
def test_putting_a_volume_away_is_drawing_without_it(document):
    away = document.volumes[0]
    without = solve(msgspec.structs.replace(document, volumes=document.volumes[1:]))
    put = msgspec.structs.replace(away, put_away=True)
    with_it = solve(msgspec.structs.replace(document, volumes=(put, *document.volumes[1:])))

    def marks(drawing, shift):
        lines = drawing.edges
        rows = np.column_stack([lines.points, lines.role, lines.owner - shift])
        return rows[np.lexsort(np.round(rows, 6).T)]

    assert marks(with_it, 1) == pytest.approx(marks(without, 0), abs=1e-6)
    assert not [f for f in with_it.findings if away.id in f.volumes]
    assert [(f.code, f.volumes) for f in with_it.findings] == [(f.code, f.volumes) for f in without.findings]


@given(documents(least=1), st.integers(0, 5), st.sampled_from([-1, 1]))
def test_reordering_moves_and_never_loses(document, row, by):
    row %= len(document.volumes)
    moved = reorder_volumes(document, [document.volumes[row].id], by).document
    assert sorted(v.id for v in moved.volumes) == sorted(v.id for v in document.volumes)
    place = min(max(row + by, 0), len(document.volumes) - 1)
    assert moved.volumes[place].id == document.volumes[row].id


@given(documents(), documents())
def test_pasted_volumes_have_free_ids_and_the_same_shape(document, source):
    pasted = paste_volumes(document, source.volumes)
    ids = [v.id for v in pasted.document.volumes]
    assert len(set(ids)) == len(ids)
    new = [pasted.document.volume(i) for i in pasted.selection]
    assert [(v.corner, v.size) for v in new] == [(v.corner, v.size) for v in source.volumes]


@given(st.floats(-60.0, 90.0), st.floats(-80.0, 80.0))
def test_lifting_the_horizon_keeps_the_object_in_place(rise, turn):
    box = Box(id="v0", name="B", corner=(-300.0, -200.0, 0.0), size=(600.0, 400.0, 500.0))
    document = add_volume(new_document(turn_deg=turn), box).document
    lifted = lift_horizon(document, rise).document
    places = [d.sheet.from_corner(*d.eye.project(pivot(d))[0][0]) for d in (document, lifted)]
    assert places[0] == pytest.approx(places[1], abs=1e-4)
    heights = [horizon_on_sheet(d.eye, d.sheet) for d in (document, lifted)]
    assert heights[1] - heights[0] == pytest.approx(rise, abs=0.02)


@given(st.floats(150.0, 1500.0))
def test_stepping_back_keeps_the_size_and_pulling_alone_does_not(distance):
    box = Box(id="v0", name="B", corner=(-300.0, -200.0, 0.0), size=(600.0, 400.0, 500.0))
    document = add_volume(new_document(), box).document

    def size(d):
        middle = pivot(d)
        paper, _ = d.eye.project(np.vstack([middle, middle + np.array([0.0, 0.0, 100.0])]))
        return np.hypot(*(paper[1] - paper[0]))

    stepped = step_back_keeping_size(document, distance).document
    assert size(stepped) == pytest.approx(size(document), rel=1e-6)
    assert away_from(stepped) == pytest.approx(away_from(document) * distance / 450.0)
    pulled = set_viewing_distance(document, distance).document
    assert size(pulled) == pytest.approx(size(document) * distance / 450.0, rel=1e-6)


@given(st.floats(-89.0, 89.0), st.floats(-180.0, 180.0))
def test_the_set_square_stays_square(turn, yaw):
    document = turn_view(new_document(turn_deg=turn), yaw).document
    left, right = arm_angles(document.eye, np.eye(3))
    assert right - left == pytest.approx(90.0)
    assert -90.0 <= left <= 0.0 + 1e-9 and -1e-9 <= right <= 90.0
    assert (
        turn_of(document) == pytest.approx((-yaw + 180.0) % 360.0 - 180.0, abs=1e-5) or abs(abs(yaw) - 180.0) < 1e-4
    )
    ahead = np.array([-np.sin(np.radians(yaw)), np.cos(np.radians(yaw)), 0.0])
    assert bearing(document.eye, ahead) == pytest.approx(0.0, abs=1e-4)
    assert bearing(document.eye, np.array([0.0, 0.0, 1.0])) is None
    assert plan_points(document.eye, document.eye.place + 100.0 * ahead[None])[0] == pytest.approx([0, 100], abs=1e-3)


def test_light_snapping_of_angles():
    assert [snapped(a) for a in (14.2, 15.9, 16.4, -29.3, 44.04)] == [15.0, 15.0, 16.4, -30.0, 45.0]


def test_measuring_never_edits_and_reads_what_the_report_says():
    box = Box(id="v0", name="B", corner=(-300.0, -200.0, 0.0), size=(600.0, 400.0, 500.0))
    drawing = solve(add_volume(new_document(), box).document)
    corners = report(drawing)["volumes"][0]["corners"]
    tool = measure_tool(ToolContext(drawing, GRAIN))
    next(tool)
    tool.send(Pencil(Act.PRESS, *corners[4]))
    preview = tool.send(Pencil(Act.PRESS, *corners[5]))
    assert "true 600 mm" in preview.prompt and preview.edit is None and preview.step == 2
    preview = tool.send(Pencil(Act.BACK, *corners[5]))
    assert preview.step == 1
    tool.close()
    sky = spot_at(drawing, 0.0, 150.0, 1.0)
    assert sky is None or sky.words != "ground"


def test_moving_several_keeps_their_arrangement():
    document = TILTED
    for number in range(3):
        box = Box(id=f"v{number}", name=f"B{number}", corner=(500.0 * number, 0.0, 0.0), size=(100.0, 100.0, 100.0))
        document = add_volume(document, box).document
    moved = move_volumes(document, ["v0", "v2"], (10.0, -20.0, 30.0)).document
    shifts = [np.subtract(b.corner, a.corner) for a, b in zip(document.volumes, moved.volumes, strict=True)]
    assert np.array(shifts) == pytest.approx(np.array([[10, -20, 30], [0, 0, 0], [10, -20, 30]]))
