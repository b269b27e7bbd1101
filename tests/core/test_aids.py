"""Edge ticks, fan, grid, ruler words, and what shows above, on and below the eye level."""

import msgspec
import numpy as np
import pypdfium2
import pytest
from hypothesis import given
from hypothesis import strategies as st

from isometron.demos.catalogue import demo
from isometron.document.eyes.eye_edits import raise_eye, tilt_view
from isometron.document.model import Document, Show
from isometron.geometry.frames import box_rotation
from isometron.solve.drawing import solve
from isometron.solve.layers.grids import grid_segments
from isometron.solve.layers.ticks import edge_ticks, fan_lines, tick_labels, tick_lines
from isometron.solve.marks import Role
from isometron.solve.ruler_words import ruler_words
from isometron.solve.showing import level_words, visible_faces
from isometron.surfaces.painters.pdf import pdf_bytes
from isometron.surfaces.painters.svg import svg_text
from isometron.view.placing import place_eye
from isometron.view.sheet import Sheet
from isometron.view.vanishing import vanishing
from isometron.volumes.box import Box
from isometron.volumes.own_sides import side_name

CART = demo("tea-cart")


def with_show(document, **fields):
    return msgspec.structs.replace(document, show=msgspec.structs.replace(document.show, **fields))


@given(
    st.floats(5, 85), st.sampled_from([0.0, -30.0, -60.0, 25.0]), st.floats(150, 900), st.sampled_from(["mm", "in"])
)
def test_a_ruler_across_equal_ticks_runs_to_the_point(turn, tilt, f, unit):
    eye = place_eye(height=1600.0, away=4000.0, turn_deg=turn, tilt_deg=tilt, viewing_distance=f)
    document = Document(unit=unit, sheet=Sheet(width=420.0, height=297.0, centre_of_vision=(180.0, 160.0)), eye=eye)
    left, lower, right, upper = document.sheet.rectangle
    points = [v.at for v in (vanishing(eye, np.eye(3)[:, k]) for k in range(3)) if v.at is not None]
    off_page = [p for p in points if not (left <= p[0] <= right and lower <= p[1] <= upper)]
    ticks = edge_ticks(document, np.eye(3))
    assert len(ticks) == len(off_page)
    for one, at in zip(ticks, off_page, strict=True):
        run = one.second - one.first
        turned = run[:, 0] * (at[1] - one.first[:, 1]) - run[:, 1] * (at[0] - one.first[:, 0])
        reach = np.hypot(at[0] - one.first[:, 0], at[1] - one.first[:, 1]) * np.hypot(*run.T)
        assert np.allclose(turned / reach, 0.0, atol=1e-9)
        wide = max(np.abs(np.diff(ends, axis=0)).max() for ends in (one.first, one.second))
        assert wide == pytest.approx(12.7 if unit == "in" else 10.0)
    lines = tick_lines(document, np.eye(3)).points
    assert (lines[:, 0::2] >= left - 1e-9).all() and (lines[:, 1::2] <= upper + 1e-9).all()
    assert len(ticks) == 0 or tick_labels(document, np.eye(3))


def test_the_fan_runs_to_its_points_on_and_off_the_sheet():
    eye = place_eye(height=1600.0, away=4000.0, turn_deg=0.0, viewing_distance=300.0)
    document = Document(sheet=Sheet(width=420.0, height=297.0, centre_of_vision=(210.0, 160.0)), eye=eye)
    lines = fan_lines(document, np.eye(3)).points
    assert len(lines) == 48, "one-point: rays from the point on the sheet"
    lines = fan_lines(document, box_rotation(np.radians(40.0))).points
    points = [vanishing(eye, box_rotation(np.radians(40.0))[:, k]).at for k in (0, 1)]
    for u1, v1, u2, v2 in lines:
        turned = [abs((u2 - u1) * (p[1] - v1) - (v2 - v1) * (p[0] - u1)) / np.hypot(u2 - u1, v2 - v1) for p in points]
        assert min(turned) < 1e-6


def test_ticks_and_grid_are_drawn_in_every_export_and_serve_the_volume_asked_for():
    shown = with_show(CART, edge_ticks=True, fan=True, grid_module=500.0)
    text = svg_text(solve(shown))
    assert '<g id="tick"' in text and '<g id="grid"' in text and ">R5<" in text
    assert '<g id="tick"' not in svg_text(solve(CART))
    page = pypdfium2.PdfDocument(pdf_bytes(solve(shown)))[0].get_textpage().get_text_range()
    assert "R5" in page and "L-5" in page
    turned = Box(id="turned", name="Turned", corner=(0.0, 0.0, 0.0), size=(100.0, 100.0, 100.0), yaw_deg=20.0)
    both = msgspec.structs.replace(shown, volumes=(*shown.volumes, turned))
    asked = with_show(both, guides_of="turned")
    assert not np.array_equal(solve(both).of("ticks").lines.points, solve(asked).of("ticks").lines.points)
    gone = with_show(shown, guides_of="nobody")
    assert np.array_equal(solve(shown).of("ticks").lines.points, solve(gone).of("ticks").lines.points)


def test_the_grid_is_squares_of_the_module_on_the_ground_or_a_face():
    drawing = solve(with_show(CART, grid_module=400.0))
    segments = grid_segments(drawing.document, drawing.picture)
    assert np.allclose(segments[..., 2], 0.0)
    assert np.allclose(segments[..., :2] / 400.0, np.round(segments[..., :2] / 400.0))
    row = CART.index_of("body")
    on_top = solve(with_show(CART, grid_module=400.0, grid_on="body:5"))
    top = grid_segments(on_top.document, on_top.picture)
    corners = on_top.scene.corners_of(row)
    assert np.allclose(top[..., 2], corners[:, 2].max())
    lengths = np.sqrt(((top[:, 1] - top[:, 0]) ** 2).sum(axis=1))
    assert set(np.round(lengths)) == {1800.0, 990.0}
    assert sum(lengths > 1000.0) == 4, "990 wide: at 0, 400, 800 and the rim"
    for nowhere in ("nobody:5", "body:9", "body"):
        lost = solve(with_show(CART, grid_module=400.0, grid_on=nowhere))
        assert len(grid_segments(lost.document, lost.picture)) == 0
    assert side_name(CART.volumes[row], 5) == "top"


@pytest.mark.parametrize("module", [0.5, 1e6])
def test_grids_too_fine_or_too_coarse_stay_within_bounds(module):
    drawing = solve(with_show(CART, grid_module=module))
    lines = drawing.of("grids").lines.points[drawing.of("grids").lines.role == Role.GRID]
    assert 4 <= len(lines) <= 2 * 152 and np.isfinite(lines).all()


def test_ruler_words_from_every_side():
    document = Document(
        sheet=Sheet(width=420.0, height=297.0, centre_of_vision=(210.0, 150.0)),
        eye=place_eye(height=1600.0, away=4000.0, turn_deg=30.0, viewing_distance=300.0),
    )
    assert ruler_words(document, -300.0, 0.0) == "90.0 mm beyond the left edge, 150.0 mm above the lower edge"
    assert ruler_words(document, 300.0, -160.0) == "90.0 mm beyond the right edge, 10.0 mm below the lower edge"
    assert ruler_words(document, 0.0, 200.0) == "210.0 mm from the left edge, 53.0 mm above the upper edge"
    inches = msgspec.structs.replace(document, unit="in")
    assert ruler_words(inches, -260.8, 0.0).startswith("2 in beyond the left edge")


def test_which_faces_show_follows_the_horizon():
    row = CART.index_of("counter")
    for height, words, top in (
        (3000.0, "below eye level: its top shows", 5),
        (500.0, "above eye level: its under", 4),
    ):
        drawing = solve(raise_eye(CART, height).document)
        assert words in level_words(drawing, row)
        assert top in visible_faces(drawing, row) and len(visible_faces(drawing, row)) == 3
    drawing = solve(raise_eye(CART, 1020.0).document)
    assert "neither top nor underside shows. 2 faces show" in level_words(drawing, row)
    inside = msgspec.structs.replace(CART, eye=msgspec.structs.replace(CART.eye, position=(500.0, 500.0, 500.0)))
    assert "inside it" in level_words(solve(inside), CART.index_of("body"))


def test_the_practice_sheet_has_its_three_rows():
    document = demo("three-rows")
    drawing = solve(document)
    for rows, word in (((0, 1, 2), " is above"), ((3, 4, 5), " stands across"), ((6, 7, 8), " is below")):
        assert all(word in level_words(drawing, row) for row in rows)
    left, lower, right, upper = document.sheet.rectangle
    paper = drawing.picture.paper
    assert (paper > (left, lower)).all() and (paper < (right, upper)).all()
    assert drawing.findings == ()
    assert solve(tilt_view(document, -5.0).document).findings == ()
    assert Show() == msgspec.structs.replace(Show(), fan=False)


def test_the_ground_grid_reaches_two_squares_round_all_volumes_and_stands_on_an_empty_sheet():
    drawing = solve(with_show(CART, grid_module=400.0))
    ends = grid_segments(drawing.document, drawing.picture)[..., :2].reshape(-1, 2)
    low, high = (pick(drawing.scene.vertices[:, :2], axis=0) for pick in (np.min, np.max))
    assert np.allclose(ends.min(axis=0), 400.0 * (np.floor(low / 400.0) - 2))
    assert np.allclose(ends.max(axis=0), 400.0 * (np.ceil(high / 400.0) + 2))
    empty = solve(msgspec.structs.replace(drawing.document, volumes=()))
    ends = grid_segments(empty.document, empty.picture)[..., :2].reshape(-1, 2)
    assert np.allclose(ends.min(axis=0), -1600.0) and np.allclose(ends.max(axis=0), 1600.0)
