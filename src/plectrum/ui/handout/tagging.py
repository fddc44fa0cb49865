"""A PDF file made readable by a voice: its language, its title, and its parts as headings, text,
lists and figures (published standard: ISO 32000-1, sections 14.6 to 14.8, from memory).

The toolkit's writer makes no tags, so they are put in afterwards, where `Ink.part` left marks.
"""

from __future__ import annotations

import io
import re
from collections.abc import Iterator, Sequence
from typing import Any

from pypdf import PdfReader, PdfWriter
from pypdf.generic import (
    ArrayObject,
    BooleanObject,
    DecodedStreamObject,
    DictionaryObject,
    EncodedStreamObject,
    NameObject,
    NullObject,
    NumberObject,
    TextStringObject,
)

from plectrum.ui.handout.ink import MARK, Role

_RECT = " ".join(f"{n:g}" for n in (MARK.x(), MARK.y(), MARK.width(), MARK.height()))
_MARKS = re.compile(rf"q\n(?:[-\d. ]+ cm\n)?{re.escape(_RECT)} re\nf\nQ\n".encode())

Parts = Sequence[tuple[Role, str]]


def tagged(data: bytes, pages: Sequence[Parts], language: str) -> bytes:
    """The same file with tags.

    Args:
        pages: the parts of each page, in the order of the marks on it.
        language: as in "en".
    """
    writer = PdfWriter(clone_from=PdfReader(io.BytesIO(data)))
    tree = _Tree(writer)
    for page, parts in zip(writer.pages, pages, strict=True):
        page[NameObject("/Contents")] = writer._add_object(_marked(page, parts))
        tree.add_page(page, parts)
    root = writer.root_object
    root[NameObject("/StructTreeRoot")] = tree.finished()
    root[NameObject("/MarkInfo")] = DictionaryObject({NameObject("/Marked"): BooleanObject(True)})
    root[NameObject("/Lang")] = TextStringObject(language)
    root[NameObject("/ViewerPreferences")] = DictionaryObject(
        {NameObject("/DisplayDocTitle"): BooleanObject(True)}
    )
    out = io.BytesIO()
    writer.write(out)
    return out.getvalue()


def _marked(page: Any, parts: Parts) -> EncodedStreamObject:
    """The page's content, every part of it between the operators of its tag."""
    before, *content = _MARKS.split(page.get_contents().get_data())
    pieces = [b"/Artifact BMC\n", before, b"\nEMC\n"]
    for number, ((role, _), piece) in enumerate(zip(parts, content, strict=True)):
        begins = f"/{role} <</MCID {number}>> BDC\n" if role != Role.ORNAMENT else "/Artifact BMC\n"
        pieces += [begins.encode(), piece, b"\nEMC\n"]
    made = DecodedStreamObject()
    made.set_data(b"".join(pieces))
    return made.flate_encode()


class _Tree:
    """The structure of a document: its elements in their order, and of each page which element
    its marked contents belong to."""

    def __init__(self, writer: PdfWriter) -> None:
        self._writer = writer
        self._tree_at = writer._add_object(DictionaryObject())
        self._document = _element("Document", self._tree_at)
        self._document_at = writer._add_object(self._document)
        self._children, self._parents = ArrayObject(), ArrayObject()
        self._pages_n = 0
        self._list: ArrayObject | None = None

    def add_page(self, page: Any, parts: Parts) -> None:
        """The parts of the next page."""
        owners = ArrayObject(self._owners(page, parts))
        self._parents += [NumberObject(self._pages_n), self._writer._add_object(owners)]
        page[NameObject("/StructParents")] = NumberObject(self._pages_n)
        page[NameObject("/Tabs")] = NameObject("/S")
        self._pages_n += 1

    def _owners(self, page: Any, parts: Parts) -> Iterator[Any]:
        for number, (role, words) in enumerate(parts):
            if role == Role.ORNAMENT:
                yield NullObject()
                continue
            element = _element("LBody" if role == Role.ITEM else role, self._document_at)
            element[NameObject("/Pg")] = page.indirect_reference
            element[NameObject("/K")] = NumberObject(number)
            if role == Role.FIGURE:
                element[NameObject("/Alt")] = TextStringObject(words)
            at = self._writer._add_object(element)
            if role == Role.ITEM:
                self._add_item(element, at)
            else:
                self._list = None
                self._children.append(at)
            yield at

    def _add_item(self, body: DictionaryObject, at: Any) -> None:
        """An item of the list that is open, or of a new one."""
        if self._list is None:
            opened = _element("L", self._document_at)
            self._list = opened[NameObject("/K")] = ArrayObject()
            self._list_at = self._writer._add_object(opened)
            self._children.append(self._list_at)
        item = _element("LI", self._list_at)
        item[NameObject("/K")] = ArrayObject([at])
        item_at = self._writer._add_object(item)
        body[NameObject("/P")] = item_at
        self._list.append(item_at)

    def finished(self) -> Any:
        """The root of the tree."""
        self._document[NameObject("/K")] = self._children
        nums = DictionaryObject({NameObject("/Nums"): self._parents})
        tree: Any = self._tree_at.get_object()
        tree.update(
            {
                NameObject("/Type"): NameObject("/StructTreeRoot"),
                NameObject("/K"): self._document_at,
                NameObject("/ParentTree"): self._writer._add_object(nums),
                NameObject("/ParentTreeNextKey"): NumberObject(self._pages_n),
            }
        )
        return self._tree_at


def _element(kind: str, parent: Any) -> DictionaryObject:
    return DictionaryObject(
        {
            NameObject("/Type"): NameObject("/StructElem"),
            NameObject("/S"): NameObject(f"/{kind}"),
            NameObject("/P"): parent,
        }
    )
