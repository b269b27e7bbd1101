"""Relations in a file are audited: each slip is told with the volume, the place and a remedy, and nothing is opened."""

import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from isometron.document.edits import change_volume, delete_volumes
from isometron.document.fresh import new_document
from isometron.document.joining import change_hold, group, join, mirror
from isometron.document.lengths.proportion import add_target, drive, set_length, set_module
from isometron.document.model import DocumentError
from isometron.document.store.disk import FileError
from isometron.document.store.files import decode_document, encode_document
from isometron.solve.drawing import solve
from isometron.solve.report import report
from isometron.starters.catalogue import lay_starter

CAR = lay_starter(new_document(), "low-car").document
RAW = json.loads(encode_document(CAR))
ROW = {volume["id"]: number for number, volume in enumerate(RAW["volumes"])}


def changed(path, value):
    raw = json.loads(json.dumps(RAW))
    at = raw
    for key in path[:-1]:
        at = at[key]
    at[path[-1]] = value
    return json.dumps(raw).encode()


def of(volume, *path):
    return ["volumes", ROW[volume], *path]


WHEEL = f"volume {ROW['wheel'] + 1} \\('Wheel'\\)"
CABIN = f"volume {ROW['cabin'] + 1} \\('Cabin'\\)"
BAD = {
    "joined to nothing": (of("cabin", "joined", "to"), "roof", f"{CABIN}.*'roof', which is not there"),
    "joined to itself": (of("cabin", "joined", "to"), "cabin", f"{CABIN}.*itself"),
    "joined in a circle": (of("body", "joined"), {"to": "cabin", "holds": RAW["volumes"][ROW["cabin"]]["joined"]["holds"]},
                           "joined to itself through others"),
    "two holds": (of("cabin", "joined", "holds"), [{"how": "start"}], f"{CABIN}, joined.holds"),
    "an odd hold": (of("cabin", "joined", "holds", 0, "how"), "glued", f"{CABIN}, joined.holds.*'glued'"),
    "a name that is none": (of("cabin", "says", 0, "text"), "0.5 spoon", f"{CABIN}.*no 'spoon' here. Names: .*wheel"),
    "itself": (of("wheel", "says", 0, "text"), "2 wheel.pitch", f"{WHEEL}.*needs"),
    "no expression": (of("cabin", "says", 0, "text"), "2 +* 3", CABIN),
    "python": (of("cabin", "says", 0, "text"), "__import__('os').getcwd()", CABIN),
    "no size": (of("cabin", "says", 0, "text"), "wheel - 2 wheel", f"{CABIN}.*gives -620 mm, which is no size"),
    "an odd size": (of("cabin", "says", 0, "drives"), "deep", f"{CABIN}, says.*'deep'"),
    "no copies": (of("wheel", "copies", 0, "count"), 0, f"{WHEEL}, copies.*>= 1"),
    "too many": (of("wheel", "copies", 0, "count"), 9999, f"{WHEEL}, copies.*<= 400"),
    "an odd mirror": (of("wheel", "mirror", "across"), "round", f"{WHEEL}, mirror.across.*'round'"),
    "an odd mark": (of("cabin", "marks"), [{"mark": "star"}], f"{CABIN}, marks.*'star'"),
    "a face that is none": (of("cabin", "marks"), [{"mark": "ring", "face": 6}], f"{CABIN}, marks.*<= 5"),
    "an arch without size": (of("cabin", "marks"), [{"mark": "arch", "face": 0}], f"{CABIN}, marks.*`wide`"),
    "a length's name": (["lengths"], [{"name": "2 steps", "text": "3"}], "lengths"),
    "a target without sides": (["targets"], [{"text": "=="}], "targets"),
}  # fmt: skip


@pytest.mark.parametrize("name", BAD)
def test_a_slip_is_told_with_its_place_and_remedy(name):
    path, value, told = BAD[name]
    with pytest.raises(FileError, match=told) as error:
        decode_document(changed(path, value), "car.isometron")
    words = str(error.value)
    assert words.startswith("car.isometron") and words.rstrip().endswith(".")
    assert any(remedy in words for remedy in ("Mend this place", "Open", "Change", "Give")), words


@given(st.sampled_from(sorted(ROW)), st.sampled_from(["corner", "size"]), st.integers(0, 2), st.floats(30.0, 5000.0))
def test_numbers_written_by_another_hand_are_drawn_as_they_stand_or_told(volume, field, axis, value):
    data = changed(of(volume, field, axis), value)
    document = decode_document(data)
    assert getattr(document.volume(volume), field)[axis] == pytest.approx(value)
    assert solve(document) is not None


@given(st.binary(max_size=60), st.integers(0, 4000))
def test_any_damage_is_told_or_harmless(noise, place):
    data = encode_document(CAR)
    spoilt = data[:place] + noise + data[place + len(noise) :]
    try:
        document = decode_document(spoilt, "car.isometron")
    except FileError as error:
        assert "car.isometron" in str(error)
        return
    assert json.loads(encode_document(document))["format"] == "isometron document"
    assert json.dumps(report(solve(document)))


def refused(edit, match):
    with pytest.raises(DocumentError, match=match):
        edit()


def test_edits_refuse_what_a_file_may_not_hold():
    refused(lambda: join(CAR, "body", "cabin"), "is joined to|itself|circle")
    refused(lambda: join(CAR, "body", "body"), "cannot be joined to it")
    refused(lambda: drive(CAR, "wheel", "long", "2 cabin.long"), "needs")
    refused(lambda: drive(CAR, "cabin", "long", "spoon"), "no 'spoon' here")
    refused(lambda: drive(CAR, "cabin", "long", "0 * wheel"), r"'Cabin': size\[0\]: expected a number >= 0.01")
    assert set_length(CAR, "wheel base", "3 wheel").document.lengths[0].name == "wheel_base", "a name without spaces"
    refused(lambda: set_length(CAR, "base", "3 base"), "a size cannot need itself")
    refused(lambda: set_module(CAR, "spoon"), "no volume and no length")
    refused(lambda: add_target(CAR, "wheel.long"), "is no target")
    refused(lambda: mirror(CAR, ("body",), "body"), "not mirrored about itself")
    refused(lambda: mirror(CAR, (), None), "Select a volume first")
    refused(lambda: group(CAR, ("body",)), "two volumes or more")
    refused(lambda: change_hold(CAR, "body", 0, "start"), "joined to nothing")


@given(st.sets(st.sampled_from(sorted(ROW)), min_size=1))
def test_deleting_any_of_it_leaves_a_document_that_can_be_read(ids):
    left = delete_volumes(CAR, tuple(ids)).document
    again = decode_document(encode_document(left))
    assert again == left
    for volume in left.volumes:
        assert volume.joined is None or volume.joined.to not in ids
        assert volume.size == CAR.volume(volume.id).size, "what is left keeps the sizes it had"


@given(st.text(max_size=40))
def test_any_words_as_an_expression_are_worked_out_or_refused(text):
    try:
        document = drive(CAR, "cabin", "long", text).document
    except DocumentError as error:
        assert str(error)
        return
    assert 0.0 < document.volume("cabin").size[0] < 1e8
    assert decode_document(encode_document(document)) == document


def test_a_renamed_volume_is_still_what_drives():
    named = change_volume(CAR, "wheel", "rename", name="Big wheel").document
    assert any("big_wheel" in says.text for says in named.volume("cabin").says) or named.volume("cabin").says == ()
    assert named.volume("cabin").size == pytest.approx(CAR.volume("cabin").size)
    assert decode_document(encode_document(named)) == named
