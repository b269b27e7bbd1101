"""Deeds on the selected volumes, each one step of the history."""

from __future__ import annotations

from PyQt6.QtGui import QKeySequence

from isometron.desk.controls.shape_rows import front_words
from isometron.desk.deeds.deed import Deed, OnDesk, Topic
from isometron.desk.deeds.pictures import remove_picked
from isometron.desk.frame import clipboard
from isometron.document.edits import change_volume, delete_volumes, duplicate_volumes, reorder_volumes
from isometron.document.joining import group
from isometron.document.marks.laying import lay_on_body
from isometron.volumes.own_sides import turned_ahead
from isometron.wording import mark, tr

__all__ = ["VOLUMES"]

_KEYS = QKeySequence.StandardKey


def _chosen(desk: OnDesk) -> bool:
    return bool(desk.session.selection)


def _reordered(desk: OnDesk, by: int) -> None:
    if desk.session.selection:
        desk.session.attempt(reorder_volumes, desk.session.selection, by)


def _toggle(desk: OnDesk, field: str, on_name: str, off_name: str) -> None:
    """Switch a field of all selected volumes as one step: on, or off when all of them have it on."""
    document = desk.session.document
    volumes = [document.volume(i) for i in desk.session.selection]
    on = not all(getattr(volume, field) for volume in volumes)
    edit = None
    for volume in volumes:
        edit = change_volume(document, volume.id, on_name if on else off_name, **{field: on})
        document = edit.document
    if edit is not None:
        desk.session.do(edit)


def _delete(desk: OnDesk) -> None:
    if not remove_picked(desk):
        desk.session.attempt(delete_volumes, desk.session.selection)


def _turn_front(desk: OnDesk) -> None:
    """Turn the own front of all selected volumes to the side after that of the last one, as one step."""
    document, edit = desk.session.document, None
    volumes = [document.volume(i) for i in desk.session.selection]
    for volume in volumes:
        ahead = turned_ahead(volumes[-1].ahead)
        edit = change_volume(document, volume.id, tr("choose the front of"), ahead=ahead)
        document = edit.document
    if edit is not None:
        desk.session.do(edit)
        way = front_words(desk.session.document, desk.session.document.volume(volumes[-1].id), ahead)
        desk.session.say(tr("Its front faces {way} now; the plan dial shows it.", way=way))


def _select_all(desk: OnDesk) -> None:
    desk.session.select(tuple(volume.id for volume in desk.session.document.volumes))


VOLUMES = Topic(
    mark("Volumes"),
    (
        Deed("construct", mark("Construct"), mark("Play the ruler-and-compass steps of the volume"),
             lambda desk: desk.construct(), ("C",), on_card=mark("construct by ruler and compass")),
        Deed("duplicate", mark("Duplicate"), mark("A copy beside it, along its long side"),
             lambda desk: desk.session.attempt(duplicate_volumes, desk.session.selection), ("Ctrl+D",), _chosen,
             mark("duplicate")),
        Deed("rename", mark("Rename"), mark("Give the selected volume another name"),
             lambda desk: desk.rename(), ("Ctrl+E",), _chosen, mark("rename")),
        Deed("see_through", mark("See-through or solid"), mark("See-through hides nothing"),
             lambda desk: _toggle(desk, "see_through", tr("see through"), tr("make solid")), ("Ctrl+T",), _chosen,
             mark("see-through or solid")),
        Deed("lay_on_body", mark("Lay it on the body"), mark("Marks that float before the body are moved on to its faces"),
             lambda desk: desk.session.attempt(lay_on_body, desk.session.selection), ("Ctrl+B",), _chosen,
             mark("lay marks on the body")),
        Deed("front", mark("Turn its front"), mark("Its own front is the next side round; rear, left and right are said from it"),
             _turn_front, ("Ctrl+Shift+F",), _chosen, mark("turn its own front to the next side")),
        Deed("put_away", mark("Put away or take out"), mark("Neither drawn nor in the way"),
             lambda desk: _toggle(desk, "put_away", tr("put away"), tr("take out")), ("Ctrl+H",), _chosen,
             mark("put away or take out")),
        Deed("lock", mark("Lock or unlock"), mark("The pencil passes through it; only the ledger changes it"),
             lambda desk: _toggle(desk, "locked", tr("lock"), tr("unlock")), possible=_chosen),
        Deed("copy_edges", mark("Copy the edges' figures"), mark("As a table for a spreadsheet"),
             lambda desk: clipboard.copy_edges(desk.session), possible=_chosen),
        Deed("copy", mark("Copy"), mark("The selected volumes, also as a picture; of none the whole sheet as a picture"),
             lambda desk: clipboard.copy(desk.session), (_KEYS.Copy,), on_card=mark("copy, also between windows")),
        Deed("cut", mark("Cut"), mark("Copy and remove them"),
             lambda desk: clipboard.cut(desk.session), (_KEYS.Cut,), _chosen, mark("cut")),
        Deed("paste", mark("Paste"), mark("Add what was copied"),
             lambda desk: clipboard.paste(desk.session), (_KEYS.Paste,), on_card=mark("paste")),
        Deed("delete", mark("Delete"), mark("Remove the selected volumes, or the picked mark of a picture"), _delete,
             (_KEYS.Delete,), lambda desk: _chosen(desk) or desk.board.picked.mark is not None, mark("delete")),
        Deed("group", mark("Group"), mark("Selected together from now on"),
             lambda desk: desk.session.attempt(group, desk.session.selection), ("Ctrl+G",), on_card=mark("group")),
        Deed("select_all", mark("Select all"), mark("Select every volume"), _select_all, (_KEYS.SelectAll,),
             on_card=mark("select all")),
        Deed("earlier", mark("Earlier in the ledger"), mark("One place up"),
             lambda desk: _reordered(desk, -1), ("Alt+Up",), _chosen, mark("earlier in the ledger")),
        Deed("later", mark("Later in the ledger"), mark("One place down"),
             lambda desk: _reordered(desk, 1), ("Alt+Down",), _chosen, mark("later in the ledger")),
    ),
)  # fmt: skip
