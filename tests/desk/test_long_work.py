"""Exports, worksheets, plain views and printing run beside the window, tell how far they are, and can be called off."""

import threading
import time

import pytest
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QPushButton

from isometron.demos.catalogue import demo
from isometron.desk.frame.long_work import WorkBar


@pytest.mark.parametrize("ending", [".svg", ".pdf", ".png", ".csv", ".json"])
def test_every_export_runs_in_another_thread(home, desk, tmp_path, monkeypatch, ending):
    hand, threads = desk(demo("perch-stool")), []
    import isometron.desk.stages.hand_on.stage as stage

    real = stage.export_bytes
    monkeypatch.setattr(
        stage, "export_bytes", lambda *a, **k: (threads.append(threading.current_thread()), real(*a, **k))[1]
    )
    hand.desk.stages.body("Hand on").write(tmp_path / f"out{ending}")
    hand.rest()
    assert (tmp_path / f"out{ending}").stat().st_size > 100 and "Wrote" in hand.words()
    assert threads and threads[0] is not threading.main_thread()


def test_plain_views_and_worksheets_too(home, desk, tmp_path):
    hand = desk(demo("perch-stool"))
    hand.desk.show_views()
    for ending in (".dxf", ".pdf"):
        hand.desk._views.write(tmp_path / f"views{ending}")
        hand.rest()
        assert (tmp_path / f"views{ending}").exists()
    hand.desk._views.close()
    hand.session.select((hand.session.document.volumes[0].id,))
    hand.desk.construct()
    hand.desk.step_strip.write(tmp_path / "work.pdf")
    hand.rest()
    assert (tmp_path / "work.pdf").exists()


def test_long_work_shows_how_far_it_is_and_is_called_off(home, desk, tmp_path):
    hand = desk(demo("perch-stool"))
    bar = hand.window.findChild(WorkBar)

    def slow(tell, say):
        for k in range(2000):
            tell(k / 2000)
            time.sleep(0.01)
        return b"never"

    hand.session.hand_out(tmp_path / "slow.bin", slow)
    assert not bar.isVisible(), "what is soon done shows no bar"
    QTest.qWait(500)
    assert bar.isVisible() and 0.0 < hand.session.beside.share < 0.5
    hand.session.hand_out(tmp_path / "other.bin", lambda tell, say: b"x")
    assert "Try again" in hand.words()
    bar.findChild(QPushButton).click()
    hand.rest()
    assert "Called off" in hand.words() and list(tmp_path.glob("*.bin")) == [] and not bar.isVisible()


def test_what_cannot_be_written_is_said(home, desk, tmp_path):
    hand = desk(demo("ember-lantern"))
    hand.session.hand_out(tmp_path / "missing" / "profile.csv", lambda tell, say: b"x")
    hand.rest()
    assert "was not saved" in hand.words()
