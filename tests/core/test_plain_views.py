"""Side, front and plan: exact lines, what hides what, the printed sheet, and files that other programs read."""

import io
from xml.etree import ElementTree

import ezdxf
import msgspec
import numpy as np
import pypdfium2
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from isometron.demos.catalogue import DEMOS, demo
from isometron.document.fresh import new_document
from isometron.document.lengths.proportion import set_module
from isometron.document.model import Document
from isometron.document.planes.plane_edits import centre_line, change_plane
from isometron.solve.marks import Role
from isometron.solve.plain_views import VIEWS, bounds_of, plain_view, view_axes
from isometron.surfaces.plain_sheet import (
    PLAIN_EXPORTS,
    SCALES,
    PlainSheetError,
    lay_out,
    plain_export,
    plain_page,
    scale_for,
)
from isometron.tools.plain_views import caught, pulled, quarter_places, volume_at
from isometron.volumes.box import Box
from isometron.volumes.building import scene_of
from isometron.volumes.cut.begin import leaning
from isometron.volumes.cut.profiles import CutBody
from isometron.volumes.turned import PROFILES, Turned
from tests.strategies import boxes

SIZES = {"side": (0, 2), "front": (1, 2), "plan": (0, 1)}


def holding(*volumes):
    return Document(sheet=new_document().sheet, eye=new_document().eye, volumes=volumes)


def block(number, corner, size, **fields):
    return Box(id=f"b{number}", name=f"B {number}", corner=corner, size=size, **fields)


def drawn_length(lines, role):
    ends = lines.points[lines.role == role].reshape(-1, 2, 2)
    return float(np.linalg.norm(ends[:, 1] - ends[:, 0], axis=1).sum())


@settings(max_examples=30)
@given(st.lists(boxes(), min_size=1, max_size=3))
def test_every_end_in_a_view_lies_on_its_edge_to_the_last_digit(found):
    volumes = tuple(
        Box(**{**{n: getattr(v, n) for n in Box.__struct_fields__}, "id": f"v{k}"}) for k, v in enumerate(found)
    )
    document = holding(*volumes)
    scene = scene_of(volumes)
    for name in VIEWS:
        view = plain_view(document, name)
        flat = scene.vertices @ view_axes(name).T
        start, end = (flat[scene.edges[view.marks.lines.edge, k]] for k in (0, 1))
        along = end - start
        length = np.maximum(np.hypot(*along.T), 1e-12)
        for point in (view.marks.lines.points[:, :2], view.marks.lines.points[:, 2:]):
            gap = np.abs(along[:, 0] * (point - start)[:, 1] - along[:, 1] * (point - start)[:, 0]) / length
            assert gap.max(initial=0.0) < 1e-9 * max(1.0, np.abs(flat).max())
        low, high = bounds_of(scene, name)
        places = view.marks.lines.points.reshape(-1, 2)
        assert (places >= low - 1e-6).all() and (places <= high + 1e-6).all()


@given(st.tuples(*[st.floats(20.0, 900.0)] * 3), st.tuples(*[st.floats(-900.0, 900.0)] * 3), st.sampled_from(VIEWS))
def test_a_square_standing_box_is_a_rectangle_of_its_own_sizes(size, corner, name):
    view = plain_view(holding(block(1, corner, size)), name, hidden=False)
    wide, high = (size[k] for k in SIZES[name])
    assert drawn_length(view.marks.lines, Role.OBJECT) == pytest.approx(2 * (wide + high), rel=1e-9)
    assert view.high - view.low == pytest.approx((wide, high), rel=1e-9)
    assert drawn_length(view.marks.lines, Role.HIDDEN) == 0.0, "hidden parts are left out when that is asked for"


@given(st.floats(0.1, 0.9), st.floats(0.1, 0.9), st.sampled_from(VIEWS))
def test_what_stands_behind_is_hidden_and_what_stands_before_is_not(across, up, name):
    """A small block within the outline of a large one: behind it all of it is hidden, before it all of it is seen."""
    a, b = SIZES[name]
    k = 3 - a - b
    toward = {"side": -1.0, "front": 1.0, "plan": 1.0}[name]
    great = block(1, (0.0, 0.0, 0.0), (1000.0, 1000.0, 1000.0))
    corner, size = [0.0, 0.0, 0.0], [80.0, 80.0, 80.0]
    corner[a], corner[b] = across * 1000.0 - 40.0, up * 1000.0 - 40.0
    for before in (True, False):
        corner[k] = 2000.0 if (toward > 0) == before else -1080.0
        view = plain_view(holding(great, block(2, tuple(corner), tuple(size))), name)
        own = view.marks.lines.select(view.marks.lines.owner == 1)
        seen, gone = drawn_length(own, Role.OBJECT), drawn_length(own, Role.HIDDEN)
        if before:
            assert seen == pytest.approx(320.0, rel=1e-9)
        else:
            assert seen == pytest.approx(0.0, abs=1e-6) and gone > 0.0


@given(st.floats(100.0, 900.0), st.floats(20.0, 200.0), st.sampled_from(["long", "wide", "high"]))
def test_a_wheel_is_a_true_circle_along_its_axle_and_a_rectangle_across_it(diameter, width, axle):
    size = [diameter] * 3
    size[("long", "wide", "high").index(axle)] = width
    wheel = Turned(id="w", name="W", corner=(10.0, 20.0, 30.0), size=tuple(size), axle=axle,
                   profile=PROFILES["cylinder"])  # fmt: skip
    document = holding(wheel)
    round_view = {"wide": "side", "long": "front", "high": "plan"}[axle]
    for name in VIEWS:
        view = plain_view(document, name, hidden=False)
        assert sorted(view.high - view.low) == pytest.approx(sorted(size[k] for k in SIZES[name]), rel=1e-6), (
            "its bounds are its sizes"
        )
        if name == round_view:
            whole = view.marks.arcs.shape[view.marks.arcs.role == Role.OBJECT]
            assert whole[:, 2].max() == pytest.approx(diameter / 2, rel=1e-4)
            assert whole[:, 3].max() == pytest.approx(diameter / 2, rel=1e-4)
            middle = (view.low + view.high) / 2
            assert np.abs(whole[:, :2] - middle).max() < 1e-3 * diameter


def test_a_raked_side_is_seen_in_the_side_view_at_its_true_slope():
    cabin = CutBody(id="c", name="C", corner=(0.0, 0.0, 0.0), size=(1000.0, 600.0, 400.0), side=leaning(0.2, 0.1))
    lines = plain_view(holding(cabin), "side", hidden=False).marks.lines
    ends = {tuple(sorted((tuple(p[:2].round(6)), tuple(p[2:].round(6))))) for p in lines.points}
    assert ((0.0, 0.0), (200.0, 400.0)) in ends and ((900.0, 400.0), (1000.0, 0.0)) in ends


def test_nothing_and_what_is_put_away_have_a_place_to_look_at():
    for name in VIEWS:
        view = plain_view(new_document(), name)
        assert len(view.marks.lines) == 0 and (view.high > view.low).all()
        away = plain_view(holding(block(1, (0.0, 0.0, 0.0), (9.0, 9.0, 9.0), put_away=True)), name)
        assert not (away.marks.lines.role == Role.OBJECT).any()


@given(st.tuples(*[st.floats(10.0, 90_000.0)] * 3))
def test_the_sheet_takes_the_largest_ruler_scale_and_the_views_stand_in_line_apart(size):
    views = {name: plain_view(holding(block(1, (5.0, 6.0, 7.0), size)), name) for name in VIEWS}
    scale = scale_for(views, 420.0, 297.0)
    assume(scale <= SCALES[-1])
    assert scale in SCALES
    side, front, plan = lay_out(views, 420.0, 297.0, scale)
    boxes_ = [np.array([p.at(p.view.low, scale), p.at(p.view.high, scale)]) for p in (side, front, plan)]
    for box in boxes_:
        assert (box >= 0.0).all() and (box <= (420.0, 297.0)).all()
    assert boxes_[1][0, 0] > boxes_[0][1, 0] and boxes_[2][0, 1] > boxes_[0][1, 1], "no view lies on another"
    assert boxes_[0][:, 1] == pytest.approx(boxes_[1][:, 1]) and boxes_[0][:, 0] == pytest.approx(boxes_[2][:, 0])
    smaller = [s for s in SCALES if s < scale]
    if smaller:
        across = (size[0] + size[1]) / smaller[-1]
        up = (size[2] + size[1]) / smaller[-1]
        assert across > 420.0 - 61.0 or up > 297.0 - 61.0, "the next larger scale does not fit"


def test_the_sheet_tells_scale_sizes_and_the_module_grid():
    document = set_module(holding(block(1, (0.0, 0.0, 0.0), (2000.0, 900.0, 600.0)),
                                  block(2, (0.0, 0.0, 600.0), (500.0, 500.0, 500.0))), "b_2").document  # fmt: skip
    marks = plain_page(document, 420.0, 297.0)
    words = [label.text for label in marks.marks.labels]
    assert words.count("2000 mm") == 2 and words.count("1100 mm") == 2 and words.count("900 mm") == 2
    assert any("scale 1 : 10" in w for w in words) and {"Side", "Front", "Plan"} <= set(words)
    grid = marks.marks.lines.points[marks.marks.lines.role == Role.GRID]
    side = grid[np.isclose(grid[:, 0], grid[:, 2])]
    gaps = np.unique(np.diff(np.unique(side[:, 0].round(6))).round(4))
    assert 50.0 in gaps, "a module of 500 mm is 50 mm on paper"


@pytest.mark.parametrize("name", sorted(DEMOS))
def test_every_demo_is_written_and_read_back(name, tmp_path):
    document = demo(name)
    pdf = pypdfium2.PdfDocument(plain_export(document, tmp_path / "v.pdf"))
    assert len(pdf) == 1
    mm = 72.0 / 25.4
    assert pdf[0].get_size() == pytest.approx((document.sheet.width * mm, document.sheet.height * mm), abs=0.5)
    assert "scale" in pdf[0].get_textpage().get_text_range()
    svg = ElementTree.fromstring(plain_export(document, tmp_path / "v.svg"))
    assert svg.get("width") == f"{document.sheet.width:g}mm"
    drawing = ezdxf.read(io.StringIO(plain_export(document, tmp_path / "v.dxf").decode()))
    assert not drawing.audit().has_errors
    kinds = {entity.dxftype() for entity in drawing.modelspace()}
    assert kinds <= {"LINE", "LWPOLYLINE", "ELLIPSE", "CIRCLE", "ARC", "SPLINE"} and drawing.units == ezdxf.units.MM
    views = [plain_view(document, view) for view in VIEWS]
    edges, outlines = (sum(int(((v.marks.lines.edge >= 0) == own).sum()) for v in views) for own in (True, False))
    bent = sum(len(v.marks.arcs.role) for v in views)
    few = edges + bent + outlines // 8 + 20
    assert edges + bent <= len(drawing.modelspace()) <= few, "outlines are polylines, not their hundreds of pieces"


def test_a_dxf_is_at_full_size_with_a_layer_for_each_volume(tmp_path):
    document = holding(
        block(1, (0.0, 0.0, 0.0), (1234.5, 600.0, 300.0)), block(2, (100.0, 700.0, 100.0), (80.0, 80.0, 80.0))
    )
    drawing = ezdxf.read(io.StringIO(plain_export(document, tmp_path / "v.DXF").decode()))
    lengths = [e.dxf.start.distance(e.dxf.end) for e in drawing.modelspace().query("LINE[layer=='b1']")]
    assert max(lengths) == pytest.approx(1234.5, abs=1e-9)
    hidden = drawing.modelspace().query("LINE[layer=='b2-hidden']")
    assert len(hidden) >= 4 and drawing.layers.get("b2-hidden").dxf.linetype == "DASHED"


def test_an_unknown_ending_is_refused_by_name(tmp_path):
    with pytest.raises(PlainSheetError, match=r"v\.bmp: the ending '\.bmp' .* \.pdf, \.svg, \.dxf"):
        plain_export(new_document(), tmp_path / "v.bmp")
    assert set(PLAIN_EXPORTS) == {".pdf", ".svg", ".dxf"}


def test_places_are_caught_by_volumes_the_ground_and_quarter_lines_within_reach():
    document = holding(
        block(1, (0.0, 0.0, 0.0), (2000.0, 900.0, 600.0)), block(2, (3000.0, 0.0, 0.0), (500.0, 500.0, 500.0))
    )

    def at(view, place, **more):
        return caught(document, view, np.array(place), reach=20.0, step=1.0, **more).tolist()

    assert at("side", (1990.0, 590.0)) == [2000.0, 600.0], "an end and a top"
    assert at("side", (1004.0, 307.0)) == [1000.0, 300.0], "middles"
    assert at("side", (1500.0, 15.0)) == [1500.0, 0.0] and at("side", (1500.0, 21.0))[1] == 21.0, (
        "the ground, within reach"
    )
    alone = holding(block(1, (0.0, 5000.0, 0.0), (2000.0, 900.0, 600.0)))
    assert caught(alone, "plan", np.array([1500.4, 12.0]), reach=20.0, step=1.0).tolist() == [1500.0, 12.0], (
        "no ground in plan"
    )
    assert at("side", (1990.0, 590.0), moving=document.volumes[0].id) == [1990.0, 590.0], "not by itself"
    assert at("side", (703.0, 100.0), quarters=([700.0], [])) == [700.0, 100.0]
    assert (
        quarter_places(100.0, 900.0, 400.0) == [100.0 + 100.0 * k for k in range(9)]
        and quarter_places(0.0, 9.0, None) == []
    )
    assert volume_at(document, "side", np.array([3100.0, 100.0])) == document.volumes[1].id
    assert volume_at(document, "side", np.array([2500.0, 100.0])) is None


def test_a_pulled_side_moves_alone_and_never_through_the_other():
    box = block(1, (100.0, 0.0, 0.0), (2000.0, 900.0, 600.0))
    axes = view_axes("side")
    assert pulled(box, axes, (1, 0), np.array([2500.0, 0.0])) == ((100.0, 0.0, 0.0), (2400.0, 900.0, 600.0))
    assert pulled(box, axes, (-1, 1), np.array([0.0, 700.0])) == ((0.0, 0.0, 0.0), (2100.0, 900.0, 700.0))
    assert pulled(box, axes, (-1, 0), np.array([2100.0, 0.0])) is None


def test_sections_and_panes_are_in_the_plain_views():
    body = Box(id="b", name="Block", corner=(100.0, 200.0, 0.0), size=(900.0, 600.0, 500.0))
    document = msgspec.structs.replace(new_document(), volumes=(body,))
    plain = plain_view(document, "plan")
    cut = plain_view(centre_line(document, "b").document, "plan")
    more = cut.marks.lines.select(cut.marks.lines.edge < 0).points
    assert len(more) > len(plain.marks.lines.select(plain.marks.lines.edge < 0).points)
    lines = np.concatenate([more[:, :2], more[:, 2:]])
    # Seen from above the middle plane is a line along the middle of the width.
    assert lines[:, 1] == pytest.approx(500.0, abs=0.05)
    assert lines[:, 0].min() == pytest.approx(100.0, abs=0.05) and lines[:, 0].max() == pytest.approx(
        1000.0, abs=0.05
    )
    shown = change_plane(centre_line(document, "b").document, "plane-1", shown=True).document
    assert len(plain_view(shown, "side").marks.fills) == 1
