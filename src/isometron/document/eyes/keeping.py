"""Eyes that are kept by name: kept, walked through, gone back to. The eye of each matched picture is one of them by itself."""

from __future__ import annotations

import msgspec

from isometron.document.edits import Edit
from isometron.document.eyes.kept_eye import MOST_EYES, KeptEye
from isometron.document.model import Document, DocumentError, checked
from isometron.document.pictures.placing import in_place, matched_eye
from isometron.wording import tr

__all__ = ["PHOTOGRAPH", "eye_now", "eyes_of", "forget_eye", "go_to_eye", "keep_eye", "next_eye", "seen_by"]

PHOTOGRAPH = "photograph"
"""The name of the first matched picture's eye, in files and on the command line too."""
_WALK = "walk through the eyes"


def eyes_of(document: Document) -> list[KeptEye]:
    """Return all eyes by name: those of the matched pictures, then those that were kept."""
    found: list[KeptEye] = []
    for picture in document.pictures:
        if picture.camera is None:
            continue
        seen = matched_eye(document, picture)
        name = PHOTOGRAPH if not found else f"{PHOTOGRAPH} {len(found) + 1}"
        found.append(KeptEye(name=name, eye=seen.eye, sheet=seen.sheet, picture=picture.id))
    return [*found, *document.eyes]


def _same(one: KeptEye, document: Document) -> bool:
    return one.eye == document.eye and one.sheet == document.sheet


def eye_now(document: Document) -> KeptEye | None:
    """Return which of the eyes by name the document is seen by, or None."""
    pictures = {p.id for p in document.pictures if p.camera is not None and in_place(document, p)}
    for kept in eyes_of(document):
        if _same(kept, document) or (kept.name.startswith(PHOTOGRAPH) and kept.picture in pictures):
            return kept
    return None


def keep_eye(document: Document, name: str) -> Edit:
    """Keep the eye as it is now, with its sheet and the picture that shows; one that has the name already is replaced."""
    name = name.strip()
    if any(kept.name == name for kept in eyes_of(document)[: -len(document.eyes) or None]):
        raise DocumentError(
            tr("{name!r} is the eye of a picture; it is kept by itself. Choose another name.", name=name)
        )
    others = tuple(kept for kept in document.eyes if kept.name != name)
    if len(others) >= MOST_EYES:
        raise DocumentError(tr("A document keeps {most} eyes. Forget one first.", most=MOST_EYES))
    showing = next((p.id for p in document.pictures if not p.hidden), "")
    kept = checked(KeptEye(name=name, eye=document.eye, sheet=document.sheet, picture=showing), tr("kept eye"))
    changed = msgspec.structs.replace(document, eyes=(*others, kept))
    return Edit(tr("keep the eye {name}", name=name), changed)


def forget_eye(document: Document, name: str) -> Edit:
    """Keep an eye no longer."""
    left = tuple(kept for kept in document.eyes if kept.name != name)
    if len(left) == len(document.eyes):
        raise DocumentError(tr("No eye called {name!r} is kept.", name=name))
    return Edit(tr("forget the eye {name}", name=name), msgspec.structs.replace(document, eyes=left))


def _seen(document: Document, kept: KeptEye) -> Document:
    pictures = tuple(
        msgspec.structs.replace(picture, hidden=picture.id != kept.picture) if kept.picture else picture
        for picture in document.pictures
    )
    return msgspec.structs.replace(document, eye=kept.eye, sheet=kept.sheet, pictures=pictures)


def seen_by(document: Document, name: str) -> Document:
    """Return the document seen by an eye of a name; raises `DocumentError` naming those there are."""
    found = next((kept for kept in eyes_of(document) if kept.name == name), None)
    if found is None:
        known = ", ".join(kept.name for kept in eyes_of(document)[:12]) or tr("none")
        raise DocumentError(tr("No eye called {name!r} is kept. There are: {known}.", name=name, known=known))
    return _seen(document, found)


def go_to_eye(document: Document, name: str) -> Edit:
    """See the document by an eye of a name. Going from one to the next is one step of the history."""
    return Edit(tr("go to the eye {name}", name=name), seen_by(document, name), merges=_WALK)


def next_eye(document: Document, by: int = 1) -> Edit:
    """Go on to the next eye by name, or back with ``by`` -1; from an eye that is not kept to the first or last one."""
    every = eyes_of(document)
    if not every:
        raise DocumentError(tr("No eye is kept yet. Keep this one under a name (Eye, Kept eyes)."))
    now = eye_now(document)
    place = next((n for n, kept in enumerate(every) if now is not None and kept.name == now.name), None)
    chosen = every[(0 if by > 0 else -1) if place is None else (place + by) % len(every)]
    if now is not None and chosen.name == now.name:
        raise DocumentError(tr("{name!r} is the only eye that is kept.", name=chosen.name))
    return go_to_eye(document, chosen.name)
