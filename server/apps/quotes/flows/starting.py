"""A new quote: empty, from a deal, a copy for another customer, a new revision of an issued one."""

from collections.abc import Callable
from dataclasses import replace
from datetime import date, timedelta
from string import ascii_uppercase

from django.conf import settings
from django.db import transaction

from apps.customers.flows import add_customer
from apps.customers.models import Customer
from apps.deals.models import Deal
from apps.errors import Invalid
from apps.numbering.flows import next_number
from apps.people.access import owned, pick, sells
from apps.people.models import User
from apps.quotes.flows.saving import note_price, put_lines, write_lines
from apps.quotes.interest import drafted
from apps.quotes.models import Quote, Revision
from apps.quotes.pricing.question import draft_lines
from apps.quotes.queries import own_revision
from apps.quotes.state import lock_quote, require

#: What else a new revision begins with; told the one before and the new one.
REVISED: list[Callable[[Revision, Revision], None]] = []


@transaction.atomic
def start_quote(
    who: User, *, today: date, customer_id: int | None = None, deal_id: int | None = None
) -> Revision:
    """A new quote with its draft A; from a deal, its customer, its contact and its lines of interest carry over."""
    sells(who)
    deal = None
    if deal_id:
        rows = Deal.objects.filter(owned(who)).select_related("customer", "contact")
        deal = pick(rows, deal_id, "deal")
        customer = deal.customer
    elif customer_id:
        customer = pick(Customer.objects.active().filter(owned(who)), customer_id, "customer")
    else:
        raise Invalid("required", path="customer_id")
    quote = Quote.objects.create(
        number=next_number("Q", today),
        customer=customer,
        deal=deal,
        contact=deal.contact if deal and deal.contact else customer.contacts.active().first(),
        owner=deal.owner if deal else who,
    )
    revision = empty_revision(who, quote, "A", today)
    wanted = drafted(deal) if deal else []
    if wanted:
        put_lines(who, revision, wanted, today)
    return revision


def empty_revision(who: User, quote: Quote, letter: str, today: date) -> Revision:
    """A draft without lines, on the customer's terms."""
    customer = quote.customer
    revision = Revision(
        quote=quote,
        letter=letter,
        on=today,
        valid_until=today + timedelta(days=settings.QUOTE_VALID_DAYS),
        currency=customer.currency,
        payable_step=customer.payable_step,
        terms_days=customer.terms_days,
        terms_end_of_month=customer.terms_end_of_month,
        terms_more=customer.terms_more,
    )
    note_price(who, revision, [])
    revision.save()
    return revision


@transaction.atomic
def copy_quote(
    who: User,
    revision_id: int,
    customer_id: int | None,
    new_customer: str = "",
    *,
    today: date,
) -> Revision:
    """A new quote with these lines for another customer, priced for that one.

    Without ``customer_id`` a customer named ``new_customer`` is made with it.

    Prices agreed by hand and discounts stay behind: they were this buyer's.
    """
    sells(who)
    source = own_revision(who, revision_id)
    if customer_id is None and new_customer:
        customer_id = add_customer(who, name=new_customer).pk
    made = start_quote(who, today=today, customer_id=customer_id)
    lines = [
        replace(
            line,
            price=None,
            price_reason="",
            discount_percent=None,
            discount_amount=None,
            wanted_on=None,
        )
        for line in draft_lines(source.lines.all())
    ]
    made.message, made.paper = source.message, source.paper
    write_lines(made, lines)
    note_price(who, made, lines)
    made.version += 1
    made.save()
    return made


@transaction.atomic
def revise(who: User, quote_id: int, *, today: date) -> Revision:
    """A new draft revision with everything of the newest issued one, priced as of today."""
    sells(who)
    quote, newest = lock_quote(who, quote_id)
    require("revise", newest, today)
    if quote.declined_at is not None:
        quote.declined_at, quote.declined_by, quote.decline_reason = None, None, ""
        quote.save(update_fields=["declined_at", "declined_by", "decline_reason"])
    if quote.late_asked_at is not None or quote.allowed_until is not None:
        _ask_no_more(quote)
    revision = empty_revision(who, quote, next_letter(newest.letter), today)
    for name in KEPT_BY_A_REVISION:
        setattr(revision, name, getattr(newest, name))
    lines = draft_lines(newest.lines.all())
    write_lines(revision, lines)
    note_price(who, revision, lines)
    revision.save()
    for tell in REVISED:
        tell(newest, revision)
    return revision


def _ask_no_more(quote: Quote) -> None:
    """What was asked and allowed for a lapsed revision is not for the new one."""
    quote.late_asked_at = quote.late_asked_by = quote.allowed_until = quote.allowed_by = None
    quote.late_reason = quote.allowed_reason = ""
    names = ("late_asked_at", "late_asked_by", "late_reason")
    quote.save(update_fields=[*names, "allowed_until", "allowed_by", "allowed_reason"])


KEPT_BY_A_REVISION = (
    *("discount_percent", "discount_amount", "discount_on", "charges"),
    *("buyer_reference", "message", "paper", "requested_on", "deliver_to"),
    *("terms_days", "terms_end_of_month", "terms_more"),
)


def next_letter(letter: str) -> str:
    """A, B, … Z, AA, AB, …

    >>> next_letter("A"), next_letter("Z"), next_letter("AZ")
    ('B', 'AA', 'BA')
    """
    if letter == "Z":
        return "AA"
    if letter.endswith("Z"):
        return next_letter(letter[:-1]) + "A"
    return letter[:-1] + ascii_uppercase[ascii_uppercase.index(letter[-1]) + 1]
