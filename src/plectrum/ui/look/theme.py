"""Colours, fonts, scale and the style sheet, light and dark.

Contrast of text on its ground is at least 4.5 : 1 in both themes. Down and up differ in hue and
in lightness, so that they stay apart for colour-blind eyes and in grey.
"""

from __future__ import annotations

import base64
import importlib.util
import re
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, replace
from importlib import resources
from pathlib import Path
from string import Template

from PySide6.QtCore import QByteArray
from PySide6.QtGui import QColor, QFont, QFontDatabase, QIcon
from PySide6.QtWidgets import QApplication

UI_FONT = "Andika"
FONT_PX = 14
SCALES = (0.8, 0.9, 1.0, 1.1, 1.25, 1.5, 1.75, 2.0)


@dataclass(frozen=True)
class Colours:
    """Every colour of one theme, by what it is for."""

    paper: QColor
    field: QColor
    panel: QColor
    edge: QColor
    ink: QColor
    muted: QColor
    accent: QColor
    on_accent: QColor
    chosen: QColor
    accent_wash: QColor
    changed_wash: QColor
    down: QColor
    up: QColor
    up_wash: QColor
    wood: QColor
    problem: QColor
    caution: QColor
    note: QColor
    note_edge: QColor
    good_wash: QColor
    bars: QColor
    carried: QColor
    lanes: tuple[QColor, ...]
    tints: tuple[QColor, ...]


def _colours(*names: str) -> tuple[QColor, ...]:
    return tuple(QColor(name) for name in names)


LIGHT = Colours(
    paper=QColor("#fbf7ee"),
    field=QColor("#fffdf8"),
    panel=QColor("#f4eddf"),
    edge=QColor("#ddd2bd"),
    ink=QColor("#1f2933"),
    muted=QColor("#5c636b"),
    accent=QColor("#2b4ba0"),
    on_accent=QColor("#ffffff"),
    chosen=QColor("#dfe5f4"),
    accent_wash=QColor(43, 75, 160, 28),
    changed_wash=QColor(214, 160, 20, 48),
    down=QColor("#0f5a63"),
    up=QColor("#a94c14"),
    up_wash=QColor("#f7dfce"),
    wood=QColor("#6b4226"),
    problem=QColor("#a3242b"),
    caution=QColor("#8a5a00"),
    note=QColor("#fff4d6"),
    note_edge=QColor("#d9b64a"),
    good_wash=QColor(46, 125, 92, 46),
    bars=QColor("#8d9aa5"),
    carried=QColor("#cbbfa6"),
    lanes=_colours("#b9ab8d", "#cabd9f", "#dacfb4", "#e8dfc9", "#f3ecdc"),
    tints=_colours("#cfe3e6", "#f3dcae", "#dcd3ec", "#d5e5c8", "#f1d2cf", "#d9dde2"),
)
DARK = Colours(
    paper=QColor("#1d2126"),
    field=QColor("#15181c"),
    panel=QColor("#262b31"),
    edge=QColor("#444c55"),
    ink=QColor("#ece6d8"),
    muted=QColor("#aab0b6"),
    accent=QColor("#8fb0ff"),
    on_accent=QColor("#10151f"),
    chosen=QColor("#33415e"),
    accent_wash=QColor(143, 176, 255, 44),
    changed_wash=QColor(226, 178, 60, 60),
    down=QColor("#4fc1c9"),
    up=QColor("#f0935a"),
    up_wash=QColor("#4a2f20"),
    wood=QColor("#b98a63"),
    problem=QColor("#ff8f8f"),
    caution=QColor("#e8b64c"),
    note=QColor("#3a3320"),
    note_edge=QColor("#8a7330"),
    good_wash=QColor(96, 190, 150, 50),
    bars=QColor("#7d8b97"),
    carried=QColor("#6d6553"),
    lanes=_colours("#5f5745", "#514b3d", "#443f35", "#38352e", "#2d2b27"),
    tints=_colours("#2b4d52", "#574523", "#453a5c", "#3a4d2d", "#573633", "#3d434b"),
)


# On paper: the light colours on white, with a wash that a printer shows.
PRINT = replace(
    LIGHT,
    paper=QColor("#ffffff"),
    panel=QColor("#ffffff"),
    edge=QColor("#b9b9b9"),
    muted=QColor("#4a4f55"),
    up_wash=QColor("#ffffff"),
)


class _Now:
    """The theme and scale in force, and the application they were put in force for."""

    colours = LIGHT
    scale = 1.0
    applied: tuple[object, ...] = ()


def colours() -> Colours:
    """The colours to paint with now."""
    return _Now.colours


@contextmanager
def on_paper() -> Iterator[None]:
    """The colours of paper at their normal size, while a page is composed or painted."""
    before = _Now.colours, _Now.scale
    _Now.colours, _Now.scale = PRINT, 1.0
    try:
        yield
    finally:
        _Now.colours, _Now.scale = before


def is_dark() -> bool:
    return _Now.colours is DARK


def scale() -> float:
    """The interface scale in force, 1 being normal."""
    return _Now.scale


def px(pixels: float) -> int:
    """A size in pixels at the present interface scale."""
    return round(pixels * _Now.scale)


def label_font(pixels: float) -> QFont:
    """The interface's typeface at a size that already takes the scale into account."""
    font = QFont(UI_FONT)
    font.setPixelSize(max(1, round(pixels)))
    return font


def load_fonts() -> None:
    """Make the shipped fonts known, and the engraver's own music font for signs in text."""
    for file in resources.files("plectrum.ui.look.fonts").iterdir():
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
    return QIcon(str(resources.files("plectrum.ui.look.icons").joinpath("plectrum.svg")))


def start(app: QApplication) -> None:
    """What is set once: fonts, widget style, icon."""
    load_fonts()
    app.setStyle("Fusion")
    app.setWindowIcon(icon())
    apply(app)


def apply_to_application(*, dark: bool, scale: float) -> None:
    """`apply` to the application there is, if there is one."""
    app = QApplication.instance()
    if isinstance(app, QApplication):
        apply(app, dark=dark, scale=scale)


def apply(app: QApplication, *, dark: bool = False, scale: float = 1.0) -> None:
    """Put a theme and an interface scale in force everywhere; dear where widgets exist already,
    so nothing is done where nothing changes."""
    wanted = (DARK if dark else LIGHT, min(SCALES[-1], max(SCALES[0], scale)))
    if _Now.applied == (id(app), *wanted):
        return
    _Now.applied = (id(app), *wanted)
    _Now.colours, _Now.scale = wanted
    font = QFont(UI_FONT)
    font.setPixelSize(px(FONT_PX))
    app.setFont(font)
    now = _Now.colours
    palette = app.palette()
    for role, colour in (
        (palette.ColorRole.Window, now.paper),
        (palette.ColorRole.Base, now.field),
        (palette.ColorRole.AlternateBase, now.panel),
        (palette.ColorRole.Text, now.ink),
        (palette.ColorRole.WindowText, now.ink),
        (palette.ColorRole.Button, now.panel),
        (palette.ColorRole.ButtonText, now.ink),
        (palette.ColorRole.ToolTipBase, now.ink),
        (palette.ColorRole.ToolTipText, now.paper),
        (palette.ColorRole.Highlight, now.accent),
        (palette.ColorRole.HighlightedText, now.on_accent),
        (palette.ColorRole.PlaceholderText, now.muted),
        (palette.ColorRole.Link, now.accent),
        (palette.ColorRole.Mid, now.edge),
        (palette.ColorRole.Dark, now.edge),
        (palette.ColorRole.Light, now.field),
    ):
        palette.setColor(role, colour)
    for role in (palette.ColorRole.Text, palette.ColorRole.ButtonText):
        palette.setColor(palette.ColorGroup.Disabled, role, now.muted)
    app.setPalette(palette)
    app.setStyleSheet(_style())


def _style() -> str:
    """The style sheet in the colours and at the scale in force."""
    now = _Now.colours
    names = {name: value.name() for name, value in vars(now).items() if isinstance(value, QColor)}
    check = f"check-{'dark' if is_dark() else 'light'}.svg"
    names["check"] = str(resources.files("plectrum.ui.look.icons").joinpath(check))
    sheet = Template(STYLE).substitute(names)
    return re.sub(r"(\d+)px", lambda m: f"{max(1, px(int(m.group(1))))}px", sheet)


STYLE = """
QMainWindow, QDialog { background: $paper; }
QMenuBar { background: $panel; padding: 2px 8px; }
QMenuBar::item { padding: 4px 8px; border-radius: 4px; }
QMenuBar::item:selected, QMenu::item:selected { background: $accent; color: $on_accent; }
QMenu { background: $field; border: 1px solid $edge; padding: 4px; }
QMenu::item { padding: 4px 24px 4px 16px; border-radius: 4px; }
QMenu::item:disabled { color: $muted; }
QMenu::separator { height: 1px; background: $edge; margin: 4px 8px; }
QToolTip { background: $ink; color: $paper; border: 0; padding: 4px 8px; }
QWidget#header { background: $paper; border-bottom: 1px solid $edge; }
QWidget#rail { background: $panel; border-right: 1px solid $edge; }
QToolButton#screen {
    border: 0; border-left: 4px solid transparent; color: $muted; padding: 3px 2px 2px 0px;
    font-size: 12px;
}
QToolButton#screen:hover { background: $edge; }
QToolButton#screen:checked {
    background: $paper; color: $ink; border-left: 4px solid $accent; font-weight: bold;
}
QLabel#title { font-size: 20px; font-weight: bold; }
QLabel#muted { color: $muted; }
QLabel#problem { color: $problem; }
QLabel#section { color: $muted; font-size: 12px; font-weight: bold; }
QPushButton#fold { color: $muted; font-size: 12px; font-weight: bold; border: none;
    background: transparent; padding: 2px 0px; text-align: left; }
QLabel#notetitle { font-size: 17px; font-weight: bold; }
QLabel#key { font-weight: bold; }
QLabel#sentence { font-size: 15px; }
QLabel#big { font-size: 26px; font-weight: bold; }
QLabel#clock { font-size: 56px; font-weight: bold; }
QLabel#pins { color: $accent; font-weight: bold; }
QLabel#trial, QLabel#banner {
    background: $note; border: 1px solid $note_edge; border-radius: 6px; padding: 6px 12px;
}
QWidget#panel, QWidget#toolstrip { background: $panel; }
QScrollArea#yielding { background: $paper; border: 0; }
QScrollArea#plainscroll { background: $panel; border: none; }
QScrollArea#panelscroll { background: $panel; border: 0; border-left: 1px solid $edge; }
QScrollArea#plain, QScrollArea#plain > QWidget > QWidget { background: $paper; border: 0; }
QPushButton {
    background: $field; border: 1px solid $edge; border-radius: 6px; padding: 6px 16px;
}
QPushButton:hover { border-color: $accent; }
QPushButton:disabled { color: $muted; background: $panel; }
QPushButton:checked { background: $chosen; border-color: $accent; font-weight: bold; }
QPushButton#primary { background: $accent; color: $on_accent; border-color: $accent; }
QPushButton#small { padding: 2px 8px; }
QToolButton#tool {
    background: $field; border: 1px solid $edge; border-radius: 5px; padding: 3px 6px;
}
QToolButton#tool:hover { border-color: $accent; }
QToolButton#tool:checked { background: $chosen; border-color: $accent; }
QScrollBar:vertical { background: transparent; width: 10px; margin: 0; }
QScrollBar::handle:vertical {
    background: $carried; border-radius: 4px; min-height: 32px; margin: 1px;
}
QScrollBar:horizontal { background: transparent; height: 10px; margin: 0; }
QScrollBar::handle:horizontal {
    background: $carried; border-radius: 4px; min-width: 32px; margin: 1px;
}
QScrollBar::add-line, QScrollBar::sub-line { height: 0; width: 0; }
QScrollBar::add-page, QScrollBar::sub-page { background: transparent; }
QListWidget { background: $paper; border: 0; outline: 0; }
QListWidget::item { padding: 3px 8px; border-radius: 4px; color: $ink; }
QListWidget::item:selected { background: $chosen; color: $ink; }
QTreeWidget { background: $paper; border: 0; outline: 0; }
QTreeWidget::item { padding: 3px 2px; color: $ink; }
QTreeWidget::item:selected { background: $chosen; color: $ink; }
QTreeWidget#ladder { background: $paper; border: 0; border-right: 1px solid $edge; outline: 0; }
QTreeWidget#ladder::item { padding: 3px 2px; color: $ink; }
QTreeWidget#ladder::item:selected { background: $chosen; color: $ink; }
QHeaderView::section {
    background: $panel; color: $muted; border: 0; border-bottom: 1px solid $edge; padding: 4px 6px;
    font-weight: bold;
}
QTableWidget, QTableView { background: $paper; border: 0; outline: 0; }
QTabWidget::pane { border: 0; border-top: 1px solid $edge; }
QTabBar { background: $paper; }
QTabBar::tab {
    background: $paper; color: $muted; padding: 8px 18px; border: 0;
    border-bottom: 3px solid transparent;
}
QTabBar::tab:selected { color: $ink; font-weight: bold; border-bottom: 3px solid $accent; }
QTabBar::tab:hover { color: $ink; }
QListWidget#boxed { background: $field; border: 1px solid $edge; border-radius: 6px; }
QGraphicsView { background: $paper; border: 0; }
QStatusBar { padding-left: 8px; background: $panel; border-top: 1px solid $edge; }
QStatusBar::item { border: 0; }
QCheckBox { spacing: 6px; }
QCheckBox::indicator {
    width: 14px; height: 14px; border: 1px solid $muted; border-radius: 3px; background: $field;
}
QCheckBox::indicator:checked { background: $accent; border-color: $accent; image: url("$check"); }
QCheckBox::indicator:hover { border: 2px solid $accent; }
QGroupBox {
    border: 1px solid $edge; border-radius: 8px; margin-top: 10px; padding: 10px 8px 6px 8px;
}
QGroupBox::title {
    subcontrol-origin: margin; left: 10px; padding: 0 4px; color: $muted; font-weight: bold;
}
"""
