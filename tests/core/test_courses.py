"""Courses: where their lines lie, where they stop, and how they thin out on paper."""

import msgspec
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from isometron.document.fresh import new_document
from isometron.document.marks.dividing import fill_face
from isometron.document.model import DocumentError
from isometron.document.store.budget import hold_to_budget, parts_of
from isometron.document.store.files import decode_document, encode_document
from isometron.solve.drawing import solve
from isometron.solve.layers.courses import _left
from isometron.view.placing import place_eye
from isometron.volumes.box import Box
from isometron.volumes.copies import mirrored
from isometron.volumes.courses import MOST_STROKES, courses_of
from isometron.volumes.cut.begin import leaning
from isometron.volumes.cut.profiles import CutBody
from isometron.volumes.marks.face_marks import CourseMark, OpeningMark


def wall(*marks, size=(4000.0, 300.0, 2000.0), **fields):
    return Box(id="w", name="Wall", corner=(-2000.0, 0.0, 0.0), size=size, marks=marks, **fields)


def drawn(volume, eye=None):
    document = msgspec.structs.replace(new_document(), volumes=(volume,))
    document = document if eye is None else msgspec.structs.replace(document, eye=eye)
    return solve(document).of("courses").lines


def test_bricks_lie_where_their_courses_and_bond_say():
    ends = courses_of((wall(CourseMark(face=2, long=240.0, high=71.0, joint=10.0, gap=0.0)),)).ends
    level = ends[np.abs(ends[:, 1, 2] - ends[:, 0, 2]) < 1e-9]
    assert np.allclose(np.sort(level[:, 0, 2]), 81.0 * np.arange(1, len(level) + 1)) and len(level) == 2000 // 81
    joints = ends[np.abs(ends[:, 1, 0] - ends[:, 0, 0]) < 1e-9]
    course = np.round(joints[:, 0, 2] / 81.0).astype(int)
    shift = np.where(course % 2 == 1, 125.0, 0.0)
    off = (joints[:, 0, 0] + 2000.0 - shift) % 250.0
    assert np.minimum(off, 250.0 - off).max() < 1e-6
    assert np.abs(ends[:, :, 1]).max() < 1e-9  # on the face


@pytest.mark.parametrize("pattern", ["bricks", "tiles", "planks", "squares", "slats"])
def test_courses_stop_at_openings_and_at_the_outline(pattern):
    window = OpeningMark(face=2, wide=1000.0, high=800.0)
    ends = courses_of((wall(window, CourseMark(face=2, pattern=pattern, long=300.0, high=100.0, joint=10.0)),)).ends
    middle = ends.mean(axis=1)
    inside = (np.abs(middle[:, 0]) < 499.0) & (np.abs(middle[:, 2] - 1000.0) < 399.0)
    assert len(ends) > 20 and not inside.any()
    gable = CutBody(id="g", name="Gable", corner=(0.0, 0.0, 0.0), size=(2000.0, 300.0, 1000.0), side=leaning(0.5, 0.5),
                    marks=(CourseMark(face="y0", pattern=pattern, long=300.0, high=100.0, joint=10.0),))  # fmt: skip
    ends = courses_of((gable,)).ends
    over = ends[:, :, 2] - 1000.0 + np.abs(ends[:, :, 0] - 1000.0)
    assert len(ends) > 8 and over.max() < 1e-6
    wide = CourseMark(face=2, pattern=pattern, long=300.0, high=100.0, joint=10.0, border=5000.0)
    assert len(courses_of((wall(wide),)).ends) >= 4, "a border that leaves nothing is made narrower"
    framed = msgspec.structs.replace(gable, marks=(msgspec.structs.replace(gable.marks[0], border=90.0),))
    ends = courses_of((framed,)).ends
    over = ends[:, :, 2] - 1000.0 + np.abs(ends[:, :, 0] - 1000.0)
    # The slopes lie at 45 degrees: 90 mm square to them are 90 times the root of two across.
    assert abs(over.max() + 90.0 * np.sqrt(2.0)) < 1e-6 and abs(ends[:, :, 2].min() - 90.0) < 1e-6


@settings(max_examples=30, deadline=None, derandomize=True)
@given(st.floats(0.3, 3.0), st.floats(-70, 70), st.floats(100.0, 3000.0))
def test_lines_never_come_nearer_on_paper_than_they_may_and_thin_out_from_the_far_end(gap, turn, height):
    eye = place_eye(height=height, away=6000.0, turn_deg=turn, viewing_distance=400.0)
    mark = CourseMark(face=2, pattern="planks", high=40.0, joint=0.0, gap=gap)
    lines = drawn(wall(mark, size=(12000.0, 300.0, 2000.0)), eye)
    if not len(lines):
        return
    way = lines.points[:, 2:] - lines.points[:, :2]
    middle = (lines.points[:, 2:] + lines.points[:, :2]) / 2
    for k in range(0, len(middle), 7):
        normal = np.array([-way[k, 1], way[k, 0]]) / np.hypot(*way[k])
        along = way[k] / np.hypot(*way[k])
        for other in range(len(middle)):
            a, b = lines.points[other, :2] - middle[k], lines.points[other, 2:] - middle[k]
            p, q = a @ along, b @ along
            if other == k or (p > 0) == (q > 0):
                continue  # not beside the middle of line k
            off = (a + p / (p - q) * (b - a)) @ normal
            assert abs(off) > 0.9 * gap or abs(off) < 1e-6


@settings(max_examples=30, deadline=None, derandomize=True)
@given(st.floats(0.3, 3.0), st.floats(-70, 70), st.floats(100.0, 3000.0))
def test_a_line_ends_just_where_the_next_that_is_left_comes_as_near_as_it_may(gap, turn, height):
    eye = place_eye(height=height, away=6000.0, turn_deg=turn, viewing_distance=400.0)
    courses = courses_of(
        (wall(CourseMark(face=2, pattern="planks", high=40.0, joint=0.0, gap=gap), size=(12000.0, 300.0, 2000.0)),)
    )
    row, low, high = _left(eye, courses)
    kept = dict(zip(row.tolist(), zip(low, high, strict=True), strict=True))
    for k in range(0, len(courses), 3):
        if courses.rank[k] > 1e6:
            continue
        start, end = courses.ends[k]
        t = np.linspace(0.02, 0.98, 9)
        places = start + t[:, None] * (end - start)
        paper, depth = eye.project(
            np.concatenate([places, places + 1e-3 * (end - start), places + 1e-3 * courses.step[k]])
        )
        if not (depth > 0.0).all():
            continue
        here, along, aside = paper.reshape(3, -1, 2)
        along, aside = along - here, aside - here
        apart = (
            np.abs(aside[:, 0] * along[:, 1] - aside[:, 1] * along[:, 0])
            / np.hypot(*along.T)
            / 1e-3
            * courses.rank[k]
        )
        inside = (t >= kept[k][0]) & (t <= kept[k][1]) if k in kept else np.zeros(len(t), dtype=bool)
        sure = np.abs(apart - gap) > 0.02 * gap
        assert (inside == (apart > gap))[sure].all()


def test_fewer_lines_are_drawn_far_away_and_all_of_them_near():
    mark = CourseMark(face=2, long=240.0, high=71.0, joint=10.0, gap=1.0)
    counts = [len(drawn(wall(mark), place_eye(height=1500.0, away=away, turn_deg=30.0, viewing_distance=400.0))) for away in (6000.0, 60000.0, 240000.0)]  # fmt: skip
    assert counts[0] > 2 * counts[1] > 4 * counts[2]


def test_mirror_images_of_courses_are_mirror_images():
    volume = wall(CourseMark(face=2, long=270.0, high=90.0, joint=0.0))
    for axis in range(3):
        normal = np.eye(3)[axis]
        image = courses_of((mirrored(volume, np.zeros(3), normal),)).ends
        want = courses_of((volume,)).ends * (1.0 - 2.0 * normal)
        keys = lambda ends: {tuple(np.round(np.sort(e.sum(axis=1)), 3)) for e in ends}  # noqa: E731
        assert keys(image) == keys(want)


def test_what_is_finer_than_can_be_drawn_is_made_coarser_and_costs_are_told():
    fine = wall(CourseMark(face=2, long=1.0, high=1.0, joint=0.0))
    assert len(courses_of((fine,))) <= 1.1 * MOST_STROKES
    assert parts_of(fine) >= MOST_STROKES
    document = msgspec.structs.replace(new_document(), volumes=(wall(),))
    filled = fill_face(document, "w", CourseMark(face=2)).document
    assert fill_face(filled, "w", CourseMark(face=2, pattern="tiles")).document.volumes[0].marks == (
        CourseMark(face=2, pattern="tiles"),
    )
    many = msgspec.structs.replace(
        document, volumes=tuple(msgspec.structs.replace(fine, id=f"w{k}") for k in range(30))
    )
    with pytest.raises(DocumentError, match="unfold"):
        hold_to_budget(document, many)
    assert decode_document(encode_document(filled)) == filled
    assert msgspec.json.decode(encode_document(filled))["version"] == 4
