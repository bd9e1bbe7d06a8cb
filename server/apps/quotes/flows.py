"""A quote's life: started, drafted, issued, revised. Every act is one transaction."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from decimal import Decimal
from string import ascii_uppercase

from django.conf import settings
from django.db import transaction

from apps.catalogue.models import Item
from apps.catalogue.queries import rate_on
from apps.customers.models import Contact, Customer
from apps.deals.flows import follow_quote
from apps.deals.models import Deal
from apps.diary.flows import add_activity, settle_follow_ups
from apps.diary.models import FOLLOW_UP
from apps.errors import Invalid, Refused, check_version
from apps.journal.flows import record_changes
from apps.numbering.flows import next_number
from apps.people.access import owned, pick, pick_locked, sells
from apps.people.models import User
from apps.quotes.documents.pdf import make_pdf
from apps.quotes.models import Quote, QuoteLine, QuotePaper, Revision
from apps.quotes.pricing import DraftLine, draft_lines, price_revision, stored_form
from routecore.money import Money
from routecore.totals import PricedDocument

MOST_LINES = 500


@dataclass(frozen=True, slots=True, kw_only=True)
class Draft:
    """What the desk saves: the whole of a draft, lines in their order."""

    lines: Sequence[DraftLine]
    valid_until: date
    discount_percent: Decimal | None = None
    discount_amount: Decimal | None = None
    buyer_reference: str = ""
    message: str = ""
    contact_id: int | None = None


@transaction.atomic
def start_quote(
    who: User, *, today: date, customer_id: int | None = None, deal_id: int | None = None
) -> Revision:
    """A new quote with its draft A; from a deal, its customer and contact carry over."""
    sells(who)
    deal = None
    if deal_id:
        rows = Deal.objects.filter(owned(who)).select_related("customer", "contact")
        deal = pick(rows, deal_id, "deal")
        customer = deal.customer
    elif customer_id:
        customer = pick(Customer.objects.filter(owned(who)), customer_id, "customer")
    else:
        raise Invalid("required", "Choose the customer or the deal.", path="customer_id")
    quote = Quote.objects.create(
        number=next_number("Q", today),
        customer=customer,
        deal=deal,
        contact=deal.contact if deal and deal.contact else customer.contacts.first(),
        owner=deal.owner if deal else who,
    )
    return _empty_revision(quote, "A", today)


def _empty_revision(quote: Quote, letter: str, today: date) -> Revision:
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
    )
    _note_price(revision, price_revision(revision, customer, []))
    revision.save()
    return revision


def own_revision(who: User, revision_id: int, *, lock: bool = False) -> Revision:
    """A revision this person may see; locked until the transaction's end where it is to change."""
    rows = Revision.objects.filter(owned(who, "quote__owner")).select_related(
        "quote__customer__price_list", "quote__deal", "quote__contact", "quote__owner"
    )
    return (pick_locked if lock else pick)(rows, revision_id, "quote")


@transaction.atomic
def save_draft(who: User, revision_id: int, version: int, draft: Draft, *, today: date) -> Revision:
    """Store the whole draft and its price; only lines that differ are written.

    The draft is priced as of today: an old draft does not keep old prices unnoticed.
    """
    sells(who)
    revision = own_revision(who, revision_id, lock=True)
    _must_be_draft(revision)
    check_version(revision.version, version, "quote")
    if len(draft.lines) > MOST_LINES:
        raise Invalid("too_many", f"A quote holds at most {MOST_LINES} lines.", path="lines")
    if draft.valid_until < today:
        raise Invalid("date_gone_by", "The validity cannot end in the past.", path="valid_until")
    revision.on = today
    revision.valid_until = draft.valid_until
    revision.discount_percent = draft.discount_percent
    revision.discount_amount = draft.discount_amount
    revision.buyer_reference = draft.buyer_reference.strip()
    revision.message = draft.message.strip()
    _set_contact(revision.quote, draft.contact_id)
    priced = price_revision(revision, revision.quote.customer, draft.lines)
    _write_lines(revision, draft.lines)
    _note_price(revision, priced)
    revision.version += 1
    revision.save()
    return revision


def _must_be_draft(revision: Revision) -> None:
    if revision.issued_at is not None:
        raise Refused(
            "issued",
            f"Revision {revision.letter} is issued and does not change any more. "
            "Revise it to make a new one.",
        )


def _set_contact(quote: Quote, contact_id: int | None) -> None:
    if contact_id and contact_id != quote.contact_id:
        quote.contact = pick(
            Contact.objects.filter(customer_id=quote.customer_id), contact_id, "contact"
        )
        quote.save(update_fields=["contact"])


def _write_lines(revision: Revision, lines: Sequence[DraftLine]) -> None:
    stored = {row.key: row for row in revision.lines.all()}
    names = dict(
        Item.objects.filter(pk__in={line.item_id for line in lines}).values_list("pk", "name")
    )
    fresh: list[QuoteLine] = []
    changed: list[QuoteLine] = []
    for position, line in enumerate(lines, start=1):
        row = stored.pop(line.key, None) or QuoteLine(revision=revision, key=line.key)
        values = {
            "position": position,
            "item_id": line.item_id,
            "text": line.text.strip() or names[line.item_id],
            "quantity": line.quantity,
            "unit": line.unit,
            "discount_percent": line.discount_percent,
        }
        if row.pk and all(getattr(row, name) == value for name, value in values.items()):
            continue
        (changed if row.pk else fresh).append(row)
        for name, value in values.items():
            setattr(row, name, value)
    if stored:
        QuoteLine.objects.filter(pk__in=[row.pk for row in stored.values()]).delete()
    QuoteLine.objects.bulk_create(fresh)
    QuoteLine.objects.bulk_update(
        changed, ["position", "item_id", "text", "quantity", "unit", "discount_percent"]
    ) if changed else None


def _note_price(revision: Revision, priced: PricedDocument) -> None:
    totals = priced.totals
    revision.priced = stored_form(priced)
    revision.lines_net = totals.lines_net
    revision.net = totals.net
    revision.tax_total = totals.tax_total
    revision.payable_rounding = totals.payable_rounding
    revision.payable = totals.payable
    revision.margin_percent = totals.margin_percent


@transaction.atomic
def issue_revision(
    who: User,
    revision_id: int,
    version: int,
    *,
    today: date,
    now: datetime,
    follow_up_on: date | None = None,
) -> Revision:
    """Freeze the draft: prices, text, buyer and document; plan the follow-up; move the deal.

    Raises ``Refused`` with the first problem that the core found, at its place.
    """
    sells(who)
    revision = own_revision(who, revision_id, lock=True)
    _must_be_draft(revision)
    check_version(revision.version, version, "quote")
    quote = revision.quote
    revision.on = today
    if revision.valid_until < today:
        raise Refused("lapsed_draft", "The validity lies in the past.", path="valid_until")
    lines = list(revision.lines.select_related("item"))
    priced = price_revision(revision, quote.customer, draft_lines(lines))
    _refuse_problems(priced)
    _freeze_lines(lines, priced)
    _note_price(revision, priced)
    rate = rate_on(revision.currency, today)
    revision.buyer = buyer_of(quote)
    revision.base_rate = rate
    revision.base_net = (
        Money(revision.net, revision.currency).converted(rate, settings.BASE_CURRENCY).amount
    )
    revision.issued_by = who
    revision.issued_at = now
    revision.version += 1
    QuotePaper.objects.create(revision=revision, pdf=make_pdf(revision, lines))
    revision.save()
    record_changes(who, "quote", quote.pk, {f"revision {revision.letter}": ("draft", "issued")})
    if quote.deal_id:
        follow_quote(who, quote.deal_id, revision.base_net)
    settle_follow_ups(quote.number, now=now)
    add_activity(
        who,
        kind=FOLLOW_UP,
        text=f"Ask about quote {quote.number} {revision.letter}",
        deal_id=quote.deal_id,
        customer_id=quote.customer_id,
        document=quote.number,
        due_on=follow_up_on or today + timedelta(days=settings.QUOTE_FOLLOW_UP_DAYS),
    )
    return revision


PROBLEM_WORDS = {
    "needs_price": "needs a price: no list that serves this customer has one today.",
    "below_minimum": "is below the minimum order of {above}.",
    "not_a_multiple": "does not fit the pack: {below} or {above} would.",
    "nothing_counted": "The quote has no line yet.",
}


def _refuse_problems(priced: PricedDocument) -> None:
    keys = [line.id for line in priced.lines]
    for problem in priced.problems:
        facts = {
            k: f"{v.normalize():f}" if v is not None else "—" for k, v in problem.facts.items()
        }
        words = PROBLEM_WORDS[problem.code].format(**facts)
        if problem.line:
            number = keys.index(problem.line)
            raise Refused(problem.code, f"Line {number + 1} {words}", path=f"lines[{number}]")
        raise Refused(problem.code, words, path="lines")


def _freeze_lines(lines: list[QuoteLine], priced: PricedDocument) -> None:
    for row, result in zip(lines, priced.lines, strict=True):
        row.price = result.price
        row.per = result.per
        row.price_unit = result.unit
        row.net = result.net
        row.discount_share = result.document_discount_share
        row.tax_category = row.revision.quote.customer.tax_category_id or row.item.tax_category_id
    QuoteLine.objects.bulk_update(
        lines, ["price", "per", "price_unit", "net", "discount_share", "tax_category"]
    )


def buyer_of(quote: Quote) -> dict[str, object]:
    """The buyer's name, contact and invoice address as they are now, to be frozen."""
    customer = quote.customer
    address = customer.addresses.filter(kind="invoice").first()
    return {
        "name": customer.name,
        "number": customer.number,
        "contact": quote.contact.name if quote.contact else "",
        "tax_number": customer.tax_number,
        "street": address.street if address else "",
        "postcode": address.postcode if address else "",
        "town": address.town if address else "",
        "country": address.country if address else "",
    }


@transaction.atomic
def revise(who: User, quote_id: int, *, today: date) -> Revision:
    """A new draft revision with everything of the newest issued one, priced as of today."""
    sells(who)
    quote = pick_locked(Quote.objects.filter(owned(who)), quote_id, "quote")
    newest = quote.revisions.order_by("-pk").first()
    if newest is None or newest.issued_at is None:
        raise Refused("draft_open", "This quote has a draft already; it can be changed as it is.")
    if quote.revisions.filter(order__isnull=False).exists():
        raise Refused("ordered", "This quote became an order. Start a new quote instead.")
    revision = _empty_revision(quote, next_letter(newest.letter), today)
    for name in ("discount_percent", "discount_amount", "buyer_reference", "message"):
        setattr(revision, name, getattr(newest, name))
    lines = draft_lines(newest.lines.all())
    _write_lines(revision, lines)
    _note_price(revision, price_revision(revision, quote.customer, lines))
    revision.save()
    return revision


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


@transaction.atomic
def discard_draft(who: User, revision_id: int, version: int) -> None:
    """Throw a draft away; the quote goes with it where it was the only revision."""
    sells(who)
    revision = own_revision(who, revision_id, lock=True)
    _must_be_draft(revision)
    check_version(revision.version, version, "quote")
    quote = revision.quote
    revision.delete()
    record_changes(who, "quote", quote.pk, {f"revision {revision.letter}": ("draft", "discarded")})
    if not quote.revisions.exists():
        quote.delete()
