"""The rows of fields of a profile: the view that is shown, and the corner that is chosen in it."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

from isometron.desk.controls.field_rows import Row
from isometron.desk.controls.hold_choices import hold_choices, hold_here, thing_followed
from isometron.document.edits import Edit, change_document
from isometron.document.lengths.typed_places import place_words
from isometron.document.model import Document
from isometron.document.shapes.profiles import (
    begin_profile,
    both_alike,
    change_corner,
    drop_profile,
    follow_middle,
    hold_corner,
    type_coordinate,
)
from isometron.document.shapes.typed_outline import OUTLINE_HINT, bow_text, outline_text, type_bow, type_outline
from isometron.geometry.faces.cutting import VIEW_AXES
from isometron.volumes.cut.profiles import VIEWS, CutProfile, ProfileCorner, ViewName, view_size
from isometron.volumes.kinds import AnyVolume
from isometron.volumes.own_sides import side_names, view_word
from isometron.wording import tr

__all__ = ["corner_rows", "view_rows"]

_WAYS = (tr("along"), tr("across"), tr("up"))
"""What a volume's own directions are called in its views."""


def view_rows(
    document: Document, volume: AnyVolume | None, view: ViewName, choose: Callable[[ViewName], None]
) -> tuple[object, list[Row]]:
    """Return the rows that choose a view and say whether it cuts the volume."""
    if volume is None:
        return None, []
    profile: CutProfile | None = getattr(volume, view, None)

    def shown(document: Document, value: Any) -> Edit:
        choose(value)
        return change_document(document, tr("look at a profile"))

    def cut(document: Document, on: bool) -> Edit:
        return (begin_profile if on else drop_profile)(document, volume.id, view)

    choices = tuple((view_word(volume, name), name) for name in VIEWS)
    rows = [
        Row(tr("view"), tr("The view whose outline is shown"), "words", lambda: view, shown, choices),
        Row(tr("cuts the body"), tr("Whether this view's outline cuts the body"), "switch", lambda: profile is not None, cut),
    ]  # fmt: skip
    if profile is not None:
        rows.append(
            Row(tr("both sides alike"), tr("One half is drawn, the other mirrors it"), "switch", lambda: profile.alike,
                lambda document, on: both_alike(document, volume.id, view, on))
        )  # fmt: skip
    rows.append(
        Row(tr("corners"), tr("The whole outline as one line: {hint}", hint=OUTLINE_HINT), "long text",
            lambda: outline_text(profile, document), lambda doc, text: type_outline(doc, volume.id, view, text))
    )  # fmt: skip
    return (volume.id, view, profile is None), rows


def corner_rows(
    document: Document, volume: AnyVolume | None, view: ViewName, number: int | None
) -> tuple[object, list[Row]]:
    """Return the rows of the chosen corner of a profile; none without one."""
    profile: CutProfile | None = getattr(volume, view, None)
    corner = None if profile is None else next((c for c in profile.corners if c.n == number), None)
    if volume is None or profile is None or corner is None:
        return None, []
    rows: list[Row] = []
    for column in (0, 1):
        rows += _coordinate(document, volume, view, corner, column)
    for field, words, tip in (
        ("round", tr("radius"), tr("The corner is rounded by this radius")),
        ("chamfer", tr("chamfer"), tr("The corner is cut so far along both sides")),
    ):
        rows.append(
            Row(words, tip, "length", partial(getattr, corner, field), partial(_shaped, volume.id, view, corner.n, field))
        )  # fmt: skip
    rows.append(
        Row(tr("bow"), tr("How far the side to the next corner bows out: 150 mm, or 17 % of half its length (100 % is half a round); negative bows in"),
            "text", lambda: bow_text(profile, corner.n, view_size(volume, view), view, document),
            lambda doc, text: type_bow(doc, volume.id, view, corner.n, text))
    )  # fmt: skip
    return (volume.id, view, corner.n, tuple(v.id for v in document.volumes)), rows


def _shaped(volume_id: str, view: ViewName, number: int, field: str, document: Document, value: float) -> Edit:
    return change_corner(document, volume_id, view, number, **{field: value})


def _coordinate(
    document: Document, volume: AnyVolume, view: ViewName, corner: ProfileCorner, column: int
) -> list[Row]:
    """Return the rows of one coordinate: where it is measured from, and how far."""
    axis = VIEW_AXES[VIEWS.index(view)][column]
    word = _WAYS[axis]
    held = corner.at[column]

    def hold(doc: Document, how: str) -> Edit:
        if thing := thing_followed(how):
            return follow_middle(doc, volume.id, view, corner.n, column, thing)
        return hold_corner(doc, volume.id, view, corner.n, column, how)  # type: ignore[arg-type]

    choices = hold_choices(word, side_names(volume, axis), document, volume)
    return [
        Row(tr("{way} is held", way=word), tr("What this corner is held by when the volume changes"), "choice", partial(hold_here, held), hold, choices),
        Row(word, tr("40 % for a share, a length, or an expression such as wheel / 2"), "text",
            lambda: place_words(held, document),
            lambda doc, text: type_coordinate(doc, volume.id, view, corner.n, column, text)),
    ]  # fmt: skip
