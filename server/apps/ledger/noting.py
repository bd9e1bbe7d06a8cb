"""What is noted at a document: a quote, an order, an invoice."""

from django.db.models import QuerySet

from apps.deals.models import Deal
from apps.diary.flows import NotedOn
from apps.diary.models import INVOICE, ORDER, QUOTE, Activity
from apps.diary.queries import seen_activities
from apps.errors import Missing
from apps.ledger.models import Invoice
from apps.orders.models import Order
from apps.people.access import owned, pick, sells
from apps.people.models import User
from apps.quotes.models import Quote


def document_at(who: User, about: str, record: int) -> NotedOn:
    """The document, where this person sells it: ``quote``, ``order``, ``invoice``. One query."""
    sells(who)
    if about == QUOTE:
        quotes = Quote.objects.filter(owned(who)).select_related("customer", "deal")
        quote = pick(quotes, record, "quote")
        return _at(about, quote, quote.deal)
    if about == ORDER:
        orders = Order.objects.filter(owned(who)).select_related("customer", "deal")
        order = pick(orders, record, "order")
        return _at(about, order, order.deal)
    if about == INVOICE:
        invoices = Invoice.objects.filter(owned(who, "customer__owner"))
        invoice = pick(invoices.select_related("customer", "order__deal"), record, "invoice")
        return _at(about, invoice, invoice.order.deal if invoice.order else None)
    raise Missing("not_found", facts={"what": "kind"})


def _at(about: str, row: Quote | Order | Invoice, deal: Deal | None) -> NotedOn:
    return NotedOn(about=about, record=row.pk, number=row.number, customer=row.customer, deal=deal)


def noted_at(who: User, about: str, record: int) -> QuerySet[Activity]:
    """What this person may read of what was noted there. One query before it."""
    at = document_at(who, about, record)
    return seen_activities(who).filter(record=at.record, about=at.about)
