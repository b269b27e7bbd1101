"""Sizes and turns by what is measured on an edge, against the measures of the drawing itself."""

import msgspec
import numpy as np
import pytest
from hypothesis import HealthCheck, assume, given, settings
from hypothesis import strategies as st

from isometron.document.fresh import new_document
from isometron.document.lengths.by_edge import edge_drawn_long, edge_sloping, edge_truly_long
from isometron.document.model import DocumentError
from isometron.solve.drawing import solve
from isometron.volumes.box import Box
from isometron.volumes.cut.profiles import CutBody, CutProfile, ProfileCorner
from isometron.volumes.framed import Framed, Rail

BOX = Box(id="v", name="Chest", corner=(-400.0, 200.0, 0.0), size=(900.0, 500.0, 600.0), yaw_deg=12.0)
FRAME = Framed(id="v", name="Stool", corner=(-400.0, 200.0, 0.0), size=(600.0, 500.0, 700.0), top=40.0, rails=(Rail(at=0.4, high=50.0, thick=20.0),))  # fmt: skip
WEDGE = CutBody(
    id="v", name="Wedge", corner=(-400.0, 200.0, 0.0), size=(900.0, 500.0, 600.0),
    side=CutProfile.through(ProfileCorner(at=at) for at in ((0.0, 0.0), (1.0, 0.0), (0.8, 1.0), (0.3, 1.0))),
)  # fmt: skip


def document(volume, turn=20.0):
    return msgspec.structs.replace(new_document(turn_deg=turn, away=3000.0, eye_height=1400.0), volumes=(volume,))


def measured(doc, number):
    return solve(doc).measures(0)[number]


@settings(max_examples=40, deadline=None, suppress_health_check=list(HealthCheck))
@given(st.sampled_from([BOX, FRAME, WEDGE]), st.integers(0, 200), st.floats(0.5, 1.8), st.floats(-60.0, 60.0))
def test_an_edge_becomes_as_long_as_it_is_typed_and_only_one_size_changes(volume, pick, factor, turn):
    doc = document(volume, turn)
    edges = solve(doc).measures(0)
    number = pick % len(edges)
    edge = edges[number]
    assume(edge.axis >= 0)
    for what, name in ((edge_truly_long, "true"), (edge_drawn_long, "drawn")):
        wanted = getattr(edge, name) * factor
        try:
            made = what(doc, "v", number, wanted).document
        except DocumentError:
            continue  # a rail between fixed legs
        assert getattr(measured(made, number), name) == pytest.approx(wanted, rel=2e-5, abs=2e-4)
        after = made.volume("v")
        assert [k for k in range(3) if after.size[k] != volume.size[k]] in ([], [edge.axis])
        assert after.corner == volume.corner


def test_a_box_takes_every_length_of_all_its_edges():
    doc = document(BOX)
    for number, edge in enumerate(solve(doc).measures(0)):
        assert edge_truly_long(doc, "v", number, 1234.5).document.volume("v").size[edge.axis] == pytest.approx(1234.5)
        made = edge_drawn_long(doc, "v", number, 1.3 * edge.drawn)
        assert measured(made.document, number).drawn == pytest.approx(1.3 * edge.drawn, abs=1e-4)
        assert "on paper" in made.name and "Chest" in made.name


@settings(max_examples=30, deadline=None)
@given(st.integers(0, 11), st.floats(-50.0, 50.0), st.floats(-35.0, 35.0))
def test_an_edge_slopes_as_it_is_typed_by_the_least_turn(number, turn, slope):
    doc = document(BOX, turn)
    edge = measured(doc, number)
    assume(edge.axis != 2)
    try:
        made = edge_sloping(doc, "v", number, slope)
    except DocumentError:
        assume(False)
    now = measured(made.document, number)
    assert now.slope_deg == pytest.approx(slope, abs=1e-3)
    before, after = BOX, made.document.volume("v")
    assert after.size == before.size and f"{after.yaw_deg:.2f}".rstrip("0").rstrip(".") in made.name
    middle = [np.array(v.corner) + 0.0 for v in (before, after)]
    assert middle[0][2] == middle[1][2]
    # No smaller turn gives it.
    by = abs((after.yaw_deg - before.yaw_deg + 180.0) % 360.0 - 180.0)
    for part in np.linspace(-0.98, 0.98, 25):
        tried = msgspec.structs.replace(before, yaw_deg=before.yaw_deg + part * by)
        other = measured(document(tried, turn), number).slope_deg
        assert other is None or by < 4.1 or abs(other - slope) > 1e-6


@pytest.mark.parametrize(
    ("volume", "what", "number", "value", "words"),
    [
        (BOX, edge_truly_long, 0, 0.0, "No size"),
        (BOX, edge_drawn_long, 0, 90000.0, "No size"),
        (BOX, edge_sloping, 8, 30.0, "keeps its slope"),
        (BOX, edge_truly_long, 99, 10.0, "not there"),
        (FRAME, edge_truly_long, None, 300.0, "No size"),
        (WEDGE, edge_truly_long, -1, 300.0, "slanted"),
    ],
)
def test_what_no_size_or_turn_gives_is_told(volume, what, number, value, words):
    doc = document(volume)
    edges = solve(doc).measures(0)
    if number is None:  # the thickness of a leg, which is in mm
        number = next(k for k, e in enumerate(edges) if e.axis == 0 and abs(e.true - 40.0) < 1e-6)
    if number == -1:
        number = next(k for k, e in enumerate(edges) if e.axis < 0)
    with pytest.raises(DocumentError, match=words):
        what(doc, "v", number, value)
