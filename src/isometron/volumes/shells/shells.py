"""The shell of a volume: its outside, without what is inside of it and what openings take out."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

from isometron.errors import IsometronError
from isometron.geometry.shell.doubts import doubts
from isometron.geometry.shell.near import with_finer_rounds
from isometron.geometry.shell.shell import Shell
from isometron.geometry.shell.united import NoShellError, Put, missing_library, put_together
from isometron.volumes.openings.on_face import beyond_face
from isometron.volumes.openings.shafts import shafts_of
from isometron.volumes.shells.inside import inside_of
from isometron.volumes.shells.openings import Opening, deeper_than, shafts_cut
from isometron.volumes.shells.outside import chord_of, outside_of
from isometron.volumes.shells.rounds import with_rounds
from isometron.volumes.shells.shape import shape_of
from isometron.volumes.volume import Volume
from isometron.wording import tr

__all__ = ["Shelled", "doubts_of", "shell_of"]

_MOST = 500
"""Openings of one body, each of a row for itself: some two seconds' work."""


@dataclass(frozen=True)
class Shelled:
    """The shell of a body in its own axes, and why parts of what shapes it are left out. refused : words by the number of a mark, -1 for its wall;
    unrounded : words by the number of a rounded edge. shell : None where there is none at all, with the words at -3. cut : the openings that it has."""

    shell: Shell | None
    refused: dict[int, str]
    unrounded: dict[int, str]
    cut: tuple[Opening, ...] = ()


def doubts_of(volume: Volume) -> list[str]:
    """Return words for what is not to be believed of a volume's shell, and why it has none; nothing of a sound one."""
    return list(_doubts_of(shape_of(volume)))


@lru_cache(maxsize=256)
def _doubts_of(shape: Volume) -> tuple[str, ...]:
    found = _shell_of(shape)
    return (found.refused[-3],) if found.shell is None else tuple(doubts(found.shell, chord_of(shape)))


def shell_of(volume: Volume) -> Shelled:
    """Return the shell of a volume, kept by what shapes it; copies and mirror images are placings of it."""
    return _shell_of(shape_of(volume))


@lru_cache(maxsize=256)
def _shell_of(shape: Volume) -> Shelled:
    refused: dict[int, str] = {}
    unrounded: dict[int, str] = {}
    if words := missing_library():
        return Shelled(None, {-3: words}, {})
    try:
        body = outside_of(shape)
        if shape.rounded:
            body, unrounded = with_rounds(shape, body)
        inside = _inside(shape, refused)
        if inside is not None:
            body = Put("take", (body, inside))
        openings = _openings(shape, refused)
        chord = chord_of(shape)
        if not openings:
            return Shelled(with_finer_rounds(body, chord), refused, unrounded)
        whole = put_together(body, chord)
        shallow = []
        for opening in openings:
            words = deeper_than(opening.shaft, whole)
            if words:
                refused[opening.number] = words
            else:
                shallow.append(opening)
        shell, cut = _opened(body, shafts_cut(shallow, whole, shape.size), shallow, chord, refused)
        return Shelled(shell, refused, unrounded, cut)
    except NoShellError as error:
        return Shelled(None, refused | {-3: str(error)}, unrounded)


def _opened(
    body: Put, taken: list[Put], openings: list[Opening], chord: float, refused: dict[int, str]
) -> tuple[Shell, tuple[Opening, ...]]:
    """Return the shell of a body without what openings take of it, and those that take something; the others, and what takes all, are told."""
    shell = with_finer_rounds(Put("take", (body, *taken)), chord)
    if not len(shell.rows):
        words = tr("Nothing of the body is left beside its openings: make them smaller, or take one away.")
        refused |= {opening.number: words for opening in openings}
        return with_finer_rounds(body, chord), ()
    there = {name.split(".")[1] for name in shell.patch_name if name.startswith("opening.")}
    cut = tuple(opening for opening in openings if str(opening.number) in there)
    for opening in openings:
        if str(opening.number) not in there:
            refused[opening.number] = tr("This opening takes nothing of the body: move it on to its face.")
    return shell, cut


def _inside(shape: Volume, refused: dict[int, str]) -> Put | None:
    try:
        return inside_of(shape)
    except IsometronError as error:
        refused[-1] = str(error)
        return None


def _openings(shape: Volume, refused: dict[int, str]) -> list[Opening]:
    found: list[Opening] = []
    for number, mark, shaft in shafts_of(shape):
        if isinstance(shaft, IsometronError):
            refused[number] = str(shaft)
        elif (words := beyond_face(shape, mark, shaft)) is not None:
            refused[number] = words
        elif len(found) == _MOST:
            refused[number] = tr(
                "A body has {most} openings at most: make the row shorter, or part the body.", most=_MOST
            )
        else:
            found.append(Opening(number, mark, shaft))
    return found
