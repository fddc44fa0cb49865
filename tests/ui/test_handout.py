"""The handout: nothing clipped, text that can be selected, fonts inside, the page that is shown."""

from __future__ import annotations

import gc
import random
import re
from dataclasses import replace
from datetime import date
from io import BytesIO

import pypdf
import pytest
from lxml import etree
from pypdf.generic import DecodedStreamObject, NameObject, NullObject
from PySide6.QtCore import QEvent, QRectF, QSize, Qt
from PySide6.QtGui import QImage, QPainter
from PySide6.QtPdf import QPdfDocument
from PySide6.QtPrintSupport import QPrintDialog, QPrinter
from PySide6.QtWidgets import QApplication, QFileDialog, QProgressDialog

from plectrum.core.advice.care import CAUTION
from plectrum.core.document.document import Document
from plectrum.core.errors import PlectrumError
from plectrum.core.files.opening import open_document_path
from plectrum.core.instrument.bow import Bow, TapeMark
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.player.player import stage
from plectrum.core.player.records import NamedPlayer
from plectrum.core.practice.handout import (
    Handout,
    HandoutOptions,
    Paper,
    Picture,
    Words,
    handout_of,
)
from plectrum.core.practice.said import said_bar
from plectrum.core.score.model import Direction
from plectrum.demo import demo_paths
from plectrum.ui.drawing.path_painter import hatch_lines
from plectrum.ui.handout import handing_out
from plectrum.ui.handout.engrave import engrave
from plectrum.ui.handout.ink import text_width, wrapped
from plectrum.ui.handout.kept_options import recalled
from plectrum.ui.handout.mini_bow import HEIGHT, WIDTH, paint_mini_bow, place_y
from plectrum.ui.handout.output import make_printer, page_image, pdf_bytes, svg_bytes
from plectrum.ui.handout.pages import Page, Sheet, compose
from plectrum.ui.look import theme
from tests.tunes import tune_document

TODAY = date(2026, 11, 30)
CONTROL, SHIFT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier
PITCHES = ("G3", "D4", "F#4", "A4", "B4", "C#5", "E5", "A5")


def _pages(document: Document, options: HandoutOptions) -> tuple[list[Page], Handout]:
    handout = handout_of(document, plan_of(document), options, TODAY)
    systems = engrave(document, Sheet.of(options).engraving_width)
    return compose(systems, [handout], options), handout


def _demo(number: int) -> Document:
    return open_document_path(demo_paths()[number])


def _painted(page: Page):
    """Where everything is, from painting it on nothing in particular."""
    picture = QImage(8, 8, QImage.Format.Format_RGB32)
    painter = QPainter(picture)
    ink = page.paint(painter)
    painter.end()
    return ink


def _random_tune(rng: random.Random) -> str:
    """A tune of any length and density, with slurs and dynamics."""
    bars = []
    for _ in range(rng.choice([1, 2, 5, 9, 16, 33, 64])):
        tokens, left, slur = [], 8, False
        while left:
            length = rng.choice([n for n in (1, 1, 1, 2, 2, 4, 8) if n <= left])
            left -= length
            sign = ")" if slur else "(" if left and rng.random() < 0.3 else ""
            slur = sign == "("
            if not left and slur:
                sign, slur = "", False
            dynamic = rng.choice(["", "", "", "[p] ", "[f] ", "[<] ", "[x] "])
            tokens.append(f"{dynamic}{rng.choice(PITCHES)}*{length}/2{sign}")
        bars.append(" ".join(tokens))
    return "|".join(bars)


def _random_options(rng: random.Random) -> HandoutOptions:
    flags = [rng.random() < 0.5 for _ in range(4)]
    return HandoutOptions(
        rng.choice(list(Paper)), flags[0], rng.choice(list(Picture)), rng.choice(list(Words)),
        flags[1], flags[2], flags[3], rng.choice(["", "Wren", "Everyone in the second group " * 3]),
        rng.choice(["", "Harbour music school"]),
    )  # fmt: skip


@pytest.mark.parametrize("seed", range(30))
def test_nothing_is_clipped_and_no_words_lie_on_others(themed, seed):
    """Thirty pieces of other lengths and options: every box and line of text is inside the
    margins, no line of text lies on another, and every note has its bow once."""
    rng = random.Random(seed)
    music, options = _random_tune(rng), _random_options(rng)
    player = rng.choice(["starter", "growing", "steady"])
    document = tune_document(music, player=player)
    letter = "Sing it before you play it. " * rng.choice([0, 1, 60])
    document = document.with_homework(replace(document.homework, letter=letter))
    pages, handout = _pages(document, options)
    said = []
    for page in pages:
        ink = _painted(page)
        inside = page.sheet.inside.adjusted(-0.5, -0.5, 0.5, 0.5)
        for rect in ink.boxes:
            assert inside.contains(rect), rect
        cores = [(rect.adjusted(0.25, 2.5, -0.25, -2.5), text) for rect, text in ink.texts]
        for k, (rect, text) in enumerate(cores):
            assert inside.contains(ink.texts[k][0]), text
            over = [words for other, words in cores[k + 1 :] if rect.intersects(other)]
            assert not over, f"{text!r} on {over!r}"
        said += [text for _, text in ink.texts]
    whole = " ".join(said)
    assert CAUTION.split(";")[0] in whole
    assert [p.foot.split("page ")[1] for p in pages] == [
        f"{k} of {len(pages)}" for k in range(1, len(pages) + 1)
    ]
    for line in handout.watch:
        assert line.split(":")[0] in whole


@pytest.mark.parametrize("number", range(4))
def test_the_pdf_has_selectable_words_and_its_fonts_inside(themed, tmp_path, number):
    """Read by another library: the words are text, every font is embedded, the size is A4
    (ISO 216, published standard; a point is 1/72 inch)."""
    document = _demo(number)
    options = HandoutOptions(made_for="Wren", teacher=True)
    pages, handout = _pages(document, options)
    target = tmp_path / "handout.pdf"
    target.write_bytes(pdf_bytes(pages, options.paper, document.title))
    read = pypdf.PdfReader(str(target))
    assert len(read.pages) == len(pages)
    text = " ".join(" ".join((page.extract_text() or "").split()) for page in read.pages)
    for words in (document.title, "For Wren", "down-bow: to the tip", CAUTION.split(";")[0]):
        assert words in text
    for words in handout.said.values():  # each word: lines that wrap are read side by side
        assert set(words.split()) <= set(text.split())
    for page in read.pages:
        width, height = float(page.mediabox.width), float(page.mediabox.height)
        assert (width, height) == pytest.approx((210 / 25.4 * 72, 297 / 25.4 * 72), abs=1)
        for font in page["/Resources"]["/Font"].values():
            inner = font.get_object()["/DescendantFonts"][0].get_object()
            files = [k for k in inner["/FontDescriptor"].get_object() if k.startswith("/FontFile")]
            assert files
        names = {str(f.get_object()["/BaseFont"]) for f in page["/Resources"]["/Font"].values()}
        assert all("Andika" in n or "Liberation" in n or "Leipzig" in n for n in names)
    assert read.metadata.title == document.title


def _inked(image: QImage, rect: QRectF) -> bool:
    for y in range(int(rect.top()), int(rect.bottom())):
        for x in range(int(rect.left()), int(rect.right())):
            if image.pixelColor(x, y).lightness() < 250:
                return True
    return False


@pytest.mark.parametrize("large", [False, True])
def test_the_margins_of_the_rendered_pdf_are_white(themed, tmp_path, large):
    """Rendered by the toolkit's PDF reader, so that clipping anywhere on the way would show."""
    options = HandoutOptions(large=large, picture=Picture.BOTH, teacher=True)
    pages, _ = _pages(_demo(0), options)
    target = tmp_path / "a.pdf"
    target.write_bytes(pdf_bytes(pages, options.paper, "x"))
    pdf = QPdfDocument()
    pdf.load(str(target))
    for number in range(pdf.pageCount()):
        image = QImage(420, 594, QImage.Format.Format_RGB32)
        image.fill(Qt.GlobalColor.white)
        painter = QPainter(image)
        painter.drawImage(0, 0, pdf.render(number, QSize(420, 594)))
        painter.end()
        margin = 26.0  # of 14 mm at 2 pixels a millimetre, two left for the edge of a stroke
        assert not _inked(image, QRectF(0, 0, 420, margin))
        assert not _inked(image, QRectF(0, 594 - margin, 420, margin))
        assert not _inked(image, QRectF(0, 0, margin, 594))
        assert not _inked(image, QRectF(420 - margin, 0, margin, 594))
        assert _inked(image, QRectF(margin, margin, 420 - 2 * margin, 200))
    pdf.close()


def test_the_preview_is_the_page(themed, tmp_path):
    """Screen and PDF show the same page: a blurred difference of both stays small."""
    options = HandoutOptions()
    pages, _ = _pages(_demo(0), options)
    target = tmp_path / "a.pdf"
    target.write_bytes(pdf_bytes(pages, options.paper, "x"))
    pdf = QPdfDocument()
    pdf.load(str(target))
    shown = page_image(pages[0], 1.5)
    size = shown.size()
    drawn = QImage(size, QImage.Format.Format_RGB32)
    drawn.fill(Qt.GlobalColor.white)
    painter = QPainter(drawn)
    painter.drawImage(0, 0, pdf.render(0, size))
    painter.end()
    pdf.close()
    small = QSize(20, 28)
    smooth = Qt.TransformationMode.SmoothTransformation
    whole = Qt.AspectRatioMode.IgnoreAspectRatio
    a, b = (image.scaled(small, whole, smooth) for image in (shown, drawn))
    worst = max(
        abs(a.pixelColor(x, y).lightness() - b.pixelColor(x, y).lightness())
        for x in range(20)
        for y in range(28)
    )
    assert worst < 20


def test_svg_is_one_sound_file_a_page(themed):
    pages, _ = _pages(_demo(0), HandoutOptions())
    for page in pages:
        root = etree.fromstring(svg_bytes(page, "Lantern Ferry"))
        words = " ".join(" ".join(root.itertext()).split())
        assert "page" in words
    assert "Lantern Ferry" in " ".join(etree.fromstring(svg_bytes(pages[0], "x")).itertext())


def test_down_and_up_differ_in_grey_and_point_where_the_bow_goes(themed):
    """Down is full and its arrow ends above, up is hatched and its arrow ends below."""
    greys = {}
    for direction, ends in ((Direction.DOWN, (0.0, 1.0)), (Direction.UP, (1.0, 0.0))):
        image = QImage(int(WIDTH) * 8, int(HEIGHT) * 8, QImage.Format.Format_RGB32)
        image.fill(Qt.GlobalColor.white)
        painter = QPainter(image)
        painter.scale(8, 8)
        rect = QRectF(0, 0, WIDTH, HEIGHT)
        with theme.on_paper():
            paint_mini_bow(painter, rect, Bow("violin", 650, 60, 0.3, ()), ends, direction)
        painter.end()
        grey = image.convertToFormat(QImage.Format.Format_Grayscale8)
        column = range(int((WIDTH / 2 - 2) * 8), int((WIDTH / 2 + 2) * 8))
        rows = range(int(place_y(rect, 0.7) * 8), int(place_y(rect, 0.3) * 8))
        values = [grey.pixelColor(x, y).lightness() for x in column for y in rows]
        greys[direction] = sum(values) / len(values)
    assert greys[Direction.UP] - greys[Direction.DOWN] > 60


def test_hatching_fills_the_shape_and_stays_in_it():
    box = QRectF(10, 20, 40, 8)
    corners = box.topLeft(), box.topRight(), box.bottomRight(), box.bottomLeft()
    lines = hatch_lines(corners, 4.0)
    assert len(lines) >= 10
    box.adjust(-1e-6, -1e-6, 1e-6, 1e-6)
    assert all(box.contains(line.p1()) and box.contains(line.p2()) for line in lines)


def test_lines_break_between_words_and_cut_only_what_is_too_long(themed):
    for line in wrapped("down · stop · down · up · down · up · down", 80, 12):
        assert text_width(line, 12) <= 80
        assert not line.startswith("·")
    assert all(text_width(line, 12) <= 40 for line in wrapped("Donaudampfschifffahrt", 40, 12))
    assert wrapped("one\ntwo", 400, 12) == ["one", "two"]


def test_large_print_is_larger_on_the_paper(themed):
    sizes = {}
    for large in (False, True):
        options = HandoutOptions(large=large)
        system = engrave(_demo(0), Sheet.of(options).engraving_width)[0]
        sizes[large] = (system.staff[1] - system.staff[0]) / Sheet.of(options).px_mm
    assert sizes[False] == pytest.approx(7, abs=0.5)  # about a printed part's staff (practice)
    assert sizes[True] > 1.3 * sizes[False]


# the screen


def _ready(qtbot, window) -> None:
    screen = window.screen_of("handout")
    qtbot.waitUntil(lambda: bool(screen.pages) and not screen.busy, timeout=30_000)


def test_the_journey_from_a_tune_to_a_pdf_by_keyboard(qtbot, window, tmp_path, monkeypatch):
    """Ctrl+O, the name, Ctrl+Shift+E, the name: the handout is a file."""
    target = tmp_path / "handout.pdf"
    tune = str(demo_paths()[0])
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_a, **_k: (tune, ""))
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, **_k: (str(target), ""))
    with qtbot.waitSignal(window.session.opened, timeout=30_000):
        qtbot.keyClick(window, Qt.Key.Key_O, CONTROL)
    qtbot.keyClick(window, Qt.Key.Key_E, CONTROL | SHIFT)
    qtbot.waitUntil(target.exists, timeout=30_000)
    read = pypdf.PdfReader(str(target))
    assert "Lantern Ferry" in " ".join(read.pages[0].extract_text().split())
    assert window.stack.currentWidget() is window.screen_of("handout")
    qtbot.waitUntil(
        lambda: "Saved handout.pdf" in window.statusBar().currentMessage(), timeout=30_000
    )


def test_options_change_the_page_and_are_remembered(qtbot, violin):
    qtbot.keyClick(violin, Qt.Key.Key_5, CONTROL)
    _ready(qtbot, violin)
    panel, screen = violin.screen_of("handout").panel, violin.screen_of("handout")
    before = screen.pages
    panel.switches["large"].setChecked(True)
    panel.paper.setCurrentIndex(1)
    qtbot.waitUntil(lambda: screen.pages is not before and not screen.busy, timeout=30_000)
    _ready(qtbot, violin)
    assert screen.pages[0].sheet.px_mm < before[0].sheet.px_mm
    kept = recalled(violin.settings.handout)
    assert kept.large
    assert kept.paper is Paper.LETTER
    qtbot.keyClicks(panel.made_for, "Tarn")
    qtbot.waitUntil(lambda: "for Tarn" in screen.pages[0].foot, timeout=30_000)
    assert kept.made_for == ""
    qtbot.waitUntil(lambda: screen.preview.complete, timeout=30_000)


def test_words_to_the_student_are_kept_with_the_plan_and_undone(qtbot, violin):
    violin.show_screen("handout")
    _ready(qtbot, violin)
    letter = violin.screen_of("handout").panel.letter
    letter.setFocus()
    qtbot.keyClicks(letter, "Sing it first.")
    qtbot.keyClick(letter, Qt.Key.Key_Tab)
    assert violin.session.document.homework.letter == "Sing it first."
    _ready(qtbot, violin)
    texts = [t for _, t in _painted(violin.screen_of("handout").pages[0]).texts]
    assert "Sing it first." in texts
    violin.session.undo_stack.undo()
    assert violin.session.document.homework.letter == ""
    qtbot.waitUntil(lambda: letter.toPlainText() == "", timeout=30_000)


def test_a_pinned_bow_shows_on_the_page(qtbot, violin):
    """The page follows the plan: another direction, other signs."""
    violin.show_screen("handout")
    _ready(qtbot, violin)
    before = page_image(violin.screen_of("handout").pages[0], 0.5)
    violin.show_screen("bowing")
    violin.screen_of("bowing").select(1)
    qtbot.keyClick(violin.screen_of("bowing").view, Qt.Key.Key_U)
    qtbot.waitUntil(lambda: not violin.session.planning, timeout=30_000)
    violin.show_screen("handout")
    _ready(qtbot, violin)
    assert page_image(violin.screen_of("handout").pages[0], 0.5) != before


def test_several_players_have_a_page_each_in_their_own_colours(qtbot, violin):
    for name, player in (("Wren", "starter"), ("Tarn", "steady")):
        bow = Bow("violin", 650, 60, 0.3, (TapeMark("middle", 0.5, "#aa00aa"),))
        violin.desk.shelf.save(NamedPlayer(replace(stage(player), name=name, title=name), bow))
    violin.show_screen("handout")
    _ready(qtbot, violin)
    panel = violin.screen_of("handout").panel
    assert panel.players.count() == 2
    for k in range(2):
        panel.players.item(k).setCheckState(Qt.CheckState.Checked)
    screen = violin.screen_of("handout")
    qtbot.waitUntil(lambda: any("Tarn" in p.foot for p in screen.pages), timeout=30_000)
    feet = [re.sub(r" · page.*", "", p.foot) for p in screen.pages]
    assert list(dict.fromkeys(feet)) == ["Lantern Ferry · for Tarn", "Lantern Ferry · for Wren"]
    image = page_image(screen.pages[0], 1.0)
    colours = [image.pixelColor(x, y) for x in range(image.width()) for y in range(150, 330)]
    assert any(c.red() - c.green() > 80 and c.blue() - c.green() > 80 for c in colours)


def test_printing_feeds_the_pages_asked_for(qtbot, violin, tmp_path, monkeypatch):
    """A printer that prints into a file stands for the one of paper."""
    target = tmp_path / "printed.pdf"
    violin.show_screen("handout")
    _ready(qtbot, violin)
    screen = violin.screen_of("handout")

    def to_file(paper: Paper) -> QPrinter:
        printer = made(paper)
        printer.setOutputFormat(QPrinter.OutputFormat.PdfFormat)
        printer.setOutputFileName(str(target))
        return printer

    made = handing_out.make_printer
    monkeypatch.setattr(handing_out, "make_printer", to_file)
    monkeypatch.setattr(screen.handing_out, "ask_how_to_print", lambda _printer: True)
    qtbot.keyClick(violin, Qt.Key.Key_P, CONTROL)
    qtbot.waitUntil(lambda: target.exists() and not screen.feeding.busy, timeout=30_000)
    assert len(pypdf.PdfReader(str(target)).pages) == len(screen.pages)


def test_a_folder_that_cannot_be_written_is_one_clear_message(qtbot, violin, monkeypatch):
    violin.show_screen("handout")
    _ready(qtbot, violin)
    nowhere = "/proc/nowhere/handout.pdf"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, **_k: (nowhere, ""))
    with qtbot.waitSignal(violin.session.failed, timeout=30_000) as failed:
        violin.screen_of("handout").handing_out.save_pdf()
    assert isinstance(failed.args[0], PlectrumError)
    violin.error_box.close()


def test_a_long_handout_can_be_cancelled(qtbot, window, tmp_path, monkeypatch):
    """Between pages the window lives; after Cancel no file is there."""
    rng = random.Random(7)
    document = tune_document("|".join([_random_tune(rng) for _ in range(10)]))
    window.session.show_document(document, plan_of(document), None)
    window.show_screen("handout")
    _ready(qtbot, window)
    target = tmp_path / "long.pdf"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, **_k: (str(target), ""))
    screen = window.screen_of("handout")
    assert len(screen.pages) > 2
    screen.handing_out.save_pdf()
    with qtbot.waitSignal(screen.feeding.begun, timeout=30_000):
        pass
    screen.findChild(QProgressDialog).cancel()
    qtbot.waitUntil(lambda: not screen.feeding.busy, timeout=30_000)
    assert not target.exists()


def test_a_tune_without_notes_says_so(qtbot, window):
    window.opening.new_tune()
    qtbot.waitUntil(lambda: window.session.document is not None, timeout=30_000)
    window.show_screen("handout")
    qtbot.waitUntil(lambda: window.screen_of("handout").nothing.isVisible(), timeout=30_000)
    assert not window.screen_of("handout").panel.pdf.isEnabled()
    window.show_screen("practice")
    qtbot.waitUntil(lambda: window.screen_of("practice").nothing.isVisible(), timeout=30_000)
    assert not window.screen_of("practice").tabs.isTabVisible(0)  # there is no ladder


def test_svg_pictures_of_the_engraver_stay_vectors(themed, tmp_path):
    """No picture of dots is in the PDF: staff, bows and path are drawn."""
    pages, _ = _pages(_demo(0), HandoutOptions(picture=Picture.BOTH))
    target = tmp_path / "v.pdf"
    target.write_bytes(pdf_bytes(pages, Paper.A4, "x"))
    for page in pypdf.PdfReader(str(target)).pages:
        assert not list(page.images)


def test_the_print_dialog_goes_before_its_printer(qtbot, violin, monkeypatch):
    """It looks at the printer whenever the look of the program changes; one that stayed behind
    looked at a printer that was gone."""
    screen = violin.screen_of("handout")
    monkeypatch.setattr(QPrintDialog, "exec", lambda dialog: QPrintDialog.DialogCode.Rejected)
    for _ in range(3):
        assert not screen.handing_out.ask_how_to_print(make_printer(Paper.A4))
        gc.collect()
        violin.menus.dark_action.toggle()
        QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
        QApplication.processEvents()
    assert not screen.findChildren(QPrintDialog)
    violin.menus.dark_action.setChecked(False)


def test_pages_that_went_while_a_dialog_was_answered_are_said(qtbot, violin, tmp_path, monkeypatch):
    violin.show_screen("handout")
    _ready(qtbot, violin)
    screen = violin.screen_of("handout")

    def answered(*_a: object, **_k: object) -> tuple[str, str]:
        monkeypatch.setattr(type(screen), "pages", [])
        return str(tmp_path / "page"), ""

    monkeypatch.setattr(QFileDialog, "getSaveFileName", answered)
    for save in (screen.handing_out._save_svg, screen.handing_out._save_pdf):
        save()
        assert "made anew" in violin.statusBar().currentMessage()
    assert not list(tmp_path.glob("page*"))


def test_a_pdf_file_is_tagged_with_title_and_language(themed, tmp_path):
    """Read back by another library: headings, text, lists and figures in their order, every one
    with its content on the page, and a figure with its words."""
    document = open_document_path(demo_paths()[0])
    options = HandoutOptions()
    plan = plan_of(document)
    systems = engrave(document, Sheet.of(options).engraving_width)
    handout = handout_of(document, plan, options, date(2026, 11, 2))
    pages = compose(systems, [handout], options)
    reader = pypdf.PdfReader(BytesIO(pdf_bytes(pages, options.paper, "Two of them")))
    root = reader.trailer["/Root"]
    assert root["/Lang"] == "en"
    assert root["/MarkInfo"]["/Marked"]
    assert reader.metadata.title == "Two of them"
    tree = root["/StructTreeRoot"]
    elements = list(leaves(tree["/K"]))
    kinds = [element["/S"] for element in elements]
    assert kinds[0] == "/H1"
    assert kinds.count("/H1") == 1
    assert {"/H2", "/P", "/LBody", "/Figure"} <= set(kinds)
    assert [k["/S"] for k in tree["/K"]["/K"]].count("/L") >= 2
    words = " ".join(e["/Alt"] for e in elements if e["/S"] == "/Figure")
    for bar in plan.part.bars:
        name = f"Bar {bar.number}" if bar.number else "Pickup"
        assert f"{name}: {said_bar(plan, bar.index)}." in words
    read = [marked_text(reader, element) for element in elements]
    assert document.title in read[0]
    assert any("This week" in text for text in read)
    assert any("Stop at pain" in text for text in read)
    nums = tree["/ParentTree"]["/Nums"]
    for number, page in enumerate(reader.pages):
        content = page.get_contents().get_data()
        assert page["/StructParents"] == nums[2 * number] == number
        assert content.count(b" BDC\n") + content.count(b" BMC\n") == content.count(b"EMC\n")
        owners = [o.get_object() for o in nums[2 * number + 1].get_object()]
        for mcid, owner in enumerate(owners):
            assert isinstance(owner, NullObject) or owner["/K"] == mcid
        assert b"-9000" not in content


def leaves(element):
    """The elements of a structure that have content, in reading order."""
    element = element.get_object()
    inner = element["/K"]
    if isinstance(inner, list):
        for one in inner:
            yield from leaves(one)
    elif isinstance(inner, int):
        yield element
    else:
        yield from leaves(inner)


def marked_text(reader, element) -> str:
    """What stands on the page between the operators of an element's tag."""
    number = [page.indirect_reference for page in reader.pages].index(element.raw_get("/Pg"))
    content = reader.pages[number].get_contents().get_data()
    begin = content.index(f"<</MCID {element['/K']}>> BDC".encode())
    piece = DecodedStreamObject()
    piece.set_data(content[begin : content.index(b"EMC", begin)].split(b"BDC", 1)[1])
    alone = pypdf.PdfWriter(clone_from=reader).pages[number]
    alone[NameObject("/Contents")] = piece
    return alone.extract_text().replace("\t", " ")
