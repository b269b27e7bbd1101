"""Outlines moved inwards farther than some of their sides go on: walls thicker than rounds, chamfers and bows."""

from pathlib import Path

import msgspec
import numpy as np
import pytest
import shapely
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from isometron.document.store.files import load_document
from isometron.geometry.faces.corners import Corner, OutlineError, outline_through
from isometron.geometry.faces.insets import inset
from isometron.geometry.faces.sides_left import inset_of_what_is_left
from isometron.geometry.outlines import flattened
from isometron.volumes.openings.solids import opened_rounds, uncut_openings
from isometron.volumes.profile import ProfileRing
from isometron.volumes.shells.shells import shell_of
from isometron.volumes.turned import Turned

FINE = 400


def region(outline):
    return shapely.Polygon(flattened(outline, FINE))


@st.composite
def outlines(draw):
    """A quadrangle, or one with a step, whose corners are round or cut off and whose sides are bowed."""
    places = [(0.0, 0.0), (300.0, 0.0), (300.0, 200.0), (0.0, 200.0)]
    if draw(st.booleans()):
        places = [
            *places[:2],
            (300.0, 110.0),
            (draw(st.sampled_from([150.0, 190.0])), 110.0),
            (140.0, 200.0),
            places[3],
        ]
    corners = []
    for x, y in places:
        how = draw(st.sampled_from(["sharp", "round", "chamfer", "bow"]))
        size = draw(st.sampled_from([2.0, 5.0, 12.0, 19.9, 20.0, 30.0]))
        corners.append(
            Corner(
                x + draw(st.integers(-8, 8)), y + draw(st.integers(-8, 8)), round=size if how == "round" else 0.0,
                chamfer=size if how == "chamfer" else 0.0, bow=draw(st.sampled_from([0.05, 0.2, -0.1])) if how == "bow" else 0.0,
            )
        )  # fmt: skip
    try:
        return outline_through(corners)
    except OutlineError:
        assume(False)


@settings(max_examples=120)
@given(outlines(), st.sampled_from([3.0, 8.0, 20.0, 35.0]))
def test_what_is_left_is_what_lies_so_far_inside(outline, by):
    try:
        found = inset(outline, by)
    except OutlineError:
        left = region(outline).buffer(-by, quad_segs=64)
        # Refused is what falls apart, and what leaves nothing.
        assert left.is_empty or left.geom_type == "MultiPolygon" or left.area < 0.5 * by * by
        return
    inner, outer = region(found), region(outline)
    assert inner.is_valid and outer.contains(inner)
    assert inner.exterior.distance(outer.exterior) == pytest.approx(by, abs=6e-3)  # of chords
    # Every side lies ``by`` inside one of its own: round inner corners of the library reach no farther than mitred ones.
    erosion = outer.buffer(-by, join_style="mitre", mitre_limit=50.0)
    assert (
        inner.symmetric_difference(erosion).area < (8e-3 + 0.012 * by) * erosion.length
    )  # the library straightens by a hundredth


@settings(max_examples=60)
@given(outlines(), st.sampled_from([1.5, 4.0]))
def test_where_no_side_ends_both_ways_give_the_same(outline, by):
    try:
        found, other = inset(outline, by), inset_of_what_is_left(outline, by)
    except OutlineError:
        assume(False)
    assume(len(found.corners) == len(other.corners) == len(outline.corners))
    gap = np.abs(found.corners[:, None] - other.corners[None]).max(axis=2)
    assert gap.min(axis=1).max() < 1e-9 and gap.min(axis=0).max() < 1e-9


@pytest.mark.parametrize("name", ["hr19.9", "hch5", "hbow"])
def test_documents_that_were_refused_are_hollow(name):
    volume = load_document(Path(f"tests/cases/drawn/{name}.isometron")).volumes[0]
    assert uncut_openings(volume) == {}
    found, solid = shell_of(volume), shell_of(msgspec.structs.replace(volume, wall=0.0))
    assert found.refused == {}
    # Six walls inside: what is round or cut off outside is none there.
    assert len(found.shell.patch_name) == len(solid.shell.patch_name) + 6
    left = shapely.Polygon([(0, 0), (400, 0), (320, 300), (80, 300)]).buffer(-20.0, join_style="mitre")
    true = 260.0 * _under_bow() if name == "hbow" else 360.0 * left.area
    assert _space(found.shell) == pytest.approx(true, rel=5e-3 if name == "hbow" else 1e-9)  # of chords


def _space(shell):
    """The volume that the last six patches enclose."""
    corners = shell.places[shell.rows[shell.patch >= len(shell.patch_name) - 6]]
    return abs(np.linalg.det(corners).sum() / 6.0)


def _under_bow():
    """The area 20 mm inside a plan of 400 x 240 mm whose far side bows out by 0.3 of half its length."""
    circle = 200.0 * (1.0 + 0.3**2) / (2.0 * 0.3)
    middle = 240.0 + 60.0 - circle
    x = np.linspace(20.0, 380.0, 4001)
    return float(np.trapezoid(middle + np.sqrt((circle - 20.0) ** 2 - (x - 200.0) ** 2) - 20.0, x))


@pytest.mark.parametrize(("bends", "drawn"), [(15.0, 3), (2.0, 2)])
def test_a_corner_inside_is_drawn_by_the_rule_of_those_outside(bends, drawn):
    """A hollow pot whose side bends by 15 degrees has the ring there inside, too; one that bends by 2 degrees runs on."""
    upper = 0.8 - np.tan(np.radians(bends))
    rings = (ProfileRing(at=0.0, wide=0.8), ProfileRing(at=0.5, wide=0.8), ProfileRing(at=1.0, wide=upper))
    pot = Turned(id="p", name="Pot", corner=(0.0, 0.0, 0.0), size=(400.0, 400.0, 400.0), profile=rings, wall=20.0)
    outside = np.array([0.0, 200.0, 400.0])
    found = [ring for ring in opened_rounds(pot, 0).rings if np.abs(outside - ring[2]).min() > 1e-3]
    assert len(found) == drawn
    if drawn == 3:  # where both slanted sides meet, 20 mm inside
        half = np.radians(bends) / 2.0
        assert sorted(float(ring[2]) for ring in found)[1] == pytest.approx(200.0 - 20.0 * np.tan(half), abs=1e-6)
