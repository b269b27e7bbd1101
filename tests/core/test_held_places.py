"""Places on faces and joins held as a person holds them: what moves, what stays, and what is said of them."""

import msgspec
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from isometron.document.edits import (
    add_volume,
    change_volume,
    delete_volumes,
    duplicate_volumes,
    move_volumes,
    resize_volume,
)
from isometron.document.fresh import new_document
from isometron.document.joining import change_hold, hold_words, join, join_onto, pull_apart, type_hold
from isometron.document.joins import extents_in, join_words
from isometron.document.lengths.proportion import add_target
from isometron.document.lengths.sizes import Sizes
from isometron.document.lengths.typed_places import place_words, step_words
from isometron.document.marks.dividing import change_mark, lay_mark
from isometron.document.marks.mark_holds import (
    follow_with_mark,
    hold_mark,
    lines_words,
    step_mark,
    type_lines,
    type_mark_place,
    type_mark_step,
)
from isometron.document.model import DocumentError
from isometron.document.shapes.profiles import begin_profile, move_corner, put_profile
from isometron.document.store.files import decode_document, encode_document, least_version
from isometron.errors import IsometronError
from isometron.solve.drawing import solve
from isometron.solve.findings import findings
from isometron.volumes.box import BOX_FACES, Box, box_corners
from isometron.volumes.cut.profiles import CutBody, CutProfile, ProfileCorner
from isometron.volumes.faces.names import face_names
from isometron.volumes.marks.face_marks import ArchMark, DivideMark, RingMark, TickMark
from isometron.volumes.marks.holds import Apart, Measured
from isometron.volumes.marks.mark_parts import mark_edges, mark_rounds, ring_place
from isometron.volumes.marks.places import has_place
from isometron.volumes.own_sides import front_ray, heading_of, side_name, view_word
from isometron.volumes.volume import AHEADS

BODY = Box(id="body", name="Body", corner=(50.0, -30.0, 200.0), size=(2400.0, 900.0, 700.0), yaw_deg=24.0)
WHEEL = Box(id="wheel", name="Wheel", corner=(300.0, 100.0, 0.0), size=(500.0, 180.0, 500.0), yaw_deg=24.0)
RING = RingMark(face=2, at=(0.3, 0.6), diameter=120.0)
KINDS = ("share", "start", "middle", "end", "edge start", "edge end")


def document(*volumes):
    doc = new_document()
    for volume in volumes:
        doc = add_volume(doc, volume).document
    return doc


def marked(*marks):
    return change_volume(document(BODY, WHEEL), "body", "mark", marks=marks).document


def drawn(doc, row=0):
    """Everything that a volume's marks draw, in the world."""
    volume = doc.volumes[row]
    return mark_edges(volume).ends, mark_rounds(volume, 0).rings


def same(one, two):
    assert all(a.shape == b.shape and np.allclose(a, b, atol=1e-6) for a, b in zip(one, two, strict=True))


def centre_in(doc, mark=0):
    """Where a ring's centre lies in its volume, mm along the volume's own directions."""
    volume = doc.volumes[0]
    _, centre, _ = ring_place(volume.marks[mark], volume)
    corners, rotations = box_corners([volume])
    return (centre - corners[0, 0]) @ rotations[0]


@given(
    st.sampled_from(KINDS), st.sampled_from(KINDS), st.integers(0, 1), st.integers(0, 5),
    st.tuples(*[st.floats(0.1, 0.9)] * 2), st.floats(10.0, 150.0), st.booleans(),
)  # fmt: skip
def test_changing_how_a_mark_is_held_moves_nothing(first, second, column, face, at, size, is_arch):
    mark = (
        ArchMark(face=face, at=at, wide=size, high=1.5 * size)
        if is_arch
        else RingMark(face=face, at=at, diameter=size, depth=-5.0)
    )
    doc = marked(mark)
    before = drawn(doc)
    for how in (first, second):
        doc = hold_mark(doc, "body", 0, column, how).document
        same(drawn(doc), before)
    held = doc.volumes[0].marks[0].at[column]
    assert isinstance(held, Measured) == (second != "share")
    assert decode_document(encode_document(doc)).volumes == doc.volumes
    assert least_version(doc) == (2 if isinstance(held, Measured) or first == second != "share" else 1)


@pytest.mark.parametrize(
    ("how", "text", "place", "grown"),
    [
        ("share", "25 %", 600.0, 750.0), ("start", "100", 100.0, 100.0), ("end", "100", 2300.0, 2900.0),
        ("middle", "-50", 1150.0, 1450.0), ("edge start", "0", 60.0, 60.0), ("edge end", "40", 2300.0, 2900.0),
        ("start", "wheel / 2", 250.0, 250.0), ("edge end", "0", 2340.0, 2940.0),
    ],
)  # fmt: skip
def test_a_mark_keeps_to_what_it_is_held_by_when_its_face_grows(how, text, place, grown):
    doc = type_mark_place(hold_mark(marked(RING), "body", 0, 0, how).document, "body", 0, 0, text).document
    assert centre_in(doc)[0] == pytest.approx(place)
    assert centre_in(resize_volume(doc, "body", 0, 3000.0).document)[0] == pytest.approx(grown)
    assert place_words(doc.volumes[0].marks[0].at[0], doc).replace(" mm", "") == text.replace(" mm", "")
    bigger = change_mark(doc, "body", 0, diameter=200.0).document
    flush = {"edge start": 40.0, "edge end": -40.0}.get(how, 0.0)
    assert centre_in(bigger)[0] == pytest.approx(place + flush), "an edge that is held stays where it is"


def test_a_mark_follows_an_expression_and_the_middle_of_another_volume():
    doc = type_mark_place(marked(RING), "body", 0, 0, "wheel / 2").document
    assert centre_in(resize_volume(doc, "wheel", 0, 800.0).document)[0] == pytest.approx(400.0)
    renamed = change_volume(doc, "wheel", "rename", name="Rear wheel").document
    assert renamed.volumes[0].marks[0].at[0].says == "rear_wheel / 2"
    assert centre_in(resize_volume(renamed, "wheel", 0, 600.0).document)[0] == pytest.approx(300.0)
    gone = delete_volumes(renamed, ["wheel"]).document
    assert gone.volumes[0].marks[0].at[0] == Measured(mm=250.0), "it stays where it was"
    with pytest.raises(DocumentError, match="Names: body, wheel"):
        type_mark_place(marked(RING), "body", 0, 0, "wheal / 2")

    doc = follow_with_mark(marked(RING), "body", 0, 0, "wheel").document
    before = centre_in(doc)
    moved = change_volume(doc, "wheel", "move", corner=(340.0, 100.0, 0.0)).document
    along = np.array([np.cos(np.radians(24.0)), np.sin(np.radians(24.0))]) @ (40.0, 0.0)
    assert centre_in(moved) - before == pytest.approx((along, 0.0, 0.0))
    twin = duplicate_volumes(doc, ["body", "wheel"])
    copy, wheel = (twin.document.volume(i) for i in twin.selection)
    assert copy.marks[0].at[0].thing == wheel.id
    with pytest.raises(DocumentError, match="middle of another volume"):
        follow_with_mark(doc, "body", 0, 0, "body")


def test_a_row_keeps_its_pitch_or_its_gap_as_meant():
    row = msgspec.structs.replace(RING, at=(0.1, 0.5), count=3, step=(0.2, 0.0))
    doc = marked(row)
    before = drawn(doc)
    for how, words, grown in (("share", "20 %", 600.0), ("pitch", "480 mm", 480.0), ("gap", "360 mm", 480.0)):
        held = step_mark(doc, "body", 0, 0, how).document
        same(drawn(held), before)
        assert step_words(held.volumes[0].marks[0].step[0], held) == words
        longer = drawn(resize_volume(held, "body", 0, 3000.0).document)[1][:, :3]
        assert np.linalg.norm(longer[1] - longer[0]) == pytest.approx(grown)
    wider = drawn(change_mark(held, "body", 0, diameter=200.0).document)[1][:, :3]
    assert np.linalg.norm(wider[1] - wider[0]) == pytest.approx(560.0), "the gap stays, the pitch grows"
    back = type_mark_step(marked(msgspec.structs.replace(row, at=(0.9, 0.5))), "body", 0, 0, "-2 wheel").document
    (first, second, *_) = drawn(resize_volume(back, "wheel", 0, 300.0).document)[1][:, :3]
    assert np.linalg.norm(second - first) == pytest.approx(600.0)
    assert centre_in(back)[0] > (second - box_corners([back.volumes[0]])[0][0, 0])[0]
    leftward = marked(msgspec.structs.replace(row, at=(0.9, 0.5), step=(Apart(by="gap", mm=-80.0), 0.0)))
    (first, second, *_) = drawn(leftward)[1][:, :3]
    assert (first - second) @ box_corners([BODY])[1][0][:, 0] == pytest.approx(80.0 + 120.0), (
        "a gap the other way is clear too"
    )
    close = marked(msgspec.structs.replace(row, step=(0.01, 0.0)))
    with pytest.raises(DocumentError, match="no gap between them"):
        step_mark(close, "body", 0, 0, "gap")


def test_lines_and_ticks_are_held_in_mm_and_typed_as_places():
    doc = type_lines(
        marked(DivideMark(face=2, across=(0.5,), border=100.0)), "body", 0, "across", "200 mm; 50 %; -wheel"
    ).document
    laid = doc.volumes[0].marks[0]
    assert lines_words(laid, "across", doc) == "200 mm; 50 %; -wheel" and lines_words(laid, "up", doc) == ""
    origin, rotation = box_corners([doc.volumes[0]])

    def places(doc):
        ends, inward = mark_edges(doc.volumes[0]).ends, rotation[0]
        own = (ends - origin[0, 0]) @ inward
        upright = [round(float(x), 6) for (x, _, _), (other, _, _) in own if x == pytest.approx(other)]
        return sorted(x for x in upright if 100.0 < x < doc.volumes[0].size[0] - 100.0)

    assert places(doc) == pytest.approx([300.0, 1200.0, 1800.0]), "inside the border"
    assert places(resize_volume(doc, "wheel", 0, 700.0).document) == pytest.approx([300.0, 1200.0, 1600.0])
    assert type_lines(doc, "body", 0, "up", "1 : 2 : 1").document.volumes[0].marks[0].up == (0.25, 0.75)
    short = resize_volume(doc, "body", 0, 700.0).document
    assert len(places(short)) < 3, "a line beyond its face is not drawn"
    assert places(resize_volume(short, "body", 0, 2400.0).document) == places(doc), "and comes back"
    ticks = marked(TickMark(edge=0, parts=(Measured(mm=240.0), Measured(mm=100.0, from_="end"))))
    lower = (mark_edges(ticks.volumes[0]).ends[:, 0] - origin[0, 0]) @ rotation[0]
    assert sorted({round(float(x), 6) for x in lower[:, 0]}) == [240.0, 2300.0]


def test_a_mark_beyond_its_face_keeps_its_mm_to_the_nearer_end_and_one_in_a_file_is_told():
    doc = type_mark_place(marked(RING), "body", 0, 0, "2000").document
    short = resize_volume(doc, "body", 0, 1500.0).document
    assert short.volumes[0].marks[0].at[0].mm == 1100.0 and len(drawn(short)[1]) == len(drawn(doc)[1]), (
        "400 from the end"
    )
    beyond = msgspec.structs.replace(short.volumes[0], marks=doc.volumes[0].marks)
    filed = msgspec.structs.replace(short, volumes=(beyond,))
    assert not has_place(beyond, beyond.marks[0]) and len(drawn(filed)[1]) == 0
    told = [f for f in findings(filed, solve(filed).picture) if f.code == "mark-away"]
    assert [f.volumes for f in told] == [("body",)] and "the ring (mark 1, on left side)" in told[0].message
    with pytest.raises(DocumentError, match="beyond its face"):
        lay_mark(doc, "body", RingMark(face=2, at=(Measured(mm=2500.0), 0.5), diameter=10.0))


def test_a_lamp_keeps_to_a_leaning_front_that_moves():
    doc = begin_profile(document(BODY), "body", "side").document
    doc = move_corner(doc, "body", "side", 3, (2000.0, 700.0)).document
    face = next(name for name, word in face_names(doc.volumes[0]).items() if word == "rear slope")
    lamp = RingMark(face=face, at=(Measured(mm=80.0, to="edge"), Measured(mm=100.0)), diameter=90.0)
    doc = lay_mark(doc, "body", lamp).document
    for size in (2400.0, 2900.0):
        long = resize_volume(doc, "body", 0, size).document
        slope = size * 400.0 / 2400.0
        along = 100.0 / np.hypot(slope, 700.0)
        assert centre_in(long) == pytest.approx((size - along * slope, 80.0 + 45.0, along * 700.0))


@given(
    st.sampled_from(["start", "end", "before", "after", "middle", "share"]), st.sampled_from(["edge", "middle"]),
    st.integers(0, 2), st.tuples(*[st.floats(-600.0, 600.0)] * 3), st.floats(500.0, 4000.0),
)  # fmt: skip
def test_changing_how_a_volume_is_held_moves_nothing_and_then_it_keeps_to_it(how, to, axis, place, long):
    doc = document(BODY, msgspec.structs.replace(WHEEL, corner=place))
    doc = join(doc, "wheel", "body").document
    held = change_hold(doc, "wheel", axis, how, to).document
    assert held.volume("wheel").corner == pytest.approx(place, abs=2e-6)
    assert decode_document(encode_document(held)).volumes == held.volumes
    assert hold_words(held.volume("wheel").joined.holds[axis], held).endswith("%" if how == "share" else "mm")
    grown = resize_volume(held, "body", axis, long).document
    low, high = (ends[axis] for ends in extents_in(grown.volume("wheel"), grown.volume("body")))
    hold, middle = grown.volume("wheel").joined.holds[axis], (low + high) / 2.0
    edged = hold.to == "edge"
    told = {
        "start": low if edged else middle, "end": long - (high if edged else middle), "before": -high,
        "after": low - long, "middle": middle - long / 2.0, "share": middle,
    }[how]  # fmt: skip
    assert told == pytest.approx(hold.share * long if how == "share" else hold.by, abs=1e-4)


def test_a_hold_goes_by_an_expression_and_says_what_it_is_from_the_own_front():
    doc = join(document(BODY, WHEEL), "wheel", "body").document
    doc = type_hold(change_hold(doc, "wheel", 0, "end", "middle").document, "wheel", 0, "1.5 wheel").document
    _, high = extents_in(doc.volume("wheel"), doc.volume("body"))
    assert 2400.0 - (high[0] - 250.0) == pytest.approx(750.0)
    thicker = resize_volume(doc, "wheel", 0, 600.0).document
    assert thicker.volume("wheel").joined.holds[0].by == pytest.approx(900.0)
    doc = type_hold(change_hold(doc, "wheel", 1, "before").document, "wheel", 1, "40").document
    assert "its middle 750 mm inside the rear, 40 mm outside the left side" in join_words(
        doc.volume("wheel").joined, doc.volume("body"), "mm"
    )
    turned = change_volume(doc, "body", "front", ahead="x1").document
    assert "its middle 750 mm inside the front, 40 mm outside the right side" in join_words(
        turned.volume("wheel").joined, turned.volume("body"), "mm"
    )
    share = type_hold(doc, "wheel", 0, "30 %").document
    assert "its middle at 30 % from front to rear" in join_words(share.volume("wheel").joined, BODY, "mm")
    renamed = change_volume(doc, "wheel", "rename", name="Tyre").document
    assert renamed.volume("wheel").joined.holds[0].says == "1.5 tyre"
    with pytest.raises(IsometronError, match="hub"):
        type_hold(doc, "wheel", 0, "2 hub")


@pytest.mark.parametrize("ahead", AHEADS)
def test_own_sides_are_those_of_one_who_looks_out_of_the_front(ahead):
    body = msgspec.structs.replace(BODY, ahead=ahead)
    _, rotations = box_corners([body])
    start, end = front_ray(body)
    forward = (end - start) / np.linalg.norm(end - start)
    wanted = {"front": forward, "rear": -forward, "left side": np.cross((0.0, 0.0, 1.0), forward), "top": (0, 0, 1)}
    for face, (axis, side) in enumerate(BOX_FACES):
        outward = rotations[0][:, axis] * (1.0 if side else -1.0)
        said = heading_of(body, face)
        assert said == side_name(body, face)
        if said in wanted:
            assert outward == pytest.approx(wanted[said])
    assert len({side_name(body, face) for face in range(6)}) == 6
    assert {view_word(body, view) for view in ("side", "plan", "front")} == {"side view", "plan", "front view"}
    assert view_word(body, "side") == ("side view" if ahead[0] == "x" else "front view")
    assert least_version(document(body)) == (1 if ahead == "x0" else 2)


def test_the_ledgers_place_and_the_expressions_are_one_point_and_old_files_keep_their_values():
    doc = document(BODY, WHEEL)
    sizes = Sizes(doc.volumes, doc.lengths)
    middle = box_corners([WHEEL])[0][0].mean(axis=0)
    for k, axis in enumerate("xyz"):
        assert sizes.value(f"wheel.{axis}", "mm") == WHEEL.corner[k]
        assert sizes.value(f"wheel.middle_{axis}", "mm") == pytest.approx(middle[k])
    old = encode_document(add_target(doc, "body.high < wheel.foot + 2").document)
    assert b'"version": 1' in old
    old = old.replace(b"body.high < wheel.foot + 2", b"wheel.x - 0.5*body.X = wheel.x")
    read = decode_document(old)
    assert read.targets[0].text == "wheel.middle_x - 0.5*body.middle_X = wheel.middle_x"
    assert Sizes(read.volumes, ()).value(read.targets[0].text.split("=")[1], "mm") == pytest.approx(middle[0])
    assert least_version(read) == 2 and decode_document(encode_document(read)) == read


def test_a_step_that_a_mirror_turns_round_keeps_its_expression():
    from isometron.volumes.flipping import flipped

    row = msgspec.structs.replace(
        RING, at=(Measured(mm=200.0, to="edge"), 0.5), count=2, step=(Apart(mm=500.0, says="wheel"), 0.0)
    )
    doc = marked(row)
    image = flipped(doc.volumes[0], 0)
    assert image.marks[0].step[0] == Apart(mm=-500.0, says="-(wheel)")
    assert image.marks[0].at[0] == Measured(mm=200.0, from_="end", to="edge")
    plain = [mark_rounds(each, 0).rings[:, :3] for each in (doc.volumes[0], image)]
    corners, rotations = box_corners([BODY])
    own = [(rings - corners[0, 0]) @ rotations[0] for rings in plain]
    assert own[1][:, 0] == pytest.approx(2400.0 - own[0][:, 0])


# --- standing on faces of a body --------------------------------------------------------------------------------------

STEPS = CutBody(
    id="steps", name="Steps", corner=(100.0, 50.0, 0.0), size=(900.0, 600.0, 600.0), yaw_deg=15.0,
    side=CutProfile.through(ProfileCorner(at=at) for at in ((0, 0), (1, 0), (1, 1 / 3), (0.5, 1 / 3), (0.5, 1), (0, 1))),
)  # fmt: skip


def on_tread(high=600.0):
    """A box that stands on the lower tread, joined as it lies."""
    origin, rotations = box_corners([STEPS])
    x, y, z = origin[0, 0] + rotations[0] @ (600.0, 200.0, 200.0)
    lamp = Box(id="lamp", name="Lamp", corner=(float(x), float(y), float(z)), size=(120.0, 120.0, 90.0), yaw_deg=15.0)
    doc = join(document(STEPS, lamp), "lamp", "steps").document
    return resize_volume(doc, "steps", 2, high).document


def test_what_stands_on_a_tread_follows_the_tread():
    doc = on_tread()
    hold = doc.volume("lamp").joined.holds[2]
    assert (hold.how, hold.by) == ("after", 0.0) and face_names(STEPS)[hold.on] == "tread"
    assert "stands on tread of Steps" in join_words(doc.volume("lamp").joined, STEPS, "mm")
    for high in (900.0, 450.0):
        assert on_tread(high).volume("lamp").corner[2] == pytest.approx(high / 3.0)
    floating = move_volumes(pull_apart(doc, ["lamp"]).document, ["lamp"], (0.0, 0.0, 30.0)).document
    apart = join(floating, "lamp", "steps").document.volume("lamp").joined.holds[2]
    assert (apart.on, apart.how) == ("", "start"), "what does not touch the tread is not on it"
    raised = type_hold(doc, "lamp", 2, "25").document
    assert raised.volume("lamp").corner[2] == pytest.approx(225.0)
    assert "stands on tread of Steps with 25 mm between" in join_words(raised.volume("lamp").joined, STEPS, "mm")
    moved = move_volumes(doc, ["lamp"], (10.0, 0.0, 40.0)).document
    assert moved.volume("lamp").joined.holds[2].by == pytest.approx(40.0)
    assert moved.volume("lamp").joined.holds[2].on == hold.on, "moved by hand it is still held from its tread"
    gone = put_profile(moved, "steps", "side", None, "x").document
    assert gone.volume("lamp").corner[2] == pytest.approx(600.0 + 40.0), (
        "it stands on what has come in the tread's place"
    )
    assert gone.volume("lamp").corner[:2] == moved.volume("lamp").corner[:2]
    assert resize_volume(moved, "steps", 2, 900.0).document.volume("lamp").corner[2] == pytest.approx(340.0)
    assert least_version(doc) == 2 and decode_document(encode_document(doc)).volumes == doc.volumes


def test_a_volume_is_carried_to_a_tread_and_to_a_slope():
    origin, rotations = box_corners([STEPS])
    lamp = Box(id="lamp", name="Lamp", corner=(-900.0, 0.0, 0.0), size=(120.0, 120.0, 90.0), yaw_deg=15.0)
    tread = next(name for name, word in face_names(STEPS).items() if word == "tread")
    doc = document(STEPS, lamp)
    place = origin[0, 0] + rotations[0] @ (700.0, 300.0, 200.0)
    put = join_onto(doc, "lamp", "steps", 5, place, 0.0, tread).document
    assert put.volume("lamp").corner[2] == pytest.approx(200.0) and put.volume("lamp").joined.holds[2].on == tread
    wedge = msgspec.structs.replace(
        STEPS, id="wedge", side=CutProfile.through(ProfileCorner(at=at) for at in ((0, 0), (1, 0), (0, 1)))
    )
    slope = next(name for name, word in face_names(wedge).items() if word == "rear slope")
    place = origin[0, 0] + rotations[0] @ (450.0, 300.0, 300.0)
    put = join_onto(document(wedge, lamp), "lamp", "wedge", 5, place, 0.0, slope).document
    assert put.volume("lamp").corner[2] == pytest.approx(300.0), "at the place itself, not above the bounding volume"
