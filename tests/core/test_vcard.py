"""vCards in every spelling of a charset, folded, escaped, broken; written and read again."""

from hypothesis import given
from hypothesis import strategies as st
import pytest

from routecore.reading.vcard import Card, Place, read_cards, write_card


def card(*lines: bytes) -> bytes:
    return b"\r\n".join((b"BEGIN:VCARD", b"VERSION:3.0", *lines, b"END:VCARD"))


@pytest.mark.parametrize(
    "line",
    [
        "FN;CHARSET=UTF-8:Jörg Groß".encode(),
        "FN;charset=utf8:Jörg Groß".encode(),
        'FN;CHARSET="Utf_8":Jörg Groß'.encode(),
        "FN;CHARSET=ISO-8859-1:Jörg Groß".encode("latin-1"),
        "FN;CHARSET=latin1:Jörg Groß".encode("latin-1"),
        "FN;CHARSET=Windows-1252:Jörg Groß".encode("cp1252"),
        b"FN;CHARSET=cp1252;ENCODING=QUOTED-PRINTABLE:J=F6rg Gro=DF",
        b"FN;QUOTED-PRINTABLE;CHARSET=UTF-8:J=C3=B6rg Gr=\r\no=C3=9F",
        "fn:Jörg Groß".encode(),
        "item1.FN:Jörg Groß".encode(),
        "FN:Jörg\r\n  Groß".encode(),
    ],
)
def test_a_name_is_read_in_every_spelling_of_its_charset(line: bytes) -> None:
    assert read_cards(card(line))[0].name == "Jörg Groß"


def test_a_file_in_two_byte_signs_is_read() -> None:
    assert read_cards(card("FN:Jörg".encode()).decode().encode("utf-16"))[0].name == "Jörg"


@pytest.mark.parametrize(
    ("lines", "fault"),
    [
        ((b"FN;CHARSET=klingon:x",), "charset"),
        ((b"FN;CHARSET=rot13:x",), "charset"),
        ((b"FN;CHARSET=zlib:x",), "charset"),
        ((b"FN:J\xf6rg",), "encoding"),
        ((b"NOTE:nobody",), "nameless"),
        ((b"FN",), "nameless"),
    ],
)
def test_a_card_that_cannot_be_read_says_why_and_the_next_is_read(
    lines: tuple[bytes, ...], fault: str
) -> None:
    found = read_cards(card(*lines) + b"\n" + card(b"FN:Ann"))
    assert [(one.fault, one.name) for one in found] == [(fault, ""), ("", "Ann")]


def test_a_card_without_its_end_is_told() -> None:
    found = read_cards(b"BEGIN:VCARD\nFN:A\n" + card(b"FN:B") + b"\nBEGIN:VCARD\nFN:C")
    assert [(one.fault, one.name) for one in found] == [("unended", ""), ("", "B"), ("unended", "")]


def test_the_parts_of_a_name_make_it_where_it_is_not_formatted() -> None:
    assert read_cards(card(b"N:Salter;Una;;Dr;"))[0].name == "Dr Una Salter"


def test_the_preferred_address_comes_first() -> None:
    rows = (b"EMAIL;TYPE=home:a@x.example", b"EMAIL;TYPE=INTERNET,PREF:b@x.example")
    assert read_cards(card(b"FN:A", *rows))[0].emails == ("b@x.example", "a@x.example")
    four = (b"EMAIL;PREF=2:a@x.example", b"EMAIL;PREF=1:b@x.example")
    assert read_cards(card(b"FN:A", *four))[0].emails == ("b@x.example", "a@x.example")


def test_signs_that_divide_are_escaped() -> None:
    found = read_cards(
        card(b"FN:A", rb"ORG:Frost\; Wind\, Rain;Yard", rb"ADR:;;1\, Lane;Fell;;QF1;QF")
    )
    assert found[0].organisation == "Frost; Wind, Rain"
    assert found[0].places == (Place(street="1, Lane", town="Fell", postcode="QF1", country="QF"),)


TEXT = st.text(st.characters(exclude_categories=["C", "Z"]), min_size=1, max_size=60)


@given(TEXT, TEXT, st.lists(TEXT, max_size=2, unique=True), TEXT)
def test_what_is_written_is_read_as_it_was(
    name: str, organisation: str, phones: list[str], street: str
) -> None:
    made = Card(
        name=name,
        organisation=organisation,
        role="buyer",
        phones=tuple(p for p in phones if not p.startswith(("tel:", "mailto:"))),
        places=(Place(street=street, town="Fell", postcode="1", country="QF"),),
    )
    text = write_card(made)
    assert all(len(line.encode()) <= 75 for line in text.split("\r\n"))
    (found,) = read_cards(text.encode())
    if name.startswith(("tel:", "mailto:")):
        return
    assert found == made


@given(st.binary(max_size=400))
def test_any_bytes_are_read_to_their_end(body: bytes) -> None:
    for found in read_cards(b"BEGIN:VCARD\r\n" + body + b"\r\nEND:VCARD"):
        assert found.fault in ("", "charset", "encoding", "nameless", "unended")
