"""Copies and mirror images: every kind of volume, marks and all, is where a mirror or a row puts it."""

import msgspec
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from isometron.document.model import Document
from isometron.document.store.files import decode_document, encode_document
from isometron.geometry.frames import box_rotations
from isometron.solve.drawing import solve
from isometron.solve.marks import Role
from isometron.solve.ring_facts import ring_facts
from isometron.view.placing import place_eye, sheet_with_horizon
from isometron.volumes.arch import Arch
from isometron.volumes.box import Box
from isometron.volumes.building import build_scene
from isometron.volumes.copies import angles_of, copies_of, mirrored
from isometron.volumes.cut.begin import corners_cut, counted_off, leaning
from isometron.volumes.cut.profiles import CutBody
from isometron.volumes.framed import Framed
from isometron.volumes.marks.face_marks import ArchMark, DivideMark, PathMark, RingMark, TickMark
from isometron.volumes.relations import Mirror, Repeat
from isometron.volumes.turned import PROFILES, Turned

EYE = place_eye(height=1700.0, away=5200.0, turn_deg=-32.0, viewing_distance=450.0)
SHEET = sheet_with_horizon(EYE, 420.0, 297.0, 220.0)
PLACE = {"id": "v", "name": "V", "corner": (300.0, 200.0, 50.0), "size": (900.0, 600.0, 700.0)}
MARKS = (
    DivideMark(face=2, across=(0.2, 0.5), up=(0.3,), border=20.0),
    TickMark(edge=5, parts=(0.25,)),
    ArchMark(face=0, at=(0.4, 0.0), wide=200.0, high=300.0, count=2, step=(0.3, 0.0)),
    PathMark(across="wide", at=0.2, points=((0.1, 0.2), (0.7, 0.9), (0.9, 0.1))),
    RingMark(face=5, at=(0.3, 0.6), diameter=200.0, depth=-30.0, start_deg=20.0, sweep_deg=100.0, divisions=5),
)
VOLUMES = {
    "box": Box(**PLACE, marks=MARKS),
    "tapered": CutBody(**PLACE, side=leaning(0.3, 0.1), front=leaning(0.05, 0.2)),
    "chamfered": CutBody(**PLACE, plan=corners_cut((10.0, 80.0, 150.0, 0.0), round_=False)),
    "rounded": CutBody(**PLACE, side=corners_cut((10.0, 80.0, 150.0, 60.0), round_=True)),
    "counted": CutBody(**PLACE, side=counted_off(4, 4, ((0, 0), (4, 0), (4, 1), (1, 1), (1, 3), (0, 4)))),
    "arched": Arch(**PLACE, through="wide"),
    "frame": Framed(**PLACE, top=40.0),
    "bottle": Turned(**PLACE, axle="long", profile=PROFILES["bottle"], steer_deg=20.0, lean_deg=5.0, squared=True),
}


def document(*volumes):
    return Document(sheet=SHEET, eye=EYE, volumes=volumes)


def cloud(scene):
    """Return points that tell a shape: corners of pieces, ends of edges, points of rings, spokes and frusta."""
    rounds = scene.rounds
    t = np.linspace(0.0, 1.0, 25)[:, None, None]
    angle = 2 * np.pi * (rounds.ring_span[:, :1] + t * rounds.ring_span[:, 1:])
    rings = rounds.rings[:, :3] + np.cos(angle) * rounds.rings[:, 3:6] + np.sin(angle) * rounds.rings[:, 6:9]
    parts = [
        scene.bodies.vertices[~scene.turned[scene.body_owner]].reshape(-1, 3),
        scene.vertices[scene.edges].reshape(-1, 3),
        rings.reshape(-1, 3),
        rounds.strokes.reshape(-1, 3),
        rounds.frusta.base,
        rounds.frusta.base + rounds.frusta.axle,
    ]
    return np.concatenate(parts)


def farthest(one, other):
    """Return how far any point of one cloud lies from the other one."""
    gaps = np.sqrt(((one[:, None, :] - other[None]) ** 2).sum(axis=2))
    return max(gaps.min(axis=0).max(), gaps.min(axis=1).max())


normals = st.sampled_from([(1.0, 0.0, 0.0), (0.0, 1.0, 0.0), (0.6, 0.8, 0.0), (0.0, 0.0, 1.0)])


@pytest.mark.parametrize("kind", VOLUMES)
@given(normal=normals, yaw_deg=st.sampled_from([0.0, 35.0, -80.0]), at=st.floats(-500.0, 500.0))
def test_a_mirror_image_is_the_reflection_of_every_part(kind, normal, yaw_deg, at):
    volume = msgspec.structs.replace(VOLUMES[kind], yaw_deg=yaw_deg)
    normal = np.array(normal)
    image = mirrored(volume, at * normal, normal)
    own, other = cloud(build_scene([volume])), cloud(build_scene([image]))
    reflected = own - 2.0 * ((own - at * normal) @ normal)[:, None] * normal
    assert farthest(reflected, other) < 1e-6


@given(st.floats(-179.0, 179.0), st.floats(-89.0, 89.0), st.floats(-179.0, 179.0))
def test_angles_are_read_back_from_a_rotation(yaw, pitch, roll):
    rotation = box_rotations(np.radians([[yaw, pitch, roll]]))[0]
    again = box_rotations(np.radians([angles_of(rotation)]))[0]
    assert np.abs(again - rotation).max() < 1e-9


def test_copies_stand_in_rows_and_share_one_set_of_numbers():
    post = Box(
        **PLACE,
        copies=(Repeat(along="long", count=4, pitch=1000.0, last=500.0), Repeat(along="high", count=2, pitch=-800.0)),
    )
    drawing = solve(document(post))
    scene = drawing.scene
    assert len(scene.bodies) == 8 and len(scene.edges) == 96 and len(drawing.document.volumes) == 1
    starts = sorted({tuple(np.round(body.min(axis=0), 6)) for body in scene.bodies.vertices})
    assert starts == sorted((300.0 + 1000.0 * k, 200.0, 50.0 - 800.0 * n) for k in range(4) for n in range(2))
    assert np.ptp(scene.bodies.vertices[:, :, 0], axis=1).min() == pytest.approx(500.0), "the last bay differs"
    assert scene.corners_of(0) == pytest.approx(build_scene([Box(**PLACE)]).corners_of(0)), "the first one is it"
    assert decode_document(encode_document(document(post))) == document(post)


def test_each_copy_hides_what_stands_behind_it_and_no_more():
    """Copies hide as as many boxes of their own would."""
    wall = Box(id="w", name="W", corner=(-500.0, 1500.0, 0.0), size=(6000.0, 50.0, 900.0))
    post = Box(id="p", name="P", corner=(0.0, 200.0, 0.0), size=(200.0, 200.0, 700.0))
    row = msgspec.structs.replace(post, copies=(Repeat(along="long", count=4, pitch=700.0),))
    each = [msgspec.structs.replace(post, id=f"p{k}", name=f"P{k}", corner=(700.0 * k, 200.0, 0.0)) for k in range(4)]
    one, many = solve(document(row, wall)), solve(document(*each, wall))

    def drawn(drawing):
        points = np.round(drawing.edges.points, 6)
        turned = np.where(
            (points[:, :1] < points[:, 2:3]) | ((points[:, :1] == points[:, 2:3]) & (points[:, 1:2] < points[:, 3:])),
            points,
            points[:, [2, 3, 0, 1]],
        )
        return {(*p, r) for p, r in zip(map(tuple, turned), drawing.edges.role, strict=True)}

    assert drawn(one) == drawn(many)
    seen = one.edges.role[one.edges.owner == 1] == Role.HIDDEN
    assert seen.any(), "the wall is partly hidden"


def test_four_wheels_are_one_wheel_in_a_row_and_a_mirror():
    body = Box(id="body", name="Body", corner=(0.0, -600.0, 250.0), size=(3000.0, 1200.0, 600.0))
    wheel = Turned(
        id="wheel", name="Wheel", corner=(200.0, -700.0, 0.0), size=(600.0, 160.0, 600.0), axle="wide",
        profile=PROFILES["wheel"], copies=(Repeat(along="long", count=2, pitch=1900.0),), mirror=Mirror(about="body"),
    )  # fmt: skip
    drawing = solve(document(body, wheel))
    middles = {
        tuple(np.round(b.mean(axis=0), 6)) for b in drawing.scene.bodies.vertices[drawing.scene.body_owner == 1]
    }
    assert middles == {(x, y, 300.0) for x in (500.0, 2400.0) for y in (-620.0, 620.0)}
    facts = ring_facts(drawing, 1)
    assert len(facts) % 4 == 0 and {round(f.diameter, 3) for f in facts[: len(facts) // 4]} >= {600.0}
    lost = solve(document(wheel))
    assert len(copies_of(wheel, dict)) == 2 and len(lost.scene.bodies) == 2, "a mirror about nothing is passed over"


def test_a_steered_wheel_turns_about_its_own_upright():
    wheel = Turned(**PLACE, axle="wide", profile=PROFILES["wheel"])
    steered = msgspec.structs.replace(wheel, steer_deg=30.0)
    straight, turned = (build_scene([w]).rounds.frusta for w in (wheel, steered))
    middle = np.array(PLACE["corner"]) + np.array(PLACE["size"]) / 2
    swing = box_rotations(np.radians([[30.0, 0.0, 0.0]]))[0]
    assert np.allclose((straight.base - middle) @ swing.T, turned.base - middle)
    leant = build_scene([msgspec.structs.replace(wheel, lean_deg=10.0)]).rounds.frusta
    assert leant.axle[0, 2] == pytest.approx(-np.sin(np.radians(10.0)) * np.linalg.norm(leant.axle[0]), abs=1e-9)
    assert leant.axle[0, 0] == pytest.approx(0.0, abs=1e-9), "it leans over its way of travel only"
