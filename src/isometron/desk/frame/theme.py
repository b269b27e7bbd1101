"""The look: tokens, type scale, spacing, and the one style sheet made of them."""

from __future__ import annotations

import re
from pathlib import Path

from PyQt6.QtGui import QColor, QIcon, QPalette
from PyQt6.QtWidgets import QApplication

__all__ = ["DIRECTION_COLOURS", "Tone", "dress", "lay_table", "px", "set_text_size"]


class Tone:
    """Colours now; `lay_table` changes those of the table."""

    TEXT_SIZE = 1.0
    TABLE = "#33403F"
    TABLE_TEXT = "#C9D2CC"
    SHEET = "#FBF8F1"
    SHADOW = "#27322F"
    RAIL = "#3B4947"
    RAIL_CONE = "#495956"
    PANEL = "#F1ECE1"
    PANEL_LOW = "#E7DFCF"
    FIELD = "#FBF8F1"
    TEXT = "#26302F"
    QUIET = "#565D56"
    RULE = "#D8D0C0"
    ACCENT = "#C2552D"
    ACCENT_TEXT = "#A04421"
    CAUTION = "#B3261E"
    RING = "#3F7D5A"
    HALO = "#F2E4C4"


DIRECTION_COLOURS = {
    "left": ("L", "#8A6D1B"),
    "right": ("R", "#2E6F8E"),
    "upright": ("U", "#7B4A6E"),
    "up": ("U", "#7B4A6E"),
    "down": ("D", "#7B4A6E"),
    "across": ("X", "#8A6D1B"),
    "away": ("V", "#2E6F8E"),
}
"""Letter and colour of each way an edge can go on paper."""

_ICONS = (Path(__file__).parents[2] / "assets" / "icons").as_posix()

_STYLE = f"""
* {{ font-family: "Cabin"; font-size: 13px; color: {Tone.TEXT}; }}
QMainWindow, #board {{ background: {Tone.TABLE}; }}
#panel, QDialog, QMessageBox {{ background: {Tone.PANEL}; }}
QScrollArea, QScrollArea > QWidget > QWidget#panel {{ background: {Tone.PANEL}; border: 0; }}
#topbar {{ background: {Tone.PANEL}; border-bottom: 1px solid {Tone.RULE}; }}
#strip {{ background: {Tone.PANEL_LOW}; border-top: 1px solid {Tone.RULE}; }}
#ruled {{ background: {Tone.RULE}; }}
#invitation {{ background: {Tone.PANEL}; border: 1px solid {Tone.RULE}; border-radius: 3px; }}
#title {{ font-size: 16px; font-weight: 700; }}
#heading {{ font-size: 13px; font-weight: 700; }}
#quiet {{ color: {Tone.QUIET}; font-size: 11px; }}
#caution {{ color: {Tone.CAUTION}; font-weight: 600; }}
QToolTip {{ background: {Tone.FIELD}; color: {Tone.TEXT}; border: 1px solid {Tone.RULE}; padding: 4px; }}
QLineEdit, QComboBox, QSpinBox, QPlainTextEdit {{
  background: {Tone.FIELD}; border: 1px solid {Tone.RULE}; border-radius: 3px; padding: 2px 6px; min-height: 20px;
  selection-background-color: {Tone.ACCENT}; selection-color: #FFFFFF; }}
QLineEdit:focus, QComboBox:focus, QSpinBox:focus, QPlainTextEdit:focus {{ border: 2px solid {Tone.ACCENT}; padding: 1px 5px; }}
QLineEdit:disabled, QComboBox:disabled, QSpinBox:disabled, QPlainTextEdit:disabled {{ color: #8F8F86; background: {Tone.PANEL}; }}
QLineEdit[refused="true"] {{ border: 2px solid {Tone.CAUTION}; padding: 1px 5px; }}
QComboBox::drop-down {{ border: 0; width: 20px; }}
QComboBox::down-arrow {{ image: url("{_ICONS}/down.svg"); width: 12px; height: 12px; }}
QComboBox QAbstractItemView, QMenu {{ background: {Tone.FIELD}; border: 1px solid {Tone.RULE}; outline: 0;
  selection-background-color: {Tone.PANEL_LOW}; selection-color: {Tone.TEXT}; }}
QMenu::item {{ padding: 5px 28px 5px 14px; }}
QMenu::item:selected {{ background: {Tone.PANEL_LOW}; }}
QMenu::item:disabled {{ color: #9A9A90; }}
QMenu::separator {{ height: 1px; background: {Tone.RULE}; margin: 4px 8px; }}
QPushButton {{ background: {Tone.FIELD}; border: 1px solid {Tone.RULE}; border-radius: 3px; padding: 4px 12px;
  min-height: 20px; }}
QPushButton:hover {{ border-color: {Tone.QUIET}; }}
QPushButton:focus {{ border: 2px solid {Tone.ACCENT}; padding: 3px 11px; }}
QPushButton:pressed {{ background: {Tone.PANEL_LOW}; }}
QPushButton:disabled {{ color: #8F8F86; background: {Tone.PANEL}; }}
QPushButton:default {{ font-weight: 600; }}
QPushButton#word {{ background: transparent; border: 1px solid transparent; padding: 3px 7px; text-align: left; }}
QPushButton::menu-indicator {{ image: none; width: 0; }}
QPushButton#word:hover {{ background: {Tone.PANEL_LOW}; }}
QPushButton#word:focus {{ border: 2px solid {Tone.ACCENT}; padding: 2px 6px; }}
QPushButton#word:disabled {{ color: #8F8F86; }}
QPushButton#stage {{ background: transparent; border: 0; border-left: 4px solid transparent; border-radius: 0;
  padding: 2px 6px; min-height: 21px; text-align: left; }}
QPushButton#stage:hover {{ background: {Tone.PANEL_LOW}; }}
QPushButton#stage:checked {{ border-left: 4px solid {Tone.ACCENT}; background: {Tone.PANEL_LOW}; font-weight: 700; }}
QPushButton#stage:focus {{ border: 2px solid {Tone.ACCENT}; padding: 0 6px; }}
QPushButton#section {{ background: transparent; border: 1px solid transparent; border-bottom: 2px solid transparent; border-radius: 0;
  padding: 0 4px; text-align: left; font-weight: 600; }}
QPushButton#section:hover {{ background: {Tone.PANEL_LOW}; }}
QPushButton#section:checked {{ background: {Tone.PANEL_LOW}; border-bottom: 2px solid {Tone.ACCENT}; }}
QPushButton#section:focus {{ border: 2px solid {Tone.ACCENT}; padding: 0 3px; }}
#section_title {{ font-weight: 700; }}
QPushButton#deed {{ padding: 3px 8px; text-align: left; }}
QPushButton#deed:focus {{ border: 2px solid {Tone.ACCENT}; padding: 2px 7px; }}
QPushButton#deed:disabled {{ color: #8F8F86; background: {Tone.PANEL}; }}
QPushButton#tool {{ background: transparent; border: 1px solid transparent; padding: 1px 8px; text-align: left; }}
QPushButton#tool:hover {{ border-color: {Tone.RULE}; }}
QPushButton#tool:checked {{ background: {Tone.FIELD}; border-color: {Tone.RULE}; font-weight: 700; }}
QPushButton#tool:focus {{ border: 2px solid {Tone.ACCENT}; padding: 0 7px; }}
QCheckBox::indicator {{ width: 14px; height: 14px; border: 1px solid #A9A18F; border-radius: 3px; background: {Tone.FIELD}; }}
QCheckBox::indicator:checked {{ image: url("{_ICONS}/tick.svg"); border-color: {Tone.ACCENT_TEXT}; }}
QCheckBox {{ spacing: 7px; padding: 2px; border: 2px solid transparent; border-radius: 3px; }}
QCheckBox:focus {{ border-color: {Tone.ACCENT}; }}
QTableView {{ background: {Tone.PANEL}; border: 0; gridline-color: transparent; outline: 0;
  selection-background-color: {Tone.PANEL_LOW}; selection-color: {Tone.TEXT}; }}
QTableView:focus {{ border: 1px solid {Tone.ACCENT}; }}
QTableView::item {{ padding: 0 1px; border: 0; }}
QTableView::item:focus {{ border: 0; border-top: 1px solid {Tone.ACCENT}; border-bottom: 2px solid {Tone.ACCENT}; }}
QTableView QLineEdit, QTableView QLineEdit:focus {{ padding: 0 2px; min-height: 16px; border-radius: 0; border-width: 1px; }}
QHeaderView {{ background: {Tone.PANEL}; border: 0; }}
QHeaderView::section {{ background: {Tone.PANEL}; color: {Tone.QUIET}; border: 0; border-bottom: 1px solid {Tone.RULE};
  padding: 2px 1px; font-size: 11px; }}
QListWidget {{ background: {Tone.PANEL}; border: 0; outline: 0; padding: 0 4px; }}
QListWidget::item {{ padding: 6px 0; border-bottom: 1px solid {Tone.RULE}; }}
QListWidget::item:selected {{ background: {Tone.PANEL_LOW}; color: {Tone.TEXT}; }}
QListWidget:focus {{ border: 1px solid {Tone.ACCENT}; }}
QSlider::groove:horizontal {{ height: 2px; background: #BDB39E; border-radius: 1px; }}
QSlider::sub-page:horizontal {{ height: 2px; background: {Tone.ACCENT}; }}
QSlider::handle:horizontal {{ width: 10px; height: 16px; margin: -8px 0; background: {Tone.FIELD};
  border: 2px solid {Tone.ACCENT}; border-radius: 3px; }}
QSlider::handle:horizontal:disabled {{ border-color: {Tone.RULE}; }}
QSlider:focus {{ border: 2px solid {Tone.ACCENT}; border-radius: 3px; }}
QScrollBar:vertical {{ background: transparent; width: 8px; margin: 0; }}
QScrollBar::handle:vertical {{ background: #C9C0AE; border-radius: 3px; min-height: 28px; margin: 1px; }}
QScrollBar:horizontal {{ background: transparent; height: 10px; }}
QScrollBar::handle:horizontal {{ background: #C9C0AE; border-radius: 4px; min-width: 28px; margin: 1px; }}
QScrollBar::add-line, QScrollBar::sub-line, QScrollBar::add-page, QScrollBar::sub-page {{
  width: 0; height: 0; background: transparent; }}
"""


_TABLES = {
    False: {
        "TABLE": "#33403F",
        "SHEET": "#FBF8F1",
        "SHADOW": "#27322F",
        "RAIL": "#3B4947",
        "RAIL_CONE": "#495956",
        "HALO": "#F2E4C4",
    },
    True: {
        "TABLE": "#171D1D",
        "SHEET": "#DDD7CA",
        "SHADOW": "#0E1212",
        "RAIL": "#1E2626",
        "RAIL_CONE": "#2C3635",
        "HALO": "#CFBF98",
    },
}


_DRESSED = "dressed"


def px(pixels: float) -> int:
    """Return a length of the interface at the present text size: what holds text grows with it."""
    return round(pixels * Tone.TEXT_SIZE)


def _scaled(style: str) -> str:
    return re.sub(r"(font-size|min-height): (\d+)px", lambda found: f"{found[1]}: {px(float(found[2]))}px", style)


def set_text_size(application: QApplication, percent: int) -> None:
    """Set the text's size in percent; windows made after it are laid out for it."""
    if percent / 100.0 == Tone.TEXT_SIZE:
        return
    Tone.TEXT_SIZE = percent / 100.0
    application.setStyleSheet(_scaled(_STYLE))


def lay_table(*, night: bool) -> None:
    """Lay the day or the night table: a darker table and a sheet in lower light. Whoever paints repaints after it."""
    for name, colour in _TABLES[night].items():
        setattr(Tone, name, colour)


def dress(application: QApplication) -> None:
    """Give the application its style, palette and fonts, once."""
    from isometron.surfaces.fonts import load_fonts  # the first window does not wait for lettering

    if application.property(_DRESSED):
        return
    application.setProperty(_DRESSED, True)
    load_fonts()
    application.setWindowIcon(QIcon(f"{_ICONS}/isometron.svg"))
    application.setStyle("Fusion")
    palette = QPalette()
    roles = QPalette.ColorRole
    for role, colour in {
        roles.Window: Tone.PANEL,
        roles.Base: Tone.FIELD,
        roles.AlternateBase: Tone.PANEL,
        roles.Button: Tone.PANEL,
        roles.Text: Tone.TEXT,
        roles.WindowText: Tone.TEXT,
        roles.ButtonText: Tone.TEXT,
        roles.Highlight: Tone.ACCENT,
        roles.HighlightedText: "#FFFFFF",
        roles.PlaceholderText: Tone.QUIET,
        roles.ToolTipBase: Tone.FIELD,
        roles.ToolTipText: Tone.TEXT,
    }.items():
        palette.setColor(role, QColor(colour))
    application.setPalette(palette)
    application.setStyleSheet(_scaled(_STYLE))
