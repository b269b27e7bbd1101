"""Openings in round sides: the ray caster, faces that close, rims that lie on their side, and what is refused in words."""

import msgspec
import numpy as np
import pytest
from hypothesis import HealthCheck, Phase, assume, given, settings
from hypothesis import strategies as st

from isometron.document.fresh import new_document
from isometron.document.marks.opening_edits import cut_opening
from isometron.document.model import DocumentError
from isometron.document.store.files import decode_document, encode_document
from isometron.geometry import cubics
from isometron.geometry.faces.flat import crossed
from isometron.solve.drawing import solve
from isometron.solve.layers.curves import hidden_of
from isometron.solve.layers.rounds import outlines_of
from isometron.surfaces.export import export_bytes
from isometron.view.placing import place_eye
from isometron.volumes.box import Box
from isometron.volumes.cut.profiles import CutBody, CutProfile, ProfileCorner
from isometron.volumes.flipping import flipped
from isometron.volumes.kinds import own_sides
from isometron.volumes.marks.face_marks import CurveMark, CurvePoint, OpeningMark, RingMark
from isometron.volumes.marks.holds import Measured
from isometron.volumes.openings.solids import opened_solids, uncut_openings
from isometron.volumes.sections.facts import section_facts
from isometron.volumes.turned import PROFILES, ProfileRing, Turned
from tests.core.test_ray_caster import disagreements
from tests.core.test_sections import section
from tests.ray_caster import bodies_of, covers

mm = lambda far: Measured(mm=far)  # noqa: E731


def side(**fields):
    return OpeningMark(face="side", **fields)


def drum(*marks, size=(2000.0, 2000.0, 2400.0), **fields):
    return Turned(id="d", name="Drum", corner=(0.0, 0.0, 0.0), size=size, marks=marks, **fields)


def vault(*marks, **fields):
    at = ((0.0, 0.0), (3000.0, 0.0), (3000.0, 1500.0), (0.0, 1500.0))
    corners = tuple(ProfileCorner(n=k, at=(mm(x), mm(z)), round=900.0 * (k == 3)) for k, (x, z) in enumerate(at))
    return CutBody(
        id="v", name="Vault", corner=(0.0, 0.0, 0.0), size=(3000.0, 1600.0, 1500.0), side=CutProfile(corners=corners), marks=marks, **fields
    )  # fmt: skip


sizes = st.floats(60.0, 500.0)
openings = st.builds(
    OpeningMark, face=st.just("side"), at=st.tuples(st.floats(0.2, 0.8), st.floats(0.0, 1.0)), wide=sizes, high=sizes,
    form=st.sampled_from(["rectangle", "ring"]), goes=st.sampled_from(["pocket", "wall", "through"]), depth=st.floats(80.0, 300.0),
).map(lambda m: msgspec.structs.replace(m, high=m.wide if m.form == "ring" else m.high))  # fmt: skip
bodies = st.sampled_from([
    drum(wall=150.0), drum(), drum(axle="long", size=(2400.0, 2000.0, 2000.0), wall=120.0, yaw_deg=30.0), drum(axle="wide", size=(2000.0, 2400.0, 2000.0), steer_deg=40.0, lean_deg=8.0),
    drum(profile=PROFILES["ball"], size=(1800.0,) * 3, wall=100.0), drum(profile=PROFILES["bottle"], size=(1500.0, 1500.0, 2600.0)),
    vault(), vault(yaw_deg=-20.0),
])  # fmt: skip


def bored(volume, marks):
    """The volume with those of the openings that can be cut, one after the other."""
    face = "side" if isinstance(volume, Turned) else "side.3.round"
    for mark in marks:
        more = msgspec.structs.replace(volume, marks=(*volume.marks, msgspec.structs.replace(mark, face=face)))
        volume = volume if uncut_openings(more) else more
    return volume


@settings(
    max_examples=8,
    deadline=None,
    derandomize=True,
    phases=[Phase.explicit, Phase.generate],
    suppress_health_check=list(HealthCheck),
)
@given(bodies, st.lists(openings, min_size=1, max_size=4), st.integers(0, 2**31), st.data())
def test_random_openings_in_round_sides_agree_with_the_caster(body, marks, seed, data):
    volume = bored(body, marks)
    assume(volume.marks)
    rods = tuple(Box(id=f"r{k}", name="Rod", corner=(x, 2600.0, 0.0), size=(60.0, 60.0, 2400.0)) for k, x in enumerate((-400.0, 600.0, 1500.0)))  # fmt: skip
    eye = place_eye(height=data.draw(st.floats(100, 3500)), away=5500.0, turn_deg=data.draw(st.floats(-180, 180)), viewing_distance=400.0)  # fmt: skip
    document = msgspec.structs.replace(new_document(), volumes=(volume, *rods), eye=eye)
    wrong, asked = disagreements(document, np.random.default_rng(seed), most=25)
    assert wrong == [] and asked
    wrong, asked = rims_told(document, seed)
    assert wrong == []


def rims_told(document, seed):
    """Places on the curves of a drawing at which drawing and caster disagree, and how many were asked for."""
    drawing, dice = solve(document), np.random.default_rng(seed)
    rounds, eye = drawing.scene.unit_rounds, document.eye
    pieces = rounds.curves.reshape(-1, 4, 3)
    if not len(pieces):
        return [], 0
    camera = eye.to_camera(pieces.reshape(-1, 3)).reshape(-1, 4, 3)
    rows, low, high = hidden_of(drawing.picture, pieces, camera, rounds.curve_owner, rounds.curve_on_round)
    casters, wrong, asked = bodies_of(msgspec.json.decode(msgspec.json.encode(document))), [], 0
    for k in dice.choice(len(pieces), min(len(pieces), 30), replace=False):
        t = dice.uniform(0.1, 0.9, 2)
        own = rows == k
        points = cubics.at(pieces[k][None], t)[0]
        told = covers(casters, int(rounds.curve_owner[k]), 0, eye.place, points, near=3.0, tol=2.0)
        hidden = ((t[:, None] > low[own]) & (t[:, None] < high[own])).any(axis=1)
        edge = (np.abs(t[:, None] - np.concatenate([low[own], high[own]])) < 0.05).any(axis=1)
        asked += int((told >= 0).sum())
        wrong += [p.tolist() for p, h, c, e in zip(points, hidden, told, edge, strict=True) if c >= 0 and not e and h != (c == 1)]  # fmt: skip
    return wrong, asked


@settings(max_examples=10, deadline=None, derandomize=True, phases=[Phase.explicit, Phase.generate])
@given(bodies, st.lists(openings, min_size=1, max_size=4), st.integers(0, 2**31))
def test_faces_close_and_rims_lie_on_the_side(body, marks, seed):
    """Any straight line goes in as often as it comes out; the outer rims lie on the true side, to a thousandth of a mm."""
    volume = bored(body, marks)
    solids, dice = opened_solids(volume), np.random.default_rng(seed)
    corners = solids.vertices[0][:8]
    for _ in range(12):
        place, way = dice.uniform(corners.min(axis=0) - 100, corners.max(axis=0) + 100), dice.normal(size=3)
        rows, far = crossed(solids.faces, place, way)
        rows_back, _ = crossed(solids.faces, place, -way)
        if (len(rows) + len(rows_back)) % 2:
            # Flat faces have their true arcs, rounds their chords: between the two a line may pass.
            beside = [place + 2.0 * off for off in np.cross(way / np.linalg.norm(way), np.eye(3))]
            assert any(
                (len(crossed(solids.faces, p, way)[0]) + len(crossed(solids.faces, p, -way)[0])) % 2 == 0
                for p in beside
            )
            continue
        order = np.argsort(far)
        apart = np.diff(far[order]) * np.linalg.norm(way)
        facing = np.sign(solids.faces.normals[rows[order]] @ way)
        assert ((facing[1:] != facing[:-1]) | (apart < 2.0)).all()  # in, out, in, out
    document = msgspec.structs.replace(new_document(), volumes=(volume,))
    curves = solve(document).scene.rounds.curves.reshape(-1, 4, 3)
    if len(curves):
        places = cubics.at(curves, np.linspace(0, 1, 5)).reshape(-1, 3)
        off = [np.where(own.holds(places), np.abs(own.off(places)), 0.0) for own in own_sides(volume).values()]
        # A rim inside a hollow body, or on the wall of another opening that is come upon, lies deeper: it is no rim of the side.
        near = np.min(off, axis=0).reshape(len(curves), 5)
        outer = (near < 40.0).all(axis=1)
        most = 0.05 if isinstance(volume, Turned) and volume.profile == PROFILES["bottle"] else 1e-3
        assert outer.any() and near[outer].max() < most


def test_a_rim_over_the_end_of_a_bend_lies_on_both_sides_of_it():
    face = "side.3.round"
    volume = vault(OpeningMark(face=face, at=(0.28, 0.88), wide=359.0, high=449.7, goes="pocket", depth=150.0))
    (bent,) = own_sides(volume).values()
    rings = solve(msgspec.structs.replace(new_document(), volumes=(volume,))).scene.unit_rounds.ring_curves
    places = rings.points_at(np.arange(len(rings.at)), np.tile(np.linspace(0.0, 1.0, 33), (len(rings.at), 1)))
    rim = [k for k in range(len(places)) if np.abs(bent.off(places[k])).max() < 1e-6 and places[k][:, 1].min() > 1.0]
    places = places[rim].reshape(-1, 3)
    assert len(rim) and np.abs(bent.off(places)).max() < 1e-4 and places[:, 2].min() > 600.0 - 1e-3
    straight = opened_solids(volume)
    ends = straight.vertices[0][straight.edges]
    below = ends[(np.abs(ends[:, :, 0]).max(axis=1) < 1e-6) & (ends[:, :, 2].max(axis=1) < 600.0 + 1e-3)]
    upright = below[np.abs(below[:, 1, 2] - below[:, 0, 2]) > 10.0]
    assert sum(np.abs(upright[:, :, 2] - 600.0).min(axis=1) < 1e-3) >= 2  # on the flat face the rim runs on straight


def test_what_cannot_be_cut_into_a_round_side_is_refused_with_words():
    document = msgspec.structs.replace(new_document(), volumes=(drum(wall=150.0),))
    for mark, words in (
        (side(form="inset", inset=20.0), "no outline"),
        (side(wide=600.0, high=300.0, goes="pocket", depth=0.0), "needs a depth"),
        (side(wide=2100.0, high=500.0), "beyond"),
        (side(at=(0.05, 0.0), wide=300.0, high=900.0), "beyond"),
        (side(wide=600.0, high=300.0, goes="pocket", depth=200.0), "deep"),
    ):
        with pytest.raises(DocumentError, match=words):
            cut_opening(document, "d", mark)


def test_openings_in_round_sides_meet_each_other_and_reach_over_edges():
    rings = (ProfileRing(at=0.0, wide=1.0), ProfileRing(at=0.5, wide=1.0), ProfileRing(at=1.0, wide=0.4))
    for volume, marks in (
        (drum(wall=150.0), (side(wide=600.0, high=600.0), side(at=(0.6, 0.5), wide=600.0, high=300.0))),
        (
            drum(wall=150.0),
            (side(wide=600.0, high=300.0, goes="pocket", depth=20.0),),
        ),  # less deep than its rim: it comes out in two parts
        (drum(wall=150.0), (side(wide=1500.0, high=500.0),)),
        (drum(profile=rings), (side(wide=400.0, high=400.0, goes="pocket", depth=200.0),)),
    ):
        volume = msgspec.structs.replace(volume, marks=marks)
        assert uncut_openings(volume) == {}
        rods = tuple(Box(id=f"r{k}", name="Rod", corner=(x, 2600.0, 0.0), size=(60.0, 60.0, 2400.0)) for k, x in enumerate((-400.0, 600.0, 1500.0)))  # fmt: skip
        for turn in (0.0, 100.0, -100.0):
            eye = place_eye(height=1900.0, away=5500.0, turn_deg=turn, viewing_distance=400.0)
            document = msgspec.structs.replace(new_document(), volumes=(volume, *rods), eye=eye)
            wrong, asked = disagreements(document, np.random.default_rng(7), most=25)
            assert wrong == [] and asked


def test_rings_of_the_body_stop_at_openings_and_arches_stand_upright_on_both_sides():
    ball = drum(
        side(wide=500.0, form="ring", goes="pocket", depth=400.0), profile=PROFILES["ball"], size=(1800.0,) * 3
    )
    rounds = solve(msgspec.structs.replace(new_document(), volumes=(ball,))).scene.rounds
    equator = np.abs(rounds.rings[:, 2] - 900.0) + np.abs(np.linalg.norm(rounds.rings[:, 3:6], axis=1) - 900.0) < 1e-6
    gap = 2 * np.arcsin(250.0 / 900.0) / (2 * np.pi)
    assert rounds.ring_span[equator, 1].sum() == pytest.approx(1.0 - gap, abs=2e-3)
    arches = [
        side(at=(0.3 + 0.3 * k, place), form="half-round", wide=300.0, high=400.0)
        for k, place in enumerate((0.0, 0.5))
    ]
    lying = drum(*arches, axle="long", size=(2400.0, 2000.0, 2000.0), wall=100.0)
    assert uncut_openings(lying) == {}
    solids = opened_solids(lying)
    ends = solids.vertices[0][solids.edges]
    level = ends[np.abs(ends[:, 1, 0] - ends[:, 0, 0]) > 299.0]
    curves = solve(msgspec.structs.replace(new_document(), volumes=(lying,))).scene.rounds.curves.reshape(-1, 4, 3)
    for y in (0.0, 2000.0):  # the foot is straight, and below the rest of its rim
        foot = level[np.abs(level[:, :, 1] - y).max(axis=1) < 100.0]
        rim = curves[np.abs(curves[:, 0, 1] - y) < 100.0]
        assert len(foot) and rim[:, 0, 2].max() > foot[:, :, 2].max() + 150.0
        assert rim[:, 0, 2].min() >= foot[:, :, 2].min() - 1e-6


def test_a_row_of_windows_stands_evenly_round_a_tower_and_the_outline_stops_at_them():
    row = side(at=(mm(1200.0), 0.0), wide=500.0, high=800.0, count=6, step=(0.0, 1.0 / 6.0))
    tower = drum(row, wall=150.0)
    solids = opened_solids(tower)
    ends = solids.vertices[0][solids.edges]
    upright = ends[np.abs(np.abs(ends[:, 1, 2] - ends[:, 0, 2]) - 800.0) < 1e-6].mean(axis=1)
    outer = upright[np.abs(np.hypot(*(upright[:, :2] - 1000.0).T) - 1000.0) < 1e-6]
    angle = np.sort(np.degrees(np.arctan2(*(outer[:, :2] - 1000.0).T[::-1])) % 60.0)
    assert len(outer) == 12
    assert angle == pytest.approx(
        [np.degrees(np.arcsin(0.25))] * 6 + [60.0 - np.degrees(np.arcsin(0.25))] * 6, abs=1e-6
    )
    eye = place_eye(height=1300.0, away=6000.0, turn_deg=0.0, viewing_distance=400.0)
    drawing = solve(msgspec.structs.replace(new_document(), volumes=(tower,), eye=eye))
    lines, *_ = outlines_of(eye, drawing.scene.unit_rounds)
    for plain in (0.0, 1.0):  # the two sides of the drum
        own = lines[(lines[:, :, :2].mean(axis=1) @ eye.axes[0][:2] > 1000.0 * eye.axes[0][:2].sum()) == plain]
        upright = np.abs(own[:, 1, 2] - own[:, 0, 2]).sum()
        assert upright == pytest.approx(2400.0) or upright == pytest.approx(1600.0)


def _drawn(volume):
    """The ends of the edges of a body's openings, and of the lines round them."""
    solids = opened_solids(volume)
    curves = solve(msgspec.structs.replace(new_document(), volumes=(volume,))).scene.rounds.curves
    return np.concatenate([solids.vertices[0][solids.edges].reshape(-1, 3), curves.reshape(-1, 4, 3)[:, 0]])


def test_flipped_bodies_keep_their_side_openings_where_the_mirror_puts_them():
    marks = (side(at=(0.3, 0.1), wide=300.0, high=500.0), side(at=(0.7, 0.4), form="ring", wide=300.0))
    for body in (drum(*marks), vault(*(msgspec.structs.replace(m, face="side.3.round") for m in marks))):
        for axis in (0, 1):
            other = flipped(body, axis)
            here, there = (_drawn(v) for v in (body, other))
            here[:, axis] = body.size[axis] - here[:, axis]
            gap = np.sqrt(((here[:, None] - there[None]) ** 2).sum(axis=2)).min(axis=1)
            assert gap.max() < 1e-6


def test_sections_cut_through_hollow_round_bodies_and_their_windows():
    tower = drum(side(at=(mm(1200.0), 0.0), wide=500.0, high=800.0), wall=150.0)
    outlined, cutting = section([tower], (1000.0, 1000.0, 1200.0), (0.0, 0.0, 1.0))
    rims = [np.arcsin(250.0 / radius) for radius in (1000.0, 850.0)]
    round_ = sum(radius * (2 * np.pi - 2 * rim) for radius, rim in zip((1000.0, 850.0), rims, strict=True))
    walls = 2 * (1000.0 * np.cos(rims[0]) - 850.0 * np.cos(rims[1]))
    assert section_facts(outlined, cutting).length == pytest.approx(round_ + walls, rel=1e-9)


@pytest.mark.parametrize("suffix", [".svg", ".pdf", ".png", ".json"])
def test_every_export_carries_openings_and_marks_of_bent_sides(suffix, tmp_path):
    face = "side.3.round"
    marks = (
        OpeningMark(face=face, wide=600.0, high=500.0, round=60.0), RingMark(face=face, at=(0.1, 0.2), diameter=80.0, depth=-20.0),
        CurveMark(face=face, points=(CurvePoint(at=(0.1, 0.9)), CurvePoint(at=(0.9, 0.9)))),
    )  # fmt: skip
    document = msgspec.structs.replace(new_document(away=9000.0), volumes=(vault(*marks, wall=50.0),))
    assert decode_document(encode_document(document)) == document
    assert b'"version":4' in encode_document(document).replace(b" ", b"")
    whole = export_bytes(solve(document), tmp_path / f"a{suffix}")
    plain = export_bytes(
        solve(msgspec.structs.replace(document, volumes=(vault(wall=50.0),))), tmp_path / f"b{suffix}"
    )
    assert len(whole) > len(plain)
