"""Whether a score is valid MusicXML 4.0, by the schema that the package `musicxml` carries."""

from __future__ import annotations

from functools import cache
from importlib import resources

from lxml import etree

# What MusicXML refers to of two schemas (published: W3C XLink 1.1 and XML 1.0, from memory).
_IMPORTED = {
    "xlink.xsd": (
        "http://www.w3.org/1999/xlink",
        ("href", "type", "role", "title", "show", "actuate"),
    ),
    "xml.xsd": ("http://www.w3.org/XML/1998/namespace", ("lang", "space")),
}


def _imported(namespace: str, names: tuple[str, ...]) -> str:
    rows = "".join(f'<xs:attribute name="{name}" type="xs:string"/>' for name in names)
    return (
        f'<xs:schema xmlns:xs="http://www.w3.org/2001/XMLSchema" targetNamespace="{namespace}">'
        f"{rows}</xs:schema>"
    )


class _Nearby(etree.Resolver):
    """What the schema imports, without a network."""

    def resolve(self, url, _public, context):
        found = _IMPORTED.get(url.rsplit("/", 1)[-1])
        return self.resolve_string(_imported(*found), context, base_url=url) if found else None


@cache
def schema() -> etree.XMLSchema:
    parser = etree.XMLParser(no_network=True)
    parser.resolvers.add(_Nearby())
    text = (resources.files("musicxml.generate_classes") / "musicxml_4_0.xsd").read_bytes()
    return etree.XMLSchema(etree.fromstring(text, parser))


def faults(xml: bytes) -> list[str]:
    """What is not valid, each kind of fault once."""
    tree = etree.fromstring(xml, etree.XMLParser(no_network=True, load_dtd=False))
    schema().validate(tree)
    return sorted({entry.message for entry in schema().error_log})
