"""What a picture's marks say: the eye, the horizon, the boxes' ratios, each with its plus-minus, and what is not known."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from isometron.match.marks import MarksError, PictureMarks
from isometron.match.quarrels import quarrelling
from isometron.match.solving.camera import AXES, MOST_BEND, Layout, Numbers
from isometron.match.solving.heights import axles_of, heights_on, own_spread
from isometron.match.solving.solver import Fit, fit, followed, slopes
from isometron.wording import tr

__all__ = ["Answer", "Figure", "Free", "deviations", "followed_by", "matched"]

_LIKELY = {1: 6.63, 2: 9.21}
"""Chi-square at 99 % for one and for two numbers: so much better a fit must be to say that the picture is tilted or bent."""
_TOO_WIDE, _ANY = 0.25, 0.6
"""A figure whose plus-minus is more than this part of it is not known."""
_A_LENS = 0.99
"""Of the greatest bend: one beyond it was stopped by the bound, and not found."""
_BY_HAND = 1.5
"""px: one standard deviation of a mark, where too few marks tell of it."""
_SAME, _PARALLEL = 1e-6, 25.0
_WORSE = 2.5
"""Marks that fit so much worse than those before them are looked at from nothing."""


@dataclass(frozen=True)
class Figure:
    """A figure with its plus-minus at 95 %; infinite where the marks say nothing of it."""

    value: float
    pm95: float

    @property
    def known(self) -> bool:
        """Whether the plus-minus is small against the figure."""
        return bool(self.pm95 <= _TOO_WIDE * abs(self.value))


@dataclass(frozen=True)
class Free:
    """What is not known, and the next mark that would settle it, in words."""

    what: str
    settle: str


@dataclass(frozen=True)
class Answer:
    """What was found. focal : px; centre : of vision, px; horizon : its heights at the left and the right border, px; pitch, roll : degrees;
    bend : k1; ratios : of each box, to its long size or the first that is known; heights : of the rings on each axle over the eye level, in
    diameters of its first; misfits : (px, degrees) of each mark, lines then rings; tilted : the fit that is free to tilt."""

    marks: PictureMarks
    fit: Fit
    tilted: Fit
    focal: Figure
    centre: tuple[Figure, Figure]
    horizon: tuple[Figure, Figure]
    pitch: Figure
    roll: Figure
    bend: Figure
    ratios: dict[str, dict[str, Figure]]
    heights: dict[str, list[Figure]]
    misfits: list[tuple[float, float]]
    free: list[Free] = field(default_factory=list)
    contradicting: list[int] = field(default_factory=list)

    @property
    def usable(self) -> bool:
        """Whether an eye can be drawn by: not as good as endlessly far away, and not any eye at all; of a picture that was cut out the
        likeliest one, though the marks leave it open."""
        near = self.focal.value < _PARALLEL * max(self.marks.width, self.marks.height)
        return near and (not self.marks.whole or self.focal.pm95 <= _ANY * self.focal.value)

    @property
    def noise(self) -> float:
        """One standard deviation of a mark, px."""
        return self.fit.noise


def matched(marks: PictureMarks, like: Answer | None = None) -> Answer:
    """Return what marks say; raises `MarksError` where they are too few for any eye.

    A picture is taken as level, and its lens as straight, unless the marks say otherwise beyond chance. like : the answer to
    marks before the latest ones, to begin from.
    """
    _enough(marks)
    if like is not None and like.focal.known and _alike(like.fit.layout, Layout(marks)):
        found = _answer(marks, *_chosen(marks, like.tilted))
        if found.focal.known and found.noise <= _WORSE * max(like.noise, 1.0):
            return found
    return _answer(marks, *_chosen(marks))


def followed_by(marks: PictureMarks, like: Answer) -> Answer:
    """Return what an answer becomes while marks are dragged: the same kind of eye, followed by a few steps."""
    layout, loose = (
        Layout(marks, level=fit.layout.level, bent=fit.layout.bent, centred=marks.whole)
        for fit in (like.fit, like.tilted)
    )
    best = followed(layout, like.fit)
    return _answer(marks, best, best if like.tilted is like.fit else followed(loose, like.tilted))


def _alike(one: Layout, other: Layout) -> bool:
    return one.objects == other.objects and one.boxes == other.boxes


def _answer(marks: PictureMarks, best: Fit, tilted: Fit) -> Answer:
    layout, free = best.layout, tilted.layout
    told, loose = _Told(best), _Told(tilted)
    width = marks.width - 1.0
    answer = Answer(
        marks,
        best,
        tilted,
        told.of(lambda n: layout.camera(n).f),
        (told.of(lambda n: layout.camera(n).centre[..., 0]), told.of(lambda n: layout.camera(n).centre[..., 1])),
        (
            _spread_of(told.of(lambda n: _horizon(layout, n, 0.0)), loose.of(lambda n: _horizon(free, n, 0.0))),
            _spread_of(told.of(lambda n: _horizon(layout, n, width)), loose.of(lambda n: _horizon(free, n, width))),
        ),
        _spread_of(
            told.of(lambda n: _degrees(layout.camera(n).pitch)), loose.of(lambda n: _degrees(free.camera(n).pitch))
        ),
        _spread_of(
            told.of(lambda n: _degrees(layout.camera(n).roll)), loose.of(lambda n: _degrees(free.camera(n).roll))
        ),
        told.of(lambda n: layout.camera(n).bend),
        {name: _ratios(told, best, row) for row, name in enumerate(layout.boxes)},
        {name: _heights(told, layout, rows) for name, rows in axles_of(layout).items()},
        _misfits(best),
    )
    answer.free.extend(_free(answer))
    answer.contradicting.extend(quarrelling(best, [off for off, _ in answer.misfits]))
    return answer


def _enough(marks: PictureMarks) -> None:
    level = {(line.object, line.along) for line in marks.lines if line.along != "high"}
    told = sum(len(ring.points) - 3 for ring in marks.rings if len(ring.points) > 3)
    if len(marks.lines) + told < 3 or (len(level) < 2 and told < 3):
        raise MarksError(
            tr(
                "There are too few marks for an eye: mark lines along two level directions of a thing, two in each, or a ring by five points."
            )
        )


def _chosen(marks: PictureMarks, like: Fit | None = None) -> tuple[Fit, Fit]:
    """Return the plainest fit that the marks do not speak against, level before tilted, straight before bent; and the one that is
    free to tilt: nobody knows of a level picture that it is level to the last digit. like : a tilted fit to begin from."""

    def begun(layout: Layout, like: Fit | None) -> Fit:
        return fit(layout, begun=None if like is None else like.layout.carried(like.numbers, layout))

    straight = begun(Layout(marks, centred=marks.whole), like)
    layout = Layout(marks, bent=True, centred=marks.whole)
    bent = fit(layout, begun=straight.layout.carried(straight.numbers, layout))
    tilted = bent if _speaks_for(bent, straight, 1) and _is_bent(bent) else straight
    level = begun(
        Layout(marks, level=True, bent=tilted.layout.bent, centred=marks.whole), None if like is None else tilted
    )
    return (tilted if _speaks_for(tilted, level, 2) else level), tilted


def _is_bent(found: Fit) -> bool:
    """Whether the bend of a fit is more than its own plus-minus, and no more than that of a lens: what only the bound stops is none."""
    bend = _Told(found).of(lambda n: found.layout.camera(n).bend)
    return bend.pm95 < abs(bend.value) < _A_LENS * MOST_BEND


def _speaks_for(fuller: Fit, plainer: Fit, count: int) -> bool:
    """Whether a fit with ``count`` numbers more is better beyond chance."""
    # As many numbers as marks fit always: then a hand's usual error says what is beyond chance.
    noise = fuller.noise if fuller.over >= 1 else _BY_HAND
    gain = _cost_with(plainer, noise) - _cost_with(fuller, noise)  # not a number: it fits not at all
    return fuller.over >= 0 and not gain / noise**2 <= _LIKELY[count]


def _cost_with(one: Fit, noise: float) -> float:
    """Return the sum of the squares of a fit's misfits, px2, those beyond three standard deviations counted no further."""
    off = np.minimum(np.abs(one.off[one.owner >= 0]), 3.0 * noise)
    return float((off**2).sum())


def deviations(over: int) -> float:
    """Return how many standard deviations hold 95 %: with few marks to spare Student's t in place of 1.96; the noise of fewer than one
    is a guess, and told so."""
    from scipy.special import stdtrit  # only a match needs it

    return float(stdtrit(over, 0.975)) if over >= 1 else 1.96


class _Told:
    """Works out figures with their plus-minus from a fit."""

    def __init__(self, found: Fit) -> None:
        self._fit = found
        side = max(found.layout.marks.width, found.layout.marks.height)
        # Two cameras that fit alike, or one as good as endlessly far away: nobody can tell.
        self._twofold = bool(found.twins) or float(np.real(found.layout.camera(found.numbers).f)) > _PARALLEL * side
        self._times = deviations(found.over)

    @property
    def numbers(self) -> Numbers:
        """The numbers of the fit."""
        return self._fit.numbers

    def spread_of(self, variances: Numbers) -> Numbers:
        """Return the plus-minus of variances that are told for marks of one pixel."""
        found: Numbers = self._times * self._fit.noise * np.sqrt(variances)
        return found

    def of(self, quantity: Callable[[Numbers], Any]) -> Figure:
        """Return a quantity of the numbers with its plus-minus."""
        numbers = self._fit.numbers
        value = float(np.real(quantity(numbers)))
        if self._twofold:
            return Figure(value, np.inf)
        slope = slopes(lambda n: np.asarray(quantity(n))[..., None], numbers)[0]
        size = np.sqrt((slope**2).sum())
        for way in self._fit.unknown.T:
            if abs(float(slope @ way)) > _SAME * size * np.sqrt(float(way @ way)):
                return Figure(value, np.inf)
        return Figure(value, self._times * float(np.sqrt(max(slope @ self._fit.spread @ slope, 0.0))))


def _degrees(angle: Numbers) -> Numbers:
    return angle * (180.0 / np.pi)


def _spread_of(plain: Figure, loose: Figure) -> Figure:
    """Return the figure of a level picture with the plus-minus of one that may be tilted."""
    return Figure(plain.value, max(plain.pm95, loose.pm95))


def _horizon(layout: Layout, numbers: Numbers, x: float) -> Numbers:
    """Return how high, px from the top, the horizon lies at x: the picture of all level directions."""
    camera = layout.camera(numbers)
    axes = camera.axes
    # up . ray = 0 with ray = right (x - cx) / f - up' (y - cy) / f + look, and only the third parts of the axes count.
    across = (x - camera.centre[..., 0]) / camera.f * axes[..., 0, 2]
    found: Numbers = camera.centre[..., 1] + camera.f * (across + axes[..., 2, 2]) / axes[..., 1, 2]
    return found


def _ratios(told: _Told, found: Fit, row: int) -> dict[str, Figure]:
    """Return the sizes of a box against the first that its marks tell of."""
    layout = found.layout
    sizes = np.real(layout.box_numbers(found.numbers)[row, 3:])
    first = next((k for k in range(3) if abs(sizes[k]) > _SAME), None)
    if first is None:
        return {}

    def ratio(k: int) -> Callable[[Numbers], Any]:
        # A box turned half round has its sizes below nothing: the same box.
        sense = np.sign(sizes[k] * sizes[first])
        return lambda n: sense * layout.box_numbers(n)[..., row, 3 + k] / layout.box_numbers(n)[..., row, 3 + first]

    return {f"{AXES[k]}/{AXES[first]}": told.of(ratio(k)) for k in range(3) if k != first and abs(sizes[k]) > _SAME}


def _heights(told: _Told, layout: Layout, rows: list[int]) -> list[Figure]:
    own = told.spread_of(own_spread(layout, told.numbers, rows))
    figures = [told.of(lambda n, k=k: heights_on(layout, n, rows)[..., k]) for k in range(len(rows))]  # type: ignore[misc]
    return [
        Figure(figure.value, float(np.hypot(figure.pm95, more))) for figure, more in zip(figures, own, strict=True)
    ]


def _misfits(found: Fit) -> list[tuple[float, float]]:
    """Return the largest misfit of each mark, px, and of lines the angle that they are off, degrees."""
    marks = found.layout.marks
    told = []
    for number in range(len(marks.lines) + len(marks.rings)):
        own = found.off[found.owner == number]
        angle = 0.0
        if number < len(marks.lines) and len(own) > 1:
            points = np.array(marks.lines[number].points)
            far = float(np.hypot(*(points[-1] - points[0])))
            angle = float(np.degrees(np.arctan2(abs(own[-1] - own[0]), max(far, _SAME))))
        told.append((float(np.abs(own).max(initial=0.0)), angle))
    return told


def _free(answer: Answer) -> list[Free]:
    """Return what is not known, in words."""
    found, marks = [], answer.marks
    if answer.focal.value > _PARALLEL * max(marks.width, marks.height):
        found.append(
            Free(
                tr("the horizon: the view is as good as parallel"), tr("Mark something nearer, whose edges converge.")
            )
        )
    elif answer.fit.twins:
        others = ", ".join(f"{f}" for f in sorted({round(f) for f in answer.fit.twins}))
        words = tr("which of several eyes it is: {others} px fit as well", others=others)
        found.append(Free(words, tr("Give the focal length, or mark a third ring.")))
    elif not answer.focal.known:
        settle = tr("Type one true length of a marked box beside another one of the same box, or the ratio you know.")
        if marks.whole:
            settle = tr("Mark two lines along another direction, or a ring by five points.")
        found.append(Free(tr("the viewing distance"), settle))
    if not marks.whole and (
        answer.centre[0].pm95 > _TOO_WIDE * marks.width or answer.centre[1].pm95 > _TOO_WIDE * marks.height
    ):
        found.append(
            Free(
                tr("the centre of vision of a picture that was cut out"),
                tr("One known ratio, or lines along a third direction that converge."),
            )
        )
    for name, ratios in answer.ratios.items():
        missing = [k for k in AXES if not any(k in key.split("/") for key in ratios)]
        if missing:
            words = tr("how {missing} {box} is", missing=", ".join(missing), box=name)
            found.append(Free(words, tr("Mark one more edge of it on the far side of that direction.")))
        for key, figure in ratios.items():
            if not figure.known:
                found.append(
                    Free(
                        tr("{ratio} of {box}", ratio=key, box=name),
                        tr("Mark another of its edges, or type a true length."),
                    )
                )
    if not marks.lengths:
        found.append(Free(tr("the scale"), tr("Type one true length of a box.")))
    return found
