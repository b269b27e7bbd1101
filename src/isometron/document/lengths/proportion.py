"""Edits of proportion: what drives a size, locked ratios, named lengths, targets, the module."""

from __future__ import annotations

import re
from math import sqrt

import msgspec

from isometron.document.edits import Edit, with_volumes
from isometron.document.lengths.expressions import hold_unambiguous, slug, words_of
from isometron.document.lengths.sizes import Sizes, kept_with
from isometron.document.lengths.targets import met
from isometron.document.lengths.units import format_number
from isometron.document.model import Document, DocumentError, NamedLength, Target, checked
from isometron.volumes.kinds import AnyVolume
from isometron.volumes.relations import Keep, SizeExpression
from isometron.volumes.volume import DIRECTIONS
from isometron.wording import tr

__all__ = [
    "RATIOS",
    "add_target",
    "drive",
    "driven_text",
    "in_modules",
    "is_expression",
    "keep_ratio",
    "module_mm",
    "parse_ratio",
    "remove_length",
    "remove_target",
    "set_length",
    "set_module",
    "typed_size",
]

_GOLDEN = (1.0 + sqrt(5.0)) / 2.0
RATIOS: dict[str, tuple[float, float, float]] = {
    "cube": (1.0, 1.0, 1.0),
    "square in plan": (1.0, 1.0, 0.0),
    "golden, long to wide": (_GOLDEN, 1.0, 0.0),
    "golden, long to high": (_GOLDEN, 0.0, 1.0),
    "1 : root 2": (sqrt(2.0), 1.0, 0.0),
    "3 : 2": (3.0, 2.0, 0.0),
    "2 : 1": (2.0, 1.0, 0.0),
}
"""Ratios long : wide : high to begin with, by name; 0 is free."""


def is_expression(document: Document, text: str) -> bool:
    """Whether text that is no plain length is meant as an expression: it begins with =, names something that is here, or
    is nothing but figures and signs."""
    body = text.strip()
    if body.startswith("="):
        return True
    try:
        words = words_of(body)
    except DocumentError:
        return False
    known = Sizes(document.volumes, document.lengths).known
    runs = {"_".join(words[start:end]) for start in range(len(words)) for end in range(start + 1, len(words) + 1)}
    return not words or any(known(run) or known(run.removesuffix("s")) for run in runs)


def typed_size(document: Document, volume_id: str, axis: int, text: str) -> Edit:
    """Drive a size by what was typed, an expression; raises `DocumentError` for one that cannot be."""
    return drive(document, volume_id, DIRECTIONS[axis], text)


def drive(document: Document, volume_id: str, drives: str, text: str) -> Edit:
    """Drive a size (long, wide, high) or the pitch of a volume's first row by an expression; empty text sets it free."""
    volume = document.volume(volume_id)
    body = text.strip().removeprefix("=").strip()
    if drives == "pitch" and not volume.copies:
        raise DocumentError(tr("{volume} stands in no row, so it has no pitch.", volume=volume.name))
    says = tuple(s for s in volume.says if s.drives != drives)
    if body:
        if all(body != s.text for s in volume.says):
            hold_unambiguous(body, document.unit)
        said = SizeExpression(drives=drives, text=body, unit=document.unit)  # type: ignore[arg-type]
        says = (*says, checked(said, tr("what drives {volume}", volume=volume.name)))
    return _changed(
        document,
        msgspec.structs.replace(volume, says=says),
        tr("drive {what} of {volume}", what=drives, volume=volume.name),
    )


def _changed(document: Document, volume: AnyVolume, name: str) -> Edit:
    volumes = tuple(volume if v.id == volume.id else v for v in document.volumes)
    return Edit(name, with_volumes(document, volumes), asks=frozenset({"size", "ratio", "row"}))


def driven_text(volume: AnyVolume, drives: str) -> str:
    """Return the expression that drives a size, or nothing."""
    return next((says.text for says in volume.says if says.drives == drives), "")


def parse_ratio(text: str) -> tuple[float, float, float]:
    """Return the parts of a ratio typed as ``2 : 1 : 0.8``; a part left out, 0 or ``-`` is free. Raises `DocumentError`."""
    cells = re.split(r"\s*[:x×]\s*", text.strip())
    try:
        parts = [0.0 if cell in ("", "-", "–") else float(cell.replace(",", ".")) for cell in cells]
    except ValueError as error:
        raise DocumentError(
            tr("{text!r} is no ratio. Write long : wide : high, such as 2 : 1 : 0.8.", text=text)
        ) from error
    parts += [0.0] * (3 - len(parts))
    if len(parts) != 3 or sum(part > 0.0 for part in parts) < 2 or any(not 0.0 <= part <= 1e6 for part in parts):
        raise DocumentError(
            tr("A ratio needs two or three parts greater than 0, such as 2 : 1 : 0.8, not {text!r}.", text=text)
        )
    return parts[0], parts[1], parts[2]


def keep_ratio(
    document: Document, volume_id: str, parts: tuple[float, float, float] | None, *, lock: bool = True
) -> Edit:
    """Bring a volume to a ratio long : wide : high, and keep it; None lets the ratio go.

    The size whose part differs least from what it is now stays, or the wide one, so that typing one new part changes
    that one size.
    """
    volume = document.volume(volume_id)
    if parts is None:
        return _changed(
            document, msgspec.structs.replace(volume, keep=None), tr("free the ratio of {volume}", volume=volume.name)
        )
    keep = Keep(parts=parts)
    held = [k for k in range(3) if parts[k] > 0.0]
    driven = [k for k in held if driven_text(volume, DIRECTIONS[k])]
    axis = driven[0] if driven else _steady(volume, parts, held)
    size = kept_with(keep, volume.size, axis)
    changed = checked(
        msgspec.structs.replace(volume, size=size, keep=keep if lock else None),
        tr("volume {name!r}", name=volume.name),
    )
    return _changed(document, changed, tr("set the ratio of {volume}", volume=volume.name))


def _steady(volume: AnyVolume, parts: tuple[float, float, float], held: list[int]) -> int:
    """Return the size that stays: the one that most others agree with already, the wide one before the others."""
    order = sorted(held, key=lambda k: (k != 1, k))
    unit = {k: volume.size[k] / parts[k] for k in held}
    return max(order, key=lambda k: sum(abs(unit[other] - unit[k]) <= 5e-3 * unit[k] for other in held))


def set_length(document: Document, name: str, text: str) -> Edit:
    """Give a length a name, or change the one called so; raises `DocumentError` for what cannot be."""
    key = slug(name)
    hold_unambiguous(text, document.unit)
    if key in {slug(volume.name) for volume in document.volumes}:
        raise DocumentError(tr("A volume is called {name!r} already.", name=name))
    made = checked(
        NamedLength(name=key or name, text=text.strip().removeprefix("=").strip(), unit=document.unit),
        tr("length {name!r}", name=name),
    )
    others = list(document.lengths)
    row = next((k for k, length in enumerate(others) if slug(length.name) == key), None)
    lengths = (*others, made) if row is None else (*others[:row], made, *others[row + 1 :])
    Sizes(document.volumes, lengths).value(key, document.unit)
    return Edit(
        tr("set the length {name}", name=key), with_volumes(document, document.volumes, lengths=tuple(lengths))
    )


def remove_length(document: Document, name: str) -> Edit:
    """Take a named length away; sizes it drove stay as they are."""
    lengths = tuple(length for length in document.lengths if slug(length.name) != slug(name))
    return Edit(tr("remove the length {name}", name=name), with_volumes(document, document.volumes, lengths=lengths))


def add_target(document: Document, text: str) -> Edit:
    """Add what is meant, such as ``wheelbase = 3 wheel``; raises `DocumentError` for what cannot be understood."""
    target = checked(Target(text=text.strip(), unit=document.unit), tr("target"))
    met(document, target)
    return Edit(
        tr("mean {text}", text=target.text), msgspec.structs.replace(document, targets=(*document.targets, target))
    )


def remove_target(document: Document, row: int) -> Edit:
    """Take a target away."""
    targets = tuple(t for k, t in enumerate(document.targets) if k != row)
    return Edit(tr("mean that no more"), msgspec.structs.replace(document, targets=targets))


def set_module(document: Document, name: str) -> Edit:
    """Take a volume or a named length as the unit of proportion; an empty name takes none."""
    key = slug(name)
    if key and not Sizes(document.volumes, document.lengths).known(key):
        raise DocumentError(tr("There is no volume and no length called {name!r}.", name=name))
    what = tr("take {name} as the module", name=key) if key else tr("take no module")
    return Edit(what, msgspec.structs.replace(document, module=key))


def module_mm(document: Document) -> float | None:
    """Return the module in mm, or None when there is none."""
    if not document.module:
        return None
    sizes = Sizes(document.volumes, document.lengths)
    try:
        value = sizes.value(document.module, document.unit)
    except DocumentError:
        return None
    return value if value > 0.0 else None


def in_modules(document: Document, volume: AnyVolume) -> str:
    """Return a volume's sizes in modules, or as a ratio to its wide size when there is no module."""
    module = module_mm(document)
    if module is None:
        parts = [size / volume.size[1] for size in volume.size]
        return " : ".join(format_number(part, 2) for part in parts)
    parts = [size / module for size in volume.size]
    return tr("{parts} {module}", parts=" x ".join(format_number(part, 2) for part in parts), module=document.module)
