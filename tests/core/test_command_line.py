"""The command line as a process, without a display; and the house rules that keep it light."""

import argparse
import json
import os
import re
import subprocess
import sys
from pathlib import Path

import msgspec
import pytest

from isometron.cli.commands import parser
from isometron.document.store.files import load_document

ENVIRONMENT = {k: v for k, v in os.environ.items() if k not in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")}
ROOT = Path(__file__).parents[2]


def isometron(*words, **options):
    return subprocess.run(
        [sys.executable, "-m", "isometron", *map(str, words)],
        capture_output=True, text=True, env=ENVIRONMENT, timeout=120, **options,
    )  # fmt: skip


@pytest.fixture(scope="module")
def cart(tmp_path_factory):
    path = tmp_path_factory.mktemp("files") / "cart.isometron"
    assert isometron("demo", "--save", path).returncode == 0
    return path


def test_demo_schema_and_report(cart):
    assert load_document(cart).title == "Tea cart"
    assert "$defs" in json.loads(isometron("schema").stdout)
    whole = isometron("report", cart, "--format", "json")
    assert whole.returncode == 0 and whole.stderr == ""
    assert json.loads(whole.stdout)["volumes"][1]["name"] == "Body"
    assert isometron("report", cart, "--format", "csv").stdout.startswith("volume_id,")
    assert "Body   1800 x 990 x 720 mm" in isometron("report", cart).stdout


@pytest.mark.parametrize("ending", ["svg", "pdf", "png", "csv", "json"])
def test_export(cart, tmp_path, ending):
    out = tmp_path / f"cart.{ending}"
    done = isometron("export", cart, out, "--dpi", "72", "--no-construction")
    if ending == "svg":
        assert "eye level" not in out.read_text()
    assert (done.returncode, done.stdout, done.stderr) == (0, "", "")
    assert out.stat().st_size > 2000
    assert "was there" not in done.stderr
    again = isometron("export", cart, out, "--dpi", "72")
    assert again.returncode == 0 and "was there and was replaced" in again.stderr
    if ending == "svg":
        assert "eye level" in out.read_text(), "with construction lines unless they are left out"


def test_shot_is_the_real_window(cart, tmp_path):
    from PIL import Image

    out = tmp_path / "shot.png"
    assert isometron("shot", cart, out, "--size", "1100x720").returncode == 0
    image = Image.open(out)
    assert image.size == (1100, 720)
    assert {(0xFB, 0xF8, 0xF1), (0x33, 0x40, 0x3F)} <= set(image.convert("RGB").get_flattened_data())


def test_strict_exits_with_one_when_there_are_warnings(cart, tmp_path):
    assert isometron("report", cart, "--strict").returncode == 0
    text = cart.read_text().replace('"cone_deg": 60.0', '"cone_deg": 12.0')
    narrow = tmp_path / "narrow.isometron"
    narrow.write_text(text)
    assert isometron("report", narrow, "--strict").returncode == 1
    assert isometron("report", narrow).returncode == 0
    done = isometron("export", narrow, tmp_path / "narrow.svg", "--strict")
    assert done.returncode == 1 and "cone of vision" in done.stderr
    assert (tmp_path / "narrow.svg").exists()


@pytest.mark.parametrize(
    ("words", "told"),
    [
        (["report", "{missing}"], "does not exist"),
        (["export", "{cart}", "{out}.gif"], "names no format"),
        (["export", "{cart}", "{out}.png", "--dpi", "9999"], "between 10 and 1200"),
        (["export", "{cart}", "/no/such/folder/x.svg"], "not saved"),
        (["demo", "moon-base", "--save", "{out}"], "Known demos: tea-cart, perch-stool"),
        (["shot", "{cart}", "{out}.png", "--size", "big"], "no size such as 1280x800"),
        (["shot", "{cart}", "{out}.png", "--size", "199x720"], "200 to 8000 each"),
        (["shot", "{cart}", "{out}.png", "--size", "1100x8001"], "200 to 8000 each"),
        (["starter", "low-car"], "--save"),
        (["report", "{cart}", "--format", "xml"], "invalid choice"),
    ],
)
def test_bad_input_exits_with_two_and_words(cart, tmp_path, words, told):
    places = {"cart": cart, "out": tmp_path / "out", "missing": tmp_path / "none.isometron"}
    words = [w.format(**places) for w in words]
    environment = ENVIRONMENT | {"QT_QPA_PLATFORM": "offscreen"}
    done = subprocess.run(
        [sys.executable, "-m", "isometron", *words], capture_output=True, text=True, env=environment, timeout=60
    )
    assert done.returncode == 2
    assert told in done.stderr
    assert "Traceback" not in done.stderr


def test_a_closed_pipe_is_no_error(cart):
    command = f"{sys.executable} -m isometron report {cart} --format json | head -c 100"
    done = subprocess.run(command, shell=True, capture_output=True, text=True, env=ENVIRONMENT, timeout=60)
    assert "Traceback" not in done.stderr and "BrokenPipe" not in done.stderr


def loaded_after(code):
    check = f"{code}\nimport sys\nprint(sorted({{m.split('.')[0] for m in sys.modules}}))"
    done = subprocess.run([sys.executable, "-c", check], capture_output=True, text=True, env=ENVIRONMENT)
    assert done.returncode == 0, done.stderr
    return set(eval(done.stdout.splitlines()[-1]))


def test_the_core_loads_no_interface_and_nothing_heavy():
    modules = [
        ".".join(p.relative_to(ROOT / "src").with_suffix("").parts)
        for room in ("geometry", "view", "volumes", "document", "demos", "solve", "tools", "cli")
        for p in sorted((ROOT / "src" / "isometron" / room).glob("*.py"))
    ]
    assert len(modules) > 30
    code = "import importlib\n" + "\n".join(f"importlib.import_module({m!r})" for m in modules)
    code += (
        "\nfrom isometron.demos.catalogue import demo\nfrom isometron.solve.drawing import solve\n"
        "from isometron.solve.report import report\nreport(solve(demo('tea-cart')))"
    )
    loaded = loaded_after(code)
    assert "numpy" in loaded
    assert not loaded & {"PyQt6", "scipy", "reportlab", "PIL"}


def test_the_first_window_waits_for_nothing_heavy():
    loaded = loaded_after("import isometron.__main__\nimport isometron.desk.frame.application")
    assert "PyQt6" in loaded
    assert not loaded & {"numpy", "scipy", "reportlab", "PIL", "msgspec"}


def test_the_check_of_the_room_order_can_fail(tmp_path):
    check = ROOT / "bench" / "room_order.py"
    copy = tmp_path / "house"
    (copy / "bench").mkdir(parents=True)
    (copy / "bench" / "room_order.py").write_text(check.read_text())
    subprocess.run(["cp", "-r", ROOT / "src", copy / "src"], check=True)
    bad = copy / "src" / "isometron" / "geometry" / "frames.py"
    bad.write_text(
        bad.read_text() + "\ndef lazy():\n    from PyQt6 import QtGui\n    from isometron.view import eye\n"
    )
    done = subprocess.run([sys.executable, copy / "bench" / "room_order.py"], capture_output=True, text=True)
    assert done.returncode == 1
    assert "only the desk and the painters may" in done.stdout
    assert "'view' stands after 'geometry'" in done.stdout


@pytest.mark.parametrize("ending", ["pdf", "svg", "dxf"])
def test_a_starter_and_its_plain_views_are_written(tmp_path, ending):
    car, out = tmp_path / "car.isometron", tmp_path / f"views.{ending}"
    done = isometron("starter", "low-car", "--module", "24 in", "--save", car)
    assert (done.returncode, done.stderr) == (0, "")
    document = load_document(car)
    assert document.title == "Low car" and document.volume("wheel").size[0] == pytest.approx(609.6)
    done = isometron("views", car, out)
    assert (done.returncode, done.stderr) == (0, "")
    assert out.stat().st_size > 2000
    values = json.loads(isometron("report", car, "--format", "json").stdout)
    assert values["proportion"]["module"] == "wheel" and values["warnings"] == []
    assert values["volumes"][2]["copies"][0]["count"] == 2


@pytest.mark.parametrize(
    ("words", "told"),
    [
        (["starter", "sofa", "--save", "{out}.isometron"], "no starter called 'sofa'. Known: three-wheeler, low-car"),
        (["starter", "stool", "--module", "12 apples", "--save", "{out}.isometron"], "'apples' is no unit of length"),
        (["starter", "stool", "--module", "-3", "--save", "{out}.isometron"], "between 1 mm and 100 m"),
        (["starter", "stool", "--save", "/no/such/folder/x.isometron"], "not saved"),
        (["views", "{cart}", "{out}.gif"], "Known endings: .pdf, .svg, .dxf"),
        (["views", "{out}.isometron", "{out}.pdf"], "does not exist"),
    ],
)
def test_starters_and_views_refuse_with_words(cart, tmp_path, words, told):
    words = [w.format(cart=cart, out=tmp_path / "out") for w in words]
    done = isometron(*words)
    assert done.returncode == 2 and told in done.stderr and "Traceback" not in done.stderr


def shell(command, **environment):
    """Run a command line of a shell's; returns its exit code, and what it printed on both."""
    done = subprocess.run(["bash", "-c", command], capture_output=True, env=ENVIRONMENT | environment, timeout=120)
    return done.returncode, done.stdout, done.stderr.decode(errors="replace")


@pytest.mark.parametrize("command", ["report {cart}", "schema", "export {cart} - --format svg", "demo --save -"])
def test_an_output_that_takes_nothing_is_told(cart, command):
    command = f"{sys.executable} -m isometron {command.format(cart=cart)}"
    for place, words in ((">&-", "closed"), (">/dev/full", "not all was written")):
        code, _, err = shell(f"{command} {place}")
        assert code == 2 and words in err and "Traceback" not in err
    code, _, err = shell(f"{command} | true; exit ${{PIPESTATUS[0]}}")
    assert code in (0, 2) and "Traceback" not in err
    code, _, err = shell(f"{command} >/dev/null 2>&-")
    assert code == 0


def test_every_command_of_the_readme_does_what_it_says(tmp_path):
    from tests.core.test_match import PHOTOS, marks_of

    root = Path(__file__).parents[2]
    readme = (root / "README.md").read_text(encoding="utf-8")
    told = [re.split(r" {2,}", line.strip())[0] for line in readme.splitlines() if line.startswith("    isometron ")]
    assert len(told) >= 12
    run = f"{sys.executable} -m isometron"
    (tmp_path / "photo.jpg").write_bytes((root / "tests" / "cases" / "photos" / "P01.jpg").read_bytes())
    (tmp_path / "marks.json").write_bytes(msgspec.json.encode(marks_of(PHOTOS["P01"], "px1")))

    for line in (run + line.removeprefix("isometron") for line in told):
        code, _, err = shell(f"cd {tmp_path} && {line}", PYTHONPATH=str(root / "src"))
        assert code == 0 and "Traceback" not in err, (line, err)
    for name in (
        "sheet.pdf",
        "low.pdf",
        "eyes.pdf",
        "pages.pdf",
        "views.dxf",
        "worksheet.pdf",
        "found.isometron",
        "desk.png",
    ):
        assert (tmp_path / name).stat().st_size > 1000, name


def test_standard_input_and_output_are_files_called_dash(cart, tmp_path):
    run = f"{sys.executable} -m isometron"
    code, out, err = shell(f"cat {cart} | {run} export - - --format svg")
    assert code == 0 and out.startswith(b"<?xml") and err == ""
    code, out, _ = shell(f"{run} export {cart} - --format pdf")
    assert code == 0 and out.startswith(b"%PDF")
    code, _, err = shell(f"{run} export {cart} -")
    assert code == 2 and "--format" in err
    code, out, _ = shell(f"cat {cart} | {run} report - --format csv")
    assert code == 0 and out.count(b"\r\n") > 10
    code, out, _ = shell(f"{run} demo stall-row --save - | {run} views - - --format dxf")
    assert code == 0 and b"SECTION" in out
    code, _, err = shell(f"{run} export {cart} {tmp_path}/x.svg && {run} export {cart} {tmp_path}/x.svg")
    assert code == 0 and err.count("was there and was replaced") == 1


def test_slips_closed_inputs_and_pipes_get_words_and_the_right_code(cart, tmp_path):
    run = f"{sys.executable} -m isometron"
    code, _, err = shell(f"cd {tmp_path} && {run} exprt")
    assert code == 2 and "export" in err and "Traceback" not in err
    for words in (f"report {cart}", f"export {cart} {tmp_path}/closed.svg"):
        code, _, err = shell(f"{run} {words} <&-")
        assert code == 0, err
    code, _, err = shell(f"{run} report - <&-")
    assert code == 2 and "Traceback" not in err
    code, out, err = shell(f"{run} shot {cart} -")
    assert code == 0 and out.startswith(b"\x89PNG"), err
    os.mkfifo(tmp_path / "pipe.png")
    (tmp_path / "marks.json").write_bytes(b'{"width": 100, "height": 100}')
    code, _, err = shell(f"{run} match {tmp_path}/pipe.png --marks {tmp_path}/marks.json")
    assert code == 2 and "pipe" in err and "Traceback" not in err
    code, _, err = shell(f"echo '{{' | {run} match {tmp_path}/none.png --marks -")
    assert code == 2 and "Traceback" not in err


def test_odd_places_names_and_locales_are_told_in_words(cart, tmp_path):
    run = f"{sys.executable} -m isometron"
    os.mkfifo(tmp_path / "pipe.isometron")
    for words, told in ((f"report {tmp_path}/pipe.isometron", "a pipe or a device"), ('report ""', "name of the file is empty"),
                        (f"export {cart} {tmp_path}/pipe.isometron", "names no format"), (r"report $'caf\xe9'", "does not exist")):  # fmt: skip
        code, _, err = shell(f"{run} {words}")
        assert code == 2 and told in err and "Traceback" not in err, (words, err)
    ascii_only = {"LC_ALL": "C", "PYTHONUTF8": "0", "PYTHONCOERCECLOCALE": "0", "PYTHONIOENCODING": "ascii"}
    code, out, err = shell(f"{run} report {cart}", **ascii_only)
    assert code == 0 and out.isascii() and "Traceback" not in err
    for words in (f"export {cart} {tmp_path}/x.png --dpi 20", f"shot {cart} {tmp_path}/y.png"):
        code, _, err = shell(f"{run} {words}", QT_QPA_PLATFORM="no-such-platform")
        assert code == 0, err


def test_an_error_of_the_program_is_told_without_a_traceback(cart, tmp_path, monkeypatch, capsys):
    from isometron.cli import commands

    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path))
    monkeypatch.setitem(commands.COMMANDS, "schema", lambda *a: 1 // 0)
    assert commands.run(["schema"], commands.Windows(None, None)) == 3
    told = capsys.readouterr().err
    assert "an error in the program: ZeroDivisionError" in told and "Traceback" not in told
    assert "Traceback" in (tmp_path / "isometron" / "errors.log").read_text()


def test_every_argument_is_explained():
    """No option and no name of a file without words, in any command."""
    commands = next(a for a in parser()._actions if isinstance(a, argparse._SubParsersAction)).choices
    assert {"open", "demo", "report", "export", "views", "match", "shot"} <= set(commands)
    bare = [(name, action.dest) for name, parser in commands.items() for action in parser._actions if not action.help]
    assert bare == []
    assert all(
        each.help
        for each in next(a for a in parser()._actions if isinstance(a, argparse._SubParsersAction))._choices_actions
    )


def test_a_png_is_written_on_a_clear_ground(cart, tmp_path):
    out = tmp_path / "cart.png"
    assert isometron("export", cart, out, "--dpi", "40", "--clear").returncode == 0
    assert out.read_bytes()[25] == 6, "colours and how opaque they are"
