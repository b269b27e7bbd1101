"""The document of a matched picture: its sheet, its eye, and the boxes whose scale is known; and the same as plain values."""

from __future__ import annotations

from math import radians
from typing import TYPE_CHECKING, Any

import msgspec
import numpy as np

from isometron.document.model import Document
from isometron.document.pictures.picture_edits import lay_picture, with_picture
from isometron.document.pictures.placing import matched_eye
from isometron.document.pictures.sheet_picture import TrueLength
from isometron.geometry.frames import box_rotation, half_turn
from isometron.match.answer import Answer, Figure
from isometron.match.picture_eye import camera_of
from isometron.match.solving.camera import AXES
from isometron.view.eye import Eye
from isometron.view.sheet import Sheet
from isometron.volumes.box import Box
from isometron.wording import tr

if TYPE_CHECKING:
    from isometron.pictures.intake import Taken

__all__ = ["answer_values", "answer_words", "document_of", "document_on_picture"]

_LONG_SIDE = 420.0
"""mm of paper that the picture's longer side takes: A3."""


def _scales(answer: Answer) -> dict[str, float]:
    """Return the mm that one unit of each box stands for, where a length of it is known."""
    layout = answer.fit.layout
    found: dict[str, float] = {}
    own = np.real(layout.box_numbers(answer.fit.numbers))
    for length in answer.marks.lengths:
        size = abs(float(own[list(layout.boxes).index(length.box), 3 + AXES.index(length.along)]))
        if size > 0.0:
            found.setdefault(length.box, length.mm / size)
    return found


def document_of(answer: Answer, title: str) -> Document:
    """Return a document that is drawn as the picture shows it: the eye, and every box with a known length, in mm.

    The first of them stands with its foot on the ground, its corner over the world's origin.
    """
    marks, layout = answer.marks, answer.fit.layout
    paper = _LONG_SIDE / max(marks.width, marks.height)
    camera = layout.camera(answer.fit.numbers)
    x, y = (float(c) for c in camera.centre)
    sheet = Sheet(
        width=marks.width * paper, height=marks.height * paper,
        centre_of_vision=((x + 0.5) * paper, (marks.height - 0.5 - y) * paper),
    )  # fmt: skip
    boxes, origin = _boxes(answer)
    eye = Eye(
        position=(-origin[0], -origin[1], -origin[2]), pitch_deg=float(np.degrees(camera.pitch)),
        roll_deg=float(np.degrees(camera.roll)), viewing_distance=float(camera.f) * paper,
    )  # fmt: skip
    return Document(title=title, sheet=sheet, eye=eye, volumes=boxes)


def document_on_picture(answer: Answer, title: str, taken: Taken) -> Document:
    """Return the document of a matched picture with the picture under it and its marks, as the desk would have it: the first thing's
    directions are the world's, the lowest mark stands on the ground."""
    plain = document_of(answer, title)
    marks = answer.marks
    picture = msgspec.structs.replace(
        taken.picture, whole=marks.whole, lines=marks.lines, rings=marks.rings,
        middle=(plain.sheet.width / 2.0, plain.sheet.height / 2.0), pixel=plain.sheet.width / marks.width,
        paper=(plain.sheet.width, plain.sheet.height),
    )  # fmt: skip
    if plain.volumes:
        picture = msgspec.structs.replace(picture, true=TrueLength(of="eye", mm=max(plain.eye.position[2], 1e-3)))
    laid = lay_picture(msgspec.structs.replace(plain, volumes=()), picture, taken.data).document
    found = msgspec.structs.replace(laid.pictures[0], camera=camera_of(laid.pictures[0], answer))
    document = matched_eye(with_picture(laid, found), found)
    turn = document.eye.yaw_deg - plain.eye.yaw_deg
    rotation = box_rotation(radians(turn))
    moved = []
    for box in plain.volumes:
        corner = rotation @ (np.array(box.corner) - plain.eye.place) + document.eye.place
        x, y, z = np.round(corner, 6) + 0.0
        moved.append(
            msgspec.structs.replace(box, corner=(float(x), float(y), float(z)), yaw_deg=half_turn(box.yaw_deg + turn))
        )
    return msgspec.structs.replace(document, volumes=tuple(moved))


def _boxes(answer: Answer) -> tuple[tuple[Box, ...], tuple[float, float, float]]:
    layout, scales = answer.fit.layout, _scales(answer)
    own = np.real(layout.box_numbers(answer.fit.numbers))
    found: list[Box] = []
    origin = np.zeros(3)
    for number, (name, owner) in enumerate(layout.boxes.items()):
        ratios = answer.ratios[name]
        known = {key for pair in ratios for key in pair.split("/") if np.isfinite(ratios[pair].pm95)}
        if name not in scales or len(known) < 3:
            continue
        axes = np.real(layout.axes(answer.fit.numbers))[layout.objects.index(owner)]
        sizes = own[number, 3:] * scales[name]
        # A size below nothing reaches back from the corner.
        corner = own[number, :3] * scales[name] + np.minimum(sizes, 0.0) @ axes
        if not found:
            origin = corner.copy()
        x, y, z = np.round(corner - origin, 6) + 0.0
        long, wide, high = np.round(np.abs(sizes), 6)
        turn = half_turn(float(np.degrees(np.arctan2(axes[0, 1], axes[0, 0]))))
        found.append(
            Box(id=f"box-{number + 1}", name=name[:120], corner=(float(x), float(y), float(z)),
                size=(float(long), float(wide), float(high)), yaw_deg=turn)
        )  # fmt: skip
    return tuple(found), (float(origin[0]), float(origin[1]), float(origin[2]))


def _plain(figure: Figure) -> dict[str, float | None]:
    return {"value": figure.value, "pm95": figure.pm95 if np.isfinite(figure.pm95) else None}


def answer_values(answer: Answer) -> dict[str, Any]:
    """Return an answer as plain values for JSON; a plus-minus that is ``null`` says that the figure is not known."""
    marks, document = answer.marks, document_of(answer, "")
    lines = len(marks.lines)
    return {
        "focal_px": _plain(answer.focal),
        "principal_point": [_plain(each) for each in answer.centre],
        "horizon": [
            {"x": x, "y": _plain(height)} for x, height in zip((0.0, marks.width - 1.0), answer.horizon, strict=True)
        ],
        "pitch_deg": _plain(answer.pitch),
        "roll_deg": _plain(answer.roll),
        "bend": _plain(answer.bend),
        "taken_as": {"level": answer.fit.layout.level, "bent": answer.fit.layout.bent, "whole": marks.whole},
        "noise_px": answer.noise,
        "position": list(document.eye.position) if document.volumes else None,
        "objects": [
            {"box": name, "ratios": {key: _plain(figure) for key, figure in ratios.items()}}
            for name, ratios in answer.ratios.items()
        ],
        "rings": {name: [_plain(each) for each in heights] for name, heights in answer.heights.items()},
        "marks": [
            {"mark": "line" if number < lines else "ring", "misfit_px": off, "misfit_deg": angle,
             "contradicts": number in answer.contradicting}
            for number, (off, angle) in enumerate(answer.misfits)
        ],
        "free": [{"what": each.what, "settle": each.settle} for each in answer.free],
    }  # fmt: skip


def answer_words(answer: Answer) -> str:
    """Return an answer in words, the worst mark first."""
    said = [
        tr("viewing distance {figure} px", figure=_words(answer.focal, 1)),
        tr(
            "horizon at {left} px from the top on the left, {right} on the right",
            left=_words(answer.horizon[0], 1),
            right=_words(answer.horizon[1], 1),
        ),
        tr("tilt {pitch}°, roll {roll}°", pitch=_words(answer.pitch, 2), roll=_words(answer.roll, 2)),
    ]
    if answer.fit.layout.bent:
        said.append(tr("the lens bends: {bend}", bend=_words(answer.bend, 3)))
    for name, ratios in answer.ratios.items():
        said += [
            tr("{box}: {ratio} = {figure}", box=name, ratio=key, figure=_words(figure, 3))
            for key, figure in ratios.items()
        ]
    worst = sorted(range(len(answer.misfits)), key=lambda n: -answer.misfits[n][0])[:3]
    said += [
        tr("mark {number} is off by {off} px{angle}", number=n + 1, off=f"{answer.misfits[n][0]:.1f}",
           angle=f", {answer.misfits[n][1]:.2f}°" if n < len(answer.marks.lines) else "")
        for n in worst
    ]  # fmt: skip
    said += [tr("mark {number} contradicts the others", number=n + 1) for n in answer.contradicting]
    said += [tr("Not known: {what}. {settle}", what=each.what, settle=each.settle) for each in answer.free]
    return "\n".join(said) + "\n"


def _words(figure: Figure, digits: int) -> str:
    if not np.isfinite(figure.pm95):
        return tr("not known (one of many: {value})", value=f"{figure.value:.{digits}f}")
    return f"{figure.value:.{digits}f} ± {figure.pm95:.{digits}f}"
