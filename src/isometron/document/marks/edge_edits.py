"""Edits that round edges of bodies, and make them sharp again."""

from __future__ import annotations

from collections.abc import Sequence

import msgspec

from isometron.document.edits import Edit, change_volume
from isometron.document.model import Document, DocumentError
from isometron.volumes.openings.solids import unrounded_edges
from isometron.volumes.rounded import RoundedEdge, edge_key
from isometron.wording import tr

__all__ = ["change_edge", "round_edges", "sharpen_edge"]


def round_edges(document: Document, volume_id: str, edges: Sequence[RoundedEdge]) -> Edit:
    """Round edges of a volume, those that are rounded already anew; raises `DocumentError` in words where one of them cannot be, or where
    another one could not be any more."""
    volume = document.volume(volume_id)
    new = {edge_key(edge): edge for edge in edges}
    kept = [new.pop(edge_key(edge), edge) for edge in volume.rounded]
    rounded = (*kept, *new.values())
    wanted = {edge_key(edge) for edge in edges}
    lost = {edge_key(volume.rounded[number]) for number in unrounded_edges(volume)} - wanted
    for number, why in unrounded_edges(msgspec.structs.replace(volume, rounded=rounded)).items():
        if edge_key(rounded[number]) not in lost:
            raise DocumentError(tr("{volume}: {why}", volume=volume.name, why=why))
    return change_volume(
        document, volume_id, tr("round an edge of") if len(edges) == 1 else tr("round edges of"), rounded=rounded
    )


def change_edge(document: Document, volume_id: str, number: int, radius: float, grows_to: float | None) -> Edit:
    """Give a rounded edge another radius; one that grows to the same does not grow."""
    edge = _edge(document, volume_id, number)
    grows_to = None if grows_to == radius else grows_to
    return round_edges(document, volume_id, [msgspec.structs.replace(edge, radius=radius, grows_to=grows_to)])


def sharpen_edge(document: Document, volume_id: str, number: int) -> Edit:
    """Make a rounded edge sharp again."""
    edge = _edge(document, volume_id, number)
    rounded = tuple(each for each in document.volume(volume_id).rounded if each is not edge)
    return change_volume(document, volume_id, tr("sharpen an edge of"), rounded=rounded)


def _edge(document: Document, volume_id: str, number: int) -> RoundedEdge:
    volume = document.volume(volume_id)
    if not 0 <= number < len(volume.rounded):
        raise DocumentError(tr("{volume} has no such rounded edge any more.", volume=volume.name))
    return volume.rounded[number]
