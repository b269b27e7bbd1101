"""Every school carried out over random views: its last points are the engine's own, to a millionth of a millimetre."""

import msgspec
import numpy as np
import pytest
from hypothesis import HealthCheck, assume, given, settings
from hypothesis import strategies as st

from isometron.construct.height_transfer import by_height_transfer
from isometron.construct.outcome import Construction, NotHere, Options
from isometron.construct.ruler import FARTHEST
from isometron.construct.schools import SCHOOLS, construct, first_school
from isometron.construct.subject import level_box
from isometron.construct.turn_on_spot import turned_on_the_spot
from isometron.document.edits import add_volume, turn_volume
from isometron.document.fresh import new_document
from isometron.document.model import Document, DocumentError
from isometron.document.shapes.profiles import begin_profile, move_corner
from isometron.solve.drawing import solve
from isometron.starters.catalogue import lay_starter
from isometron.view.placing import place_eye
from isometron.view.ring_picture import rings_to_ellipses
from isometron.view.sheet import Sheet
from isometron.volumes.box import Box, box_corners
from isometron.volumes.copies import copies_of
from isometron.volumes.cut.profiles import profile_outline, view_size
from isometron.volumes.marks.face_marks import DivideMark
from isometron.volumes.relations import Repeat
from tests.set_ups import cut_by_views, parted, rounded, rowed, setups

TOLERANCE = 1e-6


def drawn(document):
    paper, _ = document.eye.project(box_corners(document.volumes)[0][0])
    return paper


def farthest_from_corners(done, document):
    """How far the construction's ends are from corners of the engine's picture, each corner taken once."""
    ends, corners = np.array(list(done.ends.values())), drawn(document)
    gaps = np.hypot(*(ends[:, None] - corners[None]).transpose(2, 0, 1))
    apart = len(np.unique(np.round(corners, 6), axis=0))  # an edge seen end on has both ends in one point
    assert len(ends) == len(corners) and len(set(gaps.argmin(axis=1))) >= apart
    return gaps.min(axis=1).max()


@pytest.mark.parametrize("school", ["plan", "measuring", "diagonal"])
@given(document=setups())
def test_two_point_schools_end_on_the_engines_corners(school, document):
    done = construct(document, "box", school)
    if isinstance(done, NotHere):
        assert "reasonable paper" in done.reason
        return
    assert farthest_from_corners(done, document) < TOLERANCE


@pytest.mark.parametrize("school", ["one-point", "by-guess"])
@given(document=setups(turns=st.sampled_from([0.0, 90.0, 180.0])))
def test_one_point_ends_on_the_engines_corners(school, document):
    done = construct(document, "box", school)
    assert isinstance(done, Construction)
    assert farthest_from_corners(done, document) < TOLERANCE


@given(document=setups(tilts=st.one_of(st.floats(-50, -12), st.floats(12, 40))))
def test_three_point_ends_on_the_engines_corners(document):
    done = construct(document, "box", "three-point")
    if isinstance(done, NotHere):
        assert "reasonable paper" in done.reason or "behind the eye" in done.reason
        return
    assert farthest_from_corners(done, document) < TOLERANCE


@given(document=setups(cube=True), turn=st.floats(-80, 80))
def test_the_twin_turned_on_the_spot_is_the_engines(document, turn):
    done = turned_on_the_spot_or_none(document, turn)
    assume(done is not None)
    twin = turn_volume(document, "box", document.volumes[0].yaw_deg + turn).document
    assert farthest_from_corners(done, twin) < 2e-5, "the twin's own corner is kept to a millionth of a millimetre"


def turned_on_the_spot_or_none(document, turn):
    try:
        done = turned_on_the_spot(document, 0, turn)
    except ValueError as error:
        assert "reasonable paper" in str(error)
        return None
    return done if isinstance(done, Construction) else None


@given(document=setups(), right=st.floats(-2500, 2500), away=st.floats(-2000, 3000))
def test_a_height_carried_over_the_ground_is_the_true_one(document, right, away):
    volume = document.volumes[0]
    z = volume.corner[2]
    ends = np.array([[right, away, z], [right, away, z + volume.size[2]]])
    paper, depth = document.eye.project(ends)
    assume((depth > 500.0).all() and abs(document.eye.position[2] - z) > 50.0)
    try:
        done = by_height_transfer(document, 0, tuple(paper[0]))
    except ValueError:
        assume(False)
    assume(isinstance(done, Construction))
    assert np.allclose(done.ends["height 1 top"], paper[1], atol=TOLERANCE)


@pytest.mark.parametrize("school", SCHOOLS)
@given(document=setups(cube=True, turns=st.sampled_from([0.0, 0.4, 30.0, 45.0, 89.0]),
                       tilts=st.sampled_from([0.0, -25.0, -1.0, -90.0])))  # fmt: skip
def test_where_a_school_cannot_work_it_names_one_that_can(school, document):
    done = construct(document, "box", school)
    if isinstance(done, Construction):
        for step in done.steps:
            assert step.sentence and step.why
            assert np.isfinite(step.lines).all() and np.isfinite(step.edges).all() and np.isfinite(step.arcs).all()
            assert all(np.hypot(spot.u, spot.v - 1.5) < FARTHEST + 300.0 for spot in step.points)
    else:
        assert done.reason.endswith(".")
        assert done.instead is None or isinstance(construct(document, "box", done.instead), Construction)


def test_what_a_volume_shows_is_constructed_first():
    box = Box(id="b", name="B", corner=(0.0, 0.0, 0.0), size=(800.0, 500.0, 400.0))
    row = msgspec.structs.replace(box, copies=(Repeat(along="wide", count=3, pitch=700.0),))
    parted = msgspec.structs.replace(box, marks=tuple(DivideMark(face=f, across=(0.5,)) for f in range(4)))
    schools = [first_school(add_volume(new_document(), v).document, 0) for v in (box, row, parted)]
    assert schools == ["plan", "row", "parts"]
    car = lay_starter(new_document(), "low-car").document
    assert first_school(car, car.index_of("wheel")) == "wheels"


def test_steps_say_ruler_distances_in_the_documents_unit():
    document = Document(
        unit="in",
        sheet=Sheet(width=420.0, height=297.0, centre_of_vision=(210.0, 150.0)),
        eye=place_eye(height=1600.0, away=4000.0, turn_deg=30.0, viewing_distance=400.0),
        volumes=(Box(id="a", name="A", corner=(0, 0, 0), size=(508.0, 508.0, 508.0)),),
    )
    metric = msgspec.structs.replace(document, unit="mm")
    assert "20 in" in construct(document, "a", "measuring").steps[1].sentence
    sentence = construct(metric, "a", "measuring").steps[0].sentence
    assert "482.8 mm beyond the right edge" in sentence, "VP R at u = 400 / tan 30 = 692.8, 210 from the edge"
    assert "150.0 mm above the lower edge" in sentence
    assert len(construct(metric, "a", "turn").ends) == 8


def test_unknown_names_are_told_with_the_known_ones():
    document = Document(
        sheet=Sheet(width=420.0, height=297.0, centre_of_vision=(210.0, 150.0)),
        eye=place_eye(height=1600.0, away=4000.0, turn_deg=30.0, viewing_distance=400.0),
    )
    with pytest.raises(DocumentError, match=r"no school called .oil.\. Known schools: plan, measuring"):
        construct(document, "a", "oil")
    with pytest.raises(DocumentError, match="no volume with the id 'a'"):
        construct(document, "a", "plan")


# --- parts, rows and rings from rings ---------------------------------------------------------------------------------


@pytest.mark.parametrize("school", ["parts", "parts-line"])
@given(document=parted())
def test_parts_end_where_the_engine_draws_the_division(school, document):
    done = construct(document, "box", school)
    if isinstance(done, NotHere):
        assert "reasonable paper" in done.reason or "line" in done.reason
        return
    box = level_box(document, 0)
    mark = document.volumes[0].marks[0]
    own = mark.face // 2
    if own not in (box.axis_right, box.axis_left) or mark.face % 2 != box.bit(own):
        assert len(done.ends) == 2, "the division lies on another face: the side is halved"
        return
    drawing = solve(document)
    lines = drawing.scene.vertices[drawing.scene.edges[12:]]
    upright = lines[np.abs(lines[:, 0, 2] - lines[:, 1, 2]) > 1e-9]
    wanted, _ = document.eye.project(upright[:, 0] * [1, 1, 0] + [0, 0, document.volumes[0].corner[2]])
    ends = np.array([at for name, at in done.ends.items() if name.endswith("bottom")])
    gaps = np.hypot(*(ends[:, None] - wanted[None]).transpose(2, 0, 1))
    assert gaps.min(axis=1).max() < TOLERANCE and len(ends) == len(mark.across)


@pytest.mark.parametrize("school", ["row", "row-line", "row-ruler"])
@given(document=rowed())
def test_rows_end_where_the_engine_draws_the_copies(school, document):
    done = construct(document, "box", school)
    if isinstance(done, NotHere):
        assert any(
            w in done.reason
            for w in ("reasonable paper", "differs", "towards", "never meet", "one point", "behind the eye")
        )
        return
    corners = np.concatenate([box_corners([copy])[0][0] for copy in copies_of(document.volumes[0], dict)])
    paper, _ = document.eye.project(corners)
    ends = np.array(list(done.ends.values()))
    gaps = np.hypot(*(ends[:, None] - paper[None]).transpose(2, 0, 1))
    assert gaps.min(axis=1).max() < TOLERANCE
    assert len(ends) == 4 * (document.volumes[0].copies[0].count - 1)


@pytest.mark.parametrize("school", ["ring-inner", "stack", "wheels", "slide"])
@given(document=rounded())
def test_rings_from_rings_lie_on_the_engines_ellipses(school, document):
    """Every end lies on a ring that the engine knows, or on the largest one moved along its axle or its row."""
    done = construct(document, "box", school)
    if isinstance(done, NotHere):
        assert any(
            w in done.reason
            for w in (
                "reasonable paper",
                "tilted",
                "no ellipse",
                "nearly so",
                "no two rings",
                "behind the eye",
                "plane of its wheel",
                "never meet",
                "one point",
            )
        )
        return
    eye, rounds = document.eye, solve(document).scene.rounds
    shapes, good = rings_to_ellipses(eye, *(rounds.rings[:, k : k + 3] for k in (0, 3, 6)))
    assume(good.all())  # a ring at eye level is a line
    c, e1, e2 = (rounds.rings[:, k : k + 3] for k in (0, 3, 6))
    more = [(c, 0.5 * e1, 0.5 * e2)] if school == "ring-inner" else []
    if school == "slide":
        axle = {"wide": 1, "high": 2}[document.volumes[0].axle]
        by = document.volumes[0].size[axle] * np.eye(3)[axle]
        more = [(c + s * part * by, e1, e2) for s in (1, -1) for part in (1.0, 0.6)]
    elif school == "wheels" and not document.volumes[0].copies:
        more = [(c + 6 * s * e, e1, e2) for e in (e1, e2) for s in (1, -1)]
    for moved in more:
        also = rings_to_ellipses(eye, *moved)
        shapes, good = np.concatenate([shapes, also[0]]), np.concatenate([good, also[1]])
    u, v, a, b, turn = shapes[good].T
    for at in done.ends.values():
        x, y = at[0] - u, at[1] - v
        along, across = x * np.cos(turn) + y * np.sin(turn), y * np.cos(turn) - x * np.sin(turn)
        # Distance to first order: how far off one, over how steep that rises there (Sampson 1982).
        round_ = np.hypot(along / a, across / b)
        off = np.abs(round_ - 1.0) * round_ / np.hypot(along / a**2, across / b**2)
        assert off.min() < TOLERANCE
    assert len(done.ends) >= 4


# --- cut bodies from their side view ----------------------------------------------------------------------------------


@pytest.mark.parametrize("school", ["side-view", "side-shares"])
@settings(deadline=None, suppress_health_check=list(HealthCheck))
@given(document=cut_by_views())
def test_a_side_view_ends_on_the_engines_corners(school, document):
    done = construct(document, "box", school)
    if isinstance(done, NotHere):
        assert "reasonable paper" in done.reason or "never meet" in done.reason
        return
    body, box = document.volumes[0], level_box(document, 0)
    view = "side" if body.side is not None else "front"
    axis, across = (0, 1) if view == "side" else (1, 0)
    flat = profile_outline(getattr(body, view), view, view_size(body, view)).corners
    corners, rotations = box_corners([body])
    for name, beyond in (("corner", 0), ("far", 1)):
        own = np.zeros((len(flat), 3))
        own[:, axis], own[:, 2] = flat.T
        own[:, across] = body.size[across] * (box.bit(across) ^ beyond)
        wanted, _ = document.eye.project(corners[0, 0] + own @ rotations[0].T)
        told = np.array([done.ends[f"{name} {k}"] for k in range(len(flat))])
        assert np.hypot(*(told - wanted).T).max() < TOLERANCE
    assert sum(len(step.edges) for step in done.steps) >= 4 + 3 * len(flat)


def test_a_cut_body_is_constructed_from_its_side_view_with_words_in_place_of_what_cannot_be():
    document = new_document()
    document = add_volume(
        document, Box(id="v", name="Body", corner=(-900.0, 0.0, 0.0), size=(2000.0, 800.0, 600.0))
    ).document
    assert "not cut by a side view" in construct(document, "v", "side-view").reason
    cut = begin_profile(document, "v", "side").document
    cut = move_corner(cut, "v", "side", 3, (1500.0, 600.0)).document
    assert first_school(cut, 0) == "side-view"
    done = construct(cut, "v", "side-shares")
    assert any(share in step.sentence for step in done.steps for share in ("1/4", "3/4")), "shares are counted"
    assert any("The side view stands in perspective" in step.why for step in done.steps)
    plan = begin_profile(document, "v", "plan").document
    assert "plan alone" in construct(plan, "v", "side-view").reason


def test_a_turn_that_cannot_be_drawn_names_those_that_can():
    box = Box(id="b", name="Cube", corner=(0.0, 0.0, 0.0), size=(900.0, 900.0, 900.0))
    document = add_volume(new_document(), box).document
    refused = construct(document, "b", "turn", Options(turn_deg=30.0))
    assert isinstance(refused, NotHere) and "Turned by +20°, +45°, +15° it can be drawn" in refused.reason
    assert not isinstance(construct(document, "b", "turn", Options(turn_deg=20.0)), NotHere)
