"""What pointing at a place of the paper selects."""

from __future__ import annotations

from isometron.desk.frame.session import Session
from isometron.document.joining import mates
from isometron.solve.pick import pick_volume

__all__ = ["point_at", "select_at"]


def point_at(session: Session, u: float, v: float, reach: float) -> str | None:
    """Return the id of the volume at a paper point, or None."""
    owner = pick_volume(session.drawing, u, v, reach)
    return None if owner is None else session.document.volumes[owner].id


def select_at(session: Session, u: float, v: float, reach: float, *, extend: bool) -> None:
    """Select what lies at a paper point; with ``extend`` besides what is selected, or no longer. Who points at one of a group
    means them all."""
    found = point_at(session, u, v, reach)
    if found is None:
        if not extend:
            session.select(())
        return
    meant, now = mates(session.document, (found,)), session.selection
    if not extend:
        session.select(meant)
    elif set(meant) <= set(now):
        session.select(tuple(i for i in now if i not in meant))
    else:
        session.select((*now, *meant))
