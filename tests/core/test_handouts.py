"""Worksheets, SVG steps and JSON of constructions, as files that other programs read back."""

import json
import re

import pypdfium2
import pytest
from defusedxml.ElementTree import fromstring

from isometron.cli.commands import Windows, run
from isometron.construct.schools import construct
from isometron.demos.catalogue import demo
from isometron.document.eyes.eye_edits import tilt_view, turn_object
from isometron.document.store.files import save_document
from isometron.solve.drawing import solve
from isometron.solve.ring_facts import ring_facts
from isometron.surfaces.plate import step_frame
from isometron.surfaces.steps import construction_record, step_svgs
from isometron.surfaces.worksheet import worksheet_pdf
from isometron.volumes.box import Box

CART = demo("tea-cart")


def main(words):
    return run(words, Windows(show=None, shoot=None))


VIEWS = {
    "plan": CART,
    "measuring": CART,
    "diagonal": CART,
    "height": CART,
    "one-point": turn_object(CART, 0.0).document,
    "by-guess": turn_object(CART, 90.0).document,
    "three-point": tilt_view(CART, -20.0).document,
}


@pytest.fixture
def file(tmp_path):
    path = tmp_path / "cart.isometron"
    save_document(CART, path)
    return path


@pytest.mark.parametrize("school", VIEWS)
def test_a_worksheet_has_its_pages_and_a_sheet_at_true_scale(school):
    document = VIEWS[school]
    done = construct(document, "counter", school)
    pdf = pypdfium2.PdfDocument(worksheet_pdf(document, [done]))
    assert len(pdf) == 1 + (len(done.steps) + 1) // 2 + 1
    assert pdf[0].get_size() == pytest.approx((210 / 25.4 * 72, 297 / 25.4 * 72), abs=0.01)
    assert pdf[len(pdf) - 1].get_size() == pytest.approx((420 / 25.4 * 72, 297 / 25.4 * 72), abs=0.01)
    first, text = (pdf[page].get_textpage().get_text_range() for page in (0, 1))
    assert done.title in first and "Scale on the true line of measure 1 :" in first
    assert "1." in text and done.steps[0].sentence.split(".")[0][:40] in text.replace("\r\n", " ")
    dark = [pdf[page].render(scale=0.5).to_numpy().min() for page in range(len(pdf))]
    assert max(dark) < 200, "no page is blank"


def test_the_practice_sheet_has_only_the_set_up():
    done = construct(CART, "counter", "measuring")
    pdf = pypdfium2.PdfDocument(worksheet_pdf(CART, [done]))
    last = pdf[len(pdf) - 1].get_textpage().get_text_range()
    assert re.search(r"^A\r?$", last, re.MULTILINE) and "100 mm at true scale" in last
    assert "MP R" not in last


@pytest.mark.parametrize("school", VIEWS)
def test_every_step_is_an_svg_that_shows_what_is_new(school):
    document = VIEWS[school]
    done = construct(document, "counter", school)
    texts = step_svgs(document, done)
    assert len(texts) == len(done.steps)
    for number, (text, step) in enumerate(zip(texts, done.steps, strict=True)):
        root = fromstring(text)
        assert root.find("{*}desc").text == step.sentence
        frame = step_frame(document, done, number)
        assert root.get("width") == f"{frame.width:.6g}mm"
        near = [spot for spot in step.points if frame.holds(spot)]
        assert near or not step.points or school == "three-point"


def test_json_says_where_each_point_lies_from_the_sheets_corner():
    done = construct(CART, "counter", "plan")
    record = construction_record(CART, done)
    x, y = CART.sheet.centre_of_vision
    for point in record["ends"]:
        assert (point["from_left"], point["from_lower"]) == pytest.approx((point["u"] + x, point["v"] + y))
    drawing = solve(CART)
    corners = drawing.picture.paper[drawing.scene.vertex_owner == CART.index_of("counter")]
    ends = sorted((p["u"], p["v"]) for p in record["ends"])
    assert ends == [pytest.approx(tuple(c), abs=1e-6) for c in sorted(map(tuple, corners))]


def test_construct_on_the_command_line(file, tmp_path, capsys):
    assert main(["construct", str(file), "Counter", "--school", "plan", "--out", str(tmp_path / "w.pdf")]) == 0
    assert (tmp_path / "w.pdf").read_bytes().startswith(b"%PDF")
    assert main(["construct", str(file), "counter", "--out", str(tmp_path / "s.svg")]) == 0
    assert sorted(p.name for p in tmp_path.glob("s-*.svg"))[:2] == ["s-01.svg", "s-02.svg"]
    assert main(["construct", str(file), "counter", "--format", "json"]) == 0
    assert json.loads(capsys.readouterr().out)["school"] == "plan", "without a school, one that works"
    assert main(["construct", str(file), "counter", "--school", "measuring"]) == 0
    assert capsys.readouterr().out.startswith("Measuring points\n\n1. Mark CV, ")


@pytest.mark.parametrize(
    ("words", "said"),
    [
        (["nobody"], "no volume with the id or name 'nobody'"),
        (["counter", "--school", "oil"], "no school called 'oil'"),
        (["counter", "--school", "three-point"], "“Plan method” works (plan)"),
        (["counter", "--out", "x.docx"], "'.docx' names no kind of worksheet"),
    ],
)
def test_what_cannot_be_constructed_is_said_with_a_remedy(file, capsys, words, said):
    assert main(["construct", str(file), *words]) == 2
    assert said in capsys.readouterr().err


@pytest.mark.parametrize(("name", "common"), [("three-rows", "CV"), ("tea-cart", "VP R")])
def test_several_boxes_are_one_worksheet_with_a_page_each(name, common, tmp_path):
    """What sets all of them up is told once; each page has the steps of its own box."""
    save_document(demo(name), tmp_path / "boxes.isometron")
    names = [volume.name for volume in demo(name).volumes if isinstance(volume, Box)][:9]
    out = tmp_path / "boxes.pdf"
    ask = ["construct", str(tmp_path / "boxes.isometron"), *names, "--school", "measuring", "--out", str(out)]
    assert main(ask) == 0
    pages = pypdfium2.PdfDocument(out)
    told = [pages[k].get_textpage().get_text_range() for k in range(len(pages))]
    assert len(told) == 1 + len(names) + 1 and len(names) >= 3
    assert all(each in told[0] for each in names) and common in told[0]
    for each, page in zip(names, told[1:], strict=False):
        volume = demo(name).named_volume(each)
        last = construct(demo(name), volume.id, "measuring").steps[-1].sentence
        assert last in " ".join(page.split()), "the same words on every page, where they lead to other places"
        assert page.startswith(each) and "lay off" in page and "Draw" in page
    if common != "CV":
        assert "the horizon." in told[1] and not any("the horizon." in page for page in told[2:-1])


def test_the_ring_that_is_asked_for_is_constructed(tmp_path, capsys):
    save_document(demo("ember-lantern"), tmp_path / "lantern.isometron")
    ask = ["construct", str(tmp_path / "lantern.isometron"), "Body", "--school", "ring-4"]
    told = []
    for more in ([], ["--ring", "1"], ["--ring", "3"]):
        assert main([*ask, *more]) == 0
        told.append(capsys.readouterr().out)
    sides = [re.search(r"square round the ring, (\d+(?:\.\d+)?) mm", text)[1] for text in told]
    rings = ring_facts(solve(demo("ember-lantern")), 0)
    assert [float(side) for side in sides[1:]] == [pytest.approx(rings[k].diameter) for k in (0, 2)]
    assert told[1] != told[2]
