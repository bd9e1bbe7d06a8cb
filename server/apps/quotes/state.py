"""One state of a quote, and what may be done in it: decided here and nowhere else.

::

    draft ──ask──▶ asked ──sign──▶ draft          issued ──day goes by──▶ lapsed
      │ issue        │ issue                        │ accept ──▶ ordered
      ▼              ▼                              │ decline ──▶ declined
    issued ◀─────────┘                              └ revise ──▶ draft, and the one before is revised

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
REVISED, DECLINED, ORDERED = "revised", "declined", "ordered"

#: What a revision must be for an act on it; on a quote as a whole it is the newest that counts.
ALLOWED = {
    "save": (DRAFT, ASKED),
    "ask": (DRAFT, ASKED),
    "sign": (ASKED,),
    "issue": (DRAFT, ASKED),
    "discard": (DRAFT, ASKED),
    "revise": (ISSUED, LAPSED, DECLINED),
    "decline": (ISSUED, LAPSED),
    "accept": (ISSUED,),
}


@dataclass(frozen=True, slots=True, kw_only=True)
class Facts:
    """What the state of a revision follows from."""

    issued: bool
    valid_until: date
    newest: bool = True
    asked: bool = False
    declined: bool = False
    ordered: bool = False


def state_of(facts: Facts, today: date) -> str:
    """The state of a revision; of a quote, that of its newest.

    >>> state_of(Facts(issued=True, valid_until=date(2026, 11, 26)), date(2026, 11, 26))
    'issued'
    >>> state_of(Facts(issued=True, valid_until=date(2026, 11, 26)), date(2026, 11, 27))
    'lapsed'
    """
    if facts.ordered:
        return ORDERED
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
    pick_locked(Quote.objects.all(), quote_id or 0, "quote")
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
    newest = quote.revisions.order_by("-pk").only("pk", "letter", "issued_at").first()
    order = (
        quote.revisions.filter(order__isnull=False).values_list("order__number", "order").first()
    )
    state = state_of(
        Facts(
            issued=revision.issued_at is not None,
            valid_until=revision.valid_until,
            newest=newest is None or newest.pk == revision.pk,
            asked=revision.sign_offs.filter(answer="").exists(),
            declined=quote.declined_at is not None,
            ordered=order is not None,
        ),
        today,
    )
    if state in ALLOWED[act]:
        return
    if order is not None:
        facts = {"what": act, "number": order[0], "order": order[1]}
        raise Refused("ordered", path="revision", facts=facts)
    raise _refusal(act, state, revision, newest or revision)


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
    return Refused(state)
