"""What a mail is about: the record, whom it concerns, which papers go along, what its words may name."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from decimal import Decimal
from typing import Literal

from django.db.models import QuerySet

from apps.customers.models import Contact, Customer
from apps.deals.models import Deal
from apps.diary.flows import NotedOn
from apps.diary.invitations import invitation
from apps.diary.models import FOLLOW_UP, INVOICE, ORDER, QUOTE, Activity
from apps.errors import Missing, Refused
from apps.ledger.models import CREDIT, Invoice
from apps.ledger.ubl import invoice_document
from apps.mail.models import Message, Received
from apps.orders.documents import document_of_order
from apps.orders.models import Order
from apps.orders.ubl import order_document
from apps.papers.editions import current_template
from apps.papers.pdf import make_pdf
from apps.papers.seller import SELLER
from apps.papers.ubl import quotation_of
from apps.papers.words import Language, language_of
from apps.people.access import owned, pick
from apps.people.models import User
from apps.quotes.documents import document_of
from apps.quotes.models import QuotePaper, Revision
from routecore.money import minor_digits

#: The kinds of records that a mail is about.
Kind = Literal["quote", "order", "invoice", "deal", "customer"]
#: What a mail is written from: also a visit that is planned.
Writes = Literal["quote", "order", "invoice", "deal", "customer", "visit"]
PDF, XML, CALENDAR = "application/pdf", "application/xml", "text/calendar"


People = Sequence[tuple[str, str]]


@dataclass(frozen=True, slots=True, kw_only=True)
class Paper:
    """A document that may go along: its key, the name of its file, and how it is made for those whom it goes to (name,
    address)."""

    key: str
    name: str
    media_type: str
    make: Callable[[People], bytes]


@dataclass(frozen=True, slots=True, kw_only=True)
class About:
    """A record as a mail sees it. ``kind`` is that of the words; ``values`` are what they may name."""

    kind: str
    customer: Customer
    contact: Contact | None = None
    deal: Deal | None = None
    revision: Revision | None = None
    order: Order | None = None
    invoice: Invoice | None = None
    visit: Activity | None = None
    values: Mapping[str, str] = field(default_factory=dict)
    papers: tuple[Paper, ...] = ()

    @property
    def language(self) -> Language:
        """The buyer's."""
        return language_of(self.customer.language)

    @property
    def document(self) -> NotedOn | None:
        """The document that it is about: of several the narrowest."""
        quote = self.revision.quote if self.revision else None
        found = self.invoice or self.order or quote
        if found is None:
            return None
        return NotedOn(
            about=INVOICE if self.invoice else ORDER if self.order else QUOTE,
            record=found.pk,
            number=found.number,
            customer=self.customer,
            deal=self.deal,
        )


#: Fields of a mail that say what it is about, besides its customer.
ABOUT = ("invoice", "order", "revision", "deal")


def narrowest(row: Message | Received) -> tuple[Kind, int]:
    """The record that a mail is about: of several the narrowest."""
    places: tuple[tuple[Kind, int | None], ...] = (
        ("invoice", row.invoice_id),
        ("order", row.order_id),
        ("quote", row.revision_id),
        ("deal", row.deal_id),
    )
    for kind, key in places:
        if key is not None:
            return kind, key
    return "customer", row.customer_id


def about_of(who: User, kind: str, record: int) -> About:
    """The record, where this person sells it: ``quote`` (a revision), ``order``, ``invoice``, ``deal``, ``customer``; or
    a ``visit`` of theirs."""
    match kind:
        case "quote":
            return _quote(who, record)
        case "order":
            return _order(who, record)
        case "invoice":
            return _invoice(who, record)
        case "visit":
            return _visit(who, record)
        case "deal":
            rows = Deal.objects.filter(owned(who)).select_related("customer", "contact")
            deal = pick(rows, record, "deal")
            return About(kind="free", customer=deal.customer, contact=deal.contact, deal=deal)
        case "customer":
            return About(
                kind="free", customer=pick(Customer.objects.filter(owned(who)), record, "customer")
            )
    raise Missing("not_found", facts={"what": "kind"})


def newest_of(who: User, kind: str) -> About | None:
    """The newest record that words of a kind can be tried on; None where this person has none."""
    found: int | None
    match kind:
        case "quote" | "reminder":
            rows = Revision.objects.filter(owned(who, "quote__owner"), issued_at__isnull=False)
            kind, found = "quote", rows.order_by("-pk").values_list("pk", flat=True).first()
        case "order":
            orders = Order.objects.filter(owned(who), cancelled_at=None)
            found = orders.order_by("-pk").values_list("pk", flat=True).first()
        case "invoice":
            invoices = Invoice.objects.filter(owned(who, "customer__owner"))
            found = invoices.order_by("-pk").values_list("pk", flat=True).first()
        case "visit":
            found = _visits(who).order_by("-pk").values_list("pk", flat=True).first()
        case _:
            customers = Customer.objects.filter(owned(who))
            kind, found = "customer", customers.order_by("-pk").values_list("pk", flat=True).first()
    return None if found is None else about_of(who, kind, found)


def _quote(who: User, record: int) -> About:
    rows = Revision.objects.filter(owned(who, "quote__owner")).select_related(
        "quote__customer", "quote__deal", "quote__contact"
    )
    row = pick(rows, record, "quote")
    if row.issued_at is None:
        raise Refused("not_issued")
    quote = row.quote
    name = f"{quote.number}-{row.letter}"
    speaks = language_of(quote.customer.language)
    return About(
        kind="quote",
        customer=quote.customer,
        contact=quote.contact,
        deal=quote.deal,
        revision=row,
        values={
            "number": f"{quote.number} {row.letter}",
            "total": amount(Decimal(row.priced["totals"]["payable"]), row.currency, speaks),
            "valid_until": speaks.day(row.valid_until),
            "reference": row.buyer_reference,
        },
        papers=(
            Paper(key="pdf", name=f"{name}.pdf", media_type=PDF, make=lambda _: _quote_pdf(row)),
            Paper(
                key="ubl",
                name=f"{name}.xml",
                media_type=XML,
                make=lambda _: quotation_of(document_of(row)),
            ),
        ),
    )


def _quote_pdf(row: Revision) -> bytes:
    """The document as it was issued."""
    kept = QuotePaper.objects.filter(revision=row).first()
    return bytes(kept.pdf) if kept else make_pdf(document_of(row), current_template(row.paper))


def _order(who: User, record: int) -> About:
    rows = Order.objects.filter(owned(who)).select_related("customer", "owner", "revision__quote")
    row = pick(rows, record, "order")
    if row.cancelled_at is not None:
        raise Refused("cancelled")
    speaks = language_of(row.customer.language)

    def confirmation(_: People) -> bytes:
        return make_pdf(document_of_order(row, ""), current_template("short"))

    return About(
        kind="order",
        customer=row.customer,
        contact=row.contact,
        deal=row.revision.quote.deal if row.revision else None,
        order=row,
        values={
            "number": row.number,
            "total": amount(row.payable, row.currency, speaks),
            "reference": row.buyer_reference,
        },
        papers=(
            Paper(key="pdf", name=f"{row.number}.pdf", media_type=PDF, make=confirmation),
            Paper(
                key="ubl",
                name=f"{row.number}.xml",
                media_type=XML,
                make=lambda _: order_document(row),
            ),
        ),
    )


def _invoice(who: User, record: int) -> About:
    rows = Invoice.objects.filter(owned(who, "customer__owner")).select_related("customer", "order")
    row = pick(rows, record, "invoice")
    speaks = language_of(row.customer.language)
    signed = -row.gross if row.kind == CREDIT else row.gross
    return About(
        kind="invoice",
        customer=row.customer,
        order=row.order,
        invoice=row,
        values={
            "number": row.number,
            "total": amount(signed, row.currency, speaks),
            "due_on": speaks.day(row.due_on),
        },
        papers=(
            Paper(
                key="ubl",
                name=f"{row.number}.xml",
                media_type=XML,
                make=lambda _: invoice_document(row),
            ),
        ),
    )


def _visits(who: User) -> QuerySet[Activity]:
    """Visits that lie ahead, at customers whom this person sees."""
    return Activity.objects.filter(
        owned(who), owned(who, "customer__owner"), kind=FOLLOW_UP, visit=True, done_at=None
    )


def _visit(who: User, record: int) -> About:
    row = pick(
        _visits(who).select_related("customer", "deal", "contact", "owner"), record, "follow-up"
    )
    speaks = language_of(row.customer.language)
    when = speaks.day(row.day)
    return About(
        kind="visit",
        customer=row.customer,
        contact=row.contact or (row.deal.contact if row.deal else None),
        deal=row.deal,
        visit=row,
        values={
            "when": f"{when}, {row.starts:%H:%M}" if row.starts else when,
            "where": row.where or ("bei Ihnen" if speaks.code == "de" else "at your place"),
            "about": row.text,
        },
        papers=(
            Paper(
                key="ics",
                name="invitation.ics",
                media_type=CALENDAR,
                make=lambda people: invitation(row, who, people),
            ),
        ),
    )


def amount(value: Decimal, currency: str, speaks: Language) -> str:
    """An amount as it is written in a letter: "1 033.92 EUR", "1 033,92 EUR" (no-break spaces)."""
    text = f"{value:,.{minor_digits(currency)}f}".replace(",", "\u00a0").replace(
        ".", speaks.decimal
    )
    return f"{text}\u00a0{currency}"


def values_of(who: User, about: About, contact: str) -> dict[str, str]:
    """Everything that the words of such a mail may name."""
    return {
        "contact": contact,
        "customer": about.customer.name,
        "sender": who.name,
        "house": SELLER["name"],
        "phone": SELLER["phone"],
        **about.values,
    }
