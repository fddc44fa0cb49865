"""One engraved line of music as a scene item, painted once and kept as a picture."""

from __future__ import annotations

import math
from abc import ABCMeta, abstractmethod
from collections.abc import Iterable, Sequence

from PySide6.QtCore import QByteArray, QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPixmap
from PySide6.QtSvg import QSvgRenderer
from PySide6.QtWidgets import QGraphicsItem, QStyleOptionGraphicsItem, QWidget

from plectrum.ui.engraving.system import System
from plectrum.ui.look import theme

Span = tuple[float, float]
Patch = tuple[int, QPixmap]  # a part of a kept picture and the pixel it begins at
CLEAR_ABOVE, CLEAR_BELOW = 2.0, 6.0  # of a line's height nothing that changes is drawn there


class _Meta(type(QGraphicsItem), ABCMeta):  # type: ignore[misc]
    """Lets a Qt item have abstract methods."""


class EngravedItem(QGraphicsItem, metaclass=_Meta):
    """Paints a system: a layer that changes seldom, kept as a picture, and what lies over it.

    Attributes:
        margin: room at the left of the engraved picture; above: room over it.
    """

    margin = 48.0
    above = 34.0

    def __init__(self, system: System) -> None:
        super().__init__()
        self.system = system
        self._renderer: QSvgRenderer | None = None
        self._staff: QPixmap | None = None
        self._layer: QPixmap | None = None
        self._ratio = 1.0  # of the layer's pixels to those of the item
        self._stale: list[Span] = []

    @property
    @abstractmethod
    def height(self) -> float:
        """How tall the whole item is."""

    @abstractmethod
    def paint_layer(self, painter: QPainter, span: Span | None = None) -> None:
        """Paint all that is kept; call `paint_staff` in between.

        Args:
            span: left and right of what is needed; the rest is clipped away.
        """

    @abstractmethod
    def paint_over(self, painter: QPainter) -> None:
        """Paint what changes often: the selection and the like."""

    def boundingRect(self) -> QRectF:
        return QRectF(0, 0, self.system.width + self.margin, self.height)

    @property
    def first_bar(self) -> int:
        return min(self.system.bars)

    def repaint_layer(self) -> None:
        """What is kept is out of date."""
        self.forget_layer()
        self.update()

    def forget_layer(self) -> None:
        """The kept picture, and all that was made for it, is not needed any more."""
        self._layer = None
        self._stale = []

    def repaint_spans(self, spans: Sequence[Span]) -> None:
        """Between these x what is kept is out of date."""
        self._stale += spans
        self.update_spans(spans)

    def update_spans(self, spans: Iterable[Span]) -> None:
        """Between these x the view shows what is out of date."""
        for left, right in spans:
            # nearer to the lines above and below, the view would paint them too
            self.update(QRectF(left, CLEAR_ABOVE, right - left, self.height - CLEAR_BELOW))

    def forget(self) -> None:
        """Give back the memory of pictures that are far out of sight."""
        self.forget_layer()
        self._staff = None

    @property
    def is_painted(self) -> bool:
        return self._layer is not None

    def prepare(self, ratio: float) -> None:
        """Paint the kept layer for a scale, if it is not there yet."""
        size = self.boundingRect().size() * ratio
        wanted = size.toSize()
        if self._layer is not None and self._layer.size() == wanted:
            self._ratio = ratio
            self._mend(self._layer)
            return
        self.forget_layer()
        self._ratio = ratio
        layer = QPixmap(wanted)
        layer.fill(theme.colours().paper)
        painter = QPainter(layer)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.scale(ratio, ratio)
        self.paint_layer(painter)
        painter.end()
        self._layer = layer

    def _mend(self, layer: QPixmap) -> None:
        """Paint the spans that are out of date anew."""
        if self._stale:
            self._paint_spans(layer, self._stale)
            self._stale = []

    def _paint_spans(self, layer: QPixmap, spans: Sequence[Span]) -> None:
        """Paint parts of a layer anew, at whole pixels so that no seam is seen."""
        layer.setDevicePixelRatio(1.0)
        painter = QPainter(layer)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for left, right in spans:
            first, last = self._pixels(left, right)
            painter.save()
            painter.setClipRect(first, 0, last - first, layer.height())
            painter.fillRect(first, 0, last - first, layer.height(), theme.colours().paper)
            painter.scale(self._ratio, self._ratio)
            self.paint_layer(painter, (first / self._ratio, last / self._ratio))
            painter.restore()
        painter.end()

    def _pixels(self, left: float, right: float) -> tuple[int, int]:
        return math.floor(left * self._ratio), math.ceil(right * self._ratio)

    def patches(self, spans: Sequence[Span]) -> list[Patch] | None:
        """Parts of what is kept as they would be painted now; None if it is not up to date."""
        if self._layer is None or self._stale:
            return None
        picture = self._layer.copy()  # where a patch will be, or its hatching would not fit
        self._paint_spans(picture, spans)
        made = []
        for span in spans:
            first, last = self._pixels(*span)
            made.append((first, picture.copy(first, 0, last - first, picture.height())))
        return made

    def put(self, patches: Sequence[Patch], spans: Sequence[Span]) -> None:
        """Take parts that were painted before into what is kept, between these x."""
        if self._layer is None:
            return
        self._layer.setDevicePixelRatio(1.0)
        painter = QPainter(self._layer)
        for first, patch in patches:
            painter.drawPixmap(first, 0, patch)
        painter.end()
        self.update_spans(spans)

    def paint(
        self, painter: QPainter, option: QStyleOptionGraphicsItem, widget: QWidget | None = None
    ) -> None:
        device = painter.device()
        device_ratio = device.devicePixelRatioF() if device is not None else 1.0
        self.prepare(painter.worldTransform().m11() * device_ratio)
        if self._layer is not None:
            self._layer.setDevicePixelRatio(device_ratio)
            painter.save()  # as large as it is painted already: no scaling, which is slow
            corner = painter.worldTransform().map(QPointF(0, 0))
            painter.resetTransform()
            painter.drawPixmap(QPointF(round(corner.x()), round(corner.y())), self._layer)
            painter.restore()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self.paint_over(painter)

    def paint_staff(self, painter: QPainter) -> None:
        """The engraved staff in the theme's ink, over what is painted already."""
        ratio = painter.worldTransform().m11()
        width, height = int(self.system.width * ratio), int(self.system.height * ratio)
        if self._staff is None or self._staff.width() != width:
            if self._renderer is None:
                self._renderer = QSvgRenderer(QByteArray(self.system.svg))
            self._staff = QPixmap(width, height)
            self._staff.fill(Qt.GlobalColor.transparent)
            own = QPainter(self._staff)
            self._renderer.render(own, QRectF(0, 0, width, height))
            if theme.is_dark():
                own.setCompositionMode(QPainter.CompositionMode.CompositionMode_SourceIn)
                own.fillRect(self._staff.rect(), theme.colours().ink)
            own.end()
        target = QRectF(QPointF(self.margin, self.above), QRectF(self._staff.rect()).size() / ratio)
        painter.drawPixmap(target, self._staff, QRectF(self._staff.rect()))
