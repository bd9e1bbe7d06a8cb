"""What kind of file a content is: by its first bytes, never by what somebody calls it.

Sources: the signatures that each format's own specification gives; for ZIP-based office files the names of
their parts (ECMA-376, part 2).
"""

from io import BytesIO
import zipfile

from apps.errors import Invalid

MOST_BYTES = 15_000_000
PDF = "application/pdf"
SPREADSHEET = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
TEXT = "application/vnd.openxmlformats-officedocument.wordprocessingml.document"
#: Shown in place; everything else is taken home.
SHOWN = ("image/png", "image/jpeg", "image/gif", "image/webp", PDF)
_SIGNATURES = (
    (b"%PDF-", PDF),
    (b"\x89PNG\r\n\x1a\n", "image/png"),
    (b"\xff\xd8\xff", "image/jpeg"),
    (b"GIF87a", "image/gif"),
    (b"GIF89a", "image/gif"),
    (b"AC10", "image/vnd.dwg"),
)
_HEIC = (b"heic", b"heix", b"mif1", b"hevc")


def kind_of(body: bytes) -> str:
    """The media type of a content; raises ``Invalid`` for one that is not kept here."""
    if not body:
        raise Invalid("empty_file", path="file")
    if len(body) > MOST_BYTES:
        raise Invalid("file_too_large", path="file", facts={"most": MOST_BYTES // 1_000_000})
    for start, kind in _SIGNATURES:
        if body.startswith(start):
            return kind
    if body[:4] == b"RIFF" and body[8:12] == b"WEBP":
        return "image/webp"
    if body[4:8] == b"ftyp" and body[8:12] in _HEIC:
        return "image/heic"
    found = _office(body) if body.startswith(b"PK\x03\x04") else _plain(body)
    if not found:
        raise Invalid("file_kind", path="file")
    return found


def _office(body: bytes) -> str:
    try:
        with zipfile.ZipFile(BytesIO(body)) as packed:
            names = set(packed.namelist())
    except zipfile.BadZipFile:
        return ""
    if any(name.lower().endswith("vbaproject.bin") for name in names):
        return ""
    if "xl/workbook.xml" in names:
        return SPREADSHEET
    return TEXT if "word/document.xml" in names else ""


def _plain(body: bytes) -> str:
    """Text that is text: a drawing as DXF, rows, a note. Nothing that a browser would run."""
    if b"\x00" in body:
        return ""
    try:
        start = body[:4000].decode("utf-8-sig", errors="strict").lstrip().lower()
    except UnicodeDecodeError as error:
        if error.start < len(body[:4000]) - 4:
            return ""
        start = body[:3990].decode("utf-8-sig", errors="replace").lstrip().lower()
    if start.startswith("<"):
        return ""
    drawing = start.startswith("0") and "section" in start[:40]
    return "image/vnd.dxf" if drawing else "text/plain"
