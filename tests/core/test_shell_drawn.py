"""What is drawn from shells: outlines of rounds, openings that cross and touch, rings that stop where their side does."""

import sys
from pathlib import Path

import msgspec
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from isometron.demos.catalogue import demo
from isometron.document.fresh import new_document
from isometron.document.store.files import load_document
from isometron.geometry.shell.facets import facet_outlines, facets_of
from isometron.geometry.shell.rings_left import rings_left
from isometron.solve.drawing import solve
from isometron.solve.layers.rounds import outlines_of
from isometron.view.placing import place_eye
from isometron.volumes.box import Box
from isometron.volumes.marks.face_marks import OpeningMark
from isometron.volumes.marks.holds import Apart, Measured
from isometron.volumes.openings.solids import opened_solids, uncut_openings
from isometron.volumes.shells.shells import shell_of
from isometron.volumes.turned import PROFILES, Turned
from tests.core.test_ray_caster import disagreements

CASES = Path(__file__).parents[1] / "cases" / "drawn"
SILL = OpeningMark(face=2, at=(0.5, 0.5), wide=401.0, high=403.0, sill=60.0)
SLOT = OpeningMark(face="side", at=(0.5, Measured(mm=0.0)), wide=60.0, high=60.0, goes="pocket", depth=150.0)


def spun(profile, **fields):
    return Turned(
        id="t", name="Pot", corner=(0.0, 0.0, 0.0), size=(800.0, 800.0, 1200.0), profile=PROFILES[profile], **fields
    )


@pytest.mark.parametrize("name", ["m1", "q3", "o410", "flush_openings", "hr19.9", "hch5", "hbow"])
def test_openings_that_fell_agree_with_the_caster(name):
    document = load_document(CASES / f"{name}.isometron")
    assert all(uncut_openings(volume) == {} for volume in document.volumes)
    wrong, asked = disagreements(document, np.random.default_rng(3), most=200)
    assert wrong == [] and asked > 30


@settings(max_examples=25, deadline=None)
@given(
    st.sampled_from(["ball", "bottle", "wheel", "cone", "cylinder"]),
    st.floats(-180.0, 180.0), st.floats(-1500.0, 3000.0), st.floats(1500.0, 9000.0),
)  # fmt: skip
def test_outlines_lie_on_their_round_and_sight_lines_touch_it(profile, turn, height, away):
    shell = shell_of(spun(profile, marks=(SLOT,))).shell
    eye = np.array([400.0 + away * np.cos(np.radians(turn)), 400.0 + away * np.sin(np.radians(turn)), height])
    facets = facets_of(shell)
    lines, rows = facet_outlines(facets, eye)
    assert len(lines) or height > 1200.0 or height < 0.0
    round_ = np.flatnonzero(shell.surfaces.kind[shell.patch_surface[shell.patch]] != 0)
    surface = np.repeat(shell.patch_surface[shell.patch[round_[rows]]], 2)
    f, slope = shell.surfaces.at(surface, lines.reshape(-1, 3))
    assert np.abs(f).max(initial=0.0) < 1e-6
    on_axle = np.hypot(*(lines.reshape(-1, 3)[:, :2] - 400.0).T) < 1e-9
    assert on_axle.any() or profile != "cone" or not len(lines)  # up to the very tip
    sight = lines.reshape(-1, 3) - eye
    cosine = np.abs((slope * sight).sum(axis=1)) / np.linalg.norm(slope, axis=1) / np.linalg.norm(sight, axis=1)
    # Squared and halved, of the radius there: on a tyre's corner of some 20 mm; the tip of a cone looks no way.
    assert cosine[~on_axle].max(initial=0.0) < 6e-2
    # It touches from outside: just before and behind it along the sight line lies nothing of the body.
    middles = lines.mean(axis=1)
    way = (middles - eye) / np.linalg.norm(middles - eye, axis=1)[:, None]
    for step in (-4.0, 4.0):
        beside, _ = shell.surfaces.at(surface[::2], middles + step * way)
        signs = shell.patch_sign[shell.patch[round_[rows]]]
        assert (signs * beside).min(initial=1.0) > -5e-2


@pytest.mark.parametrize("profile", ["bottle", "cylinder"])
def test_the_outline_of_a_body_with_a_slot_reaches_as_far_as_that_of_the_whole_body(profile):
    """What is told by facets agrees with what is told by the curve that is turned."""
    eye = place_eye(height=900.0, away=4000.0, turn_deg=10.0, viewing_distance=400.0)
    reach = []
    for marks in ((), (SLOT,)):
        document = msgspec.structs.replace(new_document(), volumes=(spun(profile, marks=marks),), eye=eye)
        camera = eye.to_camera(outlines_of(eye, solve(document).scene.unit_rounds)[0].reshape(-1, 3))
        flat = 400.0 * camera[:, :2] / camera[:, 2:]
        reach.append([*flat.min(axis=0), *flat.max(axis=0)])
    assert reach[1] == pytest.approx(reach[0], abs=0.02)


def test_rings_stop_where_an_opening_took_their_side():
    """A slot 60 wide in a cylinder of radius 400 takes 2 asin(30 / 400) of its rings at its own height and nothing of others."""
    shell = shell_of(spun("cylinder", marks=(SLOT,))).shell
    rings = np.array([[400.0, 400.0, z, 400.0, 0.0, 0.0, 0.0, 400.0, 0.0] for z in (600.0, 300.0)])
    rows, spans = rings_left(shell, rings, np.tile([0.0, 1.0], (2, 1)))
    assert spans[rows == 0, 1].sum() == pytest.approx(1.0 - 2.0 * np.arcsin(30.0 / 400.0) / (2.0 * np.pi), abs=1e-9)
    assert spans[rows == 1, 1].sum() == pytest.approx(1.0, abs=1e-12)


def test_edges_are_listed_by_direction_and_those_of_the_body_before_those_of_its_openings():
    document = demo("tea-cart")
    lengths = [measure.true for measure in solve(document).measures(1)]
    assert lengths[:4] == pytest.approx([1800.0] * 4) and lengths[4] < 1800.0


def wall(*marks):
    return Box(id="w", name="Wall", corner=(0.0, 0.0, 0.0), size=(3000.0, 300.0, 2400.0), marks=marks)


def test_nothing_stands_in_an_opening_that_is_refused():
    """Bars, a sill and a band are drawn of what is cut alone: none of a window beyond its face, of a row those of its members that are cut."""
    window = OpeningMark(face=2, at=(0.5, 0.5), wide=400.0, high=400.0, frame=40.0, sill=60.0, bars=(1, 1), pane=True)
    beyond = msgspec.structs.replace(window, at=(0.0, 0.5))
    assert "beyond its face" in uncut_openings(wall(beyond))[0] and len(opened_solids(wall(beyond)).edges) == 12
    row = msgspec.structs.replace(window, count=3, step=(Apart(by="gap", mm=900.0), 0.0))
    assert "beyond its face" in uncut_openings(wall(row))[0]
    one, two = (len(opened_solids(wall(*marks)).edges) for marks in ((window,), (row,)))
    assert two - 12 == 2 * (one - 12) > 0


def test_without_its_library_a_carved_body_is_drawn_as_if_it_were_not_carved(monkeypatch):
    monkeypatch.setitem(sys.modules, "manifold3d", None)
    monkeypatch.setattr("isometron.geometry.shell.united.find_spec", lambda name: None)
    for volume in (spun("bottle", wall=11.0), msgspec.structs.replace(wall(SILL), wall=13.0)):
        plain = msgspec.structs.replace(volume, wall=0.0, marks=())
        found, whole = (solve(msgspec.structs.replace(new_document(), volumes=(one,))) for one in (volume, plain))
        assert any("manifold3d" in each.message for each in found.findings)
        for layer in ("edges", "rounds"):
            assert len(found.of(layer).lines) == len(whole.of(layer).lines)
            assert len(found.of(layer).arcs) == len(whole.of(layer).arcs)
        assert len(found.of("edges").lines) + len(found.of("rounds").lines) > 0
