"""A mail's text in rows and sentences, and what a sentence says of the goods in it: wanted, refused, told of, asked.

Source: common practice, no source.
"""

from collections.abc import Iterator
from dataclasses import dataclass
import re

_SHORTENED = (
    "no nr st str ca approx etc e.g i.e z.b bzw inkl incl excl zzgl max min tel mr mrs ms dr prof hr fr "
    "stk art pos ref vs usw evtl ggf gr tgl pcs pce ea lfm o.g u.a"
)

#: A line below this is not broken by its mail program: what follows is another row.
SHORT = 50
_BULLET = re.compile(r"\s*(?:[-*•–·+]\s+|\(?\d{1,2}[.)]\s+(?=\S))")
_ABBREVIATIONS = frozenset(_SHORTENED.split())
_END = re.compile(r"[.!?;](?=\s)")
_BUT = re.compile(
    r",?\s+(?:but|aber|sondern|however|jedoch|this time|diesmal|dafür)\b,?\s*"
    r"|,\s+(?=please\b|bitte\b)"
    r"|,?\s+(?:and|und)\s+(?=(?:please |bitte )?(?:leave out|remove|cancel|drop|do not|don't|not|no|nicht|kein\w*|ohne)\b)",
    re.I,
)

WANTED, REFUSED, TOLD = "wanted", "refused", "told"
_REFUSED = re.compile(
    r"\b(?:not|no longer|don'?t|do not|doesn'?t|won'?t|cannot|can'?t|without|cancel\w*|remove|leave out|take (?:off|out)|drop|"
    r"nicht|kein\w*|ohne|storn\w*|streich\w*|entfall\w*|entfäll\w*|weglassen|absagen|never)\b",
    re.I,
)  # fmt: skip
_TOLD = re.compile(
    r"\b(?:(?<!you )(?<!if we )still have|already have|have (?:got )?(?:enough|plenty)|in (?:the )?(?:stock|barn|store|shed)|"
    r"(?:you|we|they|was|were|been|have|has|had|already|only|just) (?:delivered|received|sent)|arrived|came|last (?:year|season|week|month|time|autumn|spring|summer|winter)|previously|originally|ursprünglich|we (?:said|asked for|took|got|had|bought|used|planted|ordered)|by mistake|versehentlich|irrtümlich|"
    r"you (?:sent|offered|charged|billed|invoiced)|was (?:broken|missing|short)|were (?:broken|missing|short|damaged)|missing|damaged|"
    r"on the (?:invoice|delivery note)|haben (?:wir )?noch|noch (?:auf lager|vorrätig|da)|auf lager|geliefert|erhalten|bekommen|"
    r"angekommen|letzte[sn]?|im vorjahr|damals|berechnet|beschädigt|fehl(?:t|en|ten)|gekauft|hatten)\b",
    re.I,
)  # fmt: skip
_ASKS = re.compile(
    r"\b(?:please|need|want|quote|offer|price|prices|order|send|supply|deliver|take|add|like|cost|bitte|brauch\w*|bräucht\w*|"
    r"benötig\w*|anbieten|angebot|bestell\w*|liefern|nehmen|kosten|kostet|hätten gern\w*|möchten)\b",
    re.I,
)  # fmt: skip
_UNSURE = re.compile(
    r"\b(?:about|roughly|around|approx\w*|some|circa|ca|etwa|ungefähr|rund|maybe|perhaps|possibly|probably|vielleicht|"
    r"eventuell|evtl|thinking of|up to|at least|at most|bis zu|mindestens|höchstens|max|min|nearly|almost|fast|knapp|gut|either|"
    r"entweder|more or less|wohl)\b|~",
    re.I,
)  # fmt: skip
_EACH = re.compile(r"\beach\b|\bje(?:weils)?\b|\bpro (?:standort|hof|anlage)\b|\bapiece\b", re.I)
_IF = re.compile(
    r"\b(?:if|whether|unless|falls|wenn|sofern|ob|change|ändern|ändere|in case|in that case|in dem fall|depending)\b",
    re.I,
)
_IS_THERE = re.compile(
    r"\b(?:do you (?:have|stock|sell)|have you|is there|are there|is the|are the|haben sie|gibt es|führen sie)\b",
    re.I,
)
_INSTEAD = re.compile(
    r"\b(?:not|nicht|instead of|rather than|statt|anstatt|anstelle von|anstelle der|no longer|from|von)\s+(?:the |der |den |die )?"
    r"(?P<number>\d[\d.,]*)(?=.*\b(?:but|sondern|please|bitte|to|auf|we|make|quote|take|nehmen)\b)",
    re.I,
)  # fmt: skip


@dataclass(frozen=True, slots=True)
class Clause:
    """A part of a text that says one thing: where it stands, and its words.

    ``mood``: ``wanted``, ``refused``, or ``told`` of what was or is. ``sentence`` is the whole that it stands in.
    """

    text: str
    start: int
    sentence: str
    mood: str
    unsure: bool
    each: bool
    condition: bool
    question: bool
    heading: bool
    asks: bool


def clauses_of(text: str) -> Iterator[Clause]:
    """The clauses of a mail, in order.

    >>> [(c.mood, c.text) for c in clauses_of("We still have 40 nets. Please send 12 posts, but no clips.")]
    [('told', 'We still have 40 nets.'), ('wanted', 'Please send 12 posts'), ('refused', 'no clips.')]
    """
    for first, after in _blocks(text):
        for start, end in _sentences(text, first, after):
            sentence = text[start:end].strip()
            for at, till in _split(text, start, end):
                words = text[at:till]
                if words.strip():
                    blank = len(words) - len(words.lstrip())
                    yield _clause(words[blank:], at + blank, sentence)


def _clause(words: str, at: int, sentence: str) -> Clause:
    said = words.strip()
    return Clause(
        text=words.rstrip(),
        start=at,
        sentence=" ".join(sentence.split()),
        mood=_mood(said),
        unsure=bool(_UNSURE.search(said)),
        each=bool(_EACH.search(said)),
        condition=bool(_IF.search(said) or _TOLD.search(said)),
        question=said.endswith("?") and bool(_IS_THERE.search(said)),
        heading=said.endswith(":"),
        asks=bool(_ASKS.search(said)),
    )


def _mood(said: str) -> str:
    refused = _REFUSED.search(_INSTEAD.sub(" ", said))
    if refused and not re.search(r"\bkein problem\b|\bno problem\b", said, re.I):
        return REFUSED
    if re.match(r"\s*(?:no|none of)\s+[a-z]", said, re.I) and not re.match(
        r"\s*no\.?\s*\d", said, re.I
    ):
        return REFUSED
    if _TOLD.search(said) and not _ASKS.search(said):
        return TOLD
    return WANTED


def given_up(text: str) -> list[tuple[int, int]]:
    """Where numbers stand that others take the place of: "instead of 200", "nicht 20, sondern 24".

    >>> given_up("Instead of 200 please quote 240 posts")
    [(11, 14)]
    """
    return [match.span("number") for match in _INSTEAD.finditer(text)]


def _blocks(text: str) -> Iterator[tuple[int, int]]:
    """Rows and paragraphs: lines that belong together, without the signs of a list."""
    first, end, at, before = -1, 0, 0, ""
    for line in text.splitlines(keepends=True):
        bare = line.strip()
        bullet = _BULLET.match(line)
        new = (
            not bare
            or bullet
            or first < 0
            or len(before.strip()) < SHORT
            or before.strip().endswith(":")
        )
        if not new and bare[0].isdigit() and before.strip()[:1].isdigit():
            new = True
        if new and first >= 0:
            yield first, end
            first = -1
        if bare and first < 0:
            first = at + (bullet.end() if bullet else 0)
        at += len(line)
        end, before = at, line
    if first >= 0:
        yield first, end


def _sentences(text: str, first: int, after: int) -> Iterator[tuple[int, int]]:
    start = first
    for match in _END.finditer(text, first, after):
        if match[0] == "." and not _ends(text, start, match.start(), after):
            continue
        yield start, match.end()
        start = match.end()
    if text[start:after].strip():
        yield start, after


def _ends(text: str, start: int, stop: int, after: int) -> bool:
    """Whether a full stop ends a sentence: not after an abbreviation, and something new begins."""
    before = re.search(r"([\w.]+)$", text[start:stop])
    word = before[1].lower() if before else ""
    initial = len(word) == 1 and word.isalpha() and not re.search(r"\d\s?\w$", text[start:stop])
    if word in _ABBREVIATIONS or word.endswith(("str", "strasse")) or initial:
        return False
    rest = text[stop + 1 : after].lstrip()
    return (
        not rest
        or rest[0].isupper()
        or (rest[0].isdigit() and not word.isdigit())
        or rest[0] in "\"'(-–•*"
    )


def _split(text: str, start: int, end: int) -> Iterator[tuple[int, int]]:
    at = start
    for match in _BUT.finditer(text, start, end):
        yield at, match.start()
        at = match.end()
    yield at, end
