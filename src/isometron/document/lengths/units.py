"""Lengths as people type and read them. Inside the program a length is a float in millimetres."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Callable
from fractions import Fraction
from math import isfinite
from typing import Literal, get_args

from isometron.errors import IsometronError
from isometron.geometry.tolerances import HAIR
from isometron.wording import tr

__all__ = [
    "MM_PER",
    "UNITS",
    "LengthError",
    "UnitName",
    "either_words",
    "exact_words",
    "format_length",
    "format_number",
    "format_paper",
    "grouped",
    "mm_per",
    "paper_unit",
    "parse_angle",
    "parse_length",
    "parse_percent",
    "read_number",
    "spelled_out",
]

UnitName = Literal["mm", "cm", "m", "in"]
UNITS: tuple[UnitName, ...] = get_args(UnitName)

MM_PER: dict[UnitName, float] = {"mm": 1.0, "cm": 10.0, "m": 1000.0, "in": 25.4}
_TYPED: dict[str, float] = {
    **{str(name): size for name, size in MM_PER.items()},
    "µm": 1e-3, "um": 1e-3, "micron": 1e-3, "micrometre": 1e-3, "micrometer": 1e-3,
    "millimetre": 1.0, "millimeter": 1.0, "centimetre": 10.0, "centimeter": 10.0,
    "dm": 100.0, "decimetre": 100.0, "decimeter": 100.0, "metre": 1e3, "meter": 1e3,
    "km": 1e6, "kilometre": 1e6, "kilometer": 1e6,
    "inch": 25.4, "inche": 25.4, '"': 25.4, "″": 25.4, "ft": 304.8, "foot": 304.8, "feet": 304.8, "'": 304.8, "′": 304.8,
    "yd": 914.4, "yard": 914.4,
}  # fmt: skip
"""Millimetres in each unit that may be typed (inches, feet, yards as agreed in 1959), without an s at their end."""
_WHOLE_FRACTION = re.compile(r"[¼-¾⅐-⅞]")
_DECIMALS: dict[UnitName, int] = {"mm": 2, "cm": 3, "m": 5, "in": 0}
_FINEST_INCH = 16
_LONGEST = 400
_EXAMPLES = tr("1200, 1200 mm, 120 cm, 1.2 m, 4 ft, 47 1/4 in or 3' 11 1/4\"")

_NUMBER = r"(?:\d+(?:[.,]\d+)*[.,]?|[.,]\d+)(?:e[+-]?\d+)?"
_PART = re.compile(
    rf"\s*(?:(?P<whole>\d+)\s+)?(?:(?P<top>\d+)\s*/\s*(?P<bottom>\d+)|(?P<number>{_NUMBER}))\s*(?P<unit>[a-zµ]+|'|\"|″|′)?",
    re.IGNORECASE,
)


class LengthError(IsometronError, ValueError):
    """Typed text that is no length; says what is understood."""


def mm_per(unit: str) -> float | None:
    """Return the millimetres in a unit as it is typed, in any case and number; None for what is no unit of length."""
    name = unit.lower()
    return _TYPED.get(name, _TYPED.get(name.removesuffix("s")))


def parse_length(text: str, unit: UnitName = "mm") -> float:
    """Return millimetres from typed text; a number without a unit is in ``unit``.

    Understands decimals with point or comma, fractions (``47 1/4``, ``47½``), the usual units of length, sums such as
    ``3' 11 1/4"`` or ``1 m 20 cm`` and a leading minus. Raises `LengthError` otherwise; the caller keeps the old value.
    """
    body = grouped(spelled_out(text)).strip()
    if len(body) > _LONGEST:
        raise LengthError(tr("{typed!r} … is too long to be a length.", typed=body[:20]))
    sign = -1.0 if body[:1] in ("-", "−") else 1.0
    body = body.lstrip("+-−").strip()
    if not body:
        raise LengthError(tr("No length was typed. Understood: {examples}.", examples=_EXAMPLES))
    total, position, last = 0.0, 0, float("inf")
    while position < len(body):
        match = _PART.match(body, position)
        if match is None or (position and not match["unit"] and last == float("inf")):
            raise LengthError(
                tr("{typed!r} is no length. Understood: {examples}.", typed=text.strip(), examples=_EXAMPLES)
            )
        factor = _factor(match["unit"]) if match["unit"] else _following(unit, last)
        if not factor < last:
            raise LengthError(
                tr("In {typed!r} each part needs a smaller unit than the one before it.", typed=text.strip())
            )
        total += _value(match, text, factor) * factor
        last, position = factor, match.end()
        while position < len(body) and body[position].isspace():
            position += 1
    if not isfinite(total):
        raise LengthError(tr("{typed!r} is too large a length.", typed=text.strip()))
    return sign * total


def spelled_out(text: str) -> str:
    """Return text with fractions of one sign, such as ½, written out."""
    return _WHOLE_FRACTION.sub(
        lambda found: " " + unicodedata.normalize("NFKC", found[0]).replace("\u2044", "/"), text
    )


def _factor(unit: str) -> float:
    found = mm_per(unit)
    if found is None:
        raise LengthError(tr("{unit!r} is no unit of length. Understood: {examples}.", unit=unit, examples=_EXAMPLES))
    return found


def _following(unit: UnitName, last: float) -> float:
    """Return the factor of a part without unit: inches after feet, else the document's unit."""
    return MM_PER["in"] if abs(last - 304.8) < HAIR else MM_PER[unit]


def _value(match: re.Match[str], text: str, factor: float) -> float:
    whole = float(match["whole"] or 0)
    if match["top"] is not None:
        top, bottom = float(match["top"]), float(match["bottom"])
        if bottom == 0.0:
            raise LengthError(tr("{typed!r} divides by zero.", typed=text.strip()[:60]))
        return whole + top / bottom if isfinite(top) else top
    if match["whole"] is not None:
        raise LengthError(
            tr(
                "{typed!r} has two numbers side by side, {whole} and {part}: type one of them, or a sign between them.",
                typed=text.strip(),
                whole=match["whole"],
                part=match["number"],
            )
        )
    return read_number(match["number"], asks=abs(factor - 1.0) < HAIR)


_GROUPS = re.compile(r"(?<![\d.,])([1-9]\d{0,2})((?:[ \u00a0\u2009\u202f]\d{3})+)(?![\d]|\s*/)")
_BOTH_SIGNS = re.compile(r"[1-9]\d{0,2}(?:([.,])\d{3})(?:\1\d{3})*(?!\1)[.,]\d*")
_MAY_GROUP = re.compile(r"[1-9]\d{0,2}(?:(?:,\d{3})+|(?:\.\d{3})+)")


def grouped(text: str) -> str:
    """Return text with numbers such as ``12 500`` closed up: a space groups only where exactly three digits follow."""
    return _GROUPS.sub(lambda found: found[1] + re.sub(r"\D", "", found[2]), text)


def read_number(number: str, *, asks: bool) -> float:
    """Return a number with a decimal point or comma.

    Raises `LengthError` that asks back about one such as ``1,200``, which half the world reads one way and half the other; where it
    ``asks`` (in mm, where nobody means thousandths), about ``1.200`` too.
    """
    if _BOTH_SIGNS.fullmatch(number) or (
        _MAY_GROUP.fullmatch(number) and (asks or "," in number or number.count(".") > 1)
    ):
        raise LengthError(either_words(number))
    return float(number.replace(",", "."))


def either_words(number: str) -> str:
    """Return the question back about a number that may be read in two ways; each of the two can be typed as it stands there."""
    sign = "," if "," in number and ("." not in number or number.index(",") < number.index(".")) else "."
    other = "." if sign == "," else ","
    whole = number.replace(sign, "").replace(other, ".").rstrip(".")
    head, _, tail = number.partition(sign)
    digits = "".join(each for each in tail if each.isdigit()).rstrip("0")
    part = f"{head}.{digits}" if digits else head
    return tr(
        "{number!r}: {whole} or {part}? Type the one that is meant as it stands here.",
        number=number,
        whole=whole,
        part=part,
    )


def parse_percent(text: str) -> float:
    """Return a percentage from text such as ``60`` or ``12.5 %``; raises `LengthError`."""
    try:
        value = float(text.strip().removesuffix("%").strip().replace(",", "."))
    except ValueError as error:
        raise LengthError(tr("{typed!r} is no percentage. Understood: 60 or 12.5 %.", typed=text.strip())) from error
    if not abs(value) <= 1000.0:
        raise LengthError(tr("{typed!r} is no percentage between -1000 and 1000.", typed=text.strip()))
    return value


def parse_angle(text: str) -> float:
    """Return degrees from typed text such as ``30``, ``-12,5`` or ``30 deg``; raises `LengthError` otherwise."""
    body = (
        re.sub(r"\s*(°|deg|degrees?)\s*$", "", text.strip(), flags=re.IGNORECASE).replace(",", ".").replace("−", "-")
    )
    if not re.fullmatch(r"[+-]?(\d+\.?\d*|\.\d+)", body):
        raise LengthError(tr("{typed!r} is no angle. Understood: 30, 12.5 or -45, in degrees.", typed=text.strip()))
    degrees = float(body)
    if not abs(degrees) <= 360.0:
        raise LengthError(
            tr("{typed!r} is more than a full turn; an angle lies between -360 and 360 degrees.", typed=text.strip())
        )
    return degrees


def format_number(value: float, decimals: int) -> str:
    """Return ``value`` with at most ``decimals`` decimals and no trailing zeros, and no minus before a zero."""
    text = f"{value:.{decimals}f}"
    if "." in text:
        text = text.rstrip("0").rstrip(".")
    return text.lstrip("-") if float(text) == 0.0 else text


def format_length(mm: float, unit: UnitName, *, with_unit: bool = True, decimals: int | None = None) -> str:
    """Return a length in ``unit``; inches as whole and sixteenths, others to 0.01 mm."""
    writer: Callable[[float], str]
    if unit == "in":
        writer = _inches
    else:
        places = _DECIMALS[unit] if decimals is None else decimals

        def writer(value: float) -> str:
            return format_number(value, places)

    text = writer(mm / MM_PER[unit])
    return f"{text} {unit}" if with_unit else text


def exact_words(value: float, *, sign: bool = False) -> str:
    """Return a number to nine digits as it is written into an expression; never with just three decimals, which would be asked back."""
    text = f"{value:+.9g}" if sign else f"{value:.9g}"
    return f"{text}0" if re.search(r"\.\d{3}$", text) else text


def format_paper(mm: float, unit: UnitName, *, with_unit: bool = True, decimals: int = 1) -> str:
    """Return a length on paper with all its decimals in mm, or in sixteenths of an inch where inches are shown."""
    if paper_unit(unit) == "in":
        return format_length(mm, "in", with_unit=with_unit)
    text = f"{mm + 0.0:.{decimals}f}"
    return f"{text} mm" if with_unit else text


def paper_unit(unit: UnitName) -> UnitName:
    """Return the unit a ruler on the sheet is read in when ``unit`` is shown for the object."""
    return "in" if unit == "in" else "mm"


def _inches(inches: float) -> str:
    sixteenths = round(abs(inches) * _FINEST_INCH)
    whole, rest = divmod(sixteenths, _FINEST_INCH)
    sign = "-" if inches < 0 and sixteenths else ""
    if not rest:
        return f"{sign}{whole}"
    part = Fraction(rest, _FINEST_INCH)
    return f"{sign}{whole} {part}" if whole else f"{sign}{part}"
