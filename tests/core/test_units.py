"""Lengths and angles as people type them."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from isometron.document.lengths.units import UNITS, LengthError, format_length, parse_angle, parse_length


@pytest.mark.parametrize(
    ("text", "unit", "mm"),
    [
        ("1200", "mm", 1200.0),
        ("1200", "in", 30480.0),
        ("120 cm", "in", 1200.0),
        ("1,5 m", "mm", 1500.0),
        (".5m", "mm", 500.0),
        ("4 ft", "mm", 1219.2),
        ("3' 11 1/4\"", "mm", 1200.15),
        ("3'11", "mm", 1193.8),
        ("47 1/4 in", "mm", 1200.15),
        ("47 1/4", "in", 1200.15),
        ("1/2", "in", 12.7),
        ("-1/2\"", "mm", -12.7),
        ("1 m 20 cm", "mm", 1200.0),
        ("2 yd", "mm", 1828.8),
        ("1e3", "mm", 1000.0),
    ],
)  # fmt: skip
def test_understood(text, unit, mm):
    assert parse_length(text, unit) == pytest.approx(mm)


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("", "No length was typed"),
        ("wide", "no unit of length|no length"),
        ("5 kg", "no unit of length"),
        ("1 2", "two numbers side by side"),
        ("1/0", "divides by zero"),
        ("3 in 2 ft", "smaller unit"),
        ("12;5", "no length"),
        ("0x10", "no unit of length"),
        ("1e999", "too large"),
        ("__import__('os')", "no length"),
        ("5 m + 2", "no length"),
    ],
)
def test_refused_with_what_is_understood(text, words):
    with pytest.raises(LengthError, match=words):
        parse_length(text)


@given(st.floats(-1e6, 1e6), st.sampled_from(UNITS))
def test_what_is_shown_can_be_typed(mm, unit):
    shown = format_length(mm, unit)
    step = 25.4 / 16 if unit == "in" else 0.01
    assert parse_length(shown, unit) == pytest.approx(mm, abs=step)
    assert format_length(parse_length(shown, unit), unit) == shown


@given(st.text(max_size=12))
def test_any_text_is_a_length_or_is_refused(text):
    for read in (parse_length, parse_angle):
        try:
            value = read(text)
        except LengthError:
            continue
        assert abs(value) < float("inf")


def test_inches_are_sixteenths():
    assert format_length(1500.0, "in") == "59 1/16 in"
    assert format_length(-6.35, "in") == "-1/4 in"
    assert format_length(25.4, "in") == "1 in"
    assert format_length(-0.001, "mm") == "0 mm"


def test_angles():
    assert parse_angle("30°") == 30.0
    assert parse_angle("-12,5 deg") == -12.5
    with pytest.raises(LengthError, match="more than a full turn"):
        parse_angle("400")
    with pytest.raises(LengthError, match="no angle"):
        parse_angle("thirty")
