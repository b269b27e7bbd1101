"""Bodies cut by their plain views: what they are, their faces, how their corners are held, and what is said when it fails."""

import json
import math
from pathlib import Path

import msgspec
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from isometron.document.edits import add_volume, delete_volumes, duplicate_volumes, move_volumes, resize_volume
from isometron.document.fresh import new_document
from isometron.document.laid import given_up_words, gives_up
from isometron.document.marks.dividing import lay_mark
from isometron.document.marks.laying import lay_on_body
from isometron.document.model import DocumentError
from isometron.document.shapes.profiles import (
    add_corner,
    change_corner,
    follow_middle,
    hold_corner,
    move_corner,
    places_of,
    take_corner,
    type_coordinate,
)
from isometron.document.shapes.shaping import SHAPES, make_shape
from isometron.document.store.files import decode_document, encode_document
from isometron.solve.drawing import solve
from isometron.starters.catalogue import lay_starter
from isometron.tools.base import find_base
from isometron.tools.pencil import ToolContext
from isometron.tools.pulls import Pull, pulled_box
from isometron.volumes.box import Box, box_corners
from isometron.volumes.cut.body import cut_at_rest, uncut_because
from isometron.volumes.cut.profiles import VIEWS, CutBody, CutProfile, ProfileCorner, view_size
from isometron.volumes.faces.names import face_names
from isometron.volumes.faces.plane import plane_of_face
from isometron.volumes.kinds import own_faces
from isometron.volumes.marks.face_marks import DivideMark, RingMark
from isometron.volumes.marks.mark_parts import mark_edges, mark_rounds
from tests.strategies import cut_bodies

CASES = json.loads((Path(__file__).parents[1] / "cases" / "cutbody.json").read_text())["cases"]
PLACE = {"id": "v", "name": "V", "corner": (0.0, 0.0, 0.0), "size": (900.0, 600.0, 700.0)}
FEW = settings(max_examples=60, deadline=None, derandomize=True)


def document(*volumes):
    return msgspec.structs.replace(new_document(), volumes=volumes)


def corner_of(own, after, size):
    """A reference corner as one of a profile: what is drawn as an arc to the next is a bow."""
    fields = {name: own[name] for name in ("round", "chamfer") if name in own}
    if "arc_to_next" in own:
        arc = own["arc_to_next"]
        start, end = (math.atan2(p[1] - arc["centre"][1], p[0] - arc["centre"][0]) for p in (own["at"], after["at"]))
        turn = (end - start) % (2 * math.pi) if arc["turn"] == "ccw" else -((start - end) % (2 * math.pi))
        fields["bow"] = math.tan(turn / 4)
    return ProfileCorner(at=(own["at"][0] / size[0], own["at"][1] / size[1]), **fields)


def body_of(case):
    size = case["given"]["size"]
    volume = CutBody(id="v", name="V", corner=(100.0, 200.0, 300.0), size=tuple(size), yaw_deg=30.0)
    for view in VIEWS:
        outline = case["given"].get(view)
        if outline:
            corners = [
                corner_of(c, outline[(k + 1) % len(outline)], view_size(volume, view)) for k, c in enumerate(outline)
            ]
            volume = msgspec.structs.replace(volume, **{view: CutProfile.through(corners)})
    return decode_document(encode_document(document(volume))).volume("v")


def length_of(rings, spans):
    t = np.linspace(0.0, 2 * np.pi, 4001)
    total = 0.0
    for ring, (start, sweep) in zip(rings, spans, strict=True):
        angle = 2 * np.pi * start + sweep * t
        p = ring[:3] + np.cos(angle)[:, None] * ring[3:6] + np.sin(angle)[:, None] * ring[6:]
        total += np.linalg.norm(np.diff(p, axis=0), axis=1).sum()
    return total


def perimeter(loop):
    return float(np.linalg.norm(np.roll(loop, -1, axis=0) - loop, axis=1).sum())


def area(loop):
    other = np.roll(loop, -1, axis=0)
    return float((loop[:, 0] * other[:, 1] - loop[:, 1] * other[:, 0]).sum()) / 2


@pytest.mark.parametrize("case", CASES, ids=lambda case: case["id"])
def test_reference_cases_through_what_is_drawn(case):
    """Rounds are worked with as chords, so cases with arcs are held to 5e-4; straight ones to 1e-9."""
    volume, expect = body_of(case), case["expect"]
    assert uncut_because(volume) == []
    drawing = solve(document(volume))
    scene, rounds = drawing.scene, drawing.scene.rounds
    rel = 5e-4 if len(rounds) else 1e-9
    ends = scene.vertices[scene.edges]
    lengths = np.linalg.norm(ends[:, 1] - ends[:, 0], axis=1)
    sharp = lengths[~scene.edge_soft].sum() + length_of(rounds.rings, rounds.ring_span)
    sharp += np.linalg.norm(rounds.strokes[:, 1] - rounds.strokes[:, 0], axis=1).sum()
    assert sharp == pytest.approx(expect["sharp_edge_length"], rel=rel)
    assert lengths[scene.edge_soft].sum() == pytest.approx(expect["tangent_edge_length"], rel=rel, abs=1e-6)
    cut, _ = cut_at_rest(volume)
    assert cut.volume == pytest.approx(expect["volume"], rel=rel)
    assert cut.area.sum() == pytest.approx(expect["surface_area"], rel=rel)
    turn = scene.rotations[0]
    found = [
        ((turn.T @ f.outward), float((f.corner - np.array(volume.corner)) @ f.outward), area(f.loops[0]) + sum(map(area, f.loops[1:])),
         sum(map(perimeter, f.loops)), len(f.loops) - 1)
        for f in own_faces(volume).values()
    ]  # fmt: skip
    assert len(found) == len(expect["planar_faces"])
    size = max(volume.size)
    for face in expect["planar_faces"]:
        gaps = [
            np.abs(normal - face["normal"]).max() + abs(off - face["offset"]) / size + abs(flat / face["area"] - 1.0)
            for normal, off, flat, _, _ in found
        ]
        normal, off, flat, rim, holes = found[int(np.argmin(gaps))]
        assert normal == pytest.approx(face["normal"], abs=1e-9) and off == pytest.approx(face["offset"], abs=1e-6)
        assert flat == pytest.approx(face["area"], rel=rel) and rim == pytest.approx(face["perimeter"], rel=rel)
        assert holes == face["holes"]
    low, high = ends.min(axis=(0, 1)), ends.max(axis=(0, 1))
    assert np.isfinite(low).all() and np.isfinite(high).all()


@FEW
@given(cut_bodies(PLACE))
def test_the_faces_of_a_cut_body_close_and_each_edge_lies_between_two(volume):
    cut, faces = cut_at_rest(volume)
    way = cut.ends[:, 1] - cut.ends[:, 0]
    for k in range(3):
        assert np.abs(np.bincount(cut.face, way[:, k], len(cut.bend))).max() < 1e-5, (
            "every face's sides go all round it"
        )
    assert (cut.beyond >= 0).all()
    whole = np.linalg.norm(way, axis=1).sum()
    assert whole == pytest.approx(2 * np.linalg.norm(way[cut.once], axis=1).sum(), rel=1e-6), (
        "each edge once in two faces"
    )
    inside = np.random.default_rng(1).uniform(0.0, 1.0, (4000, 3)) * volume.size
    kept = np.ones(len(inside), dtype=bool)
    from tests.ray_caster import own_depth

    kept = own_depth(msgspec.to_builtins(volume))(inside) > 0.0
    share = cut.volume / np.prod(volume.size)
    assert share == pytest.approx(kept.mean(), abs=0.04), "what is left is what lies in all views"
    assert len(faces) <= len(cut.bend)


def test_marks_on_a_face_go_with_it_and_stay_when_it_goes():
    made = make_shape(document(Box(**PLACE)), ["v"], "steps").document
    names = face_names(made.volume("v"))
    assert sorted(names.values()).count("tread 1") == 1 and "top" in names.values()
    tread = next(face for face, name in names.items() if name == "tread 1")
    laid = lay_mark(made, "v", RingMark(face=tread, at=(0.5, 0.5), diameter=100.0)).document
    face = own_faces(laid.volume("v"))[tread]
    ring = mark_rounds(laid.volume("v"), 0).rings[0]
    assert abs((ring[:3] - face.corner) @ face.outward) < 1e-9, "on the tread, not on the bounding volume"
    number = int(tread.split(".")[1])
    taken = take_corner(laid, "v", "side", number).document
    assert tread not in own_faces(taken.volume("v")), "the face went with its corner"
    (ring,) = taken.volume("v").marks
    assert own_faces(taken.volume("v"))[ring.face].outward[2] > 0.0, (
        "what lay there is pushed down on to what is there now"
    )
    assert len(mark_rounds(taken.volume("v"), 0).rings) == 1 and ring.diameter == 100.0
    added = add_corner(taken, "v", "side", 1, (300.0, 10.0)).document
    assert all(corner.n != number for corner in added.volume("v").side.corners), "numbers are never given again"


def test_marks_that_float_are_laid_on_the_body_by_one_deed():
    gable = make_shape(document(Box(**PLACE)), ["v"], "hipped roof").document
    marks = (RingMark(face=5, at=(0.2, 0.5), diameter=60.0), DivideMark(face=2, across=(0.5,)))
    floating = document(msgspec.structs.replace(gable.volume("v"), marks=marks))
    laid = lay_on_body(floating, ["v"]).document.volume("v")
    assert [mark.face for mark in laid.marks] == ["side.4", "front.4"], "the slopes that lie straight behind"
    for mark in laid.marks:
        face = own_faces(laid)[mark.face]
        bare = msgspec.structs.replace(laid, marks=(mark,))
        places = np.concatenate([mark_edges(bare).ends.reshape(-1, 3), mark_rounds(bare, 0).rings[:, :3]])
        assert np.abs((places - face.corner) @ face.outward).max() < 1e-9
    was, now = (mark_rounds(floating.volume("v"), 0).rings[0], mark_rounds(laid, 0).rings[0])
    assert now[:2] == pytest.approx(was[:2]), "straight below where it was"
    with pytest.raises(DocumentError, match="nothing to lay"):
        lay_on_body(document(laid), ["v"])


@pytest.mark.parametrize("how", ["share", "start", "middle", "end"])
def test_changing_the_hold_moves_nothing_and_the_hold_says_what_a_longer_body_does(how):
    made = make_shape(document(Box(**PLACE)), ["v"], "notched block").document
    corner = made.volume("v").side.corners[4]
    place = places_of(corner, (900.0, 700.0))
    held = hold_corner(made, "v", "side", corner.n, 0, how).document
    assert places_of(held.volume("v").side.corners[4], (900.0, 700.0)) == pytest.approx(place)
    longer = resize_volume(held, "v", 0, 1100.0).document
    x, y = places_of(longer.volume("v").side.corners[4], (1100.0, 700.0))
    shift = {"share": place[0] * 200.0 / 900.0, "start": 0.0, "middle": 100.0, "end": 200.0}[how]
    assert (x, y) == pytest.approx((place[0] + shift, place[1]))


def test_radii_stay_when_a_body_is_lengthened_and_too_large_ones_are_refused_with_words():
    made = make_shape(document(Box(**PLACE)), ["v"], "rounded in plan").document
    radius = made.volume("v").plan.corners[0].round
    longer = resize_volume(made, "v", 0, 2000.0).document
    assert longer.volume("v").plan.corners[0].round == radius
    with pytest.raises(DocumentError, match=r"at most .* mm fits"):
        change_corner(made, "v", "plan", 1, round=5000.0)
    edit = resize_volume(made, "v", 1, 20.0)
    slim = edit.document.volume("v").plan
    assert not [f for f in solve(edit.document).findings if f.code == "uncut"]
    assert all(corner.round == pytest.approx(10.0, rel=1e-3) for corner in slim.corners), (
        "as large as there is room for"
    )
    assert "shaped otherwise" in given_up_words(gives_up(made, edit))


def test_wheel_arches_stay_round_their_wheels():
    made = lay_starter(new_document(), "low-car").document

    def middles(doc):
        body, wheel = doc.volume("body"), doc.volume("wheel")
        cut, _ = cut_at_rest(body)
        arches = cut.rounds[cut.span[:, 1] < -3.0]
        axles = np.array(wheel.corner) + np.array(wheel.size) / 2 - np.array(body.corner)
        return (
            arches[:, [0, 2]],
            np.array([axles[[0, 2]], axles[[0, 2]] + (wheel.copies[0].pitch, 0.0)]),
            arches[:, 3:9],
        )

    for doc in (
        made,
        move_volumes(made, ["wheel"], (80.0, 0.0, 25.0)).document,
        resize_volume(made, "wheel", 0, 700.0).document,
    ):
        arches, axles, halves = middles(doc)
        assert arches == pytest.approx(axles, abs=1e-3)
        assert np.linalg.norm(halves[:, :3], axis=1) == pytest.approx(0.57 * doc.volume("wheel").size[0], abs=1e-3)
    twin = duplicate_volumes(made, ["body", "cabin", "wheel"]).document
    things = {held.thing for corner in twin.volumes[3].side.corners for held in corner.at if hasattr(held, "thing")}
    assert things == {twin.volumes[5].id}, "the copy's arches follow the copy's wheels"
    alone = delete_volumes(made, ["wheel"]).document
    assert cut_at_rest(alone.volume("body"))[0].volume == pytest.approx(cut_at_rest(made.volume("body"))[0].volume)


def test_a_corner_is_typed_as_a_share_a_length_an_expression_or_from_a_thing():
    other = Box(id="o", name="Other", corner=(200.0, 0.0, 0.0), size=(100.0, 100.0, 100.0))
    made = make_shape(document(Box(**PLACE), other), ["v"], "wedge").document
    n = made.volume("v").side.corners[2].n

    def at(doc):
        return places_of(
            next(c for c in doc.volume("v").side.corners if c.n == n), view_size(doc.volume("v"), "side")
        )[0]

    assert at(type_coordinate(made, "v", "side", n, 0, "40 %").document) == pytest.approx(360.0)
    assert at(type_coordinate(made, "v", "side", n, 0, "12 cm").document) == pytest.approx(120.0)
    said = type_coordinate(made, "v", "side", n, 0, "2 * other.long").document
    assert at(said) == pytest.approx(200.0)
    assert at(resize_volume(said, "o", 0, 150.0).document) == pytest.approx(300.0)
    follows = follow_middle(made, "v", "side", n, 0, "o").document
    assert at(follows) == pytest.approx(at(made))
    assert at(move_volumes(follows, ["o"], (70.0, 0.0, 0.0)).document) == pytest.approx(at(made) + 70.0)
    with pytest.raises(DocumentError):
        type_coordinate(made, "v", "side", n, 0, "nobody.long")


@pytest.mark.parametrize(
    ("corners", "words"),
    [
        (((0.0, 0.0), (1.0, 1.0), (1.0, 0.0), (0.0, 1.0)), "crosses itself"),
        (((0.0, 0.0), (0.5, 0.0), (1.0, 0.0)), "encloses nothing"),
        (((0.0, 0.0), (1.0, 0.0)), "three corners"),
        (((0.0, 0.0), (1.5, 0.0), (1.0, 1.0)), "beyond the bounding volume"),
    ],
)
def test_outlines_that_are_none_are_kept_and_told(corners, words):
    volume = CutBody(**PLACE, side=CutProfile.through(ProfileCorner(at=at) for at in corners))
    kept = decode_document(encode_document(document(volume)))
    assert kept.volume("v") == volume, "nothing is lost"
    (finding,) = [f for f in solve(kept).findings if f.code == "uncut"]
    assert words in finding.message
    assert len(own_faces(volume)) == 6, "meanwhile that view cuts nothing"


def test_a_profile_of_too_many_corners_is_refused_with_its_place():
    corner = ProfileCorner(at=(0.5, 0.5))
    data = encode_document(document(CutBody(**PLACE, side=CutProfile(corners=(corner,) * 3))))
    one = msgspec.json.encode(corner)
    data = data.replace(one, b",".join([one] * 700))
    with pytest.raises(ValueError, match=r"volume 1 \('V'\), side.corners"):
        decode_document(data)


@FEW
@given(st.sampled_from(sorted(SHAPES)), st.integers(0, 9), st.floats(-300.0, 300.0), st.floats(-300.0, 300.0))
def test_a_pulled_corner_is_where_it_was_pulled_or_refused_and_nothing_else_moves(name, k, dx, dy):
    made = make_shape(document(Box(**PLACE)), ["v"], name).document
    volume = made.volume("v")
    for view in VIEWS:
        profile = getattr(volume, view, None)
        if profile is None:
            continue
        corner, size = profile.corners[k % len(profile.corners)], view_size(volume, view)
        x, y = places_of(corner, size)
        wished = min(max(x + dx, 0.0), size[0]), min(max(y + dy, 0.0), size[1])
        try:
            after = getattr(move_corner(made, "v", view, corner.n, wished).document.volume("v"), view)
        except DocumentError as error:
            assert str(error)
            continue
        for was, now in zip(profile.corners, after.corners, strict=True):
            expected = wished if was.n == corner.n else places_of(was, size)
            assert places_of(now, size) == pytest.approx(expected, abs=1e-6)


def test_adding_a_volume_again_does_not_change_a_cut_body():
    made = lay_starter(new_document(), "tall-van").document
    more = add_volume(made, Box(id="box", name="Box", corner=(9000.0, 0.0, 0.0), size=(10.0, 10.0, 10.0))).document
    assert more.volumes[:-1] == made.volumes


@pytest.mark.parametrize("upright", [False, True])
@pytest.mark.parametrize("shape", ["cabin, sides leaning in", "hipped roof", "gable with overhang"])
def test_a_block_begun_on_a_leaning_face_stands_square_to_it_or_upright(shape, upright):
    made = make_shape(new_document_with(Box(**PLACE | {"corner": (-450.0, -300.0, 0.0)})), ["v"], shape).document
    drawing, stood = solve(made), 0
    for face in own_faces(made.volume("v")).values():
        if abs(face.outward).max() > 1.0 - 1e-6:
            continue
        place = plane_of_face(face).middle
        u, v = made.eye.project(place)[0][0]
        base = find_base(drawing, float(u), float(v), 0.3, 0.1, upright=upright)
        if base is None or base.host is None or abs((base.place - place) @ face.outward) > 1e-6:
            continue  # it does not look at the eye
        stood += 1
        assert base.upright == upright and base.leaning in base.words
        across = base.rotation[:, base.normal] * base.outward
        assert across == pytest.approx(face.outward) if not upright else abs(across).max() == pytest.approx(1.0)
        context = ToolContext(drawing, 0.3)
        pulls = [Pull(k, 60.0) for k in range(3) if k != base.normal] + [Pull(base.normal, base.outward * 40.0)]
        block = add_volume(made, pulled_box(context, base, pulls)).document.volumes[-1]
        corners = box_corners([block])[0][0]
        heights = (corners - face.corner) @ face.outward
        if not upright:
            assert sorted(np.round(heights, 6)) == [0.0] * 4 + [40.0] * 4, "it lies on the face with a whole side"
        assert block.joined.to == "v"
    assert stood


def new_document_with(*volumes):
    return msgspec.structs.replace(new_document(away=5000.0, eye_height=1800.0, turn_deg=30.0), volumes=volumes)
