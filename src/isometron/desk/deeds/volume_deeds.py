"""What is done with the selected volumes, each as one step of the history."""

from __future__ import annotations

from isometron.desk.frame.session import Session
from isometron.document.edits import change_volume, delete_volumes, duplicate_volumes, reorder_volumes
from isometron.document.joining import group
from isometron.wording import tr

__all__ = ["VolumeDeeds"]


class VolumeDeeds:
    """Deeds on a session's selection."""

    def __init__(self, session: Session) -> None:
        self._session = session

    def duplicate(self) -> None:
        """Copy the selected volumes beside themselves."""
        self._session.attempt(duplicate_volumes, self._session.selection)

    def delete(self) -> None:
        """Remove the selected volumes."""
        if self._session.selection:
            self._session.attempt(delete_volumes, self._session.selection)

    def group(self) -> None:
        """Let the selected volumes be selected together from now on."""
        self._session.attempt(group, self._session.selection)

    def reorder(self, by: int) -> None:
        """Move the selected volumes in the ledger."""
        if self._session.selection:
            self._session.attempt(reorder_volumes, self._session.selection, by)

    def toggle_see_through(self) -> None:
        """Make the selected volumes see-through, or solid when all of them are see-through already."""
        self._toggle("see_through", tr("see through"), tr("make solid"))

    def _toggle(self, field: str, on_name: str, off_name: str) -> None:
        """Switch a field of all selected volumes as one step: on, or off when all of them have it on."""
        document = self._session.document
        volumes = [document.volume(i) for i in self._session.selection]
        on = not all(getattr(volume, field) for volume in volumes)
        edit = None
        for volume in volumes:
            edit = change_volume(document, volume.id, on_name if on else off_name, **{field: on})
            document = edit.document
        if edit is not None:
            self._session.do(edit)

    def toggle_away(self) -> None:
        """Put the selected volumes away, or take them out when all of them are away."""
        self._toggle("put_away", tr("put away"), tr("take out"))

    def select_all(self) -> None:
        """Select every volume."""
        self._session.select(tuple(volume.id for volume in self._session.document.volumes))
