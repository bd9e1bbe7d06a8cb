"""What a mail says to an offer: accepts, declines, asks for a change, or that nobody is there; never acted upon by itself.

Source: common practice, no source. A yes under a negation, a condition or a question is none.
"""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from datetime import date
import re

from routecore.reading.days import days_in
from routecore.reading.letters import fresh
from routecore.reading.sentences import Clause, clauses_of

ACCEPTS, DECLINES, ASKS, AWAY, NOTHING = "accepts", "declines", "asks", "away", "nothing"
_AWAY = re.compile(
    r"\b(?:out of (?:the )?office|automatic reply|auto-?reply|away (?:until|from|till)|on (?:annual )?leave until|"
    r"(?:bin|sind) (?:bis|vom|derzeit|nicht im)\b.{0,40}(?:abwesend|büro|haus|urlaub)|abwesenheit\w*|automatische antwort|"
    r"nicht im (?:büro|haus)|im urlaub)\b",
    re.I,
)  # fmt: skip
_YES = re.compile(
    r"\b(?:(?:we|i) (?:hereby |gladly |happily |will |would like to |want to |are happy to )*(?:accept|order|take your offer|confirm|place (?:the|an|our) order)|"
    r"accept(?:ed)?\b|go ahead|please proceed|(?:is|are|all) (?:agreed|accepted)|agreed\b|you (?:have|can have) the order|consider it ordered|"
    r"order confirmed|(?:that|this|it|your (?:offer|quote)|the (?:offer|quote)) (?:is|looks|sounds) (?:fine|good|ok|okay|all right)|"
    r"(?:wir|ich) (?:nehmen|nehme) (?:das|ihr|ihre[ns]?|dieses) (?:angebot|offerte)|(?:hiermit )?(?:bestellen|bestelle|beauftragen|beauftrage) (?:wir|ich)|"
    r"(?:wir|ich) (?:bestellen|bestelle|beauftragen|beauftrage|akzeptieren)|einverstanden|passt (?:alles|so|für uns)|auftrag (?:erteilt|ist erteilt)|"
    r"geht in ordnung|angebot angenommen)\b",
    re.I,
)  # fmt: skip
_NO = re.compile(
    r"\b(?:(?:we|i) (?:must |have to |will have to )?(?:decline|pass on)|(?:decided|going|gone|went) (?:against|with (?:another|someone|somebody)|elsewhere)|"
    r"bought (?:them |it |the \w+ )?elsewhere|no longer (?:need|interested|required)|not interested|(?:will|do) not (?:go ahead|proceed|be ordering)|"
    r"won'?t be (?:ordering|needing)|absagen|abgesagt|kein interesse|nehmen (?:davon )?abstand|(?:anderweitig|woanders) (?:bestellt|gekauft|vergeben)|"
    r"entschieden uns (?:anders|dagegen)|(?:uns|haben) dagegen entschieden|brauchen .{0,30}nicht mehr|kommt .{0,20}nicht in frage)\b",
    re.I,
)  # fmt: skip
_CHANGE = re.compile(
    r"\b(?:cheaper|(?:better|lower|sharper) price|discount|too (?:high|expensive|dear|much)|come down|could you (?:change|add|drop|reduce|revise)|"
    r"can you (?:change|do (?:it )?(?:for|at|better)|add|reduce|revise|meet)|please (?:change|revise|add|remove|reduce|swap)|revised (?:quote|offer)|"
    r"instead of|rather than|only if|günstiger|billiger|rabatt|nachlass|skonto|zu (?:teuer|hoch|viel)|preislich|entgegenkommen|"
    r"(?:bitte|können sie|könnten sie) .{0,40}(?:ändern|anpassen|ergänzen|reduzieren|tauschen|überarbeiten))\b",
    re.I,
)  # fmt: skip
_NEGATED = re.compile(
    r"\b(?:not|cannot|can'?t|couldn'?t|won'?t|unable|nor|never|nicht|kein\w*|noch nicht|before|until|unless|once|as soon as|when|if|whether|would|"
    r"bevor|erst|sobald|wenn|falls|ob|sofern)\b",
    re.I,
)  # fmt: skip
_LATER = re.compile(r"\b(?:yet|for now|at the moment|noch|derzeit|momentan|zurzeit)\b", re.I)
_ORDER = re.compile(
    r"\b(?:(?:our|unsere?|die|your)?\s*(?:purchase order|order|po|p\.o\.|bestell(?:ung|nummer|nr)|auftrags?(?:nummer|nr)?))\b"
    r"[\s.:#-]*(?:no|nr|number|nummer|is|ist|lautet|ref)?[\s.:#-]*(?:is|ist|lautet)?[\s:#]*(?P<number>[A-Z]{0,5}[-/]?\d[\w/.-]*\w)",
    re.I,
)  # fmt: skip
_WANTED = re.compile(
    r"\b(?:deliver\w*|delivery|by|before|until|need\w*|wanted|arrive\w*|on site|liefer\w*|bis|spätestens|zum|termin|benötig\w*|brauch\w*)\b", re.I
)  # fmt: skip


@dataclass(frozen=True, slots=True, kw_only=True)
class Answer:
    """What a mail says: ``accepts``, ``declines``, ``asks``, ``away`` or ``nothing``; the sentence that says it; the buyer's
    order number and the day that it is wanted by, where it names them. ``sure``: nothing in it says otherwise."""

    kind: str
    sentence: str = ""
    order_number: str = ""
    wanted_on: date | None = None
    sure: bool = False


def read_answer(subject: str, text: str, *, today: date, own_numbers: Iterable[str] = ()) -> Answer:
    """What a mail says to an offer. ``own_numbers`` are of the house's documents: no order number of the buyer's.

    >>> from datetime import date
    >>> day = date(2026, 11, 28)
    >>> answer = read_answer("Re: Quote", "We accept. Our order no. is 4711-A, please deliver by 12 December.", today=day)
    >>> answer.kind, answer.order_number, str(answer.wanted_on), answer.sure
    ('accepts', '4711-A', '2026-12-12', True)
    >>> read_answer("", "We cannot accept yet.", today=day).kind
    'nothing'
    """
    own = fresh(text).text
    if _AWAY.search(subject) or _AWAY.search(own[:600]):
        found = _AWAY.search(own) or _AWAY.search(subject)
        return Answer(kind=AWAY, sentence=_sentence(own, found) if found else subject, sure=True)
    said = list(_said(own))
    kinds = {kind for kind, _ in said}
    if not kinds:
        return Answer(kind=NOTHING)
    kind = next(each for each in (DECLINES, ASKS, ACCEPTS) if each in kinds)
    if kinds >= {DECLINES, ACCEPTS}:
        kind = ASKS
    sentence = next((words for each, words in said if each == kind), said[0][1])
    return Answer(
        kind=kind,
        sentence=sentence,
        order_number=_order_number(own, {each.lower() for each in own_numbers}),
        wanted_on=_wanted_on(own, today),
        sure=len(kinds) == 1,
    )


def _said(text: str) -> Iterator[tuple[str, str]]:
    for clause in clauses_of(text):
        kind = _kind(clause)
        if kind:
            yield kind, clause.sentence


def _kind(clause: Clause) -> str:
    """What one clause says to the offer; nothing where it says none of it."""
    text = clause.text
    if _NO.search(text):
        return DECLINES
    yes = _YES.search(text)
    if yes:
        after = text[yes.end() : yes.end() + 24]
        negated = _NEGATED.search(text[: yes.start()]) or _NEGATED.search(after)
        if not negated and not clause.sentence.endswith("?"):
            return ACCEPTS
        if re.search(r"\b(?:cannot|can'?t|not|nicht|kein\w*)\b", text, re.I) and not (
            _LATER.search(text) or clause.condition
        ):
            return DECLINES
    return ASKS if _CHANGE.search(text) else ""


def _sentence(text: str, found: "re.Match[str]") -> str:
    for clause in clauses_of(text):
        if found[0] in clause.sentence:
            return clause.sentence
    return found[0]


def _order_number(text: str, own: set[str]) -> str:
    for match in _ORDER.finditer(text):
        number = match["number"].rstrip(".,;")
        digits = sum(map(str.isdigit, number))
        said = re.search(r"n(?:o|r|umber|ummer)\b|nummer|[:#]|\bis\b|lautet", match[0], re.I)
        if number.lower() not in own and digits > (2 if said or not number.isdigit() else 4):
            return number
    return ""


def _wanted_on(text: str, today: date) -> date | None:
    """The first day that a sentence wants something by."""
    for clause in clauses_of(text):
        if not _WANTED.search(clause.text):
            continue
        for day in days_in(clause.text, today):
            if day.on >= today:
                return day.on
    return None
