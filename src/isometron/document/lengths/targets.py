"""What is meant: targets such as ``wheelbase = 3 wheel``, how far the drawing is from them, and the least that mends it."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass, replace
from math import log

import msgspec

from isometron.document.edits import Edit, with_volumes
from isometron.document.lengths.expressions import named
from isometron.document.lengths.sizes import Sizes, diameter_of
from isometron.document.model import Document, DocumentError, Target
from isometron.geometry.tolerances import CLOSE, HAIR
from isometron.volumes.kinds import AnyVolume
from isometron.volumes.turned import Turned
from isometron.volumes.volume import DIRECTIONS
from isometron.wording import tr

__all__ = ["Mending", "Met", "mended", "mending", "met", "targets_met"]

_NEAR = 2e-4
"""A target is met within this part of what is meant: a fifth of a millimetre in a metre."""


@dataclass(frozen=True)
class Met:
    """A target against the drawing: both sides in mm, the sign between them, and the volumes it concerns."""

    target: Target
    drawn: float
    meant: float
    sign: str
    volumes: tuple[str, ...]

    @property
    def is_met(self) -> bool:
        """Whether the drawing does what is meant."""
        room = _NEAR * max(abs(self.meant), 1.0)
        if self.sign == "<":
            return self.drawn < self.meant + room
        if self.sign == ">":
            return self.drawn > self.meant - room
        return abs(self.drawn - self.meant) <= room


@dataclass(frozen=True)
class Mending:
    """The smallest change that meets a target: which size of which volume (or pitch, or length), and its new mm."""

    volume: str
    name: str
    drives: str
    old: float
    new: float


def met(document: Document, target: Target) -> Met:
    """Return a target against the drawing; raises `DocumentError` naming what cannot be understood."""
    return _met(Sizes(document.volumes, document.lengths), document, target)


def _met(sizes: Sizes, document: Document, target: Target) -> Met:
    parts = re.split(r"([=<>])", target.text)
    if len(parts) != 3 or not parts[0].strip() or not parts[2].strip():
        raise DocumentError(
            tr(
                "{text!r} is no target. Write it like wheelbase = 3 wheel or seat.top < chair.high / 2.",
                text=target.text,
            )
        )
    drawn, meant = (sizes.value(parts[k], target.unit) for k in (0, 2))
    rows = [sizes.row_of(name) for side in (parts[0], parts[2]) for name in _volume_names(sizes, side)]
    ids = tuple(dict.fromkeys(document.volumes[row].id for row in rows))
    return Met(target, drawn, meant, parts[1], ids)


def _volume_names(sizes: Sizes, text: str) -> Iterator[str]:
    for reference in named(text, sizes.known):
        if not sizes.is_length(reference.name):
            yield reference.name
            if reference.other:
                yield reference.other


def targets_met(document: Document) -> list[Met | str]:
    """Return every target against the drawing, or why it cannot be understood."""
    sizes = Sizes(document.volumes, document.lengths)
    found: list[Met | str] = []
    for target in document.targets:
        try:
            found.append(_met(sizes, document, target))
        except DocumentError as error:
            found.append(str(error))
    return found


def mending(document: Document, target: Target) -> Mending | None:
    """Return the smallest change of one size that meets a target, or None when no single size does.

    Every size, pitch or length that the target names is tried alone; of those that meet it the one changed by the least
    part wins. What an expression drives is set free only when nothing else helps.
    """
    now = met(document, target)
    if now.is_met:
        return None
    candidates = _candidates(document, target)
    for driven in (False, True):
        roots = [
            (abs(log(new / candidate.old)), replace(candidate, new=round(new, 4)))
            for candidate in candidates
            if _is_driven(document.volume(candidate.volume), candidate.drives) is driven
            and (new := _root(document, target, candidate)) is not None
        ]
        if roots:
            return min(roots, key=lambda found: found[0])[1]
    return None


def _candidates(document: Document, target: Target) -> list[Mending]:
    sizes = Sizes(document.volumes, document.lengths)
    found: dict[tuple[str, str], Mending] = {}

    def collect(text: str) -> None:
        for reference in named(text, sizes.known):
            if sizes.is_length(reference.name):
                collect(sizes.length(reference.name).text)
                continue
            volume = document.volumes[sizes.row_of(reference.name)]
            for drives in () if reference.other else _parts(volume, reference.part):
                old = _number(volume, drives)
                if old != 0.0:
                    found[volume.id, drives] = Mending(volume.id, volume.name, drives, old, old)

    for side in re.split(r"[=<>]", target.text):
        collect(side)
    return list(found.values())


def _parts(volume: object, part: str) -> tuple[str, ...]:
    """Return which numbers of a volume a part of its name stands for; a round one's diameter is all its sizes across."""
    if part in DIRECTIONS:
        return (part,)
    if part in ("pitch", "gap"):
        return ("pitch",)
    if part in ("", "diameter"):
        return ("diameter",) if isinstance(volume, Turned) else ("long",)
    return ("high",) if part == "top" else ()


def _number(volume: AnyVolume, drives: str) -> float:
    if drives == "pitch":
        return volume.copies[0].pitch
    return diameter_of(volume) if drives == "diameter" else volume.size[DIRECTIONS.index(drives)]


def _across(volume: AnyVolume) -> set[str]:
    """Return the directions across a round volume's axle."""
    return {str(name) for name in DIRECTIONS} - {getattr(volume, "axle", "")}


def _sizes_of(volume: AnyVolume, drives: str) -> set[str]:
    return _across(volume) if drives == "diameter" else {drives}


def _is_driven(volume: AnyVolume, drives: str) -> bool:
    return any(says.drives in _sizes_of(volume, drives) for says in volume.says)


def _root(document: Document, target: Target, candidate: Mending) -> float | None:
    """Return the value of one number, the nearest to what it is, that meets a target; None when none within reach does."""
    from scipy.optimize import brentq  # only when something is to be mended

    def gap(value: float) -> float:
        now = met(_with(document, candidate, value).document, target)
        return now.drawn - now.meant

    try:
        start = gap(candidate.old)
        inner = (candidate.old, candidate.old)
        for factor in _FACTORS:
            outer = (candidate.old / factor, candidate.old * factor)
            for near, far in zip(inner, outer, strict=True):
                if gap(far) * start <= 0.0:
                    return float(brentq(gap, near, far, xtol=HAIR * max(abs(candidate.old), 1.0), rtol=CLOSE))
            inner = outer
    except DocumentError:
        return None
    return None


_FACTORS = (1.05, 1.3, 2.0, 5.0, 20.0)
"""A number is sought so far from what it is, step by step."""


def _with(document: Document, change: Mending, value: float) -> Edit:
    volumes = []
    for volume in document.volumes:
        if volume.id == change.volume:
            wanted = _sizes_of(volume, change.drives)
            volume = msgspec.structs.replace(volume, says=tuple(s for s in volume.says if s.drives not in wanted))
            if change.drives == "pitch":
                first = msgspec.structs.replace(volume.copies[0], pitch=value)
                volume = msgspec.structs.replace(volume, copies=(first, *volume.copies[1:]))
            else:
                size = tuple(value if n in wanted else s for n, s in zip(DIRECTIONS, volume.size, strict=True))
                volume = msgspec.structs.replace(volume, size=size)
        volumes.append(volume)
    name = tr("mend {what} of {volume}", what=change.drives, volume=change.name)
    return Edit(name, with_volumes(document, tuple(volumes)), asks=frozenset({"size", "ratio", "row"}))


def mended(document: Document, target: Target) -> Edit:
    """Carry out the smallest change that meets a target; raises `DocumentError` when no single one does."""
    found = mending(document, target)
    if found is None:
        raise DocumentError(
            tr("No single size meets {text!r}. Change two of them, or the target.", text=target.text)
            if not met(document, target).is_met
            else tr("{text!r} is met already.", text=target.text)
        )
    return _with(document, found, found.new)
