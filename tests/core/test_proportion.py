"""Proportion as something a document means: expressions, locked ratios, joined volumes, targets, what follows an edit."""

from contextlib import suppress

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
    paste_volumes,
    reshape_volume,
    resize_volume,
    turn_volume,
)
from isometron.document.fresh import new_document
from isometron.document.joining import (
    change_hold,
    group,
    join,
    join_onto,
    mates,
    mirror,
    pull_apart,
    type_hold,
    ungroup,
)
from isometron.document.joins import extents_in, join_words
from isometron.document.lengths.proportion import (
    add_target,
    drive,
    in_modules,
    is_expression,
    keep_ratio,
    parse_ratio,
    remove_length,
    set_length,
    set_module,
)
from isometron.document.lengths.sizes import Sizes
from isometron.document.lengths.targets import mended, mending, met, targets_met
from isometron.document.marks.dividing import fill_between, parse_parts, parts_words
from isometron.document.model import DocumentError
from isometron.document.shapes.shaping import SHAPES, make_shape
from isometron.document.store.files import decode_document, encode_document
from isometron.solve.drawing import solve
from isometron.volumes.box import Box, box_corners
from isometron.volumes.building import build_scene
from isometron.volumes.filled import filled
from isometron.volumes.relations import Mirror, Repeat
from isometron.volumes.turned import PROFILES, Turned

BODY = Box(id="body", name="Cart", corner=(0.0, 0.0, 200.0), size=(2400.0, 1100.0, 500.0))
WHEEL = Turned(
    id="wheel-1", name="Front wheel", corner=(200.0, -100.0, 0.0), size=(560.0, 100.0, 560.0), axle="wide",
    profile=PROFILES["wheel"], copies=(Repeat(along="long", count=2, pitch=1500.0),),
)  # fmt: skip
CABIN = Box(id="cabin", name="Cabin", corner=(600.0, 100.0, 700.0), size=(1200.0, 900.0, 600.0))


def document(*volumes):
    result = new_document()
    for volume in volumes or (BODY, WHEEL, CABIN):
        result = add_volume(result, volume).document
    return result


def value(text, doc=None, unit="mm"):
    doc = doc or document()
    return Sizes(doc.volumes, doc.lengths).value(text, unit)


@pytest.mark.parametrize(
    ("text", "mm"),
    [
        ("2.5 front wheel", 1400.0),
        ("2.5 front_wheel", 1400.0),
        ("3 front wheels", 1680.0),
        ("cart.long - 2*150", 2100.0),
        ("(cart.wide + cabin.high) / 2", 850.0),
        ("front_wheel.pitch", 1500.0),
        ("front_wheel.gap", 940.0),
        ("max(cart.high, cabin.high)", 600.0),
        ("cart.high * golden", 500.0 * (1 + 5**0.5) / 2),
        ("12 cm + 3", 123.0),
        ("cart.top", 700.0),
        ("-2 + 3,5", 1.5),
    ],
)
def test_expressions_mean_what_they_say(text, mm):
    assert value(text) == pytest.approx(mm)


def test_bare_numbers_are_in_the_unit_that_was_shown():
    assert value("cart.long - 10", unit="cm") == pytest.approx(2300.0)
    assert value("cart.long / 3", unit="in") == pytest.approx(800.0)
    assert value("4 ft + 2", unit="in") == pytest.approx(1219.2 + 50.8)


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("2 spoon", "no 'spoon'"),
        ("cart.depth", "has no 'depth'"),
        ("cart.long +", "no length"),
        ("cart.long / 0", "divides by zero"),
        ("__import__('os')", "cannot be understood|There is no|no length"),
        ("open(cart)", "There is no 'open'"),
        ("cart.__class__", "has no"),
        ("9 ** 9 ** 9 ** 9", "no length|too large"),
        ("[1, 2]", "cannot be understood"),
        ("'a' * 3", "There is no 'a'|cannot be understood|no length"),
        ("", "no length"),
    ],
)
def test_what_is_no_size_is_told_where_it_stands(text, words):
    with pytest.raises(DocumentError, match=words):
        value(text)


@given(st.text(max_size=30))
def test_no_text_does_more_than_be_refused(text):
    with suppress(DocumentError):
        assert np.isfinite(value(text))


def test_driven_sizes_follow_what_they_name_through_each_other():
    doc = drive(document(), "cabin", "long", "= cart.long - 3 front wheel").document
    doc = drive(doc, "cabin", "high", "cabin.long / 2").document
    assert doc.volume("cabin").size == pytest.approx((720.0, 900.0, 360.0))
    doc = resize_volume(doc, "wheel-1", 0, 600.0).document
    assert doc.volume("cabin").size == pytest.approx((600.0, 900.0, 300.0))
    doc = drive(doc, "wheel-1", "pitch", "3 front wheel").document
    assert doc.volume("wheel-1").copies[0].pitch == pytest.approx(1800.0)
    freed = resize_volume(doc, "cabin", 0, 1000.0).document
    assert [s.drives for s in freed.volume("cabin").says] == ["high"], "a size set by hand is driven no more"
    assert freed.volume("cabin").size[2] == 500.0
    again = decode_document(encode_document(doc))
    assert again == doc


def test_cycles_and_unknown_names_are_told_and_change_nothing():
    doc = drive(document(), "cabin", "long", "cart.long").document
    with pytest.raises(DocumentError, match=r"cart.long needs cabin.long needs cart.long"):
        drive(doc, "body", "long", "2 cabin.long")
    with pytest.raises(DocumentError, match="Cabin: There is no 'trailer'"):
        drive(doc, "cabin", "wide", "trailer.wide")
    with pytest.raises(DocumentError, match="stands in no row"):
        drive(doc, "cabin", "pitch", "100")


def test_renaming_and_removing_what_is_named():
    doc = set_length(document(), "wheelbase", "3 front wheel").document
    doc = drive(doc, "cabin", "long", "wheelbase / 2").document
    doc = drive(doc, "cabin", "high", "front_wheel.diameter").document
    doc = add_target(doc, "cabin.long < 2 front wheel").document
    doc = set_module(doc, "front wheel").document
    doc = change_volume(doc, "wheel-1", "rename", name="Big wheel").document
    assert [s.text for s in doc.volume("cabin").says] == ["wheelbase / 2", "big_wheel.diameter"]
    assert (doc.lengths[0].text, doc.targets[0].text, doc.module) == (
        "3 big_wheel",
        "cabin.long < 2 big_wheel",
        "big_wheel",
    )
    without = delete_volumes(doc, ["wheel-1"])
    assert without.document.volume("cabin").size[2] == 560.0, "the size stays as it was"
    assert [s.drives for s in without.document.volume("cabin").says] == ["long"]
    free = remove_length(doc, "wheelbase").document
    assert [s.drives for s in free.volume("cabin").says] == ["high"]


def test_ratios_are_kept_whichever_size_changes():
    doc = keep_ratio(document(), "cabin", (2.0, 1.0, 0.0)).document
    assert doc.volume("cabin").size == (1800.0, 900.0, 600.0), "the wide size stays, the free one too"
    doc = resize_volume(doc, "cabin", 0, 1000.0).document
    assert doc.volume("cabin").size == (1000.0, 500.0, 600.0)
    doc = reshape_volume(doc, "cabin", (600.0, 100.0, 700.0), (1000.0, 700.0, 600.0)).document
    assert doc.volume("cabin").size == (1400.0, 700.0, 600.0)
    loose = keep_ratio(doc, "cabin", None).document
    assert resize_volume(loose, "cabin", 0, 1.0).document.volume("cabin").size == (1.0, 700.0, 600.0)


def test_one_new_part_of_a_ratio_changes_that_one_size():
    """It is too long: typing one number mends it."""
    assert in_modules(document(), BODY) == "2.18 : 1 : 0.45"
    doc = keep_ratio(document(), "body", parse_ratio("1.9 : 1 : 0.4545"), lock=False).document
    assert doc.volume("body").size == pytest.approx((2090.0, 1100.0, 500.0), abs=0.1)


@pytest.mark.parametrize("text", ["2", "2 : x", "0 : 0 : 1", "1 : 2 : 3 : 4", "-1 : 2"])
def test_a_ratio_that_is_none_is_refused(text):
    with pytest.raises(DocumentError, match="ratio"):
        parse_ratio(text)


def joined_document():
    doc = document()
    doc = join(doc, "cabin", "body").document
    return join(doc, "wheel-1", "body").document


def test_joined_volumes_go_along_when_the_other_moves_grows_or_turns():
    doc = joined_document()
    words = join_words(doc.volume("cabin").joined, BODY, "mm")
    assert words == "stands on Cart, centred between front and rear, centred between left side and right side"
    moved = move_volumes(doc, ["body"], (100.0, 50.0, 20.0)).document
    assert moved.volume("cabin").corner == (700.0, 150.0, 720.0)
    grown = resize_volume(doc, "body", 0, 3000.0).document
    assert grown.volume("cabin").corner == (900.0, 100.0, 700.0), "still centred"
    assert grown.volume("wheel-1").corner == WHEEL.corner, "still as far from the left end"
    higher = resize_volume(doc, "body", 2, 650.0).document
    assert higher.volume("cabin").corner[2] == 850.0
    turned = turn_volume(doc, "body", 40.0).document
    before, after = (extents_in(d.volume("cabin"), d.volume("body")) for d in (doc, turned))
    assert np.allclose(before, after, atol=1e-5) and turned.volume("cabin").yaw_deg == pytest.approx(40.0)
    tilted = change_volume(doc, "body", "tilt", pitch_deg=10.0).document
    before, after = (extents_in(d.volume("cabin"), d.volume("body")) for d in (doc, tilted))
    assert np.allclose(before, after, atol=1e-5)


def test_a_joined_volume_that_is_moved_by_hand_is_held_where_it_was_put():
    doc = move_volumes(joined_document(), ["cabin"], (-30.0, 0.0, 0.0)).document
    assert doc.volume("cabin").corner == (570.0, 100.0, 700.0)
    hold = doc.volume("cabin").joined.holds[0]
    assert (hold.how, hold.by) == ("middle", -30.0)
    both = move_volumes(doc, ["body", "cabin"], (500.0, 0.0, 0.0)).document
    assert both.volume("cabin").corner == (1070.0, 100.0, 700.0)
    pulled = reshape_volume(doc, "cabin", (570.0, 100.0, 700.0), (1300.0, 900.0, 600.0)).document
    assert pulled.volume("cabin").corner == (570.0, 100.0, 700.0), "pulling a face leaves the other one where it is"
    resized = resize_volume(joined_document(), "cabin", 0, 1000.0).document
    assert resized.volume("cabin").corner[0] == 700.0, "a typed size leaves it centred"


def test_joining_onto_a_face_is_caught_by_middles_and_ends():
    doc = join_onto(document(), "cabin", "body", 1, np.array([2400.0, 545.0, 430.0]), within=15.0).document
    cabin = doc.volume("cabin")
    assert cabin.corner == (2400.0, 100.0, 130.0)
    assert [h.how for h in cabin.joined.holds] == ["after", "middle", "start"]
    assert cabin.joined.holds[2].by == -70.0, "where it is not caught it is held in whole millimetres"
    again = change_hold(doc, "cabin", 2, "end").document
    assert again.volume("cabin").corner == cabin.corner, "held otherwise, it stays where it is"
    assert type_hold(again, "cabin", 2, "0").document.volume("cabin").corner[2] == 100.0, "flush"
    with pytest.raises(DocumentError, match="is joined to"):
        join(doc, "body", "cabin")
    free = pull_apart(doc, ["cabin"]).document
    assert move_volumes(free, ["body"], (9.0, 9.0, 9.0)).document.volume("cabin").corner == cabin.corner
    gone = delete_volumes(doc, ["body"]).document
    assert gone.volume("cabin").joined is None and gone.volume("cabin").corner == cabin.corner


@given(
    st.tuples(*[st.floats(-500.0, 500.0)] * 3), st.tuples(*[st.floats(100.0, 900.0)] * 3), st.floats(-170.0, 170.0),
    st.tuples(*[st.floats(100.0, 4000.0)] * 3),
)  # fmt: skip
def test_a_chain_of_joins_holds_whatever_happens_to_its_root(place, size, yaw, root):
    third = Box(id="third", name="Third", corner=place, size=size, yaw_deg=yaw)
    doc = join(join(document(BODY, CABIN, third), "third", "cabin").document, "cabin", "body").document
    holds = [doc.volume(i).joined for i in ("cabin", "third")]
    changed = turn_volume(change_volume(doc, "body", "resize", size=root).document, "body", 25.0).document
    for child, parent, join_ in (("cabin", "body", holds[0]), ("third", "cabin", holds[1])):
        low, high = extents_in(changed.volume(child), changed.volume(parent))
        for k, hold in enumerate(join_.holds):
            own = changed.volume(parent).size[k]
            told = {
                "start": low[k], "end": own - high[k], "before": -high[k], "after": low[k] - own,
                "middle": (low[k] + high[k] - own) / 2,
            }[hold.how]  # fmt: skip
            assert told == pytest.approx(hold.by, abs=1e-4)
    assert changed.volume("cabin").joined == holds[0], "what is meant has not changed"


def test_copies_of_joined_volumes_go_along_with_each_other():
    doc = drive(joined_document(), "cabin", "long", "cart.long / 2").document
    doc = mirror(doc, ["wheel-1"], "body").document
    twin = duplicate_volumes(doc, ["body", "cabin", "wheel-1"])
    body, wheel, cabin = (twin.document.volume(i) for i in twin.selection)
    assert (cabin.joined.to, wheel.joined.to, wheel.mirror.about) == (body.id,) * 3
    assert cabin.says[0].text == "cart_2.long / 2" and body.name == "Cart 2"
    moved = move_volumes(twin.document, [body.id], (0.0, 0.0, 100.0)).document
    assert moved.volume(cabin.id).corner[2] == cabin.corner[2] + 100.0
    assert moved.volume("cabin").corner == doc.volume("cabin").corner
    alone = paste_volumes(new_document(), [doc.volume("cabin")])
    (pasted,) = alone.document.volumes
    assert pasted.joined is None


def test_targets_tell_meant_against_drawn_and_the_least_that_mends():
    doc = add_target(joined_document(), "front_wheel.pitch = 3 front wheel").document
    doc = add_target(doc, "cabin.high < cart.high").document
    first, second = targets_met(doc)
    assert (first.drawn, first.meant, first.is_met) == (1500.0, 1680.0, False)
    assert not second.is_met and set(second.volumes) == {"cabin", "body"}
    least = mending(doc, doc.targets[0])
    assert (least.volume, least.drives, least.new) == ("wheel-1", "diameter", pytest.approx(500.0)), (
        "11 %, the pitch 12 %"
    )
    better = mended(doc, doc.targets[0]).document
    assert met(better, better.targets[0]).is_met
    high = mending(doc, doc.targets[1])
    assert high.new in (pytest.approx(500.0), pytest.approx(600.0))
    driven = drive(doc, "wheel-1", "pitch", "1400").document
    assert mending(driven, driven.targets[0]).drives == "diameter", "what an expression drives is left alone"
    driven = drive(drive(driven, "wheel-1", "long", "560").document, "wheel-1", "high", "560").document
    freed = mended(driven, driven.targets[0]).document
    assert met(freed, freed.targets[0]).is_met, "when all that is named is driven, the least of it is set free"
    assert len(freed.volume("wheel-1").says) < len(driven.volume("wheel-1").says)
    never = add_target(doc, "cart.long = cart.long + 5").document
    with pytest.raises(DocumentError, match="No single size"):
        mended(never, never.targets[-1])
    with pytest.raises(DocumentError, match="is no target"):
        add_target(doc, "cabin is high")


def test_modules_say_sizes_in_wheels():
    doc = set_module(document(), "Front wheel").document
    assert in_modules(doc, BODY) == "4.29 x 1.96 x 0.89 front_wheel"
    with pytest.raises(DocumentError, match="no volume and no length"):
        set_module(doc, "spoon")


@pytest.mark.parametrize(
    ("text", "typed"),
    [("as wide as it goes", False), ("2.5 front wheels", True), ("= 12", True), ("cart.long", True), ("2*150", True)],
)
def test_expressions_are_told_from_what_is_no_length(text, typed):
    assert is_expression(document(), text) == typed


def test_groups_are_selected_together():
    doc = group(document(), ["body", "cabin"]).document
    assert mates(doc, ["cabin"]) == ("body", "cabin") and mates(doc, ["wheel-1"]) == ("wheel-1",)
    assert mates(ungroup(doc, ["body"]).document, ["cabin"]) == ("cabin",)
    with pytest.raises(DocumentError, match="two volumes or more"):
        group(doc, ["body"])


def test_the_near_side_edits_the_far_side():
    doc = mirror(document(), ["wheel-1"], "body").document
    doc = move_volumes(doc, ["wheel-1"], (50.0, -20.0, 0.0)).document
    scene = build_scene(doc.volumes)
    middles = sorted({tuple(np.round(b.mean(axis=0), 6)) for b in scene.bodies.vertices[scene.body_owner == 1]})
    assert middles == [(x, y, 280.0) for x in (530.0, 2030.0) for y in (-70.0, 1170.0)]
    with pytest.raises(DocumentError, match="lie on itself"):
        mirror(doc, ["cabin"], "body")
    with pytest.raises(DocumentError, match="about itself"):
        mirror(doc, ["body"], "body")
    assert mirror(doc, ["wheel-1"], None).document.volume("wheel-1").mirror is None


def test_parts_are_counted_or_given_in_a_ratio():
    assert parse_parts("4") == (0.25, 0.5, 0.75) and parse_parts("halves") == (0.5,) and parse_parts("") == ()
    assert parse_parts("1 : 2 : 1") == (0.25, 0.75)
    assert parts_words((0.25, 0.75)) == "1 : 2 : 1" and parts_words((1 / 3, 2 / 3)) == "3"
    for text in ("two", "2.5", "1 : 0", "201", "1 : -1", "nan"):
        with pytest.raises(DocumentError):
            parse_parts(text)
    row = fill_between(CABIN, "long", 5000.0, 3)
    assert row.pitch == 1900.0 and row.pitch * 2 + 1200.0 == 5000.0
    with pytest.raises(DocumentError, match="fills a length"):
        fill_between(CABIN, "long", 1000.0, 3)


@pytest.mark.parametrize("name", SHAPES)
def test_every_shape_lies_within_its_bounding_volume(name):
    doc = make_shape(document(), ["cabin"], name).document
    scene = build_scene([doc.volume("cabin")])
    corners, _ = box_corners([doc.volume("cabin")])
    inner = filled(scene)[0].vertices.reshape(-1, 3)
    assert (inner >= corners[0].min(axis=0) - 1e-6).all() and (inner <= corners[0].max(axis=0) + 1e-6).all()
    assert np.ptp(inner, axis=0) == pytest.approx(doc.volume("cabin").size), "and reaches all its sides"
    solved = solve(doc)
    assert np.isfinite(solved.edges.points).all() and all(m.true > 0.0 for m in solved.measures(2))
    image = msgspec.structs.replace(doc.volume("cabin"), mirror=Mirror(across="wide"))
    assert len(filled(build_scene([image]))[0]) == 2 * len(filled(scene)[0])
