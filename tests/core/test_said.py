"""A thing said in one line: sizes, where it lies, rows; and the refusals, each of which names the way."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from isometron.document.edits import add_volume
from isometron.document.fresh import new_document
from isometron.document.joins import extents_in
from isometron.document.model import DocumentError
from isometron.document.shapes.said import Beside, add_said, is_said, read_said
from isometron.volumes.box import Box
from isometron.volumes.own_sides import heading_of


def with_seat(ahead="x0", yaw=0.0):
    seat = Box(
        id="seat", name="Seat", corner=(100.0, 200.0, 440.0), size=(420.0, 400.0, 45.0), ahead=ahead, yaw_deg=yaw
    )
    return add_volume(new_document(), seat).document


def laid(document, text):
    return add_said(document, text).document.volumes[-1]


@pytest.mark.parametrize(
    ("text", "name", "size", "corner"),
    [
        ("seat 420 x 400 x 45 at 0, 363, 529", "seat", (420.0, 400.0, 45.0), (0.0, 363.0, 529.0)),
        ("420x400x45 at 0,5, 363, 529", "Block", (420.0, 400.0, 45.0), (0.5, 363.0, 529.0)),
        ('"leg 2" 4,5 cm x 45 × 1/2 m at 1 m, -20, 0', "leg 2", (45.0, 45.0, 500.0), (1000.0, -20.0, 0.0)),
        ("back rest 40 x 400 x 300 at 10, 20, 30 in seat", "back rest", (40.0, 400.0, 300.0), (110.0, 220.0, 470.0)),
    ],
)
def test_a_line_says_name_sizes_and_place(text, name, size, corner):
    box = laid(with_seat(), text)
    assert (box.name, box.size) == (name, pytest.approx(size)) and box.corner == pytest.approx(corner)
    assert is_said(text)


@given(
    st.sampled_from(["above", "on", "below", "left of", "right of", "before", "behind", "flush left of"]),
    st.integers(0, 400),
    st.sampled_from(["x0", "x1", "y0", "y1"]),
    st.sampled_from([0.0, 30.0, -115.0]),
)
def test_beside_a_thing_is_said_from_its_own_front_and_holds(word, by, ahead, yaw):
    document = with_seat(ahead, yaw)
    flush = word.startswith("flush") or word == "on"
    text = f"box 60 x 50 x 40 {word} Seat" if flush else f"box 60 x 50 x 40, {by} {word} seat"
    made = add_said(document, text).document
    box, seat = made.volumes[-1], made.volume("seat")
    assert box.joined is not None and box.joined.to == "seat"
    low, high = extents_in(box, seat)
    side = {"above": "top", "on": "top", "below": "underside", "left of": "left side", "right of": "right side",
            "before": "front", "behind": "rear", "flush left of": "left side"}[word]  # fmt: skip
    face = next(k for k in range(6) if heading_of(seat, k) == side)
    axis, gap = face // 2, 0.0 if flush else float(by)
    found = low[axis] - seat.size[axis] if face % 2 else -high[axis]
    assert found == pytest.approx(gap, abs=1e-6)
    for other in {0, 1, 2} - {axis}:
        level = low[other] if other == 2 else (low[other] + high[other] - seat.size[other]) / 2.0
        assert level == pytest.approx(0.0, abs=1e-6), "in the middle of it, and on its level beside it"
    assert high - low == pytest.approx([60.0, 50.0, 40.0])


def test_one_figure_before_a_word_of_place_is_the_distance_and_two_are_a_size_and_it():
    document = with_seat()
    assert read_said(document, "20 above seat").place == Beside("seat", "top", "above", 20.0)
    both = read_said(document, "40 x 40 x 45 20 above seat")
    assert both.sizes == (40.0, 40.0, 45.0) and both.place.by == 20.0
    none = read_said(document, "40 x 40 x 45 above seat")
    assert none.sizes == (40.0, 40.0, 45.0) and none.place.by == 0.0
    apart = read_said(document, "40 x 40 x 45, 20 mm above seat, 3 x 100")
    assert apart.sizes == (40.0, 40.0, 45.0) and apart.place.by == 20.0 and apart.rows == "3 x 100"


def test_rows_are_said_at_the_end():
    box = laid(new_document(), "bay 2000 x 1900 x 2600, 3 x 2800; wide 2 gap 100")
    assert [(r.along, r.count, r.pitch) for r in box.copies] == [("long", 3, 2800.0), ("wide", 2, 2000.0)]
    row = laid(new_document(), "post 90 x 90 x 1800 at 0, 0, 0, 9 x 2000")
    assert row.corner == (0.0, 0.0, 0.0) and row.copies[0].count == 9


def test_without_a_place_it_stands_free_to_the_right():
    document = with_seat()
    box = laid(document, "50 x 50 x 50")
    assert box.corner[0] > 520.0 and box.corner[2] == 0.0 and laid(new_document(), "50 x 50 x 50").corner == (0, 0, 0)


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("seat", "Say its size after the name"),
        ("420 x 400", "Three sizes make a thing"),
        ("420 x 400 x 45 x 2", "4 sizes"),
        ("420 x 400 x 45 at 0, 363", "three figures are wanted"),
        ("420 x 400 x 45 on table", "There is no table here. Things are: Seat"),
        ("420 x 400 x 45, then some", "is not understood here"),
        ("420 x 400 x zz at 0, 0, 0", "zz"),
        ("420 x 0 x 45", "between 0.01 mm and 10 km"),
        ("1 20 x 400 x 45", "1 20"),
        ("420 x 400 x 45 100 on seat", "45, 100 for a size and a distance"),
    ],
)  # fmt: skip
def test_what_is_not_understood_is_refused_with_the_way(text, words):
    with pytest.raises(DocumentError) as refused:
        add_said(with_seat(), text)
    assert words in str(refused.value)


def test_a_thing_that_is_said_twice_is_asked_back():
    document = add_volume(
        with_seat(), Box(id="s2", name="seat", corner=(0.0, 0.0, 0.0), size=(1.0, 1.0, 1.0))
    ).document
    with pytest.raises(DocumentError, match="2 things are called"):
        add_said(document, "1 x 1 x 1 on seat")


def test_every_line_is_read_or_refused_in_words():
    dice = np.random.default_rng(1)
    words = [
        "420",
        "x",
        "45",
        "at",
        "0,",
        "seat",
        "on",
        "20",
        "above",
        ",",
        "3 x 20",
        "in",
        '"',
        "flush",
        "left",
        "of",
        "(",
        "-",
    ]
    for _ in range(400):
        text = " ".join(dice.choice(words, dice.integers(1, 9)))
        try:
            add_said(with_seat(), text)
        except DocumentError as error:
            assert str(error)
