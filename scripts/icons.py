"""The application's icon and that of its files in the usual sizes, from the one drawing.

python -m scripts.icons FOLDER      of a theme, such as …/icons/hicolor
"""

from __future__ import annotations

import sys
from importlib import resources
from pathlib import Path

from PySide6.QtCore import QByteArray
from PySide6.QtGui import QGuiApplication, QImage, QPainter
from PySide6.QtSvg import QSvgRenderer

SIZES = (16, 22, 24, 32, 48, 64, 128, 256)
# A sheet with a turned corner, and the drawing on it.
_SHEET = (
    '<path d="M10 2 H42 L54 14 V62 H10 Z" fill="#fffdf7" stroke="#8a7f6a" stroke-width="2"/>'
    '<path d="M42 2 V14 H54" fill="#efe7d6" stroke="#8a7f6a" stroke-width="2"/>'
)


def drawings() -> dict[str, bytes]:
    """Where each goes in a theme, and its drawing."""
    own = (resources.files("plectrum.ui.look.icons") / "plectrum.svg").read_text()
    start, end = own.index(">") + 1, own.rindex("</svg>")
    inside = f'<g transform="translate(17 20) scale(0.47)">{own[start:end]}</g>'
    sheet = f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 64 64">{_SHEET}{inside}</svg>'
    return {"apps/plectrum": own.encode(), "mimetypes/application-x-plectrum": sheet.encode()}


def picture(drawing: bytes, size: int) -> QImage:
    """A drawing at a size in pixels."""
    image = QImage(size, size, QImage.Format.Format_ARGB32)
    image.fill(0)
    painter = QPainter(image)
    QSvgRenderer(QByteArray(drawing)).render(painter)
    painter.end()
    return image


def main(theme: Path) -> None:
    app = QGuiApplication.instance() or QGuiApplication([])
    for name, drawing in drawings().items():
        target = theme / "scalable" / f"{name}.svg"
        target.parent.mkdir(parents=True, exist_ok=True)
        target.write_bytes(drawing)
        for size in SIZES:
            target = theme / f"{size}x{size}" / f"{name}.png"
            target.parent.mkdir(parents=True, exist_ok=True)
            picture(drawing, size).save(str(target))
    del app


if __name__ == "__main__":
    main(Path(sys.argv[1]))
