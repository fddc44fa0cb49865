"""A PDF file made readable by a voice: its language, its title, and for every page what is on it
in words, as a tagged figure (published standard: ISO 32000-1, section 14.7 and 14.8, from memory).

The toolkit's writer makes no tags, so they are put in afterwards.
"""

from __future__ import annotations

import io
from collections.abc import Sequence

from pypdf import PdfReader, PdfWriter
from pypdf.generic import (
    ArrayObject,
    BooleanObject,
    DecodedStreamObject,
    DictionaryObject,
    NameObject,
    NumberObject,
    TextStringObject,
)

BEGIN, END = b"/Figure <</MCID 0>> BDC\n", b"\nEMC\n"


def tagged(data: bytes, spoken: Sequence[str], language: str) -> bytes:
    """The same file with tags.

    Args:
        spoken: what each page says.
        language: as in "en".
    """
    writer = PdfWriter(clone_from=PdfReader(io.BytesIO(data)))
    root = writer.root_object
    tree = DictionaryObject({NameObject("/Type"): NameObject("/StructTreeRoot")})
    tree_at = writer._add_object(tree)
    document = _element("/Document", tree_at)
    document_at = writer._add_object(document)
    figures, parents = ArrayObject(), ArrayObject()
    for number, (page, words) in enumerate(zip(writer.pages, spoken, strict=True)):
        figure = _element("/Figure", document_at)
        figure[NameObject("/Alt")] = TextStringObject(words)
        figure[NameObject("/Pg")] = page.indirect_reference
        figure[NameObject("/K")] = NumberObject(0)
        figure_at = writer._add_object(figure)
        figures.append(figure_at)
        parents += [NumberObject(number), ArrayObject([figure_at])]
        page[NameObject("/StructParents")] = NumberObject(number)
        page[NameObject("/Tabs")] = NameObject("/S")
        content = DecodedStreamObject()
        content.set_data(BEGIN + page.get_contents().get_data() + END)  # type: ignore[union-attr]
        page[NameObject("/Contents")] = writer._add_object(content.flate_encode())
    document[NameObject("/K")] = figures
    tree[NameObject("/K")] = document_at
    tree[NameObject("/ParentTree")] = writer._add_object(
        DictionaryObject({NameObject("/Nums"): parents})
    )
    root[NameObject("/StructTreeRoot")] = tree_at
    root[NameObject("/MarkInfo")] = DictionaryObject({NameObject("/Marked"): BooleanObject(True)})
    root[NameObject("/Lang")] = TextStringObject(language)
    root[NameObject("/ViewerPreferences")] = DictionaryObject(
        {NameObject("/DisplayDocTitle"): BooleanObject(True)}
    )
    out = io.BytesIO()
    writer.write(out)
    return out.getvalue()


def _element(kind: str, parent: object) -> DictionaryObject:
    return DictionaryObject(
        {
            NameObject("/Type"): NameObject("/StructElem"),
            NameObject("/S"): NameObject(kind),
            NameObject("/P"): parent,
        }
    )
