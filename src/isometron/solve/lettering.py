"""How wide lettering on the sheet is, without asking a toolkit: the advance widths of its face, Routed Gothic."""

from __future__ import annotations

__all__ = ["ABOVE", "BELOW", "lettering_width"]

ABOVE, BELOW = 0.95, 0.25
"""How far letters reach above and below their base line, parts of the size."""

_WIDTHS = {
    0.219: "'", 0.281: " !.:ijl|", 0.289: ",;", 0.305: "[]", 0.328: "I", 0.336: "()t", 0.344: "1", 0.367: "f",
    0.375: '"`', 0.406: "-", 0.414: "r", 0.422: "{}", 0.484: "svxy", 0.492: "$z", 0.5: "*^", 0.516: "ck", 0.531: "Je",
    0.555: "o", 0.562: "/\\\\_", 0.566: "nu", 0.57: "h", 0.574: "abgpq", 0.578: "d", 0.617: "XZ", 0.625: "+<=>?",
    0.633: "~", 0.641: "LY", 0.648: "F", 0.656: "#023456789GKS", 0.664: "P", 0.668: "C", 0.672: "ATV", 0.68: "BDEw",
    0.688: "R", 0.695: "HU", 0.703: "N", 0.719: "OQ", 0.766: "&", 0.811: "M", 0.844: "%m", 0.852: "W", 0.859: "@",
}  # fmt: skip
_WIDTH = {letter: width for width, letters in _WIDTHS.items() for letter in letters}
_OTHER = 0.75
"""Of letters that are not listed; few are wider."""


def lettering_width(text: str) -> float:
    """Return how wide a text is, in parts of its size."""
    return sum(_WIDTH.get(letter, _OTHER) for letter in text)
