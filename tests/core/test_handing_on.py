"""What is handed on beside the sheet: the template list, pages of a smaller paper, layers, the manual; read back by other programs."""

import csv
import io
import json
import shutil
import subprocess
import sys
import zipfile
from pathlib import Path

import ezdxf
import numpy as np
import pypdfium2
import pytest
from defusedxml.ElementTree import fromstring
from hypothesis import given
from hypothesis import strategies as st

from isometron.cli.commands import Windows, parser, run
from isometron.cli.manual import MANUALS
from isometron.demos.catalogue import demo
from isometron.document.edits import paste_volumes
from isometron.document.eyes.eye_edits import turn_object
from isometron.document.fresh import new_document, paper_size, take_paper
from isometron.document.rack import Rack
from isometron.document.store.files import save_document
from isometron.solve.drawing import solve
from isometron.solve.template_list import FARTHEST, template_list
from isometron.surfaces.export import ExportError, export_bytes
from isometron.surfaces.page import sheet_page
from isometron.surfaces.template_tables import template_table
from isometron.surfaces.tiles import tiling
from isometron.view.sheet import PAPERS
from isometron.view.templates import ellipse_gap
from isometron.volumes.turned import PROFILES, Turned

INKSCAPE = "{http://www.inkscape.org/namespaces/inkscape}"


def wheels_facing(count=3):
    """Wheels that stand in a row parallel to the paper: each is drawn as the same circle."""
    document = turn_object(new_document(), 0.0).document
    volumes = tuple(
        Turned(id=f"w{k}", name=f"Wheel {k}", profile=PROFILES["cylinder"], axle="wide", size=(400.0, 100.0, 400.0),
               corner=(-900.0 + 600.0 * k, 0.0, 0.0))
        for k in range(count)
    )  # fmt: skip
    return paste_volumes(document, volumes).document


def test_each_line_of_the_template_list_is_an_ellipse_that_is_drawn_there():
    drawing = solve(demo("delivery-van"))
    lines = template_list(drawing)
    arcs = sheet_page(drawing).marks.arcs.shape
    assert len(lines) > 8
    for line in lines:
        for left, lower in line.centres:
            near = np.hypot(arcs[:, 0] - left, arcs[:, 1] - lower) < 1e-6
            assert (
                near & (np.abs(2 * arcs[:, 2] - line.major) < 1e-6) & (np.abs(2 * arcs[:, 3] - line.minor) < 1e-6)
            ).any()
        if line.hole is not None:
            minor = line.hole * np.sin(np.radians(line.template_degree))
            gap = ellipse_gap(line.major / 2, line.minor / 2, line.hole / 2, minor / 2)[0]
            assert gap == pytest.approx(line.gap, abs=1e-9) and line.gap <= FARTHEST
        arc = arcs[np.argmin(np.hypot(arcs[:, 0] - line.centres[0][0], arcs[:, 1] - line.centres[0][1]))]
        assert abs((np.degrees(arc[4]) - line.axis + 90.0) % 180.0 - 90.0) < 0.5


def test_equal_rings_are_one_line_with_a_centre_each():
    lines = template_list(solve(wheels_facing()))
    assert [len(line.centres) for line in lines] == [3, 3], "the nearer rims, and the farther ones"
    (first, second, third) = lines[0].centres
    assert second[0] - first[0] == pytest.approx(third[0] - second[0]) and first[1] == pytest.approx(third[1])
    assert lines[0].degree == pytest.approx(90.0) and len(lines[0].where) == 3


def test_a_rack_without_a_fitting_template_says_so_and_tables_agree():
    drawing = solve(wheels_facing())
    poor = Rack(degrees=(10.0,), majors=(5.0,))
    assert all(line.hole is None for line in template_list(drawing, poor))
    assert "draw it by its axes" in template_table(drawing, "text", poor)
    rows = list(csv.DictReader(io.StringIO(template_table(drawing, "csv"))))
    told = json.loads(template_table(drawing, "json"))["templates"]
    assert [row["ring"] for row in rows] == ["1", "2", "3"] * 2 and len(told) == 2
    assert float(rows[0]["major_mm"]) == pytest.approx(told[0]["major"], abs=1e-3)
    places = [(float(row["centre_from_left_mm"]), float(row["centre_from_lower_edge_mm"])) for row in rows[:3]]
    assert places == [tuple(round(mm, 2) for mm in centre) for centre in told[0]["centres"]], "one number to a cell"
    assert "No ring" in template_table(solve(new_document()), "text")


def test_templates_on_the_command_line_take_a_rack(tmp_path, capfdbinary):
    file, rack = tmp_path / "w.isometron", tmp_path / "rack.csv"
    save_document(wheels_facing(), file)
    rack.write_text("degrees,90\nmajors,40 mm\n")
    assert run(["templates", str(file), "--rack", str(rack)], Windows(show=None, shoot=None)) == 0
    words = capfdbinary.readouterr().out.decode()
    assert "template 90°, hole 40.0 mm" in words and "from the left edge" in words


@given(st.floats(100.0, 900.0), st.floats(100.0, 900.0), st.sampled_from(["a4", "letter"]))
def test_pages_cover_the_sheet_and_share_a_strip_with_their_neighbours(width, height, paper):
    laid = tiling(width, height, paper)
    for whole, starts, part in zip((width, height), (laid.lefts, laid.lowers), laid.seen, strict=True):
        assert starts[0] <= 1e-9 and starts[-1] + part >= whole - 1e-9
        steps = np.diff(starts)
        assert (part - steps >= 12.0 - 1e-9).all()
        assert len(starts) == 1 or (len(starts) - 1) * part < whole + (len(starts) - 2) * 12.0 + 12.0


def test_a_sheet_in_pages_is_the_sheet_cut_up():
    drawing = solve(demo("delivery-van"))
    whole = pypdfium2.PdfDocument(export_bytes(drawing, Path("a.pdf")))[0].render(scale=1.0).to_numpy()[..., 0]
    pages = pypdfium2.PdfDocument(export_bytes(drawing, Path("a.pdf"), tiles="a4"))
    laid, point = tiling(420.0, 297.0), 72 / 25.4
    assert len(pages) == laid.count == 4
    assert "Lay cross on cross" in pages[3].get_textpage().get_text_range()
    assert laid.lefts[1] - laid.lefts[0] == pytest.approx(laid.seen[0] - 12.0), (
        "no more is drawn twice than has to be"
    )
    tile = pages[0].render(scale=1.0).to_numpy()[..., 0]
    whole = np.pad(whole, 200, constant_values=255)  # the outer pages reach beyond the sheet
    margin, left, top = (
        laid.margin * point,
        laid.lefts[0] * point + 200,
        (297.0 - laid.lowers[-1] - laid.seen[1]) * point + 200,
    )
    wide, high = (int(side * point) - 4 for side in laid.seen)
    own = tile[round(margin) + 2 : round(margin) + high, round(margin) + 2 : round(margin) + wide] < 140
    there = whole[round(top) + 2 : round(top) + high, round(left) + 2 : round(left) + wide] < 140
    near = own.copy()
    for axis, by in ((0, 1), (0, -1), (1, 1), (1, -1)):
        near |= np.roll(own, by, axis)
    assert there.sum() > 500 and (near & there).sum() > 0.97 * there.sum()
    assert tiling(210.0, 297.0).count == 1 and tiling(297.0, 210.0).count == 1
    with pytest.raises(ExportError, match="PDF"):
        export_bytes(drawing, Path("a.svg"), tiles="a4")


def test_dxf_of_the_perspective_has_the_drawing_in_mm_of_paper_in_layers():
    drawing = solve(demo("delivery-van"))
    file = ezdxf.read(io.StringIO(export_bytes(drawing, Path("a.dxf")).decode()))
    layers = {layer.dxf.name for layer in file.layers}
    assert {"sheet", "body", "body-hidden", "wheel"} <= layers
    page = sheet_page(drawing).marks
    ends = {tuple(np.round(e.dxf.start, 3)[:2]) for e in file.modelspace().query("LINE")}
    ends |= {tuple(np.round(e.dxf.end, 3)[:2]) for e in file.modelspace().query("LINE")}
    points = {tuple(row) for row in np.round(page.lines.points.reshape(-1, 2), 3).tolist()}
    on_rim = {end for end in ends if min(end[0], end[1], 420.0 - end[0], 297.0 - end[1]) < 1e-6}
    assert len(ends) > 50 and len(ends - points - on_rim) == 0, "what leaves the sheet ends at its edge"
    low, high = np.array(file.header["$EXTMIN"][:2]), np.array(file.header["$EXTMAX"][:2])
    assert (low >= -1e-6).all() and (high <= np.array([420.0, 297.0]) + 1e-6).all() and (high - low > 100.0).all()
    hidden, light = file.layers.get("body-hidden").dxf, file.layers.get("body").dxf
    assert (hidden.lineweight, light.lineweight) == (18, 50)
    rings = [e for e in file.modelspace().query("ELLIPSE") if abs(e.dxf.end_param - e.dxf.start_param) > 6.28]
    assert rings and all((e.dxf.start_param, e.dxf.end_param) == (0.0, pytest.approx(2 * np.pi)) for e in rings)
    rim = file.modelspace().query('LWPOLYLINE[layer=="sheet"]')[0]
    assert max(point[0] for point in rim.get_points()) == 420.0


def test_svg_has_layers_that_editors_show():
    root = fromstring(export_bytes(solve(demo("tea-cart")), Path("a.svg")).decode())
    layers = [g for g in root.iter("{http://www.w3.org/2000/svg}g") if g.get(f"{INKSCAPE}groupmode") == "layer"]
    names = [g.get(f"{INKSCAPE}label") for g in layers]
    assert "object" in names and "hidden" in names and "Canopy" in names


@pytest.mark.parametrize("landscape", [True, False])
@pytest.mark.parametrize("paper", PAPERS)
def test_the_start_of_an_empty_sheet_lies_on_every_paper(paper, landscape):
    width, height = paper_size(paper, landscape=landscape)
    for document in (new_document(width=width, height=height), take_paper(new_document(), width, height).document):
        u, v = document.eye.project([(0.0, 0.0, 0.0)])[0][0]
        left, lower, right, upper = document.sheet.rectangle
        assert left + 10 < u < right - 10 and lower + 0.08 * height < v < upper - 10


def test_the_manual_names_every_command_and_argument():
    made = parser()
    for form in MANUALS.values():
        text = form(made)
        for word in ("templates", "export", "construct"):
            assert word in text
    man = MANUALS["man"](made).replace("\\-", "-")
    assert "--tiles a4|letter" in man and "--no-construction" in man and man.startswith(".TH ISOMETRON 1")


def completed(words):
    """What bash offers after these words, by the shipped completion."""
    script = Path(__file__).parents[2] / "share" / "isometron"
    quoted = " ".join(f"'{word}'" for word in words)
    command = f"source '{script}'; COMP_WORDS=({quoted}); COMP_CWORD={len(words) - 1}; _isometron; echo \"${{COMPREPLY[@]}}\""
    return subprocess.run(["bash", "-c", command], capture_output=True, text=True, check=True).stdout.split()


def test_the_shell_completes_commands_options_and_choices():
    assert completed(["isometron", "temp"]) == ["templates"]
    assert completed(["isometron", "export", "--ti"]) == ["--tiles"]
    assert completed(["isometron", "export", "--tiles", ""]) == ["a4", "letter"]


PARTS = (
    "share/applications/org.isometron.Isometron.desktop", "share/metainfo/org.isometron.Isometron.metainfo.xml",
    "share/mime/packages/org.isometron.Isometron.xml", "share/icons/hicolor/scalable/apps/org.isometron.Isometron.svg",
    "share/man/man1/isometron.1", "share/bash-completion/completions/isometron", "isometron/assets/handbook/first-hour.md",
    "isometron/assets/handbook/pictures/hour-01.png", "isometron/assets/isometron.schema.json",
)  # fmt: skip


def test_a_wheel_carries_all_that_a_desktop_wants_and_no_compiler(tmp_path):
    root = Path(__file__).parents[2]
    script = "import sys; from setuptools import build_meta as b; print(b.build_wheel(sys.argv[1]))"
    environment = {"PATH": "/usr/bin:/bin", "CC": "/bin/false", "HOME": str(tmp_path)}
    work = tmp_path / "source"
    for name in ("src", "share", "docs/screenshots"):
        shutil.copytree(root / name, work / name, ignore=shutil.ignore_patterns("*.so", "__pycache__", "*.egg-info"))
    for name in ("pyproject.toml", "README.md", "CHANGELOG.md", "LICENSE", "MANIFEST.in"):
        shutil.copy(root / name, work / name)
    (work / "setup.py").write_text("from setuptools import setup\n\nsetup()\n")  # the loops take half a minute
    subprocess.run(
        [sys.executable, "-c", script, str(tmp_path)], cwd=work, env=environment, capture_output=True, check=True
    )
    (wheel,) = tmp_path.glob("*.whl")
    held = zipfile.ZipFile(wheel)
    names = held.namelist()
    for part in PARTS:
        assert any(name.endswith(part) for name in names), part
    (metadata,) = (name for name in names if name.endswith("METADATA"))
    needs = [line for line in held.read(metadata).decode().splitlines() if line.startswith("Requires-Dist")]
    assert not any("Cython" in line and "extra" not in line for line in needs)


def test_the_loops_run_as_python_without_the_compilers_module():
    """The same pictures of rings, from the loops as they are compiled and as the Python they are, with no Cython to import."""
    script = """
import importlib.abc, importlib.machinery, sys
class Bare(importlib.abc.MetaPathFinder):
    def find_spec(self, name, path=None, target=None):
        if name.partition('.')[0].lower() == 'cython':
            return None
        if name.startswith('isometron.') and name.endswith('_loops'):
            file = path[0] + '/' + name.rpartition('.')[2] + '.py'
            return importlib.util.spec_from_file_location(name, file)
        return None
import importlib.util
real = importlib.util.find_spec
importlib.util.find_spec = lambda name, *a: None if name == 'cython' else real(name, *a)
sys.meta_path.insert(0, Bare())
sys.path[:] = [p for p in sys.path]
from isometron.geometry import piece_loops, chain_loops
assert piece_loops.__file__.endswith('.py'), piece_loops.__file__
import cython
assert 'isometron' in cython.__doc__
from isometron.demos.catalogue import demo
from isometron.solve.drawing import solve
import numpy as np
print(float(np.abs(solve(demo('ember-lantern')).marks.arcs.shape).sum()))
"""
    found = subprocess.run([sys.executable, "-c", script], capture_output=True, text=True, check=False)
    assert found.returncode == 0, found.stderr[-2000:]
    expected = float(np.abs(solve(demo("ember-lantern")).marks.arcs.shape).sum())
    assert float(found.stdout) == pytest.approx(expected, rel=1e-9)


def test_rings_that_lean_to_opposite_sides_are_lines_of_their_own():
    document = turn_object(new_document(), 0.0).document
    volumes = tuple(
        Turned(id=f"w{k}", name=f"Wheel {k}", profile=PROFILES["cylinder"], axle="long", size=(100.0, 400.0, 400.0), corner=(x, 0.0, 0.0))
        for k, x in enumerate((-950.0, 850.0))
    )  # fmt: skip
    lines = template_list(solve(paste_volumes(document, volumes).document))
    assert len(lines) == 4 and all(len(line.centres) == 1 for line in lines)
    leans = sorted(round(line.axis, 3) for line in lines if abs(line.major - lines[0].major) < 1e-6)
    assert leans[0] == pytest.approx(-leans[1]) and abs(leans[0]) > 1.0
