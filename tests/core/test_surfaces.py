"""Files that leave the program: true scale, named groups, the same marks everywhere."""

import csv
import io
import json
import re
from pathlib import Path

import numpy as np
import pypdfium2
import pytest
from defusedxml.ElementTree import fromstring

from isometron.demos.catalogue import DEMOS, demo
from isometron.document.edits import change_document, change_volume
from isometron.document.fresh import new_document, paper_size
from isometron.document.lengths.proportion import add_target, set_length
from isometron.solve.drawing import solve
from isometron.solve.marks import Role
from isometron.solve.report import report
from isometron.starters.catalogue import lay_starter
from isometron.surfaces.export import ExportError, export_bytes
from isometron.surfaces.page import check_bar, sheet_page
from isometron.surfaces.painters.pdf import POINTS_PER_MM, pdf_bytes
from isometron.surfaces.painters.svg import svg_text
from isometron.surfaces.png import ResolutionError, png_bytes
from isometron.surfaces.tables import CSV_COLUMNS, csv_text, json_text, plain_text
from isometron.view.sheet import PAPERS
from isometron.volumes.marks.face_marks import (
    ArchMark,
    CourseMark,
    CurveMark,
    CurvePoint,
    DivideMark,
    OpeningMark,
    PathMark,
    RingMark,
    TickMark,
)
from isometron.volumes.relations import Mirror

CART = solve(demo("tea-cart"))
SVG = "{http://www.w3.org/2000/svg}"


def path_points(element):
    return np.array([float(n) for n in re.findall(r"-?\d+\.\d+", element.get("d"))]).reshape(-1, 4)


def test_svg_is_in_millimetres_with_a_group_per_role_and_volume():
    root = fromstring(svg_text(CART))
    assert (root.get("width"), root.get("height"), root.get("viewBox")) == ("420mm", "297mm", "0 0 420 297")
    groups = {g.get("id"): g for g in root.iter(f"{SVG}g") if g.get("id")}
    assert {"object", "hidden", "construction", "guide", "horizon", "cone"} <= set(groups)
    for volume in CART.document.volumes:
        if not volume.see_through:
            group = groups[f"object-{volume.id}"]
            assert group.find(f"{SVG}title").text == volume.name
    assert "construction-whole" in groups
    counter = path_points(groups["object-counter"].find(f"{SVG}path"))
    corner = CART.picture.paper[CART.scene.vertex_owner == 2][1] + CART.document.sheet.centre_of_vision
    expected = (corner[0], 297.0 - corner[1])
    ends = np.vstack([counter[:, :2], counter[:, 2:]])
    assert np.hypot(*(ends - expected).T).min() < 1e-3


def test_svg_escapes_names():
    document = change_document(CART.document, "title", title="Tea & <cart>").document
    root = fromstring(svg_text(solve(document)))
    assert root.find(f"{SVG}title").text == "Tea & <cart>"


def test_construction_lines_can_stay_away():
    with_lines = set(sheet_page(CART).marks.lines.role)
    without = set(sheet_page(CART, construction=False).marks.lines.role)
    assert Role.GUIDE in with_lines and Role.CONSTRUCTION in with_lines
    assert without == {Role.OBJECT, Role.HIDDEN, Role.SURFACE}
    assert "HL" not in svg_text(CART, construction=False)


@pytest.mark.parametrize("paper", PAPERS)
@pytest.mark.parametrize("landscape", [True, False], ids=["landscape", "portrait"])
def test_pdf_page_has_the_sheets_size_and_a_bar_of_100_mm(paper, landscape):
    width, height = paper_size(paper, landscape=landscape)
    page = pypdfium2.PdfDocument(pdf_bytes(solve(new_document(width=width, height=height))))[0]
    assert page.get_size() == pytest.approx((width * POINTS_PER_MM, height * POINTS_PER_MM), abs=0.01)
    bar = check_bar(width, height)
    assert bar.lines.points[0, 2] - bar.lines.points[0, 0] == 100.0
    per_mm = 6.0
    picture = np.asarray(page.render(scale=per_mm / POINTS_PER_MM).to_pil().convert("L"))
    rows = picture[round((height - 6.4) * per_mm) : round((height - 5.6) * per_mm)]
    dark = np.flatnonzero(rows.min(axis=0) < 160)
    run = dark[: np.flatnonzero(np.diff(dark, append=10**6) > 2)[0] + 1]
    assert (run[-1] - run[0] + 1) / per_mm == pytest.approx(100.0, abs=0.5)
    assert "mm at true scale" in page.get_textpage().get_text_range()


def ink(image):
    return np.asarray(image.convert("L")) < 128


def test_pdf_and_png_show_the_same_ink(qapp):
    from PIL import Image

    dpi = 90.0
    png = ink(Image.open(io.BytesIO(png_bytes(CART, dpi=dpi * 2, construction=False))))
    pdf = ink(pypdfium2.PdfDocument(pdf_bytes(CART, construction=False))[0].render(scale=dpi * 2 / 72).to_pil())
    assert abs(png.shape[0] - pdf.shape[0]) <= 1 and abs(png.shape[1] - pdf.shape[1]) <= 1
    rows, columns = min(png.shape[0], pdf.shape[0]), min(png.shape[1], pdf.shape[1])
    png, pdf = png[:rows, :columns], pdf[:rows, :columns]
    for one, other in ((png, pdf), (pdf, png)):
        near = np.zeros_like(other)
        for dy in range(-4, 5):
            for dx in range(-4, 5):
                near |= np.roll(other, (dy, dx), (0, 1))
        missing = (one & ~near).sum() / one.sum()
        assert one.sum() > 1000
        assert missing < 0.01, "ink on one surface that the other does not have"


def test_png_size_and_resolution(qapp):
    from PIL import Image

    image = Image.open(io.BytesIO(png_bytes(CART, dpi=150)))
    assert image.size == (round(420 / 25.4 * 150), round(297 / 25.4 * 150))
    assert image.info["dpi"] == pytest.approx((150, 150), abs=0.1)
    for dpi in (5, 5000, float("nan")):
        with pytest.raises(ResolutionError, match="300 dpi suits"):
            png_bytes(CART, dpi=dpi)


def test_unknown_ending_is_told():
    with pytest.raises(ExportError, match=r"'\.gif' names no format. Known endings: \.svg, \.pdf"):
        export_bytes(CART, Path("cart.gif"))


def test_report_keys_are_those_of_the_page_that_promises_them():
    page = (Path(__file__).parents[2] / "docs" / "report-keys.md").read_text()
    promised = set(re.findall(r"^\| `([a-z0-9_.\[\]]+)`", page, flags=re.MULTILINE))

    def keys(value, path=""):
        if isinstance(value, dict):
            for key, inner in value.items():
                yield f"{path}{key}"
                yield from keys(inner, f"{path}{key}.")
        elif isinstance(value, list) and value and isinstance(value[0], dict):
            for inner in value:
                yield from keys(inner, f"{path[:-1]}[].")

    found = set()
    narrow = demo("tea-cart")
    narrow = change_document(narrow, "x", eye=narrow.eye.__class__(**{f: getattr(narrow.eye, f) for f in narrow.eye.__struct_fields__} | {"cone_deg": 10.0})).document  # fmt: skip
    meant = add_target(set_length(demo("stall-row"), "step", "2 bay").document, "bay.pitch = step").document
    meant = add_target(meant, "bay.long < lamp.long").document
    marks = (
        RingMark(face=0), ArchMark(face=2, wide=200.0, high=300.0), DivideMark(face=5, across=(0.5,)),
        OpeningMark(face=2, wide=200.0, high=300.0), CourseMark(face=3),
        CurveMark(face=1, points=(CurvePoint(at=(0.1, 0.2)), CurvePoint(at=(0.3, 0.4)))), TickMark(edge=0, parts=(0.5,)), PathMark(points=((0.1, 0.2), (0.8, 0.4))),
    )  # fmt: skip
    marked = change_volume(narrow, "body", "mark", marks=marks, mirror=Mirror(about="canopy")).document
    for document in (
        demo("tea-cart"), demo("perch-stool"), narrow, new_document(turn_deg=0.0), meant, marked,
        lay_starter(new_document(), "low-car").document,
    ):  # fmt: skip
        found |= set(keys(report(solve(document))))
    assert found == promised


@pytest.mark.parametrize("name", DEMOS)
def test_tables_agree_with_the_report(name):
    drawing = solve(demo(name))
    values = report(drawing)
    assert json.loads(json_text(values)) == json.loads(json.dumps(values))
    rows = list(csv.DictReader(io.StringIO(csv_text(values))))
    assert csv_text(values).splitlines()[0] == ",".join(CSV_COLUMNS)
    edges = [(v, e) for v in values["volumes"] for e in v["edges"]]
    assert len(rows) == len(edges)
    for row, (volume, edge) in zip(rows, edges, strict=True):
        assert row["volume_id"] == volume["id"]
        assert float(row["true_mm"]) == pytest.approx(edge["true"])
        assert float(row["drawn_mm"]) == pytest.approx(edge["drawn"], abs=1e-6)
        visible = sum(b - a for a, b in edge["visible"])
        assert float(row["hidden_percent"]) == pytest.approx(100 * (1 - visible), abs=1e-3)
    assert plain_text(values).count("\n  ") >= len(edges)


def test_foreshortening_of_an_edge_parallel_to_the_paper_is_one():
    document = new_document(turn_deg=0.0)
    from isometron.document.edits import add_volume
    from isometron.volumes.box import Box

    box = Box(id="b", name="B", corner=(-500.0, 0.0, 0.0), size=(1000.0, 800.0, 600.0))
    measures = solve(add_volume(document, box).document).measures(0)
    across = [m for m in measures if m.axis == 0]
    away = [m for m in measures if m.axis == 1]
    assert all(m.foreshortening == pytest.approx(1.0) and m.going == "across" for m in across)
    assert all(m.going == "away" and m.foreshortening < 1.0 for m in away)
    assert across[0].drawn == pytest.approx(1000.0 * 450.0 / 4500.0)
