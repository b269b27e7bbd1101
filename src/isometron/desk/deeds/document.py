"""Deeds on the document and its window."""

from __future__ import annotations

from PyQt6.QtGui import QKeySequence

from isometron.desk.deeds.deed import Deed, OnDesk, Topic
from isometron.wording import mark

__all__ = ["DOCUMENT"]

_KEYS = QKeySequence.StandardKey


def _undoable(desk: OnDesk) -> bool:
    return desk.session.undo_name is not None


def _redoable(desk: OnDesk) -> bool:
    return desk.session.redo_name is not None


DOCUMENT = Topic(
    mark("Document"),
    (
        Deed("new", mark("New sheet…"), mark("Paper, unit and eye for an empty sheet"),
             lambda desk: desk.paperwork.new_sheet(), (_KEYS.New,), on_card=mark("new sheet")),
        Deed("open", mark("Open…"), mark("Open a document"),
             lambda desk: desk.paperwork.open_file(), (_KEYS.Open,), on_card=mark("open")),
        Deed("save", mark("Save"), mark("Save the document"),
             lambda desk: desk.paperwork.save(), (_KEYS.Save,), on_card=mark("save")),
        Deed("save_as", mark("Save as…"), mark("Save under another name"),
             lambda desk: desk.paperwork.save_as(), ("Ctrl+Shift+S",)),
        Deed("title", mark("Title…"), mark("What the sheet is called"), lambda desk: desk.paperwork.change_title()),
        Deed("print", mark("Print…"), mark("On paper at true scale"),
             lambda desk: desk.paperwork.print_on_paper(), (_KEYS.Print,), on_card=mark("print")),
        Deed("preview", mark("Print preview…"), mark("How the page will come out"),
             lambda desk: desk.paperwork.print_preview(), ("Ctrl+Shift+P",)),
        Deed("undo", mark("Undo"), mark("Take the last step back"),
             lambda desk: desk.session.undo(), (_KEYS.Undo,), _undoable, mark("undo")),
        Deed("redo", mark("Redo"), mark("Redo what was taken back"),
             lambda desk: desk.session.redo(), ("Ctrl+Shift+Z", "Ctrl+Y"), _redoable, mark("redo")),
        Deed("window", mark("Another window"), mark("An empty sheet in a window of its own"),
             lambda desk: desk.host.another(), ("Ctrl+Shift+N",), on_card=mark("another window")),
        Deed("menu", mark("Menu"), mark("The document's menu"), lambda desk: desk.open_menu(), ("F10",),
             on_card=mark("the document's menu")),
        Deed("handbook", mark("Handbook"), mark("A first hour, each stage, each construction, the words"),
             lambda desk: desk.show_handbook(), ("F1",), on_card=mark("the handbook")),
        Deed("keys", mark("Card of keys"), mark("All keys at a glance"),
             lambda desk: desk.show_keys(), ("Shift+F1",), on_card=mark("this card")),
        Deed("about", mark("About Isometron"), mark("Versions, licence, and whether the loops are compiled"),
             lambda desk: desk.show_about()),
        Deed("close", mark("Close"), mark("Close the window"), lambda desk: desk.host.close(), ("Ctrl+Q", "Ctrl+W")),
    ),
)  # fmt: skip
