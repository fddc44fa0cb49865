"""Pages as PDF, as SVG, on a printer and as pictures."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from PySide6.QtCore import QBuffer, QIODevice, QMarginsF, QRectF, QSizeF, Qt
from PySide6.QtGui import QImage, QPagedPaintDevice, QPageLayout, QPageSize, QPainter, QPdfWriter
from PySide6.QtPrintSupport import QPrinter
from PySide6.QtSvg import QSvgGenerator

from plectrum.core.atomic import write_atomically
from plectrum.core.outputs import refuse_outputs
from plectrum.core.practice.handout import Paper
from plectrum.core.wording import tr
from plectrum.core.wording.language import chosen
from plectrum.ui.handout.ink import Ink, Role
from plectrum.ui.handout.pages import Page, Sheet
from plectrum.ui.handout.tagging import tagged

DPI = 600
MM_INCH = 25.4
NO_MARGINS = QMarginsF(0, 0, 0, 0)


def page_layout(paper: Paper) -> QPageLayout:
    """The paper without margins: pages bring their own."""
    width, height = paper.size_mm
    size = QPageSize(QSizeF(width, height), QPageSize.Unit.Millimeter, paper.value)
    return QPageLayout(size, QPageLayout.Orientation.Portrait, NO_MARGINS)


class PageFeed:
    """Paints pages one after the other on a paged device, so that a window can live between.

    Attributes:
        done_n: how many pages are done.
        parts: what a voice reads on each.
    """

    def __init__(self, pages: Sequence[Page], device: QPagedPaintDevice, dots_inch: float) -> None:
        self._pages, self._device = pages, device
        self._dots_mm = dots_inch / MM_INCH
        self._painter = QPainter(device)
        self.done_n = 0
        self.parts: list[list[tuple[Role, str]]] = []

    @property
    def pages_n(self) -> int:
        return len(self._pages)

    def feed(self) -> bool:
        """Paint the next page; whether there are more."""
        page = self._pages[self.done_n]
        if self.done_n:
            self._device.newPage()
        to_file = isinstance(self._device, QPdfWriter)
        scale = self._dots_mm / page.sheet.px_mm
        ink = paint_scaled(self._painter, page, scale, marks=to_file)
        self.parts.append(ink.parts)
        self.done_n += 1
        return self.done_n < len(self._pages)

    def end(self) -> None:
        """Finish the document; what is painted stays."""
        if self._painter.isActive():
            self._painter.end()


class PdfFile:
    """A PDF file of vector pages with embedded fonts, being made."""

    def __init__(self, pages: Sequence[Page], paper: Paper, title: str) -> None:
        self._buffer = QBuffer()
        self._buffer.open(QIODevice.OpenModeFlag.WriteOnly)
        self._writer = QPdfWriter(self._buffer)
        self._writer.setPageLayout(page_layout(paper))
        self._writer.setResolution(DPI)
        self._writer.setTitle(title)
        self._writer.setCreator(tr("Plectrum"))
        self.feed = PageFeed(pages, self._writer, DPI)

    def data(self) -> bytes:
        """The finished file, with tags for a voice."""
        self.feed.end()
        return tagged(bytes(self._buffer.data().data()), self.feed.parts, chosen().key)


def pdf_bytes(pages: Sequence[Page], paper: Paper, title: str) -> bytes:
    """All pages as a PDF file at once."""
    made = PdfFile(pages, paper, title)
    while made.feed.feed():
        pass
    return made.data()


def paint_scaled(painter: QPainter, page: Page, scale: float, *, marks: bool = False) -> Ink:
    """A page at so many of the device's pixels for an engraved one; where everything is."""
    painter.save()
    painter.scale(scale, scale)
    ink = page.paint(painter, marks=marks)
    painter.restore()
    return ink


def svg_bytes(page: Page, title: str) -> bytes:
    """One page as SVG."""
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    generator = QSvgGenerator()
    generator.setOutputDevice(buffer)
    size = QSizeF(page.sheet.width, page.sheet.height)
    generator.setSize(size.toSize())
    generator.setViewBox(QRectF(0, 0, size.width(), size.height()))
    generator.setTitle(title)
    painter = QPainter(generator)
    page.paint(painter)
    painter.end()
    return bytes(buffer.data().data())


def svg_paths(path: Path, pages_n: int) -> list[Path]:
    """A name for each page, the first as it is given."""
    more = (f"{path.stem}-{k}{path.suffix}" for k in range(2, pages_n + 1))
    return [path, *map(path.with_name, more)]


def write_svgs(pages: Sequence[Page], path: Path, title: str) -> list[Path]:
    """One SVG file a page: the first under the name given, the others numbered after it.

    Raises:
        PlectrumError: a file cannot be written.
    """
    paths = svg_paths(path, len(pages))
    refuse_outputs(*paths)
    for page, target in zip(pages, paths, strict=True):
        write_atomically(target, svg_bytes(page, title))
    return paths


def printed(pages: Sequence[Page], printer: QPrinter) -> PageFeed:
    """The pages that the printer's dialog was set to, to be fed to it."""
    first, last = printer.fromPage() or 1, printer.toPage() or len(pages)
    return PageFeed(pages[first - 1 : last], printer, printer.resolution())


def make_printer(paper: Paper) -> QPrinter:
    """The user's printer set to the paper of the pages."""
    printer = QPrinter(QPrinter.PrinterMode.HighResolution)
    printer.setResolution(DPI)  # at 1200 the toolkit rounds small type of an SVG down to nothing
    printer.setFullPage(True)
    printer.setPageLayout(page_layout(paper))
    return printer


def page_image(page: Page, scale: float) -> QImage:
    """A page as a picture, at so many pixels for an engraved one."""
    sheet: Sheet = page.sheet
    image = QImage(
        round(sheet.width * scale), round(sheet.height * scale), QImage.Format.Format_RGB32
    )
    image.fill(Qt.GlobalColor.white)
    painter = QPainter(image)
    paint_scaled(painter, page, scale)
    painter.end()
    return image
