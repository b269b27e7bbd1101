"""The round that the sections of this stage are about."""

from __future__ import annotations

from isometron.desk.frame.session import Session
from isometron.volumes.turned import Turned

__all__ = ["active_round"]


def active_round(session: Session) -> Turned | None:
    """Return the selected round, None when something else is selected."""
    volume = session.active_volume
    return volume if isinstance(volume, Turned) else None
