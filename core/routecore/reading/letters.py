"""What of a mail its writer has written now: without greeting lines' ends, quoted history, signature and small print.

Source: RFC 3676, 4.3, for the mark of a signature and the signs of quoted lines; the rest is common practice, no
source.
"""

from dataclasses import dataclass
import re

QUOTED, SIGNATURE, SMALL_PRINT = "quoted", "signature", "small_print"
ENGLISH, GERMAN = "en", "de"
_WROTE = re.compile(
    r"^\s*(?:on\b.{4,120}\bwrote|am\b.{4,120}\bschrieb\b.{0,120}|.{4,120}\b(?:wrote|schrieb))\s*:\s*$", re.I
)  # fmt: skip
_LINE_OF_HEADS = re.compile(r"^\s*-{2,}\s*(?:original|forwarded|urspr|weitergeleitet)", re.I)
_HEAD = re.compile(
    r"^\s*\*?(?:from|von|sent|gesendet|to|an|subject|betreff|date|datum|cc)\s?:\*?\s", re.I
)
_FIRST_HEAD = re.compile(r"^\s*\*?(?:from|von)\s?:\*?\s", re.I)
_CLOSING = re.compile(
    r"^\s*(?:(?:kind|best|warm|many thanks and (?:kind|best))?\s*(?:regards|wishes)|yours\b.*|sincerely|cheers|greetings|"
    r"thanks(?: and (?:kind |best )?regards)?|thank you|many thanks|"
    r"mit (?:freundlichen|besten|herzlichen) (?:grüßen|gruessen|gruß|grussen)|(?:viele|beste|liebe|herzliche|schöne|freundliche) "
    r"gr(?:ü|ue)(?:ß|ss)e|mfg|vg|lg|gru(?:ß|ss)|danke|vielen dank)\b[^\d]{0,40}$",
    re.I,
)  # fmt: skip
_SMALL_PRINT = re.compile(
    r"(?:this (?:e-?mail|message)|the information in this|diese (?:e-?mail|nachricht)).{0,80}"
    r"(?:confidential|intended|privileged|vertraulich|ausschließlich)|sent from my|von meinem .{2,20} gesendet",
    re.I,
)  # fmt: skip
_AFTER = re.compile(r"^\s*(?:ps|p\.s\.|pps|nb)\b", re.I)
#: Words that only one of the two languages has.
_TELLING = {
    ENGLISH: ["the", "and", "please", "we", "you", "for", "with", "of", "would", "need", "our", "is", "are", "to", "this", "that", "hello", "dear", "thanks", "have"],
    GERMAN: ["der", "die", "das", "und", "bitte", "wir", "sie", "für", "mit", "von", "ist", "sind", "nicht", "ein", "eine", "uns", "guten", "hallo", "danke", "haben", "den"],
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class LeftOut:
    """A part that is not read: ``quoted``, ``signature``, ``small_print``."""

    why: str
    text: str


@dataclass(frozen=True, slots=True)
class Fresh:
    """What was written now, blanks in the place of what is left out, so that places stay."""

    text: str
    left_out: tuple[LeftOut, ...]


def fresh(text: str) -> Fresh:
    """A mail's own words.

    >>> fresh("20 nets\\n\\nRegards\\nMab\\nTel. 0800 1234\\n").text.strip()
    '20 nets'
    >>> [part.why for part in fresh("yes\\n\\nOn 3 March Ilse wrote:\\n> 20 nets").left_out]
    ['quoted']
    """
    lines = text.splitlines(keepends=True)
    why: list[str] = [""] * len(lines)
    _mark_quoted(lines, why)
    _mark_signature(lines, why)
    _mark_small_print(lines, why)
    kept = "".join(
        line if not mark else re.sub(r"[^\n]", " ", line)
        for line, mark in zip(lines, why, strict=True)
    )
    return Fresh(kept, tuple(_parts(lines, why)))


def _mark_quoted(lines: list[str], why: list[str]) -> None:
    for n, line in enumerate(lines):
        if re.match(r"^\s*>", line):
            why[n] = QUOTED
        elif _WROTE.match(line):
            why[n] = QUOTED
            if not any(re.match(r"^\s*>", later) for later in lines[n + 1 : n + 4]):
                _mark_rest(why, n, QUOTED)
                return
        elif _LINE_OF_HEADS.match(line) or _heads(lines, n):
            _mark_rest(why, n, QUOTED)
            return


def _heads(lines: list[str], n: int) -> bool:
    """Whether the head of an earlier mail begins here: its sender, then others of its lines."""
    if not _FIRST_HEAD.match(lines[n]):
        return False
    return sum(bool(_HEAD.match(line)) for line in lines[n : n + 5]) > 1


def _mark_rest(why: list[str], first: int, mark: str) -> None:
    for n in range(first, len(why)):
        why[n] = why[n] or mark


def _mark_signature(lines: list[str], why: list[str]) -> None:
    """From the mark of a signature, or from a closing; what is written after a signature ("PS") is read again."""
    for n, line in enumerate(lines):
        if why[n]:
            continue
        marked = line.rstrip("\r\n") in ("--", "-- ", "__", "———")
        if marked or (_CLOSING.match(line) and _something_before(lines, why, n)):
            for at in range(n, len(lines)):
                if _AFTER.match(lines[at]):
                    return
                why[at] = why[at] or SIGNATURE
            return


def _something_before(lines: list[str], why: list[str], n: int) -> bool:
    return any(line.strip() and not mark for line, mark in zip(lines[:n], why[:n], strict=True))


def _mark_small_print(lines: list[str], why: list[str]) -> None:
    for n, line in enumerate(lines):
        if not why[n] and _SMALL_PRINT.search(line):
            _mark_rest(why, n, SMALL_PRINT)
            return


def _parts(lines: list[str], why: list[str]) -> list[LeftOut]:
    found: list[tuple[str, list[str]]] = []
    before = ""
    for line, mark in zip(lines, why, strict=True):
        if mark and mark != before:
            found.append((mark, []))
        if mark:
            found[-1][1].append(line)
        before = mark
    joined = ((mark, "".join(part).strip()) for mark, part in found)
    return [LeftOut(mark, part) for mark, part in joined if part]


def language_of(text: str) -> str:
    """English or German, by their small words; English where it cannot be told.

    >>> language_of("Bitte liefern Sie 20 Netze"), language_of("20 nets please")
    ('de', 'en')
    """
    words = re.findall(r"[^\W\d_]+", text.lower())
    english, german = (sum(word in telling for word in words) for telling in _TELLING.values())
    if english == german:
        return GERMAN if re.search(r"[äöüß]", text.lower()) else ENGLISH
    return GERMAN if german > english else ENGLISH
