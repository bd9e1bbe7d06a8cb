"""vCards: people and where they are, read in the versions 3.0 and 4.0 (2.1's charsets too), written in 4.0.

Source: RFC 6350 (vCard 4.0), RFC 2426 (3.0), RFC 6868 (signs within parameters). A property says its own charset
in older files, in whatever spelling: it is read byte by byte, before anything is text.
"""

import codecs
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
import quopri
import re

#: The charsets that are read, by the name their many spellings come to.
CHARSETS = re.compile(r"(utf-8|ascii|iso8859-\d{1,2}|cp125\d|utf-16(-[lb]e)?|koi8-r|mac-roman)")
#: Octets of a line before it is folded (RFC 6350, 3.2), and of a file's one line at most.
FOLD, LONGEST_LINE = 75, 200_000
MOST_CARDS = 20_000


@dataclass(frozen=True, slots=True, kw_only=True)
class Place:
    """An address: ``country`` as it is written there."""

    street: str = ""
    postcode: str = ""
    town: str = ""
    country: str = ""
    label: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Card:
    """A person: ``number`` is the card's turn in its file, from 1. ``fault`` tells why it cannot be read:
    ``charset``, ``encoding``, ``unended``, ``nameless``."""

    number: int = 1
    name: str = ""
    organisation: str = ""
    role: str = ""
    emails: tuple[str, ...] = ()
    phones: tuple[str, ...] = ()
    places: tuple[Place, ...] = ()
    fault: str = ""


class _Unread(Exception):
    """A property that cannot be read."""


@dataclass(frozen=True, slots=True)
class _Property:
    name: str
    parameters: dict[str, str]
    value: bytes

    @property
    def text(self) -> str:
        """The value as text, by the charset that it names."""
        given = self.parameters.get("CHARSET", "utf-8")
        try:
            charset = codecs.lookup(given).name
        except (LookupError, ValueError) as error:
            raise _Unread("charset") from error
        if not CHARSETS.fullmatch(charset):
            raise _Unread("charset")
        value = self.value
        if self.parameters.get("ENCODING", "").upper() == "QUOTED-PRINTABLE":
            value = quopri.decodestring(value)
        try:
            return value.decode(charset)
        except UnicodeError as error:
            raise _Unread("encoding") from error

    @property
    def parts(self) -> list[str]:
        """The value's parts, divided by semicolons that are not escaped."""
        return [_opened(part) for part in re.split(r"(?<!\\);", self.text)]

    @property
    def preferred(self) -> int:
        """How much it is preferred: 1 the most."""
        kinds = self.parameters.get("TYPE", "").upper()
        rank = self.parameters.get("PREF", "1" if "PREF" in kinds.split(",") else "100")
        return int(rank) if rank.isascii() and rank.isdigit() else 100


def read_cards(body: bytes) -> list[Card]:
    """The cards of a file, at most ``MOST_CARDS``; one that cannot be read tells why, and the rest goes on.

    >>> read_cards(b"BEGIN:VCARD\\r\\nFN:Ann Ash\\r\\nORG:Sable Farm;Yard\\r\\nEND:VCARD")[0].organisation
    'Sable Farm'
    """
    found: list[Card] = []
    inside: list[bytes] | None = None
    for line in _unfolded(_as_octets(body)):
        word = line.strip().upper()
        if word == b"BEGIN:VCARD":
            if inside is not None:
                found.append(Card(number=len(found) + 1, fault="unended"))
            inside = []
        elif word == b"END:VCARD" and inside is not None:
            found.append(_card(inside, len(found) + 1))
            inside = None
        elif inside is not None:
            inside.append(line)
        if len(found) >= MOST_CARDS:
            return found
    if inside is not None:
        found.append(Card(number=len(found) + 1, fault="unended"))
    return found


def _as_octets(body: bytes) -> bytes:
    """A file in two-byte signs as UTF-8; others as they are, without their mark."""
    for mark, charset in ((codecs.BOM_UTF16_LE, "utf-16"), (codecs.BOM_UTF16_BE, "utf-16")):
        if body.startswith(mark):
            return body.decode(charset, "replace").encode()
    return body.removeprefix(codecs.BOM_UTF8)


def _unfolded(body: bytes) -> Iterator[bytes]:
    """Whole lines: one that begins with a space goes on the line before, as does one after a soft break of
    quoted-printable."""
    whole = b""
    for line in re.split(rb"\r\n|\n|\r", body):
        soft = whole.endswith(b"=") and b"QUOTED-PRINTABLE" in whole.upper().partition(b":")[0]
        if line[:1] in (b" ", b"\t") and whole and len(whole) < LONGEST_LINE:
            whole += line[1:]
        elif soft and len(whole) < LONGEST_LINE:
            whole = whole[:-1] + line
        else:
            if whole:
                yield whole
            whole = line
    if whole:
        yield whole


def _property(line: bytes) -> _Property | None:
    """A line's name, parameters and value; None for what is no property."""
    head, quoted = 0, False
    for head, sign in enumerate(line):  # noqa: B007 - where the colon stands
        quoted ^= sign == ord('"')
        if sign == ord(":") and not quoted:
            break
    else:
        return None
    names = re.findall(r'(?:[^;"]|"[^"]*")+', line[:head].decode("latin-1"))
    if not names:
        return None
    parameters: dict[str, str] = {}
    for each in names[1:]:
        key, sign, value = each.partition("=")
        key, value = (key.strip().upper(), value.strip().strip('"')) if sign else ("TYPE", key)
        parameters[key] = f"{parameters[key]},{value}" if key in parameters else value
    if "QUOTED-PRINTABLE" in parameters.get("TYPE", "").upper().split(","):
        parameters["ENCODING"] = "QUOTED-PRINTABLE"
    return _Property(names[0].strip().rpartition(".")[2].upper(), parameters, line[head + 1 :])


def _opened(text: str) -> str:
    """A part without its escapes, on one line."""
    opened = re.sub(r"\\([nN,;:\\])", lambda m: " " if m[1] in "nN" else m[1], text)
    return " ".join(opened.split())


def _card(lines: Iterable[bytes], number: int) -> Card:
    named: dict[str, list[_Property]] = {}
    for line in lines:
        read = _property(line)
        if read is not None:
            named.setdefault(read.name, []).append(read)
    try:
        card = _read(named, number)
    except _Unread as reason:
        return Card(number=number, fault=str(reason))
    return card if card.name or card.organisation else Card(number=number, fault="nameless")


def _read(named: dict[str, list[_Property]], number: int) -> Card:
    def texts(name: str) -> tuple[str, ...]:
        rows = sorted(named.get(name, ()), key=lambda row: row.preferred)
        found = (_opened(row.text).removeprefix("tel:").removeprefix("mailto:") for row in rows)
        return tuple(dict.fromkeys(text for text in found if text))

    family, given, middle, before, after = ([*_first(named, "N"), *[""] * 5])[:5]
    whole = " ".join(part for part in (before, given, middle, family, after) if part)
    return Card(
        number=number,
        name=next(iter(texts("FN")), whole),
        organisation=next(iter(_first(named, "ORG")), ""),
        role=next(iter(texts("TITLE") or texts("ROLE")), ""),
        emails=texts("EMAIL"),
        phones=texts("TEL"),
        places=tuple(place for row in named.get("ADR", ()) if (place := _place(row)) is not None),
    )


def _first(named: dict[str, list[_Property]], name: str) -> list[str]:
    rows = named.get(name)
    return rows[0].parts if rows else []


def _place(row: _Property) -> Place | None:
    box, extra, street, town, region, postcode, country = ([*row.parts, *[""] * 7])[:7]
    street = ", ".join(part for part in (street, extra, box) if part)
    if not street and not town:
        return None
    return Place(street=street, postcode=postcode, town=town or region, country=country, label="")


def write_card(card: Card) -> str:
    """A card in version 4.0, its lines folded at 75 octets."""
    lines = ["BEGIN:VCARD", "VERSION:4.0", f"FN:{_escaped(card.name or card.organisation)}"]
    if card.name:
        given, _, family = card.name.rpartition(" ")
        lines.append(f"N:{_escaped(family)};{_escaped(given)};;;")
    if card.organisation:
        lines.append(f"ORG:{_escaped(card.organisation)}")
    if card.role:
        lines.append(f"TITLE:{_escaped(card.role)}")
    lines += [f"EMAIL:{_escaped(mail)}" for mail in card.emails]
    lines += [f"TEL;VALUE=text:{_escaped(phone)}" for phone in card.phones]
    lines += [
        ";".join(["ADR:", "", *map(_escaped, (at.street, at.town, "", at.postcode, at.country))])
        for at in card.places
    ]
    return "".join(_folded(line) for line in [*lines, "END:VCARD"])


def _escaped(text: str) -> str:
    return re.sub(r"([\\,;])", r"\\\1", " ".join(text.split()))


def _folded(line: str) -> str:
    """A line of at most 75 octets, going on after a space; no sign is cut."""
    pieces: list[str] = []
    piece, width = "", 0
    for sign in line:
        octets = len(sign.encode())
        if width + octets > (FOLD if not pieces else FOLD - 1):
            pieces.append(piece)
            piece, width = "", 0
        piece, width = piece + sign, width + octets
    return "\r\n ".join([*pieces, piece]) + "\r\n"
