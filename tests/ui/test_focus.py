"""Where keys go: everything is reached by the Tab key, in the order of the work, and is seen."""

from __future__ import annotations

import pytest
from PySide6.QtCore import QPoint, QRect, Qt
from PySide6.QtGui import QImage
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QScrollArea, QWidget
from shiboken6 import isValid

from plectrum.demo import demo_paths
from plectrum.ui.shell.screens import SCREENS

WITH_TABS = {"practice": range(5), "log": range(3)}
MOST = 200  # more widgets stand on no screen


def go_to(qtbot, window, key: str, page: int | None) -> QWidget:
    window.show_screen(key)
    screen = window.screen_of(key)
    qtbot.waitUntil(lambda: not window.session.planning, timeout=20_000)
    qtbot.wait(300)
    if page is not None:  # not before: the screen turns to the page of what it is given
        screen.tabs.setCurrentIndex(page)
        qtbot.wait(100)
        assert screen.tabs.currentIndex() == page
    screen.focus_target.setFocus()
    return screen


def reached(window) -> list[QWidget]:
    """What the Tab key comes to, from where the focus is until it is there again."""
    found: list[QWidget] = []
    pressed_n = 0
    while (now := QApplication.focusWidget()) not in found[:-1] and now is not None:
        if found[-1:] != [now]:
            found.append(now)
        pressed_n += 1
        assert pressed_n < MOST  # some have fields of their own: day, month, year
        QTest.keyClick(now, Qt.Key.Key_Tab)
    return found


def to_be_reached(screen: QWidget) -> set[QWidget]:
    """All that takes keys by itself."""
    return {
        w
        for w in screen.findChildren(QWidget)
        if w.isVisible() and w.isEnabled() and w.focusProxy() is None
        and w.focusPolicy() & Qt.FocusPolicy.TabFocus
    }  # fmt: skip


def picture(window, widget: QWidget) -> QImage:
    seen = QRect(widget.mapTo(window, QPoint(0, 0)), widget.size()) & window.rect()
    return window.grab(seen).toImage()


def bring_into_sight(widget: QWidget) -> None:
    around = widget.parentWidget()
    while around is not None:
        if isinstance(around, QScrollArea):
            around.ensureWidgetVisible(widget)
        around = around.parentWidget()


@pytest.mark.parametrize("key", [kind.key for kind in SCREENS])
def test_the_tab_key_comes_to_everything_and_it_is_seen(qtbot, opened, key):
    window = opened(demo_paths()[2])
    window.activateWindow()
    for dark in (False, True):
        window.set_dark(dark)
        for page in WITH_TABS.get(key, (None,)):
            check_page(window, go_to(qtbot, window, key, page))


def check_page(window, screen) -> None:
    found = [w for w in reached(window) if w.isVisible()]
    assert to_be_reached(screen) - set(found) == set()
    compared = 0
    for widget in found[:: max(1, len(found) // 6)]:
        if not isValid(widget) or not widget.isVisible():
            continue  # made anew meanwhile
        bring_into_sight(widget)
        widget.setFocus()
        compared += 1
        with_focus = picture(window, widget)
        widget.clearFocus()
        assert with_focus != picture(window, widget), (widget, widget.accessibleName())
    assert compared >= 1


def test_the_order_of_focus_is_the_order_of_the_work(qtbot, violin):
    """On Bowing: the music, the panel of the note with its other ways, then the sound; then the
    screens, and the player, the school and the tempo of the whole."""
    violin.activateWindow()
    screen = go_to(qtbot, violin, "bowing", None)
    screen.select(5)
    qtbot.waitUntil(lambda: bool(screen.panel.buttons), timeout=10_000)
    qtbot.wait(500)  # nothing of the panel is made anew any more
    found = [w for w in reached(violin) if not isinstance(w, QScrollArea)]
    ways = [w for w in screen.panel.buttons if w.isEnabled()]
    header = violin.header
    wanted = [screen.view, *ways, screen.panel.faults.symptom, header.player, header.school]
    places = [found.index(w) for w in wanted]
    assert places == sorted(places)
    assert places[0] == 0


def test_the_ring_goes_with_what_it_is_around(qtbot, violin):
    violin.activateWindow()
    header = violin.header
    header.player.setFocus()
    rings = header.player.findChildren(QWidget, options=Qt.FindChildOption.FindDirectChildrenOnly)
    ring = next(w for w in rings if type(w).__name__ == "_Ring")
    assert ring.geometry() == header.player.rect()
    header.player.resize(300, 40)
    assert ring.geometry() == header.player.rect()
    assert ring.mask().contains(QPoint(1, 1))
    assert not ring.mask().contains(ring.rect().center())  # the widget is seen, and clicked
    gone = QWidget(violin)
    gone.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
    gone.show()
    gone.setFocus()
    gone.deleteLater()
    qtbot.wait(20)
    header.school.setFocus()
    rings = header.school.findChildren(QWidget, options=Qt.FindChildOption.FindDirectChildrenOnly)
    assert any(type(w).__name__ == "_Ring" and w.isVisible() for w in rings)
