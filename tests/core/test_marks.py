"""Marks and their layers: the same as before, on every surface, and as quick to be told apart as they are few."""

import base64
import io
import re
from pathlib import Path
from typing import ClassVar

import ezdxf
import msgspec
import numpy as np
import pypdfium2
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image
from PyQt6.QtGui import QColor, QFont, QFontMetricsF, QImage, QPainter

from isometron.desk.board.sheet_paint import paint_marks
from isometron.desk.board.viewing import BoardView
from isometron.document.edits import change_volume
from isometron.document.fresh import new_document
from isometron.solve.again import Again
from isometron.solve.drawing import solve
from isometron.solve.layers.labels import label_box, lay_labels
from isometron.solve.lettering import lettering_width
from isometron.solve.marks import Arcs, Curves, Fills, Label, Lines, Marks, Raster, Role, Singles
from isometron.surfaces.export import export_bytes
from isometron.surfaces.fonts import LETTERING_FONT, load_fonts
from isometron.surfaces.page import Page
from isometron.surfaces.painters.dxf import DXF_NOTES, DxfPainter
from isometron.surfaces.painters.painting import paint, said_of
from isometron.surfaces.painters.pdf import POINTS_PER_MM, pdf_of
from isometron.surfaces.painters.qt_page import paint_page
from isometron.surfaces.painters.rasters import STRAIGHTENED
from isometron.surfaces.painters.svg import svg_of
from isometron.volumes.box import Box
from tests.kept_drawings import DOCUMENTS, KEPT, changes, drawn, kept_of

SHEET = (0.0, 0.0, 200.0, 120.0)


@pytest.mark.parametrize("name", DOCUMENTS)
def test_demos_and_starters_draw_what_they_drew(name):
    with np.load(KEPT) as archive:
        was = kept_of(archive, name)
    assert list(changes(drawn(DOCUMENTS[name]()), was)) == []


def one_of_each():
    """One mark of every kind, far apart on a sheet of 200 x 120."""
    pixels = np.zeros((4, 6, 3), np.uint8)
    pixels[:, :3] = (200, 30, 30)
    pixels[:, 3:] = (30, 30, 200)
    straight = np.array([[5.0, 0.0, 10.0], [0.0, -5.0, 110.0], [0.0, 0.0, 1.0]])
    slanted = np.array([[6.0, 0.5, 60.0], [0.4, -6.0, 110.0], [0.004, 0.01, 1.0]])
    there = np.array([120.0, 80.0])
    square, hole = np.array([[0.0, 0.0], [30.0, 0.0], [30.0, 30.0], [0.0, 30.0]]), np.array([[10.0, 10.0], [20.0, 10.0], [20.0, 20.0], [10.0, 20.0]])  # fmt: skip
    return Marks(
        pictures=Singles((Raster(pixels, straight), Raster(pixels, slanted))),
        fills=Fills.of([[square + there, hole + there]], 1.0),
        lines=Lines.of(np.array([[10.0, 30.0, 60.0, 30.0]]), Role.OBJECT),
        arcs=Arcs.of(np.array([[90.0, 30.0, 12.0, 8.0, 0.4, 0.0, 2 * np.pi]]), Role.OBJECT),
        curves=Curves.of(np.array([[120.0, 20.0, 130.0, 60.0, 160.0, 60.0, 170.0, 20.0]]), Role.OBJECT),
        labels=Singles((Label("MARK", 20.0, 10.0, Role.LETTERING, size=8.0),)),
    )


BEZIER = Curves.of(np.array([[120.0, 20.0, 130.0, 60.0, 160.0, 60.0, 170.0, 20.0]]), Role.OBJECT)
PLACES = {
    "straight picture, left half": (17.0, 100.0, "red"),
    "straight picture, right half": (33.0, 100.0, "blue"),
    "slanted picture, left half": (66.0, 100.0, "red"),
    "slanted picture, right half": (85.0, 98.0, "blue"),
    "fill": (125.0, 95.0, "dark"),
    "hole in the fill": (135.0, 95.0, "paper"),
    "line": (35.0, 30.0, "dark"),
    "arc": (90.0 + 12.0 * np.cos(0.4), 30.0 + 12.0 * np.sin(0.4), "dark"),
    "curve": (*BEZIER.at(np.array([0.5]))[0, 0], "dark"),
    "nothing": (190.0, 110.0, "paper"),
}


def colour_of(pixel):
    red, green, blue = (int(part) for part in pixel[:3])
    if max(red, green, blue) < 110:
        return "dark"
    if min(red, green, blue) > 200:
        return "paper"
    return "red" if red > blue + 60 else "blue" if blue > red + 60 else "other"


def seen(image, per_mm):
    """What each place shows, of an image (H, W, 3) of the sheet: the darkest or the most coloured pixel about it."""
    found = {}
    for name, (u, v, _) in PLACES.items():
        x, y = round(u * per_mm), round((SHEET[3] - v) * per_mm)
        near = image[y - 1 : y + 2, x - 1 : x + 2].reshape(-1, 3)
        found[name] = colour_of(near[np.argmin(near.astype(int).sum(axis=1))])
    return found


def lettering_there(image, per_mm):
    left, low, right, high = label_box(one_of_each().labels.items[0])
    box = image[round((SHEET[3] - high) * per_mm) : round((SHEET[3] - low) * per_mm), round(left * per_mm) : round(right * per_mm)]  # fmt: skip
    ink = box.min(axis=2) < 140
    return 0.03 < ink.mean() < 0.6 and ink[:, -round(2.0 * per_mm) :].any(), ink[:, : round(2 * per_mm)].any()


WANTED = {name: colour for name, (_, _, colour) in PLACES.items()}
PAGE = Page(SHEET[2], SHEET[3], "One of each", one_of_each())


def rgb(image):
    image = image.convertToFormat(QImage.Format.Format_RGB888)
    bits = np.frombuffer(image.constBits().asarray(image.sizeInBytes()), np.uint8)
    return (
        bits.reshape(image.height(), image.bytesPerLine())[:, : 3 * image.width()]
        .reshape(image.height(), -1, 3)
        .copy()
    )


def painted_with_qt(scale=6.0):
    image = QImage(round(SHEET[2] * scale), round(SHEET[3] * scale), QImage.Format.Format_RGB32)
    image.fill(QColor("#FFFFFF"))
    painter = QPainter(image)
    paint_page(painter, PAGE, scale)
    painter.end()
    return rgb(image)


def painted_on_board(scale=6.0):
    image = QImage(round(SHEET[2] * scale), round(SHEET[3] * scale), QImage.Format.Format_RGB32)
    paint_marks(image, [one_of_each()], SHEET, BoardView(scale, 0.0, SHEET[3] * scale))
    return rgb(image)


def painted_in_pdf(scale=6.0):
    page = pypdfium2.PdfDocument(pdf_of(PAGE))[0]
    return np.asarray(page.render(scale=scale / POINTS_PER_MM).to_pil().convert("RGB"))


@pytest.mark.parametrize("surface", [painted_with_qt, painted_on_board, painted_in_pdf])
def test_a_surface_of_pixels_paints_every_kind_of_mark(qapp, surface):
    image = surface()
    assert seen(image, 6.0) == WANTED
    assert lettering_there(image, 6.0) == (True, True), "as wide as it is said to be"


def test_svg_holds_every_kind_of_mark_and_says_what_it_resamples():
    text = svg_of(PAGE)
    pictures = [Image.open(io.BytesIO(base64.b64decode(data))) for data in re.findall(r"base64,([^\"]+)", text)]
    assert len(pictures) == 2 and pictures[0].size == (6, 4) and pictures[1].width > 300, (
        "the slanted one is resampled"
    )
    assert pictures[1].mode == "RGBA", "and clear where it is not"
    assert re.search(r'fill="#1F2424"[^>]*fill-rule="evenodd"', text) and len(re.findall(r"Z(?=M|\")", text)) >= 2
    assert "M120.0000 100.0000C130.0000 60.0000 160.0000 60.0000 170.0000 100.0000" in text
    assert "<ellipse" in text and "M10.0000 90.0000L60.0000 90.0000" in text and ">MARK</text>" in text
    assert said_of([one_of_each()], STRAIGHTENED) == ["Slanted pictures are resampled at 300 dpi."]
    assert said_of([Marks(lines=one_of_each().lines)], STRAIGHTENED) == []
    drawing, said = solve(new_document()), []
    drawing.given["grids"] = one_of_each()
    assert b"<image" in export_bytes(drawing, Path("sheet.svg"), say=said.append)
    assert said == ["Slanted pictures are resampled at 300 dpi."]


def test_dxf_holds_every_kind_of_mark_but_pictures_and_says_so():
    painter = DxfPainter((), 100.0)
    paint([one_of_each()], painter)
    kinds = {entity.dxftype(): entity for entity in ezdxf.read(io.StringIO(painter.text())).modelspace()}
    assert set(kinds) == {"HATCH", "LINE", "ELLIPSE", "SPLINE", "TEXT"}
    assert len(kinds["HATCH"].paths) == 2 and kinds["TEXT"].dxf.text == "MARK"
    points = np.array([tuple(p) for p in kinds["SPLINE"].control_points])[:, :2]
    np.testing.assert_allclose(points.ravel(), BEZIER.points[0])
    assert said_of([one_of_each()], DXF_NOTES) == ["DXF holds no pictures: they are left out."]


def test_roles_order_the_painting_and_kinds_follow_each_other_in_each():
    told = []

    class Teller:
        notes: ClassVar = {}
        picks: ClassVar = False

        def __getattr__(self, kind):
            return lambda role, bag: told.append((role, kind, len(bag)))

    marks = one_of_each()
    two = Lines.joined([marks.lines, Lines.of(marks.lines.points, Role.HIDDEN)])
    paint([Marks(labels=marks.labels), Marks(lines=two, arcs=marks.arcs, pictures=marks.pictures)], Teller())
    assert told == [
        (Role.PHOTOGRAPH, "pictures", 2), (Role.HIDDEN, "lines", 1), (Role.OBJECT, "lines", 1), (Role.OBJECT, "arcs", 1),
        (Role.LETTERING, "labels", 1),
    ]  # fmt: skip


@given(st.floats(0.2, 5.0), st.floats(-50.0, 50.0), st.floats(-50.0, 50.0))
def test_placed_marks_go_all_the_same_way(scale, u, v):
    marks = one_of_each()
    placed = marks.placed(np.array([u, v]), scale)

    def at(point):
        return scale * np.asarray(point) + (u, v)

    np.testing.assert_allclose(placed.lines.points[0, 2:], at(marks.lines.points[0, 2:]))
    np.testing.assert_allclose(placed.curves.points[0, 6:], at(marks.curves.points[0, 6:]))
    np.testing.assert_allclose(placed.arcs.shape[0, :4], [*at(marks.arcs.shape[0, :2]), 12.0 * scale, 8.0 * scale])
    np.testing.assert_allclose(placed.fills.rings(0)[1][0], at(marks.fills.rings(0)[1][0]))
    np.testing.assert_allclose((placed.labels.items[0].u, placed.labels.items[0].v), at((20.0, 10.0)))
    corner, before = placed.pictures.items[1].place @ (6.0, 4.0, 1.0), marks.pictures.items[1].place @ (6.0, 4.0, 1.0)
    np.testing.assert_allclose(corner[:2] / corner[2], at(before[:2] / before[2]))


def test_marks_move_with_their_owners_and_those_of_nobody_stay():
    lines = Lines(np.arange(16.0).reshape(4, 4), np.full(4, Role.OBJECT, np.int8), np.array([0, 1, -1, 2]), np.array([0, 5, -1, 9]))  # fmt: skip
    marks = Marks(lines=lines, labels=Singles((Label("a", 0.0, 0.0, Role.LETTERING, owner=1), Label("b", 0.0, 0.0, Role.LETTERING))))  # fmt: skip
    moved = marks.moved(np.array([-1, 7, 0]), np.array([100, 10, 1]))
    assert moved.lines.owner.tolist() == [7, -1, 0] and moved.lines.edge[[0, 2]].tolist() == [15, 10]
    assert [(label.text, label.owner) for label in moved.labels] == [("a", 7), ("b", -1)]
    assert not marks.alike(moved) and marks.alike(Marks(lines=lines, labels=Singles(marks.labels.items)))


def test_a_layer_that_leans_on_nothing_that_changes_is_kept():
    row = [Box(id=f"b{k}", name=f"Post {k}", corner=(3000.0 * k - 9000.0, 5000.0, 0.0), size=(900.0, 700.0, 1500.0)) for k in range(7)]  # fmt: skip
    document = msgspec.structs.replace(new_document(), volumes=tuple(row))
    base = solve(document)
    moved = change_volume(document, "b3", "move", corner=(10.0, 5000.0, 0.0)).document
    drawing = Again(base).solve(moved)
    assert drawing.of("aids") is base.of("aids") and drawing.of("edges") is not base.of("edges")


boxes = st.lists(st.tuples(st.floats(5.0, 190.0), st.floats(5.0, 110.0)), max_size=4)


@given(boxes, st.lists(st.tuples(*[st.floats(0.0, 200.0)] * 2, *[st.floats(0.0, 120.0)] * 2), max_size=6))
def test_labels_are_moved_no_further_than_they_may_and_off_lines_where_that_can_be(places, ends):
    lines = np.array([(a, c, b, d) for a, b, c, d in ends]).reshape(-1, 4)
    labels = [Label("name", u, v, Role.LETTERING, size=3.0, free=(20.0, 15.0)) for u, v in places]
    stream = [Marks(lines=Lines.of(lines, Role.OBJECT))]
    laid = lay_labels(labels, stream, SHEET)
    assert len(laid) == len(labels)
    for before, after in zip(labels, laid, strict=True):
        assert abs(after.u - before.u) <= 20.0 and abs(after.v - before.v) <= 15.0
    assert lay_labels(labels, stream, SHEET, held=[(a.u - b.u, a.v - b.v) for a, b in zip(laid, labels, strict=True)]) == laid or len(labels) > 1  # fmt: skip


def test_a_label_goes_off_a_line_a_handle_another_label_and_the_rim_and_is_spared_where_nothing_is_free():
    label = Label("name", 100.0, 60.0, Role.LETTERING, size=3.0, free=(0.0, 12.0))
    line = Marks(lines=Lines.of(np.array([[0.0, 61.0, 200.0, 61.0]]), Role.OBJECT))
    (off_line,) = lay_labels([label], [line], SHEET)
    box = label_box(off_line)
    assert box[1] > 61.0 or box[3] < 61.0
    handle = np.array([[90.0, 55.0, 120.0, 61.0]])
    (off_handle,) = lay_labels([label], [line], SHEET, taken=handle)
    assert label_box(off_handle)[1] > 61.0
    one, two = lay_labels([label, label], [], SHEET)
    assert one == label and (label_box(two)[1] >= label_box(one)[3] or label_box(two)[3] <= label_box(one)[1])
    (at_rim,) = lay_labels([Label("name", 199.0, 60.0, Role.LETTERING, size=3.0, free=(30.0, 5.0))], [], SHEET)
    assert label_box(at_rim)[2] <= 200.0
    narrow = np.array([[0.0, 0.0, 90.0, 120.0], [112.0, 0.0, 200.0, 120.0]])
    long = Label("a name too long for it", 100.0, 60.0, Role.LETTERING, size=3.0, free=(30.0, 9.0), short="name")
    (shorter,) = lay_labels([long], [], SHEET, taken=narrow)
    assert shorter.text == "name" and label_box(shorter)[0] >= 90.0 and label_box(shorter)[2] <= 112.0
    assert lay_labels([long], [], SHEET)[0].text == long.text
    walled = np.array([[0.0, 0.0, 200.0, 120.0]])
    assert lay_labels([Label("name", 99.0, 60.0, Role.LETTERING, free=(9.0, 9.0), spare=True)], [], SHEET, taken=walled) == ()  # fmt: skip
    (fixed,) = lay_labels([Label("name", 100.0, 60.0, Role.LETTERING)], [line], SHEET, least=6.0)
    assert (fixed.u, fixed.v, fixed.size) == (100.0, 60.0, 6.0)


def test_lettering_is_as_wide_as_its_face_says(qapp):
    load_fonts()
    font = QFont(LETTERING_FONT)
    font.setPixelSize(1000)
    for text in ("HL  eye level 1650 mm", "Counter, front: 7/8 x 1200", "VP L  372 mm further"):
        assert lettering_width(text) == pytest.approx(QFontMetricsF(font).horizontalAdvance(text) / 1000.0, rel=0.03)
