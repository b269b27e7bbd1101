"""Exports show what is hidden as hidden, rings as rings, at any size; pictures hold every pixel that was painted."""

import io
import re
from pathlib import Path
from xml.etree import ElementTree

import ezdxf
import msgspec
import numpy as np
import pytest
import svgelements
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from isometron.demos.catalogue import demo
from isometron.document.fresh import new_document
from isometron.geometry.chains import chained, runs, straightened
from isometron.solve.drawing import solve
from isometron.solve.marks import Role
from isometron.solve.report import report
from isometron.surfaces.export import export_bytes
from isometron.surfaces.page import _two_lines, check_bar, sheet_page
from isometron.surfaces.painters.pdf import _stroke_arc, pdf_bytes
from isometron.surfaces.painters.qt_strokes import dashed
from isometron.surfaces.painters.svg import svg_text
from isometron.surfaces.plain_sheet import plain_export
from isometron.surfaces.png_file import png_file
from isometron.surfaces.tables import csv_text
from isometron.volumes.box import Box
from isometron.volumes.turned import PROFILES, Turned


def test_a_hidden_outline_is_dashed_in_one_run():
    """The far wheel's rim: its pieces are a millimetre long, its dashes longer, so that each piece alone would be solid."""
    drawing = solve(demo("tea-cart"))
    far = demo("tea-cart").index_of("wheel-far")
    far = far if far is not None else int(np.bincount(drawing.of("rounds").lines.owner[drawing.of("rounds").lines.role == Role.HIDDEN]).argmax())  # fmt: skip
    own = (drawing.of("rounds").lines.owner == far) & (drawing.of("rounds").lines.role == Role.HIDDEN)
    points = np.ascontiguousarray(drawing.of("rounds").lines.points[own])
    length = np.hypot(*(points[:, 2:] - points[:, :2]).T)
    assert len(points) > 40 and np.median(length) < 3.0
    assert len(runs(points)) < len(points) / 8
    ink = np.hypot(*(dashed(points, 2.0, 2.0)[:, 2:] - dashed(points, 2.0, 2.0)[:, :2]).T).sum()
    assert 0.4 * length.sum() < ink < 0.65 * length.sum(), "about half of it is gaps"
    root = ElementTree.fromstring(svg_text(drawing))
    group = next(g for g in root.iter() if g.get("id") == f"hidden-{demo('tea-cart').volumes[far].id}")
    paths = [p.get("d") for p in group.iter() if p.tag.endswith("path") and "A" not in p.get("d")]
    assert sum(d.count("L") for d in paths) > 4 * sum(d.count("M") for d in paths), (
        "polylines, so that a dash runs on"
    )


@given(st.integers(3, 40), st.randoms(use_true_random=False), st.booleans())
def test_scattered_pieces_become_one_run(count, dice, closed):
    t = np.linspace(0.0, 5.0, count + 1)
    line = np.column_stack([100.0 * np.cos(t), 60.0 * np.sin(t)])
    line = np.vstack([line, line[:1]]) if closed else line
    pieces = np.hstack([line[:-1], line[1:]])
    order = list(range(len(pieces)))
    dice.shuffle(order)
    mixed = np.array([pieces[k] if dice.random() < 0.5 else pieces[k][[2, 3, 0, 1]] for k in order])
    points, rows = chained(mixed, np.zeros(len(mixed), dtype=np.intp))
    (run,) = runs(points)
    assert len(run) == len(line) and sorted(rows) == sorted(range(len(mixed)))
    assert np.isclose(np.hypot(*np.diff(run, axis=0).T).sum(), np.hypot(*np.diff(line, axis=0).T).sum())
    two, _ = chained(mixed, np.arange(len(mixed)) % 2)
    assert len(runs(two, np.sort(np.arange(len(mixed)) % 2))) >= 1


def test_straight_runs_are_one_line():
    there = np.array([[0.0, 0.0], [1.0, 2.0], [2.0, 4.0], [1.5, 3.0]])
    assert straightened(there).tolist() == [[0.0, 0.0], [2.0, 4.0]]
    bent = np.array([[0.0, 0.0], [1.0, 0.0], [2.0, 0.0], [2.0, 1.0]])
    assert straightened(bent).tolist() == [[0.0, 0.0], [2.0, 0.0], [2.0, 1.0]]


class Canvas:
    def drawPath(self, path, **_):
        self.text = path.getCode()


@pytest.mark.parametrize(("a", "b"), [(509.0, 300.0), (5000.0, 4000.0), (3.0, 1.0)])
def test_pdf_arcs_lie_on_their_ellipses(a, b):
    """Within 0.005 mm at any size, all along the cubics."""
    canvas = Canvas()
    _stroke_arc(canvas, np.array([10.0, -20.0, a, b, 0.4, 0.3, 5.9]))
    numbers = [float(x) for x in re.findall(r"-?\d+\.\d+", canvas.text)]
    start, rest = np.array(numbers[:2]), np.array(numbers[2:]).reshape(-1, 3, 2)
    t = np.linspace(0.0, 1.0, 21)[:, None]
    for one, two, end in rest:
        place = (1 - t) ** 3 * start + 3 * (1 - t) ** 2 * t * one + 3 * (1 - t) * t**2 * two + t**3 * end
        x, y = ((place - [10.0, -20.0]) @ np.array([[np.cos(0.4), -np.sin(0.4)], [np.sin(0.4), np.cos(0.4)]])).T
        off = (np.sqrt((x / a) ** 2 + (y / b) ** 2) - 1.0) * np.minimum(np.hypot(x, y), max(b, 1e-9) + np.abs(x))
        assert np.abs(off).max() < 0.005 + 1e-4
        start = end


def test_a_pdf_tells_the_truth_about_itself():
    data = pdf_bytes(solve(msgspec.structs.replace(demo("ember-lantern"), title="Lamp")))
    assert b"Helvetica" not in data and b"RoutedGothic" in data and b"/FontFile2" in data
    assert b"20000101" not in data, "its date is that of its making"
    assert b"Isometron" in data


@pytest.mark.parametrize("with_alpha", [False, True])
@pytest.mark.parametrize("shape", [(1, 1), (33, 7), (64, 100), (2, 3)])
def test_a_png_holds_what_was_painted(shape, with_alpha):
    dice = np.random.default_rng(5)
    pixels = np.full((*shape, 4), 255, dtype=np.uint8)
    some = dice.random(shape) < 0.3
    pixels[some, : 3 + with_alpha] = dice.integers(0, 256, (int(some.sum()), 3 + with_alpha))
    told = []
    picture = Image.open(io.BytesIO(png_file(pixels, 11811, told.append, with_alpha=with_alpha)))
    assert np.array_equal(np.asarray(picture), pixels[..., [2, 1, 0, 3][: 3 + with_alpha]])
    assert picture.info["dpi"] == pytest.approx((300.0, 300.0), abs=0.01) and told[0] == 0.0


def test_a_png_on_a_clear_ground_is_the_same_drawing_laid_on_white():
    drawing = solve(demo("tea-cart"))
    clear, white = (
        np.asarray(Image.open(io.BytesIO(export_bytes(drawing, Path("x.png"), dpi=60.0, clear=clear))))
        for clear in (True, False)
    )
    assert clear.shape[2] == 4 and white.shape[2] == 3
    assert (clear[..., 3] == 0).mean() > 0.7 and (clear[..., 3] == 255).any()
    laid = clear[..., :3] * (clear[..., 3:] / 255.0) + 255.0 - clear[..., 3:]
    assert np.abs(laid - white).max() <= 6.0, "each of some pens over each other is rounded to a step of 255"


def test_a_dxf_is_few_entities_and_its_dashes_fit_the_object(tmp_path):
    document = demo("tea-cart")
    drawing = ezdxf.read(io.StringIO(plain_export(document, tmp_path / "x.dxf").decode()))
    kinds = [entity.dxftype() for entity in drawing.modelspace()]
    assert kinds.count("CIRCLE") > 10 and kinds.count("LWPOLYLINE") > 3
    dash = 0.5 * drawing.header["$LTSCALE"]
    assert 2400.0 / 200.0 < dash < 2400.0 / 40.0
    wheel = msgspec.structs.replace(
        new_document(),
        volumes=(
            Turned(
                id="w",
                name="W",
                corner=(0.0, 0.0, 0.0),
                size=(560.0, 60.0, 560.0),
                axle="wide",
                profile=PROFILES["wheel"],
            ),
        ),
    )
    drawing = ezdxf.read(io.StringIO(plain_export(wheel, tmp_path / "x.dxf").decode()))
    assert len(drawing.modelspace()) < 40


@pytest.mark.parametrize(
    "text", ["A. B", "One sentence without any stop", "word", "", "ein Satz. noch einer. und noch einer"]
)
def test_a_caution_in_any_language_fits_on_two_lines(text, monkeypatch):
    lines = _two_lines(text)
    assert " ".join(lines) == text and 1 <= len(lines) <= 2
    monkeypatch.setattr("isometron.surfaces.page.CAUTION", text)
    ends = check_bar(150.0, 200.0).lines.points[0]
    assert ends[2] - ends[0] == 100.0
    assert len(sheet_page(solve(demo("tea-cart"))).marks.labels)


def test_svg_arcs_near_half_a_turn_lie_where_they_are():
    """Each piece of an arc is told by its ends: read by another reader, its middle lies on the ellipse."""
    from isometron.surfaces.painters.svg import _arc

    for sweep in (np.pi - 1e-4, np.pi + 1e-4, 3.0, 6.2, 0.3, np.pi):
        shape = np.array([120.0, 80.0, 90.0, 14.0, 0.4, 0.7, 0.7 + sweep])
        path = svgelements.Path(_arc(shape, 297.0).split('d="')[1].split('"')[0])
        for t in np.linspace(0.0, 1.0, 41):
            point = path.point(t)
            x, y = point.x - 120.0, (297.0 - point.y) - 80.0
            own = (x * np.cos(0.4) + y * np.sin(0.4)) / 90.0, (y * np.cos(0.4) - x * np.sin(0.4)) / 14.0
            assert abs(np.hypot(*own) - 1.0) * 14.0 < 0.01, sweep


def test_names_in_tables_are_no_formulas():
    volume = Box(id="b", name="=HYPERLINK(1)", corner=(-100.0, 0.0, 0.0), size=(200.0, 200.0, 200.0))
    drawing = solve(msgspec.structs.replace(new_document(), volumes=(volume,)))
    rows = csv_text(report(drawing)).splitlines()
    assert all(",'=HYPERLINK(1)," in row for row in rows[1:]) and len(rows) == 13
