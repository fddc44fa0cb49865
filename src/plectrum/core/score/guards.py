"""What a file must be before its music is read. Every file is hostile until proved otherwise.

Limits are own defaults: far above any part a teacher opens, far below what hurts a machine.
"""

from __future__ import annotations

import io
import zipfile
from pathlib import PurePosixPath
from typing import Any

from lxml import etree

from plectrum.core.errors import ScoreError
from plectrum.core.incoming.files import MAX_FILE_BYTES
from plectrum.core.wording import say, tr

MAX_UNZIPPED_BYTES = 30_000_000
MAX_ZIP_MEMBERS = 200
MAX_MEASURES_N = 40_000
MAX_NOTES_N = 400_000
MUSICXML_SUFFIXES = (".musicxml", ".xml")
_CONTAINER = "META-INF/container.xml"


def kind_of(data: bytes) -> str:
    """Tell a file's kind by its content: "zip", "xml", "abc", "midi", "empty" or "unknown"."""
    if not data.strip(b" \t\r\n\0"):
        return "empty"
    if data.startswith(b"PK\x03\x04"):
        return "zip"
    if data.startswith(b"MThd"):
        return "midi"
    head = data[:4096]
    if head.startswith((b"\xff\xfe", b"\xfe\xff")):
        return "xml"
    head = head.removeprefix(b"\xef\xbb\xbf").lstrip()
    if head.startswith(b"<"):
        return "xml"
    lines = head.splitlines()
    if any(line.startswith(b"X:") for line in lines) and b"K:" in data:
        return "abc"
    return "unknown"


def check_size(data: bytes, where: str) -> None:
    """Refuse a file too large to be a part for a student."""
    if len(data) > MAX_FILE_BYTES:
        raise ScoreError(
            say(
                "the file is too large ({count} MB, the limit is {max_file_bytes} MB)",
                count=len(data) // 1000000,
                max_file_bytes=MAX_FILE_BYTES // 1000000,
            ),
            where=where,
            remedy=tr("Save one piece, without pictures or sound, and open that"),
        )


def parse_xml(data: bytes, where: str) -> etree._ElementTree:
    """Parse XML with no entities, no network and no external files.

    Raises:
        ScoreError: the text is not well-formed XML, or declares entities of its own.
    """
    parser = etree.XMLParser(
        resolve_entities=False,
        no_network=True,
        load_dtd=False,
        dtd_validation=False,
        huge_tree=False,
        remove_blank_text=False,
        strip_cdata=False,
    )
    try:
        tree = etree.parse(io.BytesIO(data), parser)
    except etree.XMLSyntaxError as error:
        line = error.lineno or 1
        raise ScoreError(
            tr("the file breaks off or is not well-formed XML"),
            where=say("{where}, line {line}", where=where, line=line),
            remedy=tr("Export it again from the program that made it"),
        ) from error
    dtd: Any = tree.docinfo.internalDTD
    if dtd is not None and any(True for _ in (*dtd.iterentities(), *dtd.iterelements())):
        raise ScoreError(
            tr("the file declares XML entities of its own, which is not allowed"),
            where=where,
            remedy=tr("Export it again as plain MusicXML"),
        )
    return tree


def _safe_member(name: str) -> bool:
    path = PurePosixPath(name.replace("\\", "/"))
    return not path.is_absolute() and ".." not in path.parts and ":" not in name


def open_zip(data: bytes, where: str) -> zipfile.ZipFile:
    """Open a zip kept in memory, after checking its directory.

    Raises:
        ScoreError: damaged, encrypted, too many or too large members, or path tricks.
    """
    try:
        archive = zipfile.ZipFile(io.BytesIO(data))
    except (zipfile.BadZipFile, ValueError, OSError, NotImplementedError) as error:
        raise ScoreError(
            tr("the compressed file is damaged"),
            where=where,
            remedy=tr("Save or download it again"),
        ) from error
    members = archive.infolist()
    if len(members) > MAX_ZIP_MEMBERS or sum(m.file_size for m in members) > MAX_UNZIPPED_BYTES:
        raise ScoreError(
            tr("the compressed file unpacks to more than a score can be"),
            where=where,
            remedy=tr("Save the piece as plain MusicXML and open that"),
        )
    for member in members:
        if not _safe_member(member.filename):
            raise ScoreError(
                tr("the compressed file holds a member whose path leaves the archive"),
                where=where,
                remedy=tr("Do not trust this file; ask for it from its source again"),
            )
        if member.flag_bits & 0x1:
            raise ScoreError(
                tr("the compressed file is encrypted"),
                where=where,
                remedy=tr("Save it without password"),
            )
    return archive


def read_member(archive: zipfile.ZipFile, name: str, where: str) -> bytes:
    """Read one member, never more than the unzipped limit, whatever its directory claims."""
    try:
        with archive.open(name) as stream:
            data = stream.read(MAX_UNZIPPED_BYTES + 1)
    except (KeyError, zipfile.BadZipFile, EOFError, OSError, RuntimeError, ValueError) as error:
        raise ScoreError(
            say("the part {name!r} of the compressed file is missing or damaged", name=name),
            where=where,
            remedy=tr("Save or download it again"),
        ) from error
    except Exception as error:  # zlib.error and friends: damaged in the middle
        raise ScoreError(
            say("the part {name!r} of the compressed file cannot be unpacked", name=name),
            where=where,
        ) from error
    if len(data) > MAX_UNZIPPED_BYTES:
        raise ScoreError(tr("the compressed file unpacks to more than a score can be"), where=where)
    return data


def score_from_mxl(data: bytes, where: str) -> bytes:
    """The score inside a compressed MusicXML file, as its container names it."""
    archive = open_zip(data, where)
    names = archive.namelist()
    if _CONTAINER in names:
        container = parse_xml(read_member(archive, _CONTAINER, where), where)
        for rootfile in container.iter("{*}rootfile"):
            path = rootfile.get("full-path", "")
            if path in names:
                return read_member(archive, path, where)
    for name in names:
        if name.lower().endswith(MUSICXML_SUFFIXES) and not name.startswith("META-INF/"):
            return read_member(archive, name, where)
    raise ScoreError(
        tr("the compressed file holds no score"),
        where=where,
        remedy=tr("Open a MusicXML, compressed MusicXML, ABC or Plectrum file"),
    )


def as_partwise(tree: etree._ElementTree, where: str) -> etree._ElementTree:
    """Check the root and counts; turn a time-wise score into a part-wise one.

    Raises:
        ScoreError: not MusicXML, or without parts, or without measures, or too many.
    """
    root = tree.getroot()
    if isinstance(root.tag, str) and root.tag.startswith("{"):
        for element in root.iter():
            if isinstance(element.tag, str):
                element.tag = etree.QName(element).localname
        etree.cleanup_namespaces(root)
    if root.tag == "score-timewise":
        tree = _from_timewise(root)
        root = tree.getroot()
    if root.tag != "score-partwise":
        raise ScoreError(
            say("this XML file is not a MusicXML score (its root is <{tag}>)", tag=root.tag),
            where=where,
            remedy=tr("Open a MusicXML, compressed MusicXML, ABC or Plectrum file"),
        )
    if root.find("part") is None or root.find("part/measure") is None:
        raise ScoreError(
            tr("the score has no part with measures"), where=where, remedy=tr("Export it again")
        )
    measures_n = sum(1 for _ in root.iterfind("part/measure"))
    notes_n = sum(1 for _ in root.iter("note"))
    if measures_n > MAX_MEASURES_N or notes_n > MAX_NOTES_N:
        raise ScoreError(
            say(
                "the score is too long ({measures_n} measures, {notes_n} notes)",
                measures_n=measures_n,
                notes_n=notes_n,
            ),
            where=where,
            remedy=tr("Save one piece or one part and open that"),
        )
    return tree


def _attributes(element: etree._Element) -> dict[str, str]:
    return {str(name): str(value) for name, value in element.attrib.items()}


def _from_timewise(root: etree._Element) -> etree._ElementTree:
    partwise = etree.Element("score-partwise", _attributes(root))
    parts: dict[str, etree._Element] = {}
    for child in list(root):
        if child.tag != "measure":
            partwise.append(child)
            continue
        for part in list(child):
            part_id = part.get("id", "")
            if part_id not in parts:
                parts[part_id] = etree.Element("part", {"id": part_id})
            measure = etree.SubElement(parts[part_id], "measure", _attributes(child))
            measure.extend(list(part))
    partwise.extend(parts.values())
    return etree.ElementTree(partwise)
