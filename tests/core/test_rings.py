"""Pictures of circles and templates, held to what sampling says."""

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from isometron.demos.catalogue import demo
from isometron.document.eyes.eye_edits import raise_eye, turn_object
from isometron.document.shapes.rounding import make_oblong
from isometron.geometry.conics import circle_picture, ellipse_of, line_crossings
from isometron.solve.drawing import solve
from isometron.solve.ring_facts import ring_facts, rule_words
from isometron.view.placing import place_eye
from isometron.view.ring_picture import Circle, ring_picture, rings_to_ellipses
from isometron.view.templates import USUAL_DEGREES, USUAL_MAJORS, best_fit, best_hole, ellipse_gap

directions = st.tuples(st.floats(-1, 1), st.floats(-1, 1), st.floats(-1, 1)).filter(lambda d: np.hypot(*d[:2]) > 0.2)
places = st.tuples(st.floats(-1500, 1500), st.floats(-1000, 3000), st.floats(0, 2500))
eyes = st.builds(
    lambda height, away, turn, tilt, f: place_eye(
        height=height, away=away, turn_deg=turn, tilt_deg=tilt, viewing_distance=f
    ),
    st.floats(200, 4000), st.floats(2500, 9000), st.floats(-80, 80), st.sampled_from([0.0, -20.0, 15.0]),
    st.floats(150, 900),
)  # fmt: skip


def circle_of(place, radius, normal):
    hint = (0.0, 0.0, 1.0) if abs(normal[2]) < 0.9 * np.linalg.norm(normal) else (1.0, 0.0, 0.0)
    return Circle.of(place, radius, normal, hint)


def on_curve(picture, f, paper):
    """How far paper points are from fulfilling the conic's equation, per unit of the conic."""
    x = np.column_stack([paper / f, np.ones(len(paper))])
    return np.abs(np.einsum("ni,ij,nj->n", x, picture.conic, x))


@given(eyes, places, st.floats(20, 600), directions)
def test_every_point_of_a_circle_lies_on_its_conic(eye, place, radius, normal):
    circle = circle_of(place, radius, normal)
    picture = ring_picture(eye, circle)
    assume(picture.kind in ("ellipse", "hyperbola"))
    paper, depth = eye.project(circle.points(np.linspace(0, 2 * np.pi, 40)))
    near = np.abs(paper[depth > 1.0]).max(axis=1) < 20 * eye.viewing_distance
    assert (on_curve(picture, eye.viewing_distance, paper[depth > 1.0][near]) < 1e-6).all()


@given(eyes, places, st.floats(20, 600), directions)
def test_an_ellipses_axes_are_its_greatest_and_least_radius(eye, place, radius, normal):
    circle = circle_of(place, radius, normal)
    picture = ring_picture(eye, circle)
    assume(picture.kind == "ellipse" and picture.semi_minor > 0.02 * picture.semi_major)
    paper, _ = eye.project(circle.points(np.linspace(0, 2 * np.pi, 4001)))
    away = np.hypot(*(paper - picture.centre).T)
    assert away.max() == pytest.approx(picture.semi_major, rel=1e-4)
    assert away.min() == pytest.approx(picture.semi_minor, rel=1e-3)
    if picture.semi_minor < 0.9 * picture.semi_major:
        u, v = paper[int(np.argmax(away))] - picture.centre
        off = abs((np.degrees(np.arctan2(v, u)) - picture.major_angle + 90.0) % 180.0 - 90.0)
        assert off < 0.5
    shape, good = rings_to_ellipses(
        eye, circle.centre[None], circle.radius * circle.first[None], circle.radius * circle.second[None]
    )
    assert good[0]
    assert shape[0, :4] == pytest.approx(
        [*picture.centre, picture.semi_major, picture.semi_minor], rel=1e-6, abs=1e-6
    )
    assert np.hypot(*picture.true_centre) <= np.hypot(*paper.T).max() + 1e-9, "the centre lies inside the ring"


@given(eyes, places, st.floats(20, 600), directions)
def test_the_touching_points_lie_on_the_ring_and_its_square(eye, place, radius, normal):
    circle = circle_of(place, radius, normal)
    picture = ring_picture(eye, circle)
    assume(picture.kind == "ellipse" and None not in picture.corners)
    touching, corners = np.array(picture.touching), np.array(picture.corners)
    assume(np.abs(corners).max() < 1e4)
    assert (on_curve(picture, eye.viewing_distance, touching) < 1e-6).all()
    # (+r e1) touches between the corners (+,+) and (+,-), (-r e1) between (-,+) and (-,-), and so on.
    for at, (one, two) in zip(touching, ((0, 3), (1, 2), (0, 1), (2, 3)), strict=True):
        side = corners[two] - corners[one]
        turned = side[0] * (at[1] - corners[one][1]) - side[1] * (at[0] - corners[one][0])
        assert abs(turned) <= 1e-6 * max(np.hypot(*side), 1.0) * max(np.abs(corners).max(), 1.0)


@given(st.floats(0.1, 200), st.floats(0.02, 1), st.floats(0.1, 200), st.floats(0.02, 1))
def test_the_gap_between_two_ellipses_is_the_largest_difference_of_their_supports(a, part, p, other):
    b, q = a * part, p * other
    t = np.linspace(0.0, np.pi / 2, 20_001)
    sampled = np.abs(np.hypot(a * np.cos(t), b * np.sin(t)) - np.hypot(p * np.cos(t), q * np.sin(t))).max()
    gap = float(ellipse_gap(a, b, p, q)[0])
    assert sampled <= gap + 1e-9 * max(a, p) and gap <= sampled + 1e-6 * max(a, p)
    assert gap == pytest.approx(float(ellipse_gap(p, q, a, b)[0]), abs=1e-9 * max(a, p))


@given(st.floats(2, 60), st.floats(0.05, 1))
def test_no_template_of_the_rack_fits_better_than_the_best(a, part):
    b = a * part
    fit = best_fit(a, b)
    for degree in USUAL_DEGREES:
        hole, gap = best_hole(a, b, degree)
        assert hole in USUAL_MAJORS and gap >= fit.gap - 1e-9
    assert (fit.degree, fit.major) in fit.equally_good
    assert fit.runner_up is None or fit.runner_up[2] > fit.gap
    assert fit.by_numbers[2] >= fit.gap - 1e-9


@given(st.floats(-50, 50), st.floats(-50, 50), st.floats(1, 80), st.floats(0.05, 1), st.floats(0, np.pi))
def test_an_ellipse_is_read_back_from_its_conic(u, v, a, part, angle):
    b = a * part
    cos, sin = np.cos(angle), np.sin(angle)
    plane = np.array([[a * cos, -b * sin, u], [a * sin, b * cos, v], [0.0, 0.0, 1.0]])
    conic = circle_picture(plane)
    assert ellipse_of(conic)[:4] == pytest.approx((u, v, a, b), rel=1e-6, abs=1e-6)
    if part < 0.98:
        turned = abs((ellipse_of(conic)[4] - angle + np.pi / 2) % np.pi - np.pi / 2)
        assert turned < 1e-4
    near, far = line_crossings(conic, np.array([u, v]), np.array([cos, sin]))
    assert (near, far) == pytest.approx((-a, a), rel=1e-6)
    assert line_crossings(conic, np.array([u, v]) + 1.2 * a * np.array([-sin, cos]), np.array([cos, sin])) is None


def test_what_is_told_of_rings_by_their_place():
    cart = demo("tea-cart")
    owner = cart.index_of("wheel-near")
    facts = ring_facts(solve(cart), owner)
    assert all(fact.true_circle and fact.picture.kind == "ellipse" and fact.fit is not None for fact in facts)
    assert max(fact.diameter for fact in facts) == pytest.approx(560.0)
    assert "off the axle" in rule_words(facts[0])
    assert ring_facts(solve(cart), cart.index_of("counter")) == []
    lamp = cart.index_of("lamp")
    level = raise_eye(cart, 1400.0).document
    words = [rule_words(fact) for fact in ring_facts(solve(level), lamp)]
    assert "lies at eye level: it is drawn as a line" in words
    near = raise_eye(cart, 1404.0).document
    assert any("about to become a line" in rule_words(fact) for fact in ring_facts(solve(near), lamp))
    front = turn_object(cart, 0.0).document
    assert any("almost round" in rule_words(fact) for fact in ring_facts(solve(front), owner))


def test_an_oblong_section_gets_no_template():
    cart = make_oblong(demo("tea-cart"), "lamp", 400.0).document
    facts = ring_facts(solve(cart), cart.index_of("lamp"))
    assert facts and all(fact.fit is None and not fact.true_circle for fact in facts)
