"""Setting the eye by what is known of the picture: each way gives back a view that was set another way."""

import msgspec
import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from isometron.demos.catalogue import demo
from isometron.document.eyes.eye_edits import pivot, step_to, tilt_view, turn_object
from isometron.document.eyes.eye_setting import (
    Slopes,
    by_slopes,
    by_three_points,
    by_two_points,
    points_on_sheet,
    read_slopes,
    view_words,
)
from isometron.document.eyes.eye_wishes import (
    HORIZONS,
    Showing,
    bird,
    fit_sheet_part,
    horizon_preset,
    make_points,
    showing,
    step_back_until_inside,
    wished_view,
    worm,
)
from isometron.document.model import Document, DocumentError
from isometron.solve.drawing import solve
from isometron.view.cone import outside_cone
from isometron.view.placing import horizon_on_sheet, place_eye, sheet_with_horizon
from isometron.view.recover import NoEye, eye_from_three, eye_from_two
from isometron.view.vanishing import point_count
from isometron.volumes.box import Box
from isometron.volumes.building import scene_of

CART = demo("tea-cart")
BODY = CART.index_of("body")


@st.composite
def views(draw, tilt=None):
    """One box before an eye; the sheet somewhere."""
    eye = place_eye(
        height=draw(st.floats(300, 4000)),
        away=draw(st.floats(3500, 9000)),
        turn_deg=draw(st.floats(8, 82)),
        tilt_deg=0.0 if tilt is None else draw(tilt),
        viewing_distance=draw(st.floats(200, 900)),
        about=(draw(st.floats(-400, 400)), 0.0, 0.0),
    )
    box = Box(id="box", name="Box", corner=(-500.0, -400.0, 0.0), size=(1000.0, 800.0, draw(st.floats(200, 250))))
    return Document(sheet=sheet_with_horizon(eye, 420.0, 297.0, draw(st.floats(50, 250))), eye=eye, volumes=(box,))


def same_view(one, other, tolerance=1e-4):
    """Whether two documents draw the same picture on the sheet (mm)."""
    corners = scene_of(one.volumes).vertices
    papers = [d.eye.project(corners)[0] + d.sheet.centre_of_vision for d in (one, other)]
    return np.allclose(*papers, atol=tolerance)


def changed_eye(document, turn, away):
    """The same object seen by another eye, its middle at the same place of the sheet and as large."""
    return step_to(turn_object(document, turn).document, away).document


@given(views(), st.floats(10, 80))
def test_two_points_give_back_the_view_they_were_read_from(document, turn):
    at = points_on_sheet(document, 0)
    left, right = sorted((at[0][0], at[1][0]))
    elsewhere = turn_object(document, turn).document
    centre = document.sheet.centre_of_vision
    elsewhere = msgspec.structs.replace(
        elsewhere, sheet=msgspec.structs.replace(elsewhere.sheet, centre_of_vision=centre)
    )
    back = by_two_points(elsewhere, 0, left, right).document
    assert back.eye.viewing_distance == pytest.approx(document.eye.viewing_distance, rel=1e-9)
    found = points_on_sheet(back, 0)
    assert sorted((found[0][0], found[1][0])) == pytest.approx([left, right], abs=1e-6)
    # The object's middle stays where it was drawn before the points were placed, and as large.
    for before, after in zip(middle_drawn(elsewhere), middle_drawn(back), strict=True):
        assert after == pytest.approx(before, abs=1e-5)


def middle_drawn(document):
    paper, depth = document.eye.project(pivot(document))
    u, v = document.sheet.from_corner(*paper[0])
    return u, v, document.eye.viewing_distance / depth[0]


@given(views(tilt=st.one_of(st.floats(-45, -8), st.floats(8, 40))), st.floats(10, 80), st.floats(-30, -10))
def test_three_points_give_back_the_view_they_were_read_from(document, turn, tilt):
    points = tuple(points_on_sheet(document, 0))
    if (tilt < 0) != (document.eye.pitch_deg < 0):
        tilt = -tilt
    elsewhere = tilt_view(turn_object(document, turn).document, tilt).document
    back = by_three_points(elsewhere, 0, points).document
    assert back.eye.viewing_distance == pytest.approx(document.eye.viewing_distance, rel=1e-7)
    assert back.eye.pitch_deg == pytest.approx(document.eye.pitch_deg, abs=1e-6)
    assert back.eye.roll_deg == pytest.approx(0.0, abs=1e-6)
    assert back.sheet.centre_of_vision == pytest.approx(document.sheet.centre_of_vision, abs=1e-5)
    for got, wanted in zip(points_on_sheet(back, 0), points, strict=True):
        assert got == pytest.approx(wanted, abs=1e-4 * (1 + max(map(abs, wanted)) / 100))


@given(views(), st.floats(10, 80))
def test_slopes_give_back_the_whole_picture(document, turn):
    slopes = read_slopes(document, 0)
    assume(slopes is not None and abs(slopes.right) > 1.0 and abs(slopes.left) > 1.0)
    # Another turn, with the leading edge where it was: only the slopes know the old view.
    other = by_slopes(document, 0, Slopes(slopes.right * 0.8, slopes.left * 0.9)).document
    assert read_slopes(other, 0).right == pytest.approx(slopes.right * 0.8, abs=1e-6)
    assume(showing(other, 0) is not None)
    back = by_slopes(other, 0, Slopes(slopes.right, slopes.left)).document
    assert same_view(back, document)
    assert back.eye.position[2] == pytest.approx(document.eye.position[2], abs=1e-3)


@given(views())
def test_the_upper_edges_slope_fixes_the_eyes_height(document):
    slopes = read_slopes(document, 0)
    assume(slopes is not None and min(map(abs, (slopes.right, slopes.left, slopes.right - slopes.top_right))) > 1.0)
    lifted = horizon_preset(document, 0.9).document
    assert same_view(by_slopes(document, 0, slopes).document, document)
    moved = by_slopes(lifted, 0, slopes).document
    assert moved.eye.position[2] == pytest.approx(document.eye.position[2], abs=1e-3)
    assert read_slopes(moved, 0).top_right == pytest.approx(slopes.top_right, abs=1e-6)


def test_the_freedom_that_slopes_leave_is_real():
    slopes = read_slopes(CART, BODY)
    one = by_slopes(CART, BODY, slopes).document
    other = by_slopes(CART, BODY, slopes, centre=one.sheet.centre_of_vision[0] + 40.0).document
    assert read_slopes(other, BODY).left == pytest.approx(slopes.left)
    assert other.eye.viewing_distance != pytest.approx(one.eye.viewing_distance, rel=1e-3)


@pytest.mark.parametrize(("turn", "height", "away"), [(30, 1600, 5000), (55, 2600, 4200), (20, 900, 8000)])
def test_a_wished_view_gives_back_how_the_object_showed(turn, height, away):
    eye = place_eye(height=height, away=away, turn_deg=turn, viewing_distance=500.0)
    box = Box(id="box", name="Box", corner=(-700.0, -450.0, 0.0), size=(1400.0, 900.0, 700.0))
    document = Document(sheet=sheet_with_horizon(eye, 420.0, 297.0, 200.0), eye=eye, volumes=(box,))
    wish = showing(document, 0)
    elsewhere = changed_eye(document, 40.0, 6000.0)
    back = wished_view(elsewhere, 0, wish).document
    got = showing(back, 0)
    assert (got.right, got.top, got.back) == pytest.approx((wish.right, wish.top, wish.back), abs=1e-5)
    assert middle_drawn(back) == pytest.approx(middle_drawn(elsewhere), abs=1e-5)


def test_a_view_that_no_eye_has_is_refused_with_the_nearest():
    with pytest.raises(DocumentError, match="The nearest shows the right side"):
        wished_view(CART, BODY, Showing(right=0.5, top=0.1, back=1.4))


@pytest.mark.parametrize("keep", ["perspective", "distance"])
@pytest.mark.parametrize("part", [1.0, 0.6])
def test_fitting_fills_the_part_of_the_sheet_in_its_middle(keep, part):
    done = fit_sheet_part(CART, part, 20.0, keep=keep).document
    paper = done.eye.project(scene_of(done.volumes).vertices)[0] + done.sheet.centre_of_vision
    low, high = paper.min(axis=0), paper.max(axis=0)
    assert max((high - low) / (part * np.array([380.0, 257.0]))) == pytest.approx(1.0, abs=1e-6)
    assert (low + high) / 2 == pytest.approx([210.0, 148.5], abs=1e-4)
    if keep == "perspective":
        assert done.eye.position == CART.eye.position
    else:
        assert done.eye.viewing_distance == CART.eye.viewing_distance
        assert done.eye.position[2] == CART.eye.position[2]


def test_stepping_back_until_inside_keeps_the_size_and_stops_at_the_rim():
    near = changed_eye(CART, -50.0, 2600.0)
    paper = near.eye.project(scene_of(near.volumes).vertices)[0]
    assert outside_cone(near.eye, paper).any()
    done = step_back_until_inside(near).document
    after = done.eye.project(scene_of(done.volumes).vertices)[0]
    assert not outside_cone(done.eye, after).any()
    assert np.hypot(*after.T).max() == pytest.approx(done.eye.cone_radius, rel=1e-4)
    assert middle_drawn(done) == pytest.approx(middle_drawn(near), abs=1e-5)
    assert not [f for f in solve(done).findings if f.code == "outside-cone"]
    with pytest.raises(DocumentError, match="inside the cone of vision already"):
        step_back_until_inside(done)


@pytest.mark.parametrize("start", [0.0, -37.0])
@pytest.mark.parametrize("tilt", [0.0, -20.0])
@pytest.mark.parametrize("count", [1, 2, 3])
def test_one_two_and_three_point_are_one_click_away(start, tilt, count):
    document = tilt_view(turn_object(CART, start).document, tilt).document
    if point_count(document.eye, np.eye(3)) == count and not (count == 2 and tilt):
        with pytest.raises(DocumentError, match="Already like that"):
            make_points(document, count)
    else:
        assert point_count(make_points(document, count).document.eye, np.eye(3)) == count


def test_presets_see_what_they_promise():
    for part in HORIZONS.values():
        done = horizon_preset(CART, part).document
        assert horizon_on_sheet(done.eye, done.sheet) == pytest.approx(part * 297.0, abs=0.01)
    above, below = bird(CART).document, worm(CART).document
    assert above.eye.position[2] > 1900.0 and above.eye.pitch_deg < -30.0
    assert 0.0 < below.eye.position[2] < 300.0 and below.eye.pitch_deg > 5.0
    for done in (above, below):
        assert middle_drawn(done)[:2] == pytest.approx((210.0, 148.5), abs=1e-3)
        assert middle_drawn(done)[2] == pytest.approx(middle_drawn(CART)[2], rel=1e-4)


@pytest.mark.parametrize(
    ("edit", "said"),
    [
        (lambda d: by_two_points(d, None, 300.0, 700.0), "centre of vision must lie between"),
        (lambda d: by_two_points(tilt_view(d, -9).document, None, -300.0, 700.0), "The view is tilted"),
        (lambda d: by_three_points(d, None, ((-300.0, 0.0), (300.0, 0.0), (0.0, 90.0))), "uprights. point is 146.6°"),
        (lambda d: by_three_points(d, None, ((0.0, 0.0), (0.0, 0.0), (0.0, 90.0))), "Pull them apart"),
        (lambda d: by_slopes(d, BODY, Slopes(-10.0, 20.0)), "both ground edges rise"),
        (lambda d: by_slopes(d, BODY, Slopes(10.0, 20.0, 10.0)), "must differ"),
        (lambda d: fit_sheet_part(d, 1.0, 200.0, keep="perspective"), "leave no room"),
        (lambda d: fit_sheet_part(msgspec.structs.replace(d, volumes=()), 1.0, 9.0, keep="distance"), "nothing to fit"),
        (lambda d: fit_sheet_part(msgspec.structs.replace(d, eye=msgspec.structs.replace(d.eye, viewing_distance=9000.0)), 0.5, 9.0, keep="distance"), "Press By scale"),
    ],
)  # fmt: skip
def test_what_no_eye_can_do_is_refused_in_words(edit, said):
    with pytest.raises(DocumentError, match=said):
        edit(CART)


hundredths = st.integers(-90_000, 90_000).map(lambda n: n / 100)


@given(st.tuples(*[st.tuples(hundredths, hundredths)] * 3))
def test_the_nearest_triangle_always_has_an_eye(points):
    found = eye_from_three(*points)
    if isinstance(found, NoEye):
        assert found.nearest == () or not isinstance(eye_from_three(*found.nearest), NoEye)
        moved = [k for k, at in enumerate(found.nearest) if at != pytest.approx(points[k], abs=1e-9)]
        assert found.nearest == () or moved == [found.vertex]
    else:
        assert "viewing distance" in view_words(found)


def test_what_was_understood_is_said():
    assert view_words(eye_from_two(-400.0, 900.0, 0.0)) == "viewing distance 600 mm, sides at 33.7° and 56.3°"
    assert "looking down" in view_words(eye_from_three((-400.0, 200.0), (500.0, 200.0), (0.0, -900.0)))
