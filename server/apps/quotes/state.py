"""One state of a quote, and what may be done in it: decided here and nowhere else.

::

    draft ──ask──▶ asked ──sign──▶ draft          issued ──day goes by──▶ lapsed
      │ issue        │ issue                        │ accept ──▶ ordered
      ▼              ▼                              │ decline ──▶ declined
    issued ◀─────────┘                              └ revise ──▶ draft, and the one before is revised

    issued ──accept a part──▶ part_ordered ──accept the rest, or close it──▶ ordered
    lapsed ──a lead allows it──▶ issued, until the day that was allowed

Every act locks the quote first, then its revision, and looks here under both locks: of two acts that
exclude each other, the second finds the state that the first one left.
"""

from dataclasses import dataclass
from datetime import date

from apps.errors import Refused
from apps.people.access import owned, pick, pick_locked
from apps.people.models import User
from apps.quotes.models import Quote, Revision

DRAFT, ASKED, ISSUED, LAPSED = "draft", "asked", "issued", "lapsed"
REVISED, DECLINED, ORDERED, PART = "revised", "declined", "ordered", "part_ordered"

#: What a revision must be for an act on it; on a quote as a whole it is the newest that counts.
ALLOWED = {
    "save": (DRAFT, ASKED),
    "ask": (DRAFT, ASKED),
    "sign": (ASKED,),
    "issue": (DRAFT, ASKED),
    "discard": (DRAFT, ASKED),
    "revise": (ISSUED, LAPSED, DECLINED),
    "decline": (ISSUED, LAPSED),
    "accept": (ISSUED, PART),
    "close_rest": (PART,),
    "allow": (LAPSED,),
}


@dataclass(frozen=True, slots=True, kw_only=True)
class Facts:
    """What the state of a revision follows from.

    ``valid_until`` is the last day on which it can be accepted; ``left`` whether something of it can
    still be ordered, once something was.
    """

    issued: bool
    valid_until: date
    newest: bool = True
    asked: bool = False
    declined: bool = False
    ordered: bool = False
    left: bool = False


def state_of(facts: Facts, today: date) -> str:
    """The state of a revision; of a quote, that of its newest.

    >>> state_of(Facts(issued=True, valid_until=date(2026, 11, 26)), date(2026, 11, 26))
    'issued'
    >>> state_of(Facts(issued=True, valid_until=date(2026, 11, 26)), date(2026, 11, 27))
    'lapsed'
    """
    if facts.ordered:
        return PART if facts.left and facts.newest else ORDERED
    if not facts.issued:
        return ASKED if facts.asked else DRAFT
    if not facts.newest:
        return REVISED
    if facts.declined:
        return DECLINED
    return LAPSED if facts.valid_until < today else ISSUED


def lock_revision(who: User, revision_id: int) -> Revision:
    """A revision that this person may change, with its quote; both locked, the quote first."""
    own = Revision.objects.filter(owned(who, "quote__owner"))
    quote_id = own.filter(pk=revision_id).values_list("quote_id", flat=True).first()
    list(Quote.objects.select_for_update().filter(pk=quote_id or 0).order_by().values_list("pk"))
    rows = own.select_related(
        "quote__customer__price_list", "quote__deal", "quote__contact", "quote__owner"
    )
    return pick_locked(rows.defer("case"), revision_id, "quote")


def lock_quote(who: User, quote_id: int) -> tuple[Quote, Revision]:
    """A quote that this person may change, and its newest revision; both locked."""
    quote = pick_locked(Quote.objects.filter(owned(who)), quote_id, "quote")
    newest = pick(quote.revisions.order_by("-pk"), _newest(quote), "quote")
    return quote, pick_locked(Revision.objects.defer("case"), newest.pk, "quote")


def _newest(quote: Quote) -> int:
    return quote.revisions.order_by("-pk").values_list("pk", flat=True).first() or 0


def require(act: str, revision: Revision, today: date) -> None:
    """Refuse an act that the state of a locked revision does not allow; says why."""
    quote = revision.quote
    newest = quote.revisions.order_by("-pk").only("quote", "letter", "issued_at").first()
    until = last_day(revision)
    state = state_of(
        Facts(
            issued=revision.issued_at is not None,
            valid_until=until,
            newest=newest is None or newest.pk == revision.pk,
            asked=revision.sign_offs.filter(answer="").exists(),
            declined=quote.declined_at is not None,
            ordered=quote.order_pk is not None,
            left=can_still_be_ordered(quote),
        ),
        today,
    )
    if state == PART and until < today:
        state = LAPSED if act in ("accept", "allow") else state
    if state in ALLOWED[act]:
        return
    if state == LAPSED and act == "accept":
        raise Refused("lapsed")
    if quote.order_pk is not None:
        facts = {"what": act, "number": quote.order_number, "order": quote.order_pk}
        raise Refused("ordered", path="revision", facts=facts)
    raise _refusal(act, state, revision, newest or revision)


def last_day(revision: Revision) -> date:
    """The last day on which a revision can be ordered: its validity, or what a lead allowed."""
    return max(revision.valid_until, revision.quote.allowed_until or revision.valid_until)


def can_still_be_ordered(quote: Quote) -> bool:
    """Whether something is left of an offer, and nobody said that it will not be ordered."""
    return quote.lines_left > 0 and quote.rest_closed_at is None


def _refusal(act: str, state: str, revision: Revision, newest: Revision) -> Refused:
    if act == "sign":
        return Refused("changed")
    if act in ("save", "ask", "issue", "discard"):
        return Refused("issued", facts={"letter": revision.letter})
    if state == REVISED:
        code = "superseded" if newest.issued_at else "being_revised"
        return Refused(code, facts={"letter": newest.letter})
    if state in (DRAFT, ASKED):
        if act == "revise":
            return Refused("draft_open")
        return Refused("not_issued", facts={"what": act})
    if act in ("allow", "close_rest"):
        return Refused("not_now", facts={"what": act})
    return Refused(state)
