"""Fills: moved, chosen and joined as arrays, bent sides, and painted by the share of each pixel that they cover."""

from dataclasses import replace

import msgspec
import numpy as np
import pypdfium2
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from PyQt6.QtGui import QColor, QImage, QPainter

from isometron.demos.catalogue import demo
from isometron.desk.board.kept_picture import changed_part
from isometron.desk.board.sheet_paint import paint_marks
from isometron.desk.board.viewing import BoardView
from isometron.solve.again import Again
from isometron.solve.drawing import solve
from isometron.solve.fills import Fills, arc_side, cubic_side
from isometron.solve.layers.layer import Layer
from isometron.solve.layers.register import LAYERS
from isometron.solve.marks import NOBODY, Marks, Role
from isometron.surfaces.page import Page
from isometron.surfaces.painters.pdf import POINTS_PER_MM, pdf_of
from isometron.surfaces.painters.qt_page import paint_page
from isometron.surfaces.painters.svg import svg_of
from isometron.surfaces.raster_loops import Raster

WIDE, HIGH = 48, 40


def painted(regions, colours, *, under=0xFFFFFFFF, part=None):
    """The pixels of a picture on which regions, each with its rings, are filled."""
    pixels = np.full(WIDE * HIGH, under, np.uint32)
    raster = Raster(pixels, WIDE)
    if part is not None:
        raster.clip_to(*part)
    fills = Fills.of(regions, 0.5)
    raster.fill(fills.points, fills.ring_first, fills.fill_first, np.array(colours, np.uint32))
    return pixels.reshape(HIGH, WIDE)


def blue(pixels):
    return (pixels & 255).astype(float)


numbers = st.floats(-30.0, 80.0).map(lambda number: round(number, 2))
places = st.tuples(numbers, numbers)


@settings(max_examples=80)
@given(st.tuples(places, places, places), st.booleans())
def test_a_pixel_takes_as_much_as_is_covered_of_it(triangle, clipped):
    ring = np.array(triangle)
    part = (10, 5, 30, 33) if clipped else (0, 0, WIDE, HIGH)
    share = (255.0 - blue(painted([[ring]], [0], part=part))) / 255.0
    x, y = np.meshgrid(np.arange(WIDE), np.arange(HIGH))
    inside = (x >= part[0]) & (x < part[2]) & (y >= part[1]) & (y < part[3])
    cells = shapely.area(shapely.intersection(shapely.Polygon(ring), shapely.box(x, y, x + 1, y + 1))) * inside
    assert np.abs(share - cells).max() < 0.006
    assert (share[~inside] == 0.0).all()


def test_what_two_rings_go_round_is_a_hole_whichever_way_they_run():
    square = np.array([[3.25, 2.5], [30.5, 2.5], [30.5, 31.75], [3.25, 31.75]])
    inner = square.mean(axis=0) + (square - square.mean(axis=0)) / 2.0
    for hole in (inner, inner[::-1]):
        share = (255.0 - blue(painted([[square, hole]], [0]))) / 255.0
        assert share.sum() == pytest.approx(0.75 * 27.25 * 29.25, abs=0.5) and share[17, 17] == 0.0


@given(st.floats(15.3, 30.0), st.floats(12.0, 25.0), st.integers(5, 17), st.floats(0.0, 6.0))
def test_neighbours_close_without_a_gap(x, y, count, turn):
    """A disc of wedges of one grey is that grey to four levels of 255, whatever is under it; and of two greys nothing shines through."""
    t = turn + np.arange(count) * 2.0 * np.pi / count
    rim = np.column_stack([x + 14.0 * np.cos(t), y + 14.0 * np.sin(t)])
    wedges = [[np.array([[x, y], rim[k], rim[(k + 1) % count]])] for k in range(count)]
    where = (
        np.hypot(*np.meshgrid(np.arange(WIDE) + 0.5 - x, np.arange(HIGH) + 0.5 - y))
        < 14.0 * np.cos(np.pi / count) - 1.5
    )
    where &= np.hypot(*np.meshgrid(np.arange(WIDE) + 0.5 - x, np.arange(HIGH) + 0.5 - y)) > 2.0  # where all meet
    for under in (0xFFFFFFFF, 0xFF000000):
        one = blue(painted(wedges, [0x808080] * count, under=under))[where]
        assert np.abs(one - 128.0).max(initial=0.0) <= 4.0
        two = blue(painted(wedges, [(0x606060, 0xA0A0A0)[k % 2] for k in range(count)], under=under))[where]
        assert two.min(initial=128.0) >= 0x60 - 4 and two.max(initial=128.0) <= 0xA0 + 4


def test_later_fills_lie_on_top_and_wild_ones_are_left_out():
    square = np.array([[2.0, 2.0], [30.0, 2.0], [30.0, 30.0], [2.0, 30.0]])
    found = painted(
        [[square], [square + 5.0], [np.array([[np.nan, 1.0], [3.0, 4.0], [5.0, 6.0]])], [square[:0]]],
        [0x111111, 0x999999, 0, 0],
    )
    assert (
        found[4, 4] == 0xFF111111
        and found[20, 20] == 0xFF999999
        and found[33, 33] == 0xFF999999
        and found[38, 3] == 0xFFFFFFFF
    )


def bent():
    """A half disc of radius 10 about (50, 40), on whose flat side a cubic bows; and a square with a hole."""
    arc, bow = arc_side([50.0, 40.0, 10.0, 10.0, 0.0, 0.0, np.pi]), cubic_side([45.0, 33.0, 55.0, 33.0])
    disc = Fills.of([[np.array([[60.0, 40.0], [40.0, 40.0]])]], 0.4, owner=3)
    disc = Fills(
        disc.points,
        np.array([0, 1]),
        np.array([arc, bow]),
        *(getattr(disc, n) for n in ("ring_first", "fill_first", "tone", "patch", "role", "owner")),
    )
    square = np.array([[0.0, 0.0], [8.0, 0.0], [8.0, 8.0], [0.0, 8.0]])
    return Fills.joined(
        [Fills.of([[square, square / 2.0 + 2.0]], 0.7, owner=5), disc, disc.placed(np.array([1.0, 2.0]), 2.0)]
    )


def area(fills, row):
    rings = [shapely.Polygon(ring) for ring in fills.straightened(1e-4).rings(row)]
    return rings[0].area - sum(ring.area for ring in rings[1:])


def test_bent_sides_are_arcs_and_cubics_however_fills_are_moved_chosen_and_joined():
    fills = bent()
    assert area(fills, 0) == pytest.approx(64.0 - 16.0)
    under = area(fills, 1) - np.pi * 50.0
    assert 0.0 < under < 20.0 * 7.0
    t = np.linspace(0.0, 1.0, 20001)
    x = 40.0 * (1 - t) ** 3 + 135.0 * t * (1 - t) ** 2 + 165.0 * t * t * (1 - t) + 60.0 * t**3
    y = 40.0 * (1 - t) ** 3 + 99.0 * t * (1 - t) ** 2 + 99.0 * t * t * (1 - t) + 40.0 * t**3
    assert under == pytest.approx(np.trapezoid(40.0 - y, x), rel=1e-3)
    assert area(fills, 2) == pytest.approx(4.0 * area(fills, 1), rel=1e-4)
    chosen = fills.select(np.array([2, 0]))
    assert [area(chosen, k) for k in (0, 1)] == pytest.approx([area(fills, 2), area(fills, 0)])
    moved = fills.moved(np.array([-1, -1, -1, 1, -1, -1]))
    assert moved.owner.tolist() == [1, 1] and area(moved, 0) == pytest.approx(area(fills, 1))
    assert fills.alike(fills.select(np.arange(3))) and not fills.alike(chosen)
    joined = Marks.joined([Marks(fills=moved), Marks(fills=chosen)]).fills
    assert [round(area(joined, k), 6) for k in range(4)] == [
        round(area(f, k), 6) for f in (moved, chosen) for k in (0, 1)
    ]


PAGE = Page(
    100.0, 80.0, "Bent", Marks(fills=replace(bent().select(np.array([0, 1])), owner=np.array([NOBODY, NOBODY])))
)


def test_a_vector_page_keeps_arcs_and_cubics():
    text = svg_of(PAGE)
    assert (
        "M60.0000 40.0000A10.0000 10.0000 -0.00000 0 0 50.0000 30.0000A10.0000 10.0000 -0.00000 0 0 40.0000 40.0000"
        in text
    )
    assert "C45.0000 47.0000 55.0000 47.0000 60.0000 40.0000Z" in text and text.count("Z") >= 3


def pixels_of(surface):
    scale = 6.0
    if surface == "pdf":
        return np.asarray(
            pypdfium2.PdfDocument(pdf_of(PAGE))[0].render(scale=scale / POINTS_PER_MM).to_pil().convert("L")
        )
    image = QImage(600, 480, QImage.Format.Format_RGB32)
    image.fill(QColor("#FFFFFF"))
    if surface == "board":
        paint_marks(image, [PAGE.marks], (0.0, 0.0, 100.0, 80.0), BoardView(scale, 0.0, 480.0))
    else:
        painter = QPainter(image)
        paint_page(painter, PAGE, scale)
        painter.end()
    return np.frombuffer(image.constBits().asarray(image.sizeInBytes()), np.uint32).reshape(480, 600) & 255


@pytest.mark.parametrize("surface", ["page", "pdf", "board"])
def test_every_surface_of_pixels_fills_what_the_sides_go_round(qapp, surface):
    found = pixels_of(surface).astype(float)
    dark = found < 0.5 * (found.max() + found[:, 200:].min())
    true = {(0, 200): area(PAGE.marks.fills, 0), (200, 600): area(PAGE.marks.fills, 1)}
    for (left, right), mm in true.items():
        assert dark[:, left:right].sum() / 36.0 == pytest.approx(
            mm, abs={"board": 1.0, "page": 3.0, "pdf": 6.0}[surface]
        )  # these draw a hairline round


def test_what_a_layer_changes_beyond_its_volumes_is_drawn_again(monkeypatch):
    """A layer whose marks lie 60 mm beside the volume, where this draws nothing: moved a little, the drawing is as if all were solved anew."""

    def beside(seen):
        return seen.picture.boxes + np.array([60.0, 0.0, 60.0, 0.0])

    def marks(seen):
        boxes = beside(seen)
        ring = boxes[:, [[0, 1], [2, 1], [2, 3], [0, 3]]]
        return Marks(fills=Fills.of([[each] for each in ring], 0.3, Role.TONE, np.arange(len(ring))))

    monkeypatch.setitem(LAYERS, "beside", Layer(marks, beside))
    document = demo("tea-cart")
    base = solve(document)
    assert (base.boxes[:, 2] >= base.picture.boxes[:, 2] + 60.0).all() and (
        base.boxes[:, 0] == base.picture.boxes[:, 0]
    ).all()
    volume = document.volumes[-1]
    moved = msgspec.structs.replace(volume, corner=(volume.corner[0] + 3.0, *volume.corner[1:]))
    after = msgspec.structs.replace(document, volumes=(*document.volumes[:-1], moved))
    again, whole = Again(base).solve(after), solve(after)
    one, other = again.of("beside").fills, whole.of("beside").fills
    order = np.argsort(one.owner)
    assert one.select(order).alike(other)
    view = BoardView(1.0, 0.0, 297.0)
    part = changed_part(base, again, view, 2000, 2000)
    if part is not None:
        assert part.right() >= view.bounds(*map(float, whole.picture.boxes[-1]))[2] + 55.0
