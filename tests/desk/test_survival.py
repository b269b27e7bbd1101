"""What the program survives: errors in it, kills while the hand works on, odd starts, and files that others write."""

import os
import re
import signal
import socket
import subprocess
import sys

import pytest
from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QPushButton

from isometron.demos.catalogue import demo
from isometron.desk.controls.fields import PaperField
from isometron.desk.frame import application, mishaps
from isometron.desk.frame.recovery import abandoned_work
from isometron.desk.frame.settings import load_settings, recovery_folder, remember_file, settings_folder, state_folder
from isometron.document.edits import change_document, move_volumes
from isometron.document.store.disk import told_aside
from isometron.document.store.files import load_document, save_document
from tests.attack import pairs
from tests.attack.kills import lost_seconds
from tests.attack.starts import spoil, started


@pytest.mark.parametrize("seed", range(3))
def test_at_most_two_seconds_of_steady_work_are_lost(home, seed):
    assert lost_seconds(seed, os.environ["XDG_STATE_HOME"]) <= 2.0
    assert list(recovery_folder().iterdir()) == []


@pytest.fixture
def surviving(monkeypatch, tmp_path):
    """The hook of the real program, in place of the tests' own."""
    monkeypatch.setattr(mishaps, "_log", tmp_path / "errors.log")
    monkeypatch.setattr(mishaps, "_tell", application._survive)
    monkeypatch.setattr(sys, "excepthook", mishaps.escaped)
    mishaps._times.clear()
    mishaps._told.clear()
    return tmp_path / "errors.log"


class PlantedError(Exception):
    """No error of the program's own kind."""


def fail(*arguments, **named):
    raise PlantedError("planted")


def said(hand):
    QApplication.processEvents()
    return hand.words()


def still_works(hand):
    before = len(hand.session.document.volumes)
    hand.session.select((hand.session.document.volumes[0].id,))
    hand.desk.do("duplicate")
    assert len(hand.session.document.volumes) == before + 1
    hand.session.undo()
    assert len(hand.session.document.volumes) == before


def test_an_error_in_a_tool_is_survived(home, desk, surviving, monkeypatch, capfd):
    hand = desk(demo("perch-stool"))
    hand.session.attempt(change_document, "change title", title="Other")
    before = hand.session.document
    hand.key(Qt.Key.Key_B)
    with monkeypatch.context() as planted:
        planted.setattr(hand.board.in_hand, "_show", fail)
        hand.press(0, -600, 0)
    assert "could not be done" in said(hand) and "work is safe" in hand.words()
    assert hand.session.document is before and not hand.session.moving and not hand.board.has_tool
    assert "planted" in surviving.read_text() and "Traceback" in surviving.read_text()
    assert len(abandoned_work(recovery_folder())) == 0, "a living window holds its copy"
    assert len(list(recovery_folder().glob("*.isometron"))) == 1
    still_works(hand)


def test_an_error_told_of_an_edit_takes_the_edit_back(home, desk, surviving, capfd):
    """A panel that fails while it is told of a change: the change is taken back, and told again."""
    hand = desk(demo("perch-stool"))
    before = hand.session.document
    armed = [True]

    def listen():
        if armed and hand.session.document is not before:
            armed.clear()
            fail()

    hand.session.document_changed.connect(listen)
    hand.session.attempt(move_volumes, [before.volumes[0].id], (100.0, 0.0, 0.0))
    assert hand.session.document == before and hand.session.drawing.document == before
    assert hand.session.undo_name is None and "could not be done" in said(hand)
    still_works(hand)


def test_an_error_after_an_edit_in_the_same_deed_takes_it_back_and_no_other(home, desk, surviving, capfd):
    hand = desk(demo("perch-stool"))
    hand.session.attempt(change_document, "change title", title="First")
    first = hand.session.document

    def twofold():
        hand.session.attempt(change_document, "change title", title="Second")
        fail()

    button = QPushButton(hand.desk)
    button.clicked.connect(twofold)
    button.click()
    assert hand.session.document is first
    button.clicked.disconnect()
    button.clicked.connect(fail)
    button.click()
    assert hand.session.document is first, "an edit that was done before is no part of what failed"


def test_errors_in_a_field_a_stage_and_a_timer_are_survived(home, desk, surviving, monkeypatch, capfd):
    hand = desk(demo("perch-stool"))
    before = hand.session.document
    length = hand.desk.dial_panel.findChildren(PaperField)[0]
    monkeypatch.setattr(length, "_read", fail)
    hand.type_into(length, "77")
    assert "could not be done" in said(hand) and hand.session.document is before
    monkeypatch.setattr("isometron.desk.stages.rounds.stage.make", fail)
    hand.key(Qt.Key.Key_F5)
    assert "could not be done" in said(hand)
    QTimer.singleShot(0, fail)
    QTest.qWait(20)
    assert surviving.read_text().count("planted") >= 3
    monkeypatch.setattr(length, "_read", lambda text: 1500.0)
    still_works(hand)


def test_an_error_in_a_paint_event_is_said_while_it_goes_on_and_the_window_paints_again(
    home, desk, surviving, monkeypatch, capfd
):
    hand = desk(demo("perch-stool"))
    with monkeypatch.context() as planted:
        planted.setattr(hand.board.grips, "paint", fail)
        for _ in range(20):
            hand.board.repaint()
        assert "could not be drawn" in said(hand)
        hand.session.say("Saved.")
        planted.setattr(mishaps, "_AGAIN", 0.0)  # so long has it been going on
        hand.board.repaint()
        assert "could not be drawn" in said(hand)
    assert surviving.read_text().count("Traceback") == mishaps._MOST_LOGGED, "not with every frame"
    assert not hand.board.grab().isNull()
    still_works(hand)


def test_an_error_in_an_export_thread_is_survived(home, desk, surviving, monkeypatch, tmp_path, capfd):
    hand = desk(demo("perch-stool"))
    monkeypatch.setattr("isometron.desk.stages.hand_on.stage.export_bytes", fail)
    hand.desk.stages.body("Hand on").write(tmp_path / "out.svg")
    QTest.qWait(300)
    assert "could not be" in said(hand) and not (tmp_path / "out.svg").exists()
    assert "planted" in surviving.read_text()
    still_works(hand)


def test_a_native_crash_leaves_a_trace(home):
    code = (
        "import faulthandler\nfrom isometron.desk.frame.mishaps import catch_what_escapes\n"
        "from isometron.desk.frame.settings import state_folder\n"
        "catch_what_escapes(state_folder(), lambda *a: None)\nfaulthandler._sigsegv()\n"
    )
    done = subprocess.run([sys.executable, "-c", code], env=dict(os.environ), capture_output=True)
    assert done.returncode == -signal.SIGSEGV
    assert "Segmentation fault" in (state_folder() / "crash.log").read_text()


# --- files that others write ----------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("meanwhile", "answered", "mine", "theirs"),
    [
        ("written", "Keep both", "cart (mine).isometron", "Theirs"),
        ("written", "Replace theirs", "cart.isometron", "Mine"),
        ("written", "Stay here", None, "Theirs"),
        ("removed", "Save it there again", "cart.isometron", "Mine"),
        ("removed", "Keep both", "cart (mine).isometron", None),
    ],
)
def test_saving_over_what_others_wrote_is_asked(home, desk, tmp_path, answer, meanwhile, answered, mine, theirs):
    path = tmp_path / "cart.isometron"
    save_document(demo("tea-cart"), path)
    hand, other = desk(), desk()
    for one in (hand, other):
        one.desk.paperwork.open_path(path)
    hand.session.attempt(change_document, "change title", title="Mine")
    if meanwhile == "written":
        other.session.attempt(change_document, "change title", title="Theirs")
        assert other.desk.paperwork.save(), "the first to save is not asked"
    else:
        path.unlink()
    answer(answered)
    assert hand.desk.paperwork.save() == (mine is not None)
    assert (load_document(path).title if path.exists() else None) == theirs
    if mine is not None:
        assert load_document(tmp_path / mine).title == "Mine" and hand.session.path.name == mine
        assert not hand.session.changed
    assert hand.session.changed == (mine is None)


# --- odd starts ----------------------------------------------------------------------------------------------------


BYTES = {"cut": b'{"recent": ["a', "latin": b'{"recent": ["caf\xe9"]}', "nested": b"[" * 100_000}


@pytest.mark.parametrize("kind", ["cut", "latin", "nested", "pipe", "device", "nowhere", "folder"])
def test_it_starts_with_settings_that_cannot_be_read(home, kind):
    spoil(settings_folder() / "settings.json", kind, BYTES.get(kind))
    code, out, err = started()
    assert code == 0 and "Traceback" not in err
    assert "set aside" in out and "settings (set aside)" in [p.name for p in settings_folder().iterdir()]
    code, out, err = started()
    assert code == 0 and "set aside" not in out, "said once"


def test_it_starts_with_long_odd_and_missing_recent_files(home):
    from isometron.desk.frame.settings import Settings, save_settings

    save_settings(Settings(recent=("/" + "x" * 300, "/no/such", "a\0b", "/dev/zero", "file:///tmp/%FF.isometron")))
    code, out, err = started()
    assert code == 0 and "Traceback" not in err and "WORDS" in out


@pytest.mark.parametrize("kind", ["cut", "newer", "pipe", "note"])
def test_it_starts_with_recovery_files_that_cannot_be_read(home, kind):
    folder = recovery_folder()
    file = folder / "0123456789abcdef.isometron"
    save_document(demo("tea-cart"), file)
    note = file.with_suffix(".note")
    note.write_bytes(b'{"path": null}')
    if kind == "cut":
        file.write_bytes(file.read_bytes()[:300])
    elif kind == "newer":
        file.write_bytes(re.sub(rb'"version": \d', b'"version": 99', file.read_bytes(), count=1))
    elif kind == "pipe":
        file.unlink()
        os.mkfifo(file)
    else:
        note.write_bytes(b"\xff\xfe{")
    code, out, err = started()
    assert code == 0 and "Traceback" not in err and "set aside" in out
    assert any("set aside" in p.name for p in folder.iterdir())


def test_it_starts_without_a_state_folder_and_with_a_name_that_is_no_utf8(home, tmp_path):
    (tmp_path / "file").write_text("")
    code, out, _ = started(XDG_STATE_HOME=str(tmp_path / "file"))
    assert code == 0 and "working without recovery" in out
    path = tmp_path / os.fsdecode(b"caf\xe9.isometron")
    save_document(demo("ember-lantern"), path)
    code, out, err = started(str(path))
    assert code == 0 and "Ember lantern" in out and "Traceback" not in err


@pytest.mark.parametrize("kind", ["pipe for crashes", "long cache", "endless text", "no home", "closed cache"])
def test_it_starts_oddly(home, tmp_path, kind):
    environment = {}
    if kind == "pipe for crashes":
        state_folder().mkdir(parents=True, exist_ok=True)
        os.mkfifo(state_folder() / "crash.log")
    elif kind == "long cache":
        environment["XDG_CACHE_HOME"] = str(tmp_path / ("x" * 300))
    elif kind == "endless text":
        settings_folder().mkdir(parents=True, exist_ok=True)
        (settings_folder() / "settings.json").write_text('{"text_percent": 1e999}')
    elif kind == "no home":
        environment |= {"HOME": "", "XDG_CACHE_HOME": ""}
    else:
        (tmp_path / "cache").write_text("no folder")
        environment["XDG_CACHE_HOME"] = str(tmp_path / "cache")
    for _ in range(2):
        code, out, err = started(**environment)
        assert code == 0 and "WORDS" in out and "Traceback" not in err, err


def test_a_file_that_cannot_be_opened_leaves_an_empty_sheet_and_words(home, tmp_path):
    for name, data in (("none", None), ("broken", b"{")):
        path = tmp_path / f"{name}.isometron"
        if data is not None:
            path.write_bytes(data)
        code, out, err = started(str(path))
        assert code == 0 and "TITLE 'Untitled'" in out and name in out and "Traceback" not in err


def test_a_display_that_does_not_answer_gets_words(home, tmp_path):
    for display, platform in ((":987", ""), ("nonsense", ""), ("", "no-such-platform"), ("", "xcb:junk")):
        environment = {"DISPLAY": display, "QT_QPA_PLATFORM": platform, "WAYLAND_DISPLAY": ""}
        code, _, err = started(**environment)
        assert code == 2 and "isometron: " in err and "Traceback" not in err, (display, platform)
    number = 9000 + os.getpid() % 50_000  # no other run of the tests listens there
    with socket.socket(socket.AF_UNIX) as silent:
        silent.bind(f"\0/tmp/.X11-unix/X{number}")
        silent.listen()
        code, _, err = started(DISPLAY=f":{number}", QT_QPA_PLATFORM="", WAYLAND_DISPLAY="")
    assert code == 2 and "does not answer" in err


def test_a_recovered_file_that_is_no_utf8_goes_back_under_its_name(home, desk, tmp_path):
    told_aside()
    path = tmp_path / os.fsdecode(b"caf\xe9.isometron")
    save_document(demo("tea-cart"), path)
    hand = desk()
    hand.desk.paperwork.open_path(path)
    hand.session.attempt(change_document, "change title", title="Mine")
    assert hand.desk.recovery.write()
    hand.desk.recovery._lock = os.close(hand.desk.recovery._lock)  # as if its process were gone
    (work,) = abandoned_work(recovery_folder())
    assert work.path == path.absolute() and work.document.title == "Mine" and work.seen.still(path)
    path.write_bytes(b"")
    assert not work.seen.still(path)
    work.discard()
    remember_file(path)
    assert load_settings().recent


def test_two_programs_on_one_folder_leave_each_others_work_alone(tmp_path):
    assert pairs.windows_share_a_folder(3, tmp_path / "state") == ""
    (tmp_path / "sheets").mkdir()
    assert pairs.savers_share_a_file(3, tmp_path / "sheets") == ""
