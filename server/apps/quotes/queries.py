"""Quotes by what people ask of them. A quote's state follows from its rows."""

from datetime import date, timedelta

from django.db.models import Q, QuerySet

from apps.people.access import owned, pick
from apps.people.models import User
from apps.quotes.models import Quote, Revision
from apps.quotes.state import Facts, can_still_be_ordered, state_of
from apps.searching import Index

STATES = ("draft", "issued", "lapsed", "declined", "part_ordered", "ordered")


def quotes_of(who: User) -> QuerySet[Quote]:
    """The quotes this person may see."""
    return Quote.objects.filter(owned(who))


def own_revision(who: User, revision_id: int) -> Revision:
    """A revision this person may see."""
    rows = Revision.objects.filter(owned(who, "quote__owner")).select_related(
        "quote__customer__price_list", "quote__deal", "quote__contact", "quote__owner"
    )
    return pick(rows.defer("case"), revision_id, "quote")


def quote_state(quote: Quote, today: date) -> str:
    """One of ``STATES``."""
    facts = Facts(
        issued=quote.issued_at is not None,
        valid_until=quote.valid_until or today,
        declined=quote.declined_at is not None,
        ordered=bool(quote.order_number),
        left=can_still_be_ordered(quote),
    )
    return state_of(facts, today)


#: What a list of quotes can be sorted by.
SORTS = {
    "number": "number",
    "customer": "customer_name",
    "date": "on",
    "valid": "valid_until",
    "net": "net",
    "payable": "payable",
    "owner": "owner_name",
    "deal": "deal_title",
}


def filter_quotes(
    rows: QuerySet[Quote],
    *,
    today: date,
    state: str = "",
    owner: int | None = None,
    customer: int | None = None,
    words: str = "",
    since: date | None = None,
    until: date | None = None,
    lapsing_days: int = 7,
) -> QuerySet[Quote]:
    """Narrow by state (``STATES`` or ``lapsing``), owner, customer, words, the day of the quote."""
    rows = _in_state(rows, state, today, lapsing_days)
    if owner:
        rows = rows.filter(owner_id=owner)
    if customer:
        rows = rows.filter(customer_id=customer)
    if since:
        rows = rows.filter(on__gte=since)
    if until:
        rows = rows.filter(on__lte=until)
    return WORDS.find(rows, words)


def _in_state(rows: QuerySet[Quote], state: str, today: date, lapsing_days: int) -> QuerySet[Quote]:
    answered = rows.filter(order_number__isnull=True, issued_at__isnull=False)
    issued = answered.filter(declined_at__isnull=True)
    if state == "draft":
        rows = rows.filter(issued_at__isnull=True, order_number__isnull=True)
    elif state == "issued":
        rows = issued.filter(valid_until__gte=today)
    elif state == "lapsing":
        # What is left of an offer lapses like an offer.
        left = Q(lines_left__gt=0, rest_closed_at__isnull=True) | Q(order_number__isnull=True)
        offered = rows.filter(left, issued_at__isnull=False, declined_at__isnull=True)
        rows = offered.filter(valid_until__range=(today, today + timedelta(days=lapsing_days)))
    elif state == "lapsed":
        rows = issued.filter(valid_until__lt=today)
    elif state == "declined":
        rows = answered.filter(declined_at__isnull=False)
    elif state in ("ordered", "part_ordered"):
        ordered = rows.filter(order_number__isnull=False)
        left = Q(lines_left__gt=0, rest_closed_at__isnull=True)
        rows = ordered.filter(left if state == "part_ordered" else ~left)
    return rows


WORDS = Index(
    columns=("number", "customer_name", "deal_title"), first="customer_name", numbers=("number",)
)
