"""Every word on the desk passes through the catalogue: a made-up language marks each text, and the windows are walked."""

import os
import subprocess
import sys
from io import BytesIO
from pathlib import Path

import pytest
from babel.messages.catalog import Catalog
from babel.messages.extract import extract_from_dir
from babel.messages.mofile import write_mo

from isometron.wording import count_words, mark, tr

SOURCE = Path(__file__).parents[2] / "src" / "isometron"
KEYWORDS = {"tr": None, "mark": None, "count_words": (1, 2)}

WALK = """
import re, sys
from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QAbstractButton, QLabel, QMenu, QTableView, QWidget
from isometron.demos.catalogue import DEMOS
from isometron.desk.frame.application import DeskWindow, application
from isometron.desk.cards.key_card import KeyCard
from isometron.desk.cards.new_sheet import NewSheetDialog
app = application()
window = DeskWindow(); desk = window.put_in(DEMOS["tea-cart"].build(), None); window.show(); app.processEvents()
desk.session.select((desk.session.document.volumes[0].id,)); app.processEvents()
others = [KeyCard(desk), NewSheetDialog("mm", "A3", desk)]
bad = []
def look(kind, text):
    text = re.sub(r"&(?=\\S)", "", text)
    plain = re.sub(r"Tea cart|Stall row|Perch stool|Ember lantern|Whole cart|Isometron|Ctrl\\+\\S+|F\\d|\\bmm\\b|\\bcm\\b|\\bft\\b|\\bin\\b|\\bm\\b|A\\d|dpi|letter|PgUp|x", "", text)
    if re.search(r"[A-Za-z]{2}", re.sub(r"«[^»]*»", "", re.sub(r"«[^«»]*»", "", plain))) and "«" not in text:
        bad.append(f"{kind}: {text!r}")
for root in [window, *others]:
    for w in root.findChildren(QWidget):
        if isinstance(w, (QAbstractButton, QLabel)): look(type(w).__name__, w.text())
        look("tip", w.toolTip()); look("name", w.accessibleName())
        if isinstance(w, QTableView) and w.model() is not None:
            for c in range(w.model().columnCount()): look("head", str(w.model().headerData(c, __import__("PyQt6.QtCore", fromlist=["Qt"]).Qt.Orientation.Horizontal)))
    for a in root.findChildren(QAction): look("action", a.text()); look("action tip", a.toolTip())
for finding in desk.session.drawing.findings: look("finding", finding.message)
print("\\n".join(sorted(set(bad))))
"""


def _made_up_catalogue() -> Catalog:
    catalogue = Catalog(locale="de", domain="isometron")
    for _file, _line, message, _comments, _context in extract_from_dir(
        SOURCE, [("**.py", "python")], keywords=KEYWORDS
    ):
        if isinstance(message, tuple):
            catalogue.add(message, tuple(f"«{form}»" for form in message))
        elif message:
            catalogue.add(message, f"«{message}»")
    return catalogue


def test_every_word_on_the_desk_comes_from_the_catalogue(tmp_path):
    catalogue, packed = _made_up_catalogue(), BytesIO()
    assert len(catalogue) > 350, "the extraction has lost most of the words"
    write_mo(packed, catalogue)
    folder = tmp_path / "de" / "LC_MESSAGES"
    folder.mkdir(parents=True)
    (folder / "isometron.mo").write_bytes(packed.getvalue())
    environment = os.environ | {
        "QT_QPA_PLATFORM": "offscreen",
        "LANGUAGE": "de",
        "ISOMETRON_LANGUAGES": str(tmp_path),
        "XDG_CONFIG_HOME": str(tmp_path),
        "XDG_STATE_HOME": str(tmp_path),
    }
    run = subprocess.run([sys.executable, "-c", WALK], capture_output=True, text=True, env=environment, timeout=60)
    assert run.returncode == 0, run.stderr
    assert run.stdout.strip() == ""


@pytest.mark.parametrize(("count", "words"), [(1, "1 corner of A"), (2, "2 corners of A"), (0, "0 corners of A")])
def test_counts_and_values_fill_their_places(count, words):
    assert count_words("{count} corner of {name}", "{count} corners of {name}", count, name="A") == words
    assert tr("100 % of {name}", name="{x}") == "100 % of {x}"
    assert mark("eye height") == tr("eye height")
