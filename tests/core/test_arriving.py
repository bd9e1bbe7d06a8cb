"""Mails taken apart: published examples, what is broken, what is meant badly, and anything at all."""

from datetime import UTC, datetime
from email.message import EmailMessage
from email.utils import format_datetime

from hypothesis import given
from hypothesis import strategies as st
import pytest

from routecore.arriving import (
    MOST_FILES,
    MOST_REFERENCES,
    File,
    Person,
    Report,
    Told,
    answer_subject,
    answered,
    plain,
    quoted,
    read_mail,
    references,
)
from routecore.arriving.headers import decoded
from routecore.arriving.threads import QUOTED_WIDTH
from routecore.errors import InvalidInput

#: RFC 3464, appendix E.1; from memory.
SIMPLE_REPORT = b"""\
Date: Thu, 7 Jul 1994 17:16:05 -0400
From: Mail Delivery Subsystem <MAILER-DAEMON@CS.UTK.EDU>
Message-Id: <199407072116.RAA14128@CS.UTK.EDU>
Subject: Returned mail: Cannot send message for 5 days
To: <owner-info-mime@cs.utk.edu>
MIME-Version: 1.0
Content-Type: multipart/report; report-type=delivery-status;
      boundary="RAA14128.773615765/CS.UTK.EDU"

--RAA14128.773615765/CS.UTK.EDU

The original message was received at Sat, 2 Jul 1994 17:10:28 -0400
from root@localhost

--RAA14128.773615765/CS.UTK.EDU
content-type: message/delivery-status

Reporting-MTA: dns; cs.utk.edu

Original-Recipient: rfc822;louisl@larry.slip.umd.edu
Final-Recipient: rfc822;louisl@larry.slip.umd.edu
Action: failed
Status: 4.0.0
Diagnostic-Code: smtp; 426 connection timed out
Last-Attempt-Date: Thu, 7 Jul 1994 17:15:49 -0400

--RAA14128.773615765/CS.UTK.EDU
content-type: message/rfc822

Message-ID: <ours.1@house.example>
Subject: Quote

[original message goes here]
--RAA14128.773615765/CS.UTK.EDU--
"""

#: RFC 2046, 5.1.1; from memory.
SIMPLE_MULTIPART = b"""\
From: Nathaniel Borenstein <nsb@bellcore.com>
To: Ned Freed <ned@innosoft.com>
Date: Sun, 21 Mar 1993 23:56:48 -0800 (PST)
Subject: Sample message
MIME-Version: 1.0
Content-type: multipart/mixed; boundary="simple boundary"

This is the preamble.  It is to be ignored, though it
is a handy place for composition agents to include an
explanatory note to non-MIME conformant readers.

--simple boundary

This is implicitly typed plain US-ASCII text.
It does NOT end with a linebreak.
--simple boundary
Content-type: text/plain; charset=us-ascii

This is explicitly typed plain US-ASCII text.
It DOES end with a linebreak.

--simple boundary--

This is the epilogue.  It is also to be ignored.
"""


def test_a_delivery_report_tells_for_whom_it_failed_and_why() -> None:
    report = read_mail(SIMPLE_REPORT).report
    told = Told(
        address="louisl@larry.slip.umd.edu",
        action="failed",
        status="4.0.0",
        reason="426 connection timed out",
    )
    assert report == Report("<ours.1@house.example>", (told,))
    assert report.failed == (told,)


def test_a_report_that_returns_headers_alone_names_its_mail_all_the_same() -> None:
    headers = SIMPLE_REPORT.replace(b"message/rfc822", b"text/rfc822-headers")
    report = read_mail(headers).report
    assert report is not None
    assert report.original == "<ours.1@house.example>"


def test_a_report_of_several_tells_each_apart() -> None:
    second = b"\n\nFinal-Recipient: rfc822;b@holm.example\nAction: delayed\nStatus: 4.4.1\n\nReporting-MTA: x"
    marker = b"Last-Attempt-Date: Thu, 7 Jul 1994 17:15:49 -0400"
    report = read_mail(SIMPLE_REPORT.replace(marker, marker + second)).report
    assert report is not None
    assert [(each.address, each.action) for each in report.told] == [
        ("louisl@larry.slip.umd.edu", "failed"),
        ("b@holm.example", "delayed"),
    ]
    assert len(report.failed) == 1


def test_an_ordinary_mail_is_no_report() -> None:
    assert (
        read_mail(b"Subject: Delivery failed\n\nFinal-Recipient: x\nAction: failed").report is None
    )


def test_the_parts_of_a_mail_are_its_words_without_what_stands_around_them() -> None:
    mail = read_mail(SIMPLE_MULTIPART)
    assert mail.text.splitlines() == [
        "This is implicitly typed plain US-ASCII text.",
        "It does NOT end with a linebreak.",
        "This is explicitly typed plain US-ASCII text.",
        "It DOES end with a linebreak.",
    ]
    assert mail.sender == Person("Nathaniel Borenstein", "nsb@bellcore.com")
    assert mail.at == datetime(1993, 3, 22, 7, 56, 48, tzinfo=UTC)
    assert mail.files == ()


@pytest.mark.parametrize(
    ("given", "read"),
    [  # RFC 2047, 8; from memory
        ("=?ISO-8859-1?Q?Keld_J=F8rn_Simonsen?=", "Keld Jørn Simonsen"),
        (
            "=?ISO-8859-1?B?SWYgeW91IGNhbiByZWFkIHRoaXMgeW8=?=\n "
            "=?ISO-8859-2?B?dSB1bmRlcnN0YW5kIHRoZSBleGFtcGxlLg==?=",
            "If you can read this you understand the example.",
        ),
        ("=?ISO-8859-1?Q?a_b?=", "a b"),
        ("=?x-none?Q?caf=C3=A9?=", "café"),
        ("=?utf-8?B?not base64 at all", "=?utf-8?B?not base64 at all"),
    ],
)
def test_encoded_words_of_a_subject_are_read(given: str, read: str) -> None:
    assert read_mail(f"Subject: {given}\n\n".encode()).subject == read


def test_a_subject_in_bare_bytes_is_read_all_the_same() -> None:
    assert read_mail("Subject: Größe der Pfähle\n\n".encode()).subject == "Größe der Pfähle"
    assert (
        read_mail("Subject: Größe der Pfähle\n\n".encode("latin-1")).subject == "Größe der Pfähle"
    )


def test_an_answer_to_an_answer_names_the_whole_conversation() -> None:
    """RFC 5322, appendix A.2; from memory."""
    mail = read_mail(
        b"From: John Doe <jdoe@machine.example>\nMessage-ID: <abcd.1234@local.machine.test>\n"
        b"In-Reply-To: <3456@example.net>\nReferences: <1234@local.machine.example> <3456@example.net>\n\nHi"
    )
    assert mail.answers == ("<1234@local.machine.example>", "<3456@example.net>")
    assert answered(mail, {"<1234@local.machine.example>"}) == "<1234@local.machine.example>"
    assert answered(mail, set(mail.answers)) == "<3456@example.net>"
    assert answered(mail, {"<other@example.net>"}) == ""


@pytest.mark.parametrize(
    "line",
    [
        "Auto-Submitted: auto-replied",  # RFC 3834, 5
        "Auto-Submitted: auto-generated; x=1",
        "Precedence: bulk",
        "List-Id: <growers.holm.example>",  # RFC 2919
        "Return-Path: <>",
    ],
)
def test_what_a_machine_wrote_is_told_apart(line: str) -> None:
    assert read_mail(f"{line}\nSubject: x\n\ny".encode()).automatic


def test_what_a_person_wrote_is_not_automatic() -> None:
    assert not read_mail(b"Auto-Submitted: no\nReturn-Path: <ada@holm.example>\n\ny").automatic


MARKUP = """<html><head><title>t</title><style>p {}</style></head><body><p>Dear Ilse,</p>
<p>we take <b>20&nbsp;posts</b>.</p><script>alert('posts 99')</script><img src="https://track.example/1.gif">
<div style="display:none">hidden 77</div><ul><li>one roll</li></ul>
<table><tr><th>Item</th><th>Pieces</th></tr><tr><td>WIRE-2</td><td>3</td></tr></table>
<blockquote>You wrote: 50 posts</blockquote></body></html>"""


def test_html_is_read_as_a_person_sees_it() -> None:
    assert plain(MARKUP).splitlines() == [
        "Dear Ilse,",
        "",
        "we take 20 posts.",
        "",
        "- one roll",
        "Item\tPieces",
        "WIRE-2\t3",
        "> You wrote: 50 posts",
    ]


@pytest.mark.parametrize(
    ("markup", "words"),
    [
        ("<![foo bar]>20 posts", "20 posts"),
        ("<!DOCTYPE html [<p>20 posts", "20 posts"),
        ("3 < 4 <b>and</b> 5 > 4", "3 < 4 and 5 > 4"),
        ("<img alt=\"a > b\"><P TITLE='x'>20 posts</P>", "20 posts"),
        ("<p>20 posts<!-- never ended <p>90", "20 posts"),
        ("<input type=hidden value=9><p class=hidden-print>20 posts", "20 posts"),
        ("<p>20&nbsp;posts&#0;&#xd800;", "20 posts\ufffd\ufffd"),
        ("<script>'</p>' + '90'</script><p>20 posts", "20 posts"),
    ],
)
def test_html_that_is_broken_is_read_as_far_as_it_goes(markup: str, words: str) -> None:
    assert plain(markup) == words


@pytest.mark.parametrize(
    "piece",
    ["<!--", "<a ", "<", "</", "<a b='", "<![if", "<div>", "<blockquote>x", "<b>x", '<a "', "<td>"],
)
def test_no_html_takes_longer_than_it_is_long(piece: str) -> None:
    """What took minutes must end within the time that a test has; half a million signs of each."""
    text = plain(piece * (500_000 // len(piece)))
    assert len(text) <= 1_500_000


def test_of_words_in_two_shapes_the_plain_ones_are_taken() -> None:
    mail = EmailMessage()
    mail.set_content("Plain words")
    mail.add_alternative(MARKUP, subtype="html")
    read = read_mail(mail.as_bytes())
    assert read.text == "Plain words\n"
    assert "<b>20" in read.markup
    assert read.files == ()


def test_a_mail_of_html_alone_has_its_words() -> None:
    mail = EmailMessage()
    mail.set_content("<p>Twenty posts</p>", subtype="html")
    assert read_mail(mail.as_bytes()).text == "Twenty posts"


@pytest.mark.parametrize(
    ("given", "name"),
    [
        ("order.csv", "order.csv"),
        ("../../etc/passwd", "passwd"),
        ("C:\\orders\\may.xlsx", "may.xlsx"),
        ("a" * 300 + ".pdf", "a" * 116 + ".pdf"),
        ("pay\u202egnp.zip", "paygnp.zip"),
        ("..", "file"),
    ],
)
def test_a_file_has_a_name_and_no_way_to_a_place(given: str, name: str) -> None:
    mail = EmailMessage()
    mail.set_content("x")
    mail.add_attachment(b"1,2", maintype="text", subtype="csv", filename=given)
    assert read_mail(mail.as_bytes()).files == (
        File(name=name, media_type="text/csv", content=b"1,2"),
    )


def test_of_a_thousand_files_the_first_are_taken_and_the_others_counted() -> None:
    mail = EmailMessage()
    mail.set_content("x")
    for number in range(1000):
        mail.add_attachment(b"1", maintype="image", subtype="png", filename=f"{number}.png")
    read = read_mail(mail.as_bytes())
    assert [file.name for file in read.files[:2]] == ["0.png", "1.png"]
    assert (len(read.files), read.left_out) == (MOST_FILES, 1000 - MOST_FILES)


def test_a_mail_within_a_mail_is_a_file_and_its_words_are_not_ours() -> None:
    inner, mail = EmailMessage(), EmailMessage()
    inner.set_content("500 posts")
    mail.set_content("See below")
    mail.add_attachment(inner)
    read = read_mail(mail.as_bytes())
    assert read.text == "See below\n"
    [file] = read.files
    assert file.media_type == "message/rfc822"
    assert b"500 posts" in file.content


def test_what_is_too_large_or_nested_without_end_is_refused() -> None:
    with pytest.raises(InvalidInput, match="mail_too_large"):
        read_mail(b"Subject: x\n\n" + b"a" * 30_000_000)
    for deep in (30, 3000):
        nested = "".join(
            f'Content-Type: multipart/mixed; boundary="b{n}"\n\n--b{n}\n' for n in range(deep)
        )
        with pytest.raises(InvalidInput, match="mail_too_deep"):
            read_mail(f"{nested}\n\nx".encode())
    within = b"Content-Type: message/rfc822\n\n" * 400
    with pytest.raises(InvalidInput, match="mail_too_deep"):
        read_mail(b"Content-Type: multipart/mixed; boundary=b\n\n--b\n" + within)


def test_a_mail_that_says_it_has_parts_and_has_none_is_read_as_it_is() -> None:
    mail = read_mail(b'Content-Type: multipart/mixed; boundary="b"\n\nTwenty posts, please.')
    assert mail.text.strip() == "Twenty posts, please."


@pytest.mark.parametrize("charset", ["x-none", "us-ascii", "hex", "utf-16", "\0", ""])
def test_a_charset_that_is_none_or_another_is_read_all_the_same(charset: str) -> None:
    assert decoded("Pfähle für Ilse".encode(), charset) == "Pfähle für Ilse"


@pytest.mark.parametrize(
    "given", ["ilse", "<>", "a b@c", "ilse@@house.example", "x\0@house.example"]
)
def test_what_is_no_address_is_nobody(given: str) -> None:
    assert read_mail(f"From: {given}\n\n".encode()).sender is None


@pytest.mark.parametrize(
    "day",
    ["", "yesterday", "Fri, 32 Foo 20262 99:99", "Fri, 1 Jan 2027 99:00", "Fri, 1 Jan 202 09:00"],
)
def test_a_day_that_cannot_be_is_none(day: str) -> None:
    assert read_mail(f"Date: {day}\n\n".encode()).at is None


HEADERS = ["From", "To", "Subject", "Date", "Message-ID", "References", "Content-Type", "Content-Disposition",
           "Content-Transfer-Encoding", "Auto-Submitted", "Return-Path"]  # fmt: skip
PIECES = [b'multipart/report; report-type=delivery-status; boundary="b"', b"--b\n", b"--b--", b"=?utf-8?b?", b"?=",
          b"message/delivery-status", b"message/rfc822", b"text/html; charset=", b"base64", b"<a@b>", b"\xff\xfe", b"\0",
          b"attachment; filename*=utf-8''%ff", b"\n\n", b"Action: failed", b"<table><td hidden>", b"<![foo bar]>", b"<!--", b"text/html\n\n"]  # fmt: skip


@given(
    st.lists(
        st.one_of(
            st.builds(
                lambda name, value: name.encode() + b": " + value + b"\n",
                st.sampled_from(HEADERS),
                st.one_of(st.sampled_from(PIECES), st.binary(max_size=30)),
            ),
            st.sampled_from(PIECES),
            st.binary(max_size=40),
        ),
        max_size=25,
    )
)
def test_whatever_comes_is_read_or_refused(pieces: list[bytes]) -> None:
    try:
        mail = read_mail(b"".join(pieces))
    except InvalidInput:
        return
    for text in (
        mail.text,
        mail.markup,
        mail.subject,
        mail.message_id,
        *(f.name for f in mail.files),
    ):
        assert "\0" not in text
        text.encode()
    assert "\n" not in mail.subject


PLAIN_TEXT = st.text(
    st.characters(codec="utf-8", exclude_categories=["Cc", "Cs", "Zl", "Zp", "Cf"]), max_size=80
)


@given(
    subject=PLAIN_TEXT.map(lambda text: " ".join(text.split())),
    lines=st.lists(PLAIN_TEXT, min_size=1, max_size=5),
    content=st.binary(max_size=200),
    at=st.integers(631_152_000, 4_102_444_800).map(
        lambda second: datetime.fromtimestamp(second, UTC)
    ),
)
def test_what_a_mail_program_writes_comes_out_as_it_went_in(
    subject: str, lines: list[str], content: bytes, at: datetime
) -> None:
    mail = EmailMessage()
    mail["From"], mail["To"] = "Ada Holm <ada@holm.example>", "ilse@house.example, b@house.example"
    mail["Subject"], mail["Date"], mail["Message-ID"] = (
        subject,
        format_datetime(at),
        "<a@b.example>",
    )
    mail.set_content("\n".join(lines))
    mail.add_attachment(content, maintype="application", subtype="pdf", filename="Blätter.pdf")
    read = read_mail(mail.as_bytes())
    assert read.subject == subject
    assert read.text.strip("\n") == "\n".join(lines).strip("\n")
    assert read.files == (File(name="Blätter.pdf", media_type="application/pdf", content=content),)
    assert (read.at, read.message_id) == (at, "<a@b.example>")
    assert [person.address for person in read.to] == ["ilse@house.example", "b@house.example"]


def test_an_answer_names_where_the_conversation_began_and_what_is_nearest() -> None:
    many = [f"<{n}@a>" for n in range(40)]
    named = references(many, "<40@a>")
    assert (named[0], named[-2:]) == ("<0@a>", ("<39@a>", "<40@a>"))
    assert len(named) == MOST_REFERENCES
    assert references(["<1@a>", "<2@a>"], "<1@a>") == ("<2@a>", "<1@a>")


@given(st.text(max_size=190))
def test_what_is_quoted_keeps_every_word_behind_a_sign(text: str) -> None:
    lines = [line for line in quoted(text).split("\n") if line]
    assert all(line == ">" or line.startswith("> ") for line in lines)
    assert all(len(line) <= QUOTED_WIDTH + 2 for line in lines)
    said = "".join("".join(line[1:].split()) for line in lines)
    assert said == "".join(text.split())


@pytest.mark.parametrize("subject", ["", "Re:", "RE: AW: Re[2]: re :"])
def test_an_answer_to_nothing_has_a_subject_all_the_same(subject: str) -> None:
    assert answer_subject(subject) == "Re:"


@pytest.mark.parametrize(
    "name", ["order.exe", "Order.PDF.JS", "a.b.lnk", "..\\order.scr", "x.exe ", "pay\u202egnp.exe"]
)
def test_what_a_computer_would_run_stays_where_it_is(name: str) -> None:
    made = EmailMessage()
    made.set_content("See the list.")
    made.add_attachment(b"MZ", maintype="application", subtype="octet-stream", filename=name)
    made.add_attachment(b"a,b", maintype="text", subtype="csv", filename="exe.csv")
    read = read_mail(made.as_bytes())
    assert [file.name for file in read.files] == ["exe.csv"]
    assert read.left_out == 1


def test_what_is_no_message_id_is_not_repeated_in_an_answer() -> None:
    raw = b"From: a@b.example\nReferences: <ok@a> <\x00@a> <caf\xe9@a>\nMessage-ID: <\x07@a>\n\nx"
    read = read_mail(raw)
    assert (read.answers, read.message_id) == (("<ok@a>",), "")
