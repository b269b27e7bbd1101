"""Bodies that are laid by a body: joined to it as they lie, and following its sizes."""

from __future__ import annotations

from collections.abc import Iterable

import msgspec

from isometron.document.edits import Edit, fresh_id, fresh_name, with_volumes
from isometron.document.joins import joined_as_it_lies
from isometron.document.lengths.expressions import slug
from isometron.document.lengths.units import exact_words
from isometron.document.model import Document, checked
from isometron.volumes.kinds import AnyVolume
from isometron.volumes.relations import SizeExpression
from isometron.volumes.volume import DIRECTIONS

__all__ = ["laid_by"]


def laid_by(
    document: Document, body: AnyVolume, made: AnyVolume, names: tuple[str, str], follows: Iterable[int], deed: str
) -> Edit:
    """Return the edit, called ``deed``, that lays a body by another one.

    body : as it is from then on; names : the new one's, and what its id is made of; follows : own directions along which it stays
    so much longer than ``body``.
    """
    called, stem = fresh_name(document, names[0][:110]), names[1]
    says = tuple(
        SizeExpression(
            drives=DIRECTIONS[k],
            text=f"{slug(body.name)}.{DIRECTIONS[k]} {exact_words(made.size[k] - body.size[k], sign=True)} mm",
        )
        for k in follows
    )
    placed = msgspec.structs.replace(
        made, id=fresh_id(document, stem), name=called, says=says, joined=joined_as_it_lies(made, body)
    )
    volumes = tuple(body if volume.id == body.id else volume for volume in document.volumes)
    whole = with_volumes(document, (*volumes, checked(placed, f"volume {called!r}")), (placed.id, body.id))
    return Edit(deed, whole, (placed.id,))
