"""What a picture's marks say, in words and in millimetres of its sheet: the eye, each mark's misfit, what is still free."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from isometron.document.lengths.units import UnitName, format_paper
from isometron.document.pictures.sheet_picture import SheetPicture
from isometron.match.answer import Answer, Figure
from isometron.match.bundles import bundle_points
from isometron.wording import tr

__all__ = ["ToldMark", "eye_facts", "told_marks", "too_few_words", "wanting"]


@dataclass(frozen=True)
class ToldMark:
    """A mark of a picture: ``line`` or ``ring``, its number, its misfit on paper and as an angle; whether it contradicts the others; thing : empty for
    the first one."""

    kind: str
    number: int
    along: str
    off_mm: float
    off_deg: float
    against: bool
    thing: str = ""


def _with_pm(value: str, figure: Figure, pm: str) -> str:
    # The spread stays in the line of its figure.
    kept = pm.replace(" ", "\u00a0")
    return f"{value}\u00a0±\u00a0{kept}" if np.isfinite(figure.pm95) else tr("not known yet")


def eye_facts(picture: SheetPicture, answer: Answer, unit: UnitName) -> list[tuple[str, str]]:
    """Return heads and words: viewing distance, eye level, tilt, roll, centre of vision, bend, each with its plus-minus at 95 %."""
    mm = picture.pixel
    facts = [
        (tr("distance"), _with_pm(format_paper(answer.focal.value * mm, unit, with_unit=False), answer.focal,
                                          format_paper(answer.focal.pm95 * mm, unit))),
        (tr("eye level"), _eye_level(picture, answer, unit)),
        (tr("tilt"), _degrees(answer.pitch)),
        (tr("roll"), _degrees(answer.roll)),
    ]  # fmt: skip
    if not picture.whole:
        x, y = answer.centre
        facts.append((tr("centre of vision"), tr("± {across} across, ± {up} up or down", across=_pm_mm(x, mm, unit),
                                                 up=_pm_mm(y, mm, unit))))  # fmt: skip
    if answer.fit.layout.bent:
        edge = answer.bend.value * (0.5 * picture.width / answer.focal.value) ** 2
        words = tr("{part} % at the picture's side", part=f"{100 * edge:+.1f}")
        facts.append((tr("the lens bends"), words))
    return facts


def _pm_mm(figure: Figure, mm: float, unit: UnitName) -> str:
    return format_paper(figure.pm95 * mm, unit) if np.isfinite(figure.pm95) else tr("unknown")


def _degrees(figure: Figure) -> str:
    return _with_pm(f"{figure.value:.1f}°", figure, f"{figure.pm95:.1f}°")


def _eye_level(picture: SheetPicture, answer: Answer, unit: UnitName) -> str:
    """Say where the horizon lies against the picture's middle, mm of paper."""
    left, right = answer.horizon
    middle = (left.value + right.value) / 2.0
    figure = Figure(middle, max(left.pm95, right.pm95))
    above = (picture.centre[1] - middle) * picture.pixel
    where = tr("{far} above the middle", far=format_paper(abs(above), unit))
    if abs(above) < 0.05:
        where = tr("in the middle")
    elif above < 0.0:
        where = tr("{far} below the middle", far=format_paper(abs(above), unit))
    return _with_pm(where, figure, format_paper(figure.pm95 * picture.pixel, unit))


def told_marks(picture: SheetPicture, answer: Answer | str) -> list[ToldMark]:
    """Return the marks, the worst first; in their order while there is no eye."""
    kinds = [("line", n, line.along, line.object) for n, line in enumerate(picture.lines)]
    kinds += [("ring", n, ring.square_to, "") for n, ring in enumerate(picture.rings)]
    found = []
    for row, (kind, number, along, thing) in enumerate(kinds):
        off, angle = (0.0, 0.0) if isinstance(answer, str) or row >= len(answer.misfits) else answer.misfits[row]
        against = not isinstance(answer, str) and row in answer.contradicting
        found.append(ToldMark(kind, number, along, off * picture.pixel, angle, against, thing))
    return found if isinstance(answer, str) else sorted(found, key=lambda mark: -mark.off_mm)


def too_few_words(picture: SheetPicture) -> str:
    """Say what the marks so far give, and which are wanted next."""
    counts = {along: sum(line.along == along for line in picture.lines) for along in ("long", "wide", "high")}
    points = bundle_points(list(picture.lines))
    if not picture.lines and not picture.rings:
        return tr("Of one thing, pull along two edges that run to the right, and two that run to the left (G).")
    said = []
    for along, words in (("long", tr("right-going")), ("wide", tr("left-going")), ("high", tr("upright"))):
        if along in points:
            said.append(tr("The {direction} edges give a point.", direction=words))
    for along, words in (("long", tr("right-going")), ("wide", tr("left-going"))):
        missing = 2 - counts[along]
        if missing > 0:
            said.append(
                tr("Mark one more {direction} edge.", direction=words) if missing == 1
                else tr("Mark two {direction} edges.", direction=words)
            )  # fmt: skip
            break
    return " ".join(said)


def wanting(answer: Answer) -> list[str]:
    """Return what is not known and the next mark that would settle it; the scale is asked for elsewhere."""
    return [
        f"{tr('Not known: {what}.', what=each.what)} {each.settle}"
        for each in answer.free
        if each.what != tr("the scale")
    ]
