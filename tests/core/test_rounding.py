"""Making volumes round and what follows for the drawing: snaps, warnings, measures, report, tables."""

import json

import msgspec
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from isometron.demos.catalogue import demo
from isometron.document.edits import duplicate_volumes, move_volumes, resize_volume, turn_volume
from isometron.document.lengths.units import LengthError, parse_percent
from isometron.document.model import DocumentError
from isometron.document.shapes.rounding import change_round, make_round, make_square, pair_across
from isometron.document.shapes.roundness import is_oblong
from isometron.solve.drawing import solve
from isometron.solve.marks import Role
from isometron.solve.pick import pick_face, pick_volume
from isometron.solve.report import report
from isometron.volumes.box import Box, box_corners
from isometron.volumes.turned import PROFILES, Turned

CART = demo("tea-cart")


@settings(max_examples=18)
@given(st.sampled_from(sorted(PROFILES)), st.sampled_from(["body", "counter", "canopy", "wheel-near"]))
def test_round_and_square_again_keeps_everything_else(profile, name):
    made = make_round(CART, (name,), profile).document
    body, old = made.volume(name), CART.volume(name)
    assert isinstance(body, Turned) and body.profile == PROFILES[profile]
    assert (body.name, body.see_through) == (old.name, old.see_through) and not is_oblong(body)
    (low, high), (least, most) = ([f(box_corners([v])[0][0], axis=0) for f in (np.min, np.max)] for v in (body, old))
    assert (low >= least - 1e-6).all() and (high <= most + 1e-6).all(), "inside the same bounding volume"
    back = make_square(made, (name,)).document.volume(name)
    assert isinstance(back, Box) and (back.size, back.corner) == (body.size, body.corner)
    drawing = solve(made)
    rounds = drawing.scene.rounds
    assert (np.concatenate([rounds.frusta.owner, rounds.facet_owner]) == CART.index_of(name)).any()
    assert np.isfinite(drawing.of("rounds").arcs.shape).all() and np.isfinite(drawing.of("rounds").lines.points).all()


def test_a_wheel_turns_about_its_flattest_direction():
    made = make_round(CART, ("counter",), "wheel").document
    assert made.volume("counter").axle == "high", "the counter is flat, so its axle stands"
    slab = resize_volume(CART, "body", 0, 90.0).document
    assert make_round(slab, ("body",), "wheel").document.volume("body").axle == "long"
    again = make_round(make_round(slab, ("body",), "wheel").document, ("body",), "cylinder").document
    assert again.volume("body").axle == "long", "what is round already keeps its axle"


@pytest.mark.parametrize(
    "edit",
    [
        lambda d: duplicate_volumes(d, ("wheel-near",)),
        lambda d: move_volumes(d, ("wheel-near",), (100.0, -50.0, 0.0)),
        lambda d: turn_volume(d, "wheel-near", 25.0),
        lambda d: resize_volume(d, "wheel-near", 0, 700.0),
        lambda d: change_round(d, "wheel-near", "x", spokes=9),
    ],
)
def test_rounds_take_every_edit_that_boxes_take(edit):
    drawing, old = solve(edit(CART).document), solve(CART)
    assert drawing.scene.turned.sum() >= old.scene.turned.sum()
    changed = drawing.of("rounds").arcs.shape.shape != old.of("rounds").arcs.shape.shape
    changed |= drawing.of("rounds").lines.points.shape != old.of("rounds").lines.points.shape
    assert changed or not np.allclose(drawing.of("rounds").arcs.shape, old.of("rounds").arcs.shape)


def test_a_wheel_is_pointed_at_like_any_volume():
    drawing = solve(CART)
    wheel = CART.volume("wheel-near")
    middle = np.array(wheel.corner) + np.array(wheel.size) * (0.5, 0.0, 0.5)
    (u, v), _ = CART.eye.project(middle)[0][0], None
    assert pick_volume(drawing, float(u), float(v), 1.0) == CART.index_of("wheel-near")
    hit = pick_face(drawing, float(u), float(v))
    assert hit.owner == CART.index_of("wheel-near") and np.allclose(hit.place, middle, atol=1.0)


def test_put_away_and_see_through_rounds():
    def with_wheel(**fields):
        volumes = tuple(msgspec.structs.replace(v, **fields) if v.id == "wheel-near" else v for v in CART.volumes)
        return solve(msgspec.structs.replace(CART, volumes=volumes))

    row = CART.index_of("wheel-near")
    assert not (with_wheel(put_away=True).of("rounds").arcs.owner == row).any()
    glass = with_wheel(see_through=True)
    own = glass.of("rounds").arcs.role[glass.of("rounds").arcs.owner == row]
    assert Role.OBJECT not in own and Role.CONSTRUCTION in own
    solid, away = solve(CART), with_wheel(put_away=True)
    body = CART.index_of("body")

    def seen(drawing):
        lines = drawing.edges.select((drawing.edges.owner == body) & (drawing.edges.role == Role.OBJECT)).points
        return np.hypot(lines[:, 2] - lines[:, 0], lines[:, 3] - lines[:, 1]).sum()

    assert seen(away) > seen(solid) + 5.0, "the wheel hides part of the body's edges"
    assert seen(glass) == pytest.approx(seen(away))


def test_the_report_tells_rings_and_agrees_with_the_arcs():
    drawing = solve(CART)
    values = report(drawing)
    json.dumps(values)
    wheel = next(v for v in values["volumes"] if v["id"] == "wheel-near")
    assert wheel["kind"] == "turned" and wheel["edges"] == [] and len(wheel["rings"]) >= 4
    shapes = drawing.of("rounds").arcs.shape[drawing.of("rounds").arcs.owner == CART.index_of("wheel-near")]
    for ring in wheel["rings"]:
        gaps = np.abs(shapes[:, 2] - ring["semi_major"]) + np.hypot(*(shapes[:, :2] - ring["centre"]).T)
        assert gaps.min() < 1e-6
        assert ring["degree"] == pytest.approx(np.degrees(np.arcsin(ring["semi_minor"] / ring["semi_major"])))
        assert 0.0 <= ring["template_gap"] < 5.0


@pytest.mark.parametrize(
    ("edit", "said"),
    [
        (lambda: make_round(CART, (), "ball"), "Select a volume first"),
        (lambda: change_round(CART, "body", "x", spokes=3), "Body is not round"),
        (lambda: change_round(CART, "wheel-near", "x", spokes=300), "spokes"),
        (lambda: change_round(CART, "wheel-near", "x", face_rings=(1.5,)), "face_rings"),
        (lambda: pair_across(CART, "body"), "Body is not round"),
        (lambda: pair_across(CART, "wheel-front"), "stands in the middle already"),
    ],
)
def test_what_cannot_be_round_is_refused_in_words(edit, said):
    with pytest.raises(DocumentError, match=said):
        edit()


@pytest.mark.parametrize(("typed", "value"), [("60", 60.0), ("12,5 %", 12.5), (" 7% ", 7.0), ("-20", -20.0)])
def test_percentages_are_read(typed, value):
    assert parse_percent(typed) == value


@pytest.mark.parametrize("typed", ["", "x", "nan", "1e9", "60 mm"])
def test_what_is_no_percentage_is_refused(typed):
    with pytest.raises(LengthError, match="no percentage"):
        parse_percent(typed)


@pytest.mark.parametrize(
    ("fits", "size"), [("narrow", (400.0, 400.0)), ("wide", (900.0, 900.0)), ("both", (900.0, 400.0))]
)
def test_a_block_that_is_not_square_becomes_round_by_its_narrow_or_wide_side_or_oblong(fits, size):
    block = Box(id="b", name="B", corner=(100.0, 50.0, 0.0), size=(900.0, 400.0, 300.0), yaw_deg=30.0)
    document = msgspec.structs.replace(CART, volumes=(block,))
    middle = box_corners([block])[0][0].mean(axis=0)
    made = make_round(document, ("b",), "cylinder", fits).document.volume("b")
    assert made.size == (*size, 300.0) and made.axle == "high"
    assert np.allclose(box_corners([made])[0][0].mean(axis=0), middle), "in the middle of it"
