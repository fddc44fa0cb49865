"""Colours, fonts and the style sheet. Contrast of text on paper is at least 4.5 : 1."""

from __future__ import annotations

import base64
import importlib.util
import re
from importlib import resources
from pathlib import Path

from PySide6.QtCore import QByteArray
from PySide6.QtGui import QColor, QFont, QFontDatabase, QIcon
from PySide6.QtWidgets import QApplication

PAPER = QColor("#fbf7ee")
PANEL = QColor("#f4eddf")
EDGE = QColor("#ddd2bd")
INK = QColor("#1f2933")
MUTED = QColor("#5c636b")
ACCENT = QColor("#2b4ba0")
ACCENT_WASH = QColor(43, 75, 160, 28)
CHANGED_WASH = QColor(214, 160, 20, 48)
DOWN = QColor("#13666f")
UP = QColor("#b5541c")
UP_WASH = QColor("#f7dfce")
WOOD = QColor("#6b4226")
PROBLEM = QColor("#a3242b")
CAUTION = QColor("#8a5a00")

UI_FONT = "Andika"


def load_fonts() -> None:
    """Make the shipped fonts known, and the engraver's own music font for signs in text."""
    for file in resources.files("plectrum.ui.fonts").iterdir():
        if file.name.endswith(".ttf"):
            QFontDatabase.addApplicationFontFromData(QByteArray(file.read_bytes()))
    _load_music_font()


def _load_music_font() -> None:
    found = importlib.util.find_spec("verovio")
    for place in (found.submodule_search_locations or []) if found else []:
        sheet = Path(place) / "data" / "Leipzig.css"
        if not sheet.exists():
            continue
        match = re.search(r"base64,([A-Za-z0-9+/=]+)", sheet.read_text("utf-8"))
        if match:
            data = base64.b64decode(match.group(1))
            QFontDatabase.addApplicationFontFromData(QByteArray(data))


def icon() -> QIcon:
    """The application's icon."""
    return QIcon(str(resources.files("plectrum.ui.icons").joinpath("plectrum.svg")))


def apply(app: QApplication) -> None:
    """Fonts, palette and style sheet for the whole application."""
    load_fonts()
    font = QFont(UI_FONT)
    font.setPixelSize(14)
    app.setFont(font)
    app.setStyle("Fusion")
    palette = app.palette()
    for role, colour in (
        (palette.ColorRole.Window, PAPER),
        (palette.ColorRole.Base, QColor("#fffdf8")),
        (palette.ColorRole.AlternateBase, PANEL),
        (palette.ColorRole.Text, INK),
        (palette.ColorRole.WindowText, INK),
        (palette.ColorRole.Button, PANEL),
        (palette.ColorRole.ButtonText, INK),
        (palette.ColorRole.ToolTipBase, INK),
        (palette.ColorRole.ToolTipText, PAPER),
        (palette.ColorRole.Highlight, ACCENT),
        (palette.ColorRole.HighlightedText, QColor("white")),
        (palette.ColorRole.PlaceholderText, MUTED),
    ):
        palette.setColor(role, colour)
    app.setPalette(palette)
    app.setStyleSheet(STYLE)
    app.setWindowIcon(icon())


STYLE = f"""
QMainWindow, QDialog {{ background: {PAPER.name()}; }}
QMenuBar {{ background: {PANEL.name()}; padding: 2px 8px; }}
QMenuBar::item {{ padding: 4px 8px; border-radius: 4px; }}
QMenuBar::item:selected, QMenu::item:selected {{ background: {ACCENT.name()}; color: white; }}
QMenu {{ background: #fffdf8; border: 1px solid {EDGE.name()}; padding: 4px; }}
QMenu::item {{ padding: 4px 24px 4px 16px; border-radius: 4px; }}
QMenu::item:disabled {{ color: #a39a88; }}
QToolTip {{ background: {INK.name()}; color: {PAPER.name()}; border: 0; padding: 4px 8px; }}
QWidget#header {{ background: {PAPER.name()}; border-bottom: 1px solid {EDGE.name()}; }}
QLabel#title {{ font-size: 20px; font-weight: bold; }}
QLabel#muted {{ color: {MUTED.name()}; }}
QLabel#section {{ color: {MUTED.name()}; font-size: 12px; font-weight: bold; }}
QLabel#notetitle {{ font-size: 17px; font-weight: bold; }}
QLabel#sentence {{ font-size: 15px; }}
QLabel#pins {{ color: {ACCENT.name()}; font-weight: bold; }}
QLabel#trial {{
    background: #fff4d6; border: 1px solid #d9b64a; border-radius: 6px; padding: 6px 12px;
}}
QWidget#panel {{ background: {PANEL.name()}; }}
QScrollArea#panelscroll {{
    background: {PANEL.name()}; border: 0; border-left: 1px solid {EDGE.name()};
}}
QPushButton {{
    background: #fffdf8; border: 1px solid {EDGE.name()}; border-radius: 6px; padding: 6px 16px;
}}
QPushButton:hover {{ border-color: {ACCENT.name()}; }}
QPushButton:focus {{ border: 2px solid {ACCENT.name()}; padding: 5px 15px; }}
QPushButton#primary {{ background: {ACCENT.name()}; color: white; border-color: {ACCENT.name()}; }}
QScrollBar:vertical {{ background: transparent; width: 10px; margin: 0; }}
QScrollBar::handle:vertical {{
    background: #cbbfa6; border-radius: 4px; min-height: 32px; margin: 1px;
}}
QScrollBar::add-line, QScrollBar::sub-line {{ height: 0; width: 0; }}
QScrollBar::add-page, QScrollBar::sub-page {{ background: transparent; }}
QListWidget {{ background: {PAPER.name()}; border: 0; outline: 0; }}
QListWidget::item {{ padding: 3px 8px; border-radius: 4px; color: {INK.name()}; }}
QListWidget::item:selected {{ background: #dfe5f4; color: {INK.name()}; }}
QGraphicsView {{ background: {PAPER.name()}; border: 0; }}
QStatusBar {{ background: {PANEL.name()}; border-top: 1px solid {EDGE.name()}; }}
"""
