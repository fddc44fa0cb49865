"""Pages as PDF, as SVG, on a printer and as pictures."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path

from PySide6.QtCore import QBuffer, QIODevice, QMarginsF, QRectF, QSizeF, Qt
from PySide6.QtGui import QImage, QPageLayout, QPageSize, QPainter, QPdfWriter
from PySide6.QtPrintSupport import QPrinter
from PySide6.QtSvg import QSvgGenerator

from plectrum.core.atomic import write_atomically
from plectrum.core.practice.handout import Paper
from plectrum.ui.handout.pages import Page, Sheet

DPI = 600
MM_INCH = 25.4
NO_MARGINS = QMarginsF(0, 0, 0, 0)


def page_layout(paper: Paper) -> QPageLayout:
    """The paper without margins: pages bring their own."""
    width, height = paper.size_mm
    size = QPageSize(QSizeF(width, height), QPageSize.Unit.Millimeter, paper.value)
    return QPageLayout(size, QPageLayout.Orientation.Portrait, NO_MARGINS)


def pdf_bytes(
    pages: Sequence[Page],
    paper: Paper,
    title: str,
    done: Callable[[int], bool] = lambda _n: True,
) -> bytes:
    """A PDF file of vector pages with embedded fonts.

    Args:
        done: called with the number of pages done; False stops, and what is there is given back.
    """
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    writer = QPdfWriter(buffer)
    writer.setPageLayout(page_layout(paper))
    writer.setResolution(DPI)
    writer.setTitle(title)
    writer.setCreator("Plectrum")
    painter = QPainter(writer)
    for number, page in enumerate(pages):
        if number:
            writer.newPage()
        paint_scaled(painter, page, DPI / MM_INCH / page.sheet.px_mm)
        if not done(number + 1):
            break
    painter.end()
    return bytes(buffer.data().data())


def paint_scaled(painter: QPainter, page: Page, scale: float) -> None:
    """A page at so many of the device's pixels for an engraved one."""
    painter.save()
    painter.scale(scale, scale)
    page.paint(painter)
    painter.restore()


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


def write_svgs(pages: Sequence[Page], path: Path, title: str) -> list[Path]:
    """One SVG file a page: the first under the name given, the others numbered after it.

    Raises:
        PlectrumError: a file cannot be written.
    """
    paths = [path] + [
        path.with_name(f"{path.stem}-{k}{path.suffix}") for k in range(2, len(pages) + 1)
    ]
    for page, target in zip(pages, paths, strict=True):
        write_atomically(target, svg_bytes(page, title))
    return paths


def print_pages(pages: Sequence[Page], printer: QPrinter) -> None:
    """Print pages in the range that the printer's dialog was set to."""
    painter = QPainter(printer)
    first = printer.fromPage() or 1
    last = printer.toPage() or len(pages)
    for number, page in enumerate(pages[first - 1 : last]):
        if number:
            printer.newPage()
        paint_scaled(painter, page, printer.resolution() / MM_INCH / page.sheet.px_mm)
    painter.end()


def make_printer(paper: Paper) -> QPrinter:
    """The user's printer set to the paper of the pages."""
    printer = QPrinter(QPrinter.PrinterMode.HighResolution)
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
