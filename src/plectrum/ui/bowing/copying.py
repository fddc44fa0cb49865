"""The bars of the selected notes on the clipboard: as a picture, and as marked MusicXML."""

from __future__ import annotations

from PySide6.QtCore import QByteArray, QMimeData, QRectF
from PySide6.QtGui import QGuiApplication, QImage, QPainter

from plectrum.core.document.document import Document
from plectrum.core.files.exports import plan_as_musicxml
from plectrum.core.planning.plan import Plan
from plectrum.core.score.writing.excerpt import excerpt
from plectrum.ui.drawing.score_view import ScoreView
from plectrum.ui.drawing.system_item import SystemItem
from plectrum.ui.look import theme

MUSICXML = "application/vnd.recordare.musicxml+xml"
SHARPER = 2.0  # pixels of the picture for one of the screen
GAP = 8.0


def copy_bars(view: ScoreView, document: Document, plan: Plan, first: int, last: int) -> str:
    """Put the bars from the first to the last note on the clipboard; what was put there."""
    bars = plan.part.notes[first].bar_index, plan.part.notes[last].bar_index
    data = QMimeData()
    xml = excerpt(plan_as_musicxml(document, plan), document.part_id, *bars)
    data.setData(MUSICXML, QByteArray(xml))
    data.setText(xml.decode())
    picture = picture_of(view, *bars)
    if picture is not None:
        data.setImageData(picture)
    QGuiApplication.clipboard().setMimeData(data)
    numbers = plan.part.bars[bars[0]].number, plan.part.bars[bars[1]].number
    return f"{numbers[0]}" if bars[0] == bars[1] else f"{numbers[0]}–{numbers[1]}"


def picture_of(view: ScoreView, first: int, last: int) -> QImage | None:
    """The bars as they are drawn, one line of music under the other; None where none is drawn."""
    pieces = [
        (item, rect)
        for item in view.items_by_system
        if isinstance(item, SystemItem) and (rect := _bars_of(item, first, last)) is not None
    ]
    if not pieces:
        return None
    width = max(rect.width() for _, rect in pieces)
    height = sum(rect.height() for _, rect in pieces) + GAP * (len(pieces) - 1)
    image = QImage(round(SHARPER * width), round(SHARPER * height), QImage.Format.Format_RGB32)
    image.fill(theme.colours().paper)
    painter = QPainter(image)
    painter.scale(SHARPER, SHARPER)
    top = 0.0
    for item, rect in pieces:
        source = item.mapRectToScene(rect)
        view.scene().render(painter, QRectF(0, top, rect.width(), rect.height()), source)
        top += rect.height() + GAP
    painter.end()
    return image


def _bars_of(item: SystemItem, first: int, last: int) -> QRectF | None:
    """Where these bars are on a system; with the clef where its first bar is among them."""
    inside = [edges for bar, edges in item.system.bars.items() if first <= bar <= last]
    if not inside:
        return None
    left, right = min(e[0] for e in inside), max(e[1] for e in inside)
    begins = left <= min(e[0] for e in item.system.bars.values())
    from_x = 0.0 if begins else left + item.margin
    return QRectF(from_x, 0, right + item.margin - from_x + 2, item.height)
