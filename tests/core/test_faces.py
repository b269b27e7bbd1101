"""The faces that every kind gives: on the body, looking outward, with ids that stay; and what the pencil meets of them."""

import msgspec
import numpy as np
import pytest
from hypothesis import HealthCheck, Phase, given, settings
from hypothesis import strategies as st

from isometron.document.edits import add_volume, change_volume, resize_volume
from isometron.document.fresh import new_document
from isometron.document.marks.dividing import lay_mark
from isometron.geometry.outlines import holds
from isometron.solve.drawing import solve
from isometron.solve.pick import face_of_hit, on_itself, pick_face
from isometron.tools.marking import LayPlan, face_under, lay_tool
from isometron.tools.pencil import Act, Pencil, ToolContext
from isometron.volumes.arch import Arch
from isometron.volumes.box import Box, box_corners
from isometron.volumes.copies import copies_of, placements
from isometron.volumes.cut.profiles import CutBody
from isometron.volumes.faces.names import face_names
from isometron.volumes.faces.plane import plane_of_face
from isometron.volumes.faces.turned import side_place
from isometron.volumes.framed import Framed, Rail
from isometron.volumes.kinds import own_faces
from isometron.volumes.marks.face_marks import OpeningMark, RingMark
from isometron.volumes.marks.mark_parts import mark_rounds
from isometron.volumes.relations import Mirror, Repeat
from isometron.volumes.turned import PROFILES, ProfileRing, Turned
from tests.ray_caster import bodies_of
from tests.strategies import documents, shaped

STOOL = Framed(
    id="v", name="Stool", corner=(0.0, 0.0, 0.0), size=(420.0, 400.0, 450.0), leg=(40.0, 40.0), top=30.0,
    rails=(Rail(at=0.4, high=30.0, thick=20.0),),
)  # fmt: skip
BOTTLE = Turned(
    id="v", name="Bottle", corner=(0.0, 0.0, 0.0), size=(200.0, 200.0, 400.0),
    profile=(ProfileRing(at=0.0, wide=1.0), ProfileRing(at=0.6, wide=1.0), ProfileRing(at=1.0, wide=0.4)),
)  # fmt: skip
WALL = Arch(id="v", name="Wall", corner=(0.0, 0.0, 0.0), size=(2000.0, 300.0, 1500.0), pier=250.0, crown=200.0)


def depth_of(volume):
    """What tells how deep world points lie in a volume, from the file format alone."""
    bare = msgspec.structs.replace(volume, copies=(), mirror=None, marks=())
    document = msgspec.structs.replace(new_document(), volumes=(bare,))
    ((_, _, _, depth),) = bodies_of(msgspec.json.decode(msgspec.json.encode(document)))
    return depth


def is_bent(volume):
    """Whether it is cut with sides that are not straight."""
    views = [volume.side, volume.plan, volume.front] if isinstance(volume, CutBody) else []
    return any(corner.bow or corner.round for view in views if view is not None for corner in view.corners)


def inside_of(face, dice, most=6):
    """Places (K, 3) on a face, beside its holes and clear of its sides."""
    outline = face.loops[0]
    low, high = outline.min(axis=0), outline.max(axis=0)
    found = []
    for at in dice.uniform(low, high, (200, 2)):
        clear = 0.02 * float((high - low).min())
        if holds(outline, at, -clear) and not any(holds(hole, at, clear) for hole in face.loops[1:]):
            found.append(face.corner + at[0] * face.x + at[1] * face.y)
    return np.array(found[:most]).reshape(-1, 3)


@settings(max_examples=60, deadline=None, derandomize=True, suppress_health_check=list(HealthCheck))
@given(shaped(kinds=("leaning", "corners", "counted", "frame", "turned", "cut")), st.integers(0, 2**31))
def test_faces_lie_on_the_body_and_look_out_of_it(volume, seed):
    volume = msgspec.structs.replace(volume, size=tuple(max(s, 80.0) for s in volume.size))
    depth, names = depth_of(volume), face_names(volume)
    faces = own_faces(volume)
    # Where bent sides meet a face, body and caster follow them by chords of their own.
    slack = 4e-4 * max(volume.size) if is_bent(volume) else 0.0
    assert set(names) == set(faces) and len(set(names.values())) == len(faces)
    for face in faces.values():
        frame = np.array([face.x, face.y, face.outward])
        assert np.allclose(frame @ frame.T, np.eye(3), atol=1e-9)
        places = inside_of(face, np.random.default_rng(seed))
        if len(places) == 0:
            continue
        assert np.abs(depth(places)).max() < 0.02 + slack
        assert depth(places - 0.2 * face.outward).min() > -slack
        if not isinstance(volume, Framed):  # rails run into the legs' faces
            assert depth(places + 0.2 * face.outward).max() < 0.0


@pytest.mark.parametrize(
    ("volume", "names"),
    [
        (BOTTLE, {"end.0": "underside", "end.1": "top"}),
        (WALL, {"y0": "left side", "y1": "right side", "x0": "front", "x1": "rear", "z1": "top", "z0": "underside 1",
                "z0/2": "underside 2", "jamb.0": "inner rear", "jamb.1": "inner front"}),
    ],
    ids=["bottle", "wall"],
)  # fmt: skip
def test_faces_are_called_by_the_sides_of_the_thing(volume, names):
    assert face_names(volume) == names
    assert set(own_faces(msgspec.structs.replace(volume, size=tuple(1.3 * s for s in volume.size)))) == set(names)


def test_a_frame_has_the_faces_that_nothing_of_it_covers():
    names = face_names(STOOL)
    assert names["slab.z1"] == "slab, top" and names["leg.1.x0"] == "leg 1, front" and "leg.1.z1" not in names
    assert "rail.1.1.x0" not in names, "its end stands against a leg"
    assert own_faces(STOOL)["slab.z1"].area == pytest.approx(420.0 * 400.0)
    assert own_faces(STOOL)["leg.4.z0"].area == pytest.approx(1600.0)


def test_a_steered_wheel_takes_what_lies_on_its_side_along():
    wheel = Turned(id="v", name="Wheel", corner=(0.0, 0.0, 0.0), size=(600.0, 180.0, 600.0), axle="wide",
                   profile=PROFILES["cylinder"], marks=(RingMark(face="end.0", at=(0.8, 0.5), diameter=60.0),))  # fmt: skip
    middle = np.array([300.0, 90.0, 300.0])
    for steer in (0.0, 30.0):
        ring = mark_rounds(msgspec.structs.replace(wheel, steer_deg=steer), 0).rings[0]
        turn = np.radians(steer)
        rotation = np.array([[np.cos(turn), -np.sin(turn), 0], [np.sin(turn), np.cos(turn), 0], [0, 0, 1]])
        assert ring[:3] == pytest.approx(middle + rotation @ (np.array([480.0, 0.0, 300.0]) - middle))


@settings(max_examples=40, deadline=None, derandomize=True, suppress_health_check=list(HealthCheck), phases=[Phase.explicit, Phase.generate])  # fmt: skip
@given(shaped(kinds=("turned", "frame", "cut", "box")), documents(most=0), st.integers(0, 2**31))
def test_the_pencil_meets_the_body_and_not_its_bounding_box(volume, document, seed):
    volume = msgspec.structs.replace(volume, id="v", see_through=False, size=tuple(max(s, 80.0) for s in volume.size))
    clear = {"long": 0, "wide": 1, "high": 2}
    rows = tuple(
        msgspec.structs.replace(row, last=0.0, pitch=np.copysign(1.2 * volume.size[clear[row.along]], row.pitch))
        for row in volume.copies
    )
    # A pocket's bottom is met deep in the body that is told of here.
    marks = tuple(mark for mark in volume.marks if not isinstance(mark, OpeningMark))
    volume = msgspec.structs.replace(volume, copies=rows, mirror=None, marks=marks)
    document = msgspec.structs.replace(document, volumes=(volume,))
    drawing, depth = solve(document), depth_of(volume)
    paper = drawing.picture.paper[~np.isnan(drawing.picture.paper).any(axis=1)]
    if len(paper) == 0:
        return
    dice = np.random.default_rng(seed)
    for u, v in dice.uniform(paper.min(axis=0), paper.max(axis=0), (12, 2)):
        hit = pick_face(drawing, float(u), float(v))
        if hit is None:
            continue
        own, (ways, moved) = on_itself(drawing, hit)
        assert np.allclose(ways @ own.place + moved, hit.place, atol=1e-6 * max(np.abs(hit.place).max(), 1.0))
        assert abs(float(depth(own.place[None])[0])) < 0.05 + (4e-4 if is_bent(volume) else 3e-4) * max(volume.size)
        face = face_of_hit(drawing, hit)
        if isinstance(face, str):
            found = own_faces(volume)[face]
            assert abs(float((own.place - found.corner) @ found.outward)) < 0.05


@given(shaped(kinds=("box", "frame", "turned")))
def test_placements_are_where_the_copies_stand(volume):
    volume = msgspec.structs.replace(
        volume, copies=tuple(msgspec.structs.replace(r, last=0.0) for r in volume.copies)
    )
    middle = box_corners([volume])[0][0].mean(axis=0)
    copies = copies_of(volume, dict)
    wanted = np.array([box_corners([copy])[0][0].mean(axis=0) for copy in copies])
    found = np.array([ways @ middle + moved for ways, moved in placements(volume, dict)])
    assert all(np.abs(found - place).max(axis=1).min() < 1e-6 for place in wanted)


def laid_on(document, place, far, owner_name="v"):
    """Pull a ring open from one world place to another with the tool."""
    context = ToolContext(solve(document), 0.3)
    (u, v), (to_u, to_v) = document.eye.project(np.array([place, far]))[0]
    tool = lay_tool(context, lambda: LayPlan())
    next(tool)
    tool.send(Pencil(Act.PRESS, u, v))
    tool.send(Pencil(Act.MOVE, to_u, to_v))
    with pytest.raises(StopIteration) as done:
        tool.send(Pencil(Act.RELEASE, to_u, to_v))
    return done.value.value.document.volume(owner_name)


def test_a_ring_is_laid_on_the_top_of_a_bottle_and_on_the_copy_that_is_pointed_at():
    document = add_volume(new_document(), BOTTLE).document
    place = np.array([100.0, 100.0, 400.0])
    (mark,) = laid_on(document, place, np.array([120.0, 100.0, 400.0])).marks
    assert (
        mark.face == "end.1"
        and mark.at == pytest.approx((0.5, 0.5))
        and mark.diameter == pytest.approx(40.0, abs=2.0)
    )
    row = Box(id="v", name="Box", corner=(0.0, 0.0, 0.0), size=(400.0, 300.0, 200.0),
              copies=(Repeat(along="long", count=3, pitch=600.0),), mirror=Mirror(across="wide"))  # fmt: skip
    document = add_volume(new_document(), row).document
    place = np.array([1300.0, 0.0, 150.0])
    assert (
        face_under(ToolContext(solve(document), 0.3), *document.eye.project(place[None] + (0.0, -300.0, 0.0))[0][0])
        is not None
    )
    (mark,) = laid_on(document, np.array([1300.0, -300.0, 150.0]), np.array([1340.0, -300.0, 150.0])).marks
    assert mark.face == 3, "the image's near side is the far side of the volume itself"
    assert mark.at == pytest.approx((0.25, 0.75), abs=0.02) and mark.diameter == pytest.approx(80.0, abs=4.0)


def test_a_round_side_tells_its_height_and_angle():
    document = add_volume(new_document(), BOTTLE).document
    drawing = solve(document)
    u, v = document.eye.project(np.array([[100.0, 0.0, 120.0]]))[0][0]
    hit = pick_face(drawing, float(u), float(v))
    assert hit is not None and face_of_hit(drawing, hit) is None
    assert hit.place == pytest.approx((100.0, 0.0, 120.0), abs=0.5)
    assert side_place(BOTTLE, hit.place) == pytest.approx((120.0, 270.0), abs=0.5)
    tool = lay_tool(ToolContext(solve(document), 0.3), lambda: LayPlan(kind="arch"))
    next(tool)
    shown = tool.send(Pencil(Act.PRESS, u, v))
    assert "round side of Bottle, 120" in shown.refusal and "such as its ends" in shown.refusal
    # A ring is laid there, its centre held along the axle and about it; the quarter turn catches.
    place = np.array([100.0, 0.0, 121.0])
    (mark,) = laid_on(document, place, place + np.array([15.0, 0.0, 0.0])).marks
    assert mark.face == "side" and mark.at == pytest.approx((121.0 / 400.0, 0.75), abs=0.005)
    assert mark.diameter == pytest.approx(30.0, abs=2.0) and mark.at[1] == 0.75


def test_marks_on_an_arch_keep_to_their_face_when_the_wall_grows():
    document = add_volume(new_document(), WALL).document
    document = lay_mark(document, "v", RingMark(face="jamb.0", at=(0.5, 0.5), diameter=60.0)).document
    for long in (2000.0, 3000.0):
        grown = resize_volume(document, "v", 0, long).document
        assert mark_rounds(grown.volumes[0], 0).rings[0, 0] == pytest.approx(250.0)
    wide = change_volume(grown, "v", "pier", pier=300.0).document
    assert mark_rounds(wide.volumes[0], 0).rings[0, 0] == pytest.approx(300.0)
    face = own_faces(WALL)["y0"]
    assert plane_of_face(face).loops and face.area < 2000.0 * 1500.0


def test_the_pencil_takes_the_copy_whose_side_it_meets_where_copies_reach_into_one_another():
    body = Turned(id="v", name="V", corner=(0.0, 0.0, 0.0), size=(600.0, 600.0, 900.0), copies=(Repeat(along="long", count=3, pitch=250.0),))  # fmt: skip
    document = msgspec.structs.replace(new_document(away=5000.0, eye_height=1400.0), volumes=(body,))
    drawing, depth, told = solve(document), depth_of(body), 0
    for x in (60.0, 330.0, 560.0, 820.0, 1050.0):
        for z in (100.0, 700.0):
            u, v = drawing.document.eye.project(np.array([[x, 20.0, z]]))[0][0]
            hit = pick_face(drawing, float(u), float(v))
            if hit is not None:
                own, _ = on_itself(drawing, hit)
                told += 1
                assert abs(float(depth(own.place[None])[0])) < 1.0
    assert told >= 6
