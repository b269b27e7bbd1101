"""One language for lengths: units, names and modules, parts of something, and what lies between things."""

import msgspec
import pytest
from hypothesis import given
from hypothesis import strategies as st

from isometron.document.edits import change_volume
from isometron.document.fresh import new_document
from isometron.document.lengths.expressions import renamed
from isometron.document.lengths.proportion import typed_size
from isometron.document.lengths.typed import part_typed, read_length
from isometron.document.lengths.units import LengthError, parse_length
from isometron.document.model import DocumentError
from isometron.volumes.box import Box
from isometron.volumes.turned import PROFILES, Turned


def wheel(name, x, **fields):
    return Turned(id=name.lower().replace(" ", "-"), name=name, corner=(x, 100.0, 0.0), size=(600.0, 180.0, 600.0), axle="wide",
                  profile=PROFILES["cylinder"], **fields)  # fmt: skip


CART = Box(id="cart", name="Cart", corner=(0.0, 0.0, 200.0), size=(3000.0, 900.0, 800.0))
DOCUMENT = msgspec.structs.replace(
    new_document(), volumes=(CART, wheel("Front wheel", 300.0), wheel("Rear wheel", 1800.0))
)


@pytest.mark.parametrize(
    ("text", "mm"),
    [
        ("1200", 1200.0), ("120 cm", 1200.0), ("4 ft", 1219.2), ("4' 2 1/2\"", 1282.7), ("½\"", 12.7), ("47½ in", 1206.5),
        ("1 m 20 cm", 1200.0), ("3 Feet", 914.4), ("2 inches", 50.8), ("2 metres", 2000.0), ("12 Millimeters", 12.0),
        ("2.5 front wheel", 1500.0), ("4 rear_wheel", 2400.0), ("cart.long / 3", 1000.0), ("= cart.high - 2*150", 500.0),
        ("½ front wheel", 300.0), ("2 1/2 front wheel", 1500.0), ("2½ front wheel + 1 cm", 1510.0), ("3 ft + cart.wide", 1814.4),
        ("gap(front wheel, rear wheel)", 900.0), ("1.5 front wheel + gap(cart, front wheel)", 900.0 - 280.0),
        ("cart.front", 0.0), ("cart.rear", 3000.0), ("cart.left", 0.0), ("cart.right", 900.0), ("cart.top", 1000.0),
        ("cart.foot", 200.0), ("cart.middle", 1500.0), ("front wheel.rear", 900.0), ("rear_wheel.front - front_wheel.rear", 900.0),
    ],
)  # fmt: skip
def test_every_length_is_understood(text, mm):
    assert read_length(text, DOCUMENT) == pytest.approx(mm)


@pytest.mark.parametrize(
    ("text", "mm"),
    [
        ("1 200", 1200.0), ("12 500", 12500.0), ("2 500 000", 2500000.0), ("1 1/2 in", 38.1), ("5 ft 3 in", 1600.2),
        ("1 m 20", 1020.0), ("1.200 m", 1200.0), ("2.5 front wheel", 1500.0), ("1 200 + 1 m", 2200.0), ("cart.wide + 1 200", 2100.0),
    ],
)  # fmt: skip
def test_a_space_groups_three_digits_and_multiplies_nothing(text, mm):
    assert read_length(text, DOCUMENT) == pytest.approx(mm)


@pytest.mark.parametrize(
    ("text", "words", "ways"),
    [
        ("1200 1300", "1200 and 1300", ()), ("1 20", "1 and 20", ()), ("cart.long + 12 13", "12 and 13|12 13", ()),
        ("1.200", "1200 or 1.2", ("1200", "1.2")), ("1,200", "1200 or 1.2", ("1200", "1.2")),
        ("1.234,5", "1234.5 or 1.2345", ("1234.5", "1.2345")), ("cart.wide + 1.200", "1200 or 1.2", ("cart.wide + 1200",)),
    ],
)  # fmt: skip
def test_what_can_be_read_twice_is_asked_back_and_the_advice_works(text, words, ways):
    with pytest.raises((LengthError, DocumentError), match=words):
        read_length(text, DOCUMENT)
    for way in ways:
        assert read_length(way, DOCUMENT) > 0.0


def test_a_fraction_is_a_length_and_a_part_is_said():
    inches = msgspec.structs.replace(DOCUMENT, unit="in")
    assert read_length("1/2", inches, 800.0) == pytest.approx(12.7)
    assert read_length("1/2 of it", inches, 800.0) == read_length("50 %", inches, 800.0) == 400.0
    assert (
        part_typed("40 % of it") == 0.4
        and part_typed("1/3 of it") == pytest.approx(1 / 3)
        and part_typed("40") is None
    )
    for wrong in ("1/0 of it", "half of it", "2 of it"):
        with pytest.raises(LengthError):
            read_length(wrong, DOCUMENT, 100.0)
    # Where no part is meant there is none.
    with pytest.raises(LengthError):
        read_length("40 %", DOCUMENT)


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("5 kg", "'kg' is no unit of length"), ("wheal / 2", "There is no 'wheal' here"), ("ten", "There is no 'ten' here"),
        ("gap(cart, boat)", "There is no 'boat' here"), ("gap(cart)", "gap"), ("cart.bow", "has no 'bow'"), ("1,200", "1200 or 1.2"),
        ("cart / 0", "divides by zero"),
    ],
)  # fmt: skip
def test_what_is_no_length_is_told_in_words(text, words):
    with pytest.raises(LengthError, match=words):
        read_length(text, DOCUMENT)


@given(st.sampled_from(["x0", "x1", "y0", "y1"]), st.floats(-180.0, 180.0))
def test_own_sides_lie_where_the_thing_looks(ahead, yaw):
    """The front lies ahead of the rear by the thing's length that way, whichever way it is turned."""
    cart = msgspec.structs.replace(CART, ahead=ahead, yaw_deg=round(yaw / 90.0) * 90.0)
    document = msgspec.structs.replace(DOCUMENT, volumes=(cart,))
    long, across = (3000.0, 900.0) if ahead[0] == "x" else (900.0, 3000.0)
    front, rear, left, right, middle = (
        read_length(f"cart.{side}", document) for side in ("front", "rear", "left", "right", "middle")
    )
    assert abs(front - rear) == pytest.approx(long) and abs(left - right) == pytest.approx(across)
    assert middle == pytest.approx((front + rear) / 2)


@given(st.floats(-2000.0, 4000.0), st.floats(-2000.0, 4000.0))
def test_the_gap_is_what_is_clear_whichever_is_named_first(x, y):
    one = Box(id="a", name="One", corner=(0.0, 0.0, 0.0), size=(500.0, 300.0, 200.0))
    two = Box(id="b", name="Two", corner=(x, y, 0.0), size=(400.0, 200.0, 200.0))
    document = msgspec.structs.replace(DOCUMENT, volumes=(one, two))
    clear = max(x - 500.0, -400.0 - x, y - 300.0, -200.0 - y, -200.0)
    for text in ("gap(one, two)", "gap(Two, One)"):
        assert read_length(text, document) == pytest.approx(clear)


def test_a_size_goes_by_a_gap_and_keeps_it_through_moves_and_names():
    document = typed_size(DOCUMENT, "cart", 2, "gap(front wheel, rear wheel) / 3").document
    assert document.volume("cart").size[2] == pytest.approx(300.0)
    moved = change_volume(document, "rear-wheel", "move", corner=(2400.0, 100.0, 0.0)).document
    assert moved.volume("cart").size[2] == pytest.approx(500.0)
    called = change_volume(moved, "rear-wheel", "rename", name="Back").document
    assert called.volume("cart").says[0].text == "gap(front_wheel, back) / 3"
    assert renamed("2 wheel + gap(a, wheel)", {"wheel", "a"}.__contains__, "wheel", "disc") == "2 disc + gap(a, disc)"
    with pytest.raises(DocumentError):
        typed_size(document, "cart", 0, "gap(cart, front wheel) + cart.long")


@given(
    st.sampled_from(["mm", "cm", "m", "in", "ft", "yd", "km", "dm"]),
    st.integers(0, 400),
    st.sampled_from("½¼¾⅓⅔⅛⅜⅝⅞"),
)
def test_fractions_of_one_sign_are_those_written_out(unit, whole, sign):
    top, bottom = {"½": (1, 2), "¼": (1, 4), "¾": (3, 4), "⅓": (1, 3), "⅔": (2, 3), "⅛": (1, 8), "⅜": (3, 8), "⅝": (5, 8), "⅞": (7, 8)}[sign]  # fmt: skip
    assert parse_length(f"{whole}{sign} {unit}") == pytest.approx(parse_length(f"{whole} {top}/{bottom} {unit}"))


def test_a_bow_is_typed_in_mm_or_as_a_share_of_half_its_side():
    from isometron.document.edits import add_volume
    from isometron.document.shapes.typed_outline import bow_text, outline_text, type_bow, type_outline
    from isometron.volumes.box import Box
    from isometron.volumes.cut.profiles import view_size

    block = Box(id="b", name="B", corner=(0.0, 0.0, 0.0), size=(2000.0, 900.0, 1000.0))
    document = add_volume(new_document(), block).document
    bowed = type_outline(document, "b", "side", "0, 0; 0, 600; 100 %, 600 bow -150; 100 %, 0").document
    side = bowed.volume("b").side
    assert [c.bow for c in side.corners] == pytest.approx([0.0, 0.0, -0.5, 0.0]), "150 over half of a side of 600"
    assert "bow -50 %" in outline_text(side, bowed)
    same = type_outline(bowed, "b", "side", "0, 0; 0, 600; 100 %, 600 bow -50 %; 100 %, 0").document
    assert same.volume("b").side.corners[2].bow == -0.5
    number = side.corners[1].n
    arched = type_bow(bowed, "b", "side", number, "-0.2 m").document
    found = arched.volume("b").side
    assert (
        found.corners[1].bow == pytest.approx(-0.2)
        and bow_text(found, number, view_size(block, "side"), "side", arched) == "-200 mm"
    )
    assert type_bow(bowed, "b", "side", number, "-20 %").document.volume("b").side.corners[1].bow == pytest.approx(
        -0.2
    )
    half = type_outline(document, "b", "plan", "100 %, 50 %; 80 %, 0; 10 %, 0 bow -90; 0, 50 %; alike").document
    assert half.volume("b").plan is not None
    with pytest.raises(DocumentError, match="no corner 99"):
        type_bow(bowed, "b", "side", 99, "3")
