"""Deeds on pictures and on the eyes that are kept by name."""

from __future__ import annotations

from isometron.desk.deeds.deed import Deed, OnDesk, Topic
from isometron.document.edits import Edit
from isometron.document.eyes.keeping import eyes_of, next_eye
from isometron.document.model import Document
from isometron.document.pictures.picture_edits import change_picture
from isometron.wording import mark, tr

__all__ = ["PICTURES"]


def _lay(desk: OnDesk) -> None:
    from isometron.desk.frame.picture_intake import ask_for_picture

    ask_for_picture(desk.session, desk.host)


def _has_picture(desk: OnDesk) -> bool:
    return bool(desk.session.document.pictures)


def _has_eye(desk: OnDesk) -> bool:
    return bool(eyes_of(desk.session.document))


def _hide(desk: OnDesk) -> None:
    """Hide the pictures that show; show the last one when none does."""

    def hidden(document: Document) -> Edit:
        shown = [p for p in document.pictures if not p.hidden]
        if not shown:
            return change_picture(document, document.pictures[-1].id, tr("show the picture"), hidden=False)
        edit = Edit("", document)
        for picture in shown:
            edit = change_picture(edit.document, picture.id, tr("hide the picture"), hidden=True)
        return edit

    desk.session.attempt(hidden)


def _carry(desk: OnDesk) -> None:
    """Let the picture that is worked on go along on the faces under other eyes, or no longer."""
    document = desk.session.document
    shown = [p for p in document.pictures if not p.hidden] or list(document.pictures)
    picture, on = shown[-1], not shown[-1].carried
    words = tr("let the picture go along") if on else tr("leave the picture behind")
    if desk.session.attempt(change_picture, picture.id, words, carried=on):
        if on and picture.camera is None:
            desk.session.say(tr("It goes along once its eye is found: mark its edges (G)."))
        elif on and not document.volumes:
            desk.session.say(tr("It goes along on the faces of volumes: pull blocks over it (B), then move the eye."))
        else:
            desk.session.say(
                tr("The picture goes along on the faces.") if on else tr("The picture stays with its own eye.")
            )


def _picked(desk: OnDesk) -> bool:
    return desk.board.picked.mark is not None and desk.board.picked.picture is not None


def _turn_kind(desk: OnDesk) -> None:
    picture, chosen = desk.board.picked.picture, desk.board.picked.mark
    if picture is not None and chosen is not None:
        from isometron.match.marking import next_kind  # only pictures need it

        desk.session.attempt(next_kind, picture, *chosen)


def remove_picked(desk: OnDesk) -> bool:
    """Take the picked mark away; False when none is picked."""
    picture, chosen = desk.board.picked.picture, desk.board.picked.mark
    if picture is None or chosen is None:
        return False
    from isometron.match.marking import remove_mark  # only pictures need it

    desk.session.attempt(remove_mark, picture, *chosen)
    return True


def _walk(desk: OnDesk, by: int) -> None:
    if desk.session.attempt(next_eye, by):
        from isometron.document.eyes.keeping import eye_now

        now = eye_now(desk.session.document)
        if now is not None:
            desk.session.say(tr("The eye {name}.", name=now.name))


PICTURES = Topic(
    mark("Pictures and eyes"),
    (
        Deed("picture", mark("Lay a picture…"), mark("A photograph under the drawing"), _lay, ("Ctrl+Shift+O",),
             on_card=mark("lay a picture under the drawing")),
        Deed("hide_picture", mark("Hide or show the picture"), mark("The picture under the drawing"), _hide, ("H",),
             _has_picture, mark("hide or show the picture")),
        Deed("carry_picture", mark("Picture goes along"), mark("Under another eye each face carries its part of the picture"),
             _carry, ("T",), _has_picture, mark("the picture goes along on the faces")),
        Deed("mark_kind", mark("Another direction"), mark("The picked mark runs in the next direction"), _turn_kind, ("X",),
             _picked, mark("another direction for the mark")),
        Deed("next_eye", mark("Next eye"), mark("Walk through the eyes that are kept by name"),
             lambda desk: _walk(desk, 1), ("N",), _has_eye, mark("the next kept eye")),
        Deed("last_eye", mark("Eye before"), mark("Walk back through the eyes that are kept"),
             lambda desk: _walk(desk, -1), ("Shift+N",), _has_eye, mark("the kept eye before")),
    ),
)  # fmt: skip
