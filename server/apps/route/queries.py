"""The Route: the chain of documents from lead to payment, as stops on a line."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from datetime import date
from decimal import Decimal

from django.utils import timezone

from apps.deals.models import Deal
from apps.handover.models import HELD, REFUSED, TAKEN, Handover
from apps.leads.models import Lead
from apps.ledger.models import INVOICE, Allocation, Invoice
from apps.orders.models import Delivery, Order
from apps.quotes.models import Quote, Revision
from routecore.casefile.words import plain
from routecore.money import minor_digits

REACHED, HERE, AHEAD, TROUBLE = "reached", "here", "ahead", "trouble"


@dataclass(frozen=True, slots=True, kw_only=True)
class Stop:
    """One document on the line, or the place where it will be.

    ``state``: reached, here (where the work stands), ahead, trouble. ``open`` marks money not yet
    settled. ``name`` is the document's number, letter or stage; ``note`` a code of what is to be said of
    it besides. ``to`` is the address of the document in the application.
    """

    kind: str
    name: str = ""
    note: str = ""
    state: str = AHEAD
    on: date | None = None
    amount: str | None = None
    currency: str = ""
    to: str = ""
    open: bool = False
    branches: tuple["Stop", ...] = field(default=())


def route_of_deal(deal: Deal) -> list[Stop]:
    """The line of a deal: through its order where there is one, else its newest quote."""
    quotes = Quote.objects.filter(deal=deal).order_by("-pk")
    quote = quotes.filter(order_pk__isnull=False).first() or quotes.first()
    return _line(deal, quote)


def route_of_quote(quote: Quote) -> list[Stop]:
    """The line that a quote lies on."""
    return _line(quote.deal, quote)


def route_of_order(order: Order) -> list[Stop]:
    """The line that an order lies on."""
    return _line(order.deal, order.revision.quote, order)


def _line(deal: Deal | None, quote: Quote | None, own: Order | None = None) -> list[Stop]:
    """Through an order of its own, else the quote's newest. At most nine queries."""
    revisions = list(quote.revisions.defer("priced", "case").order_by("-pk")) if quote else []
    orders = _orders(quote) if quote and quote.order_pk else []
    order = own or (orders[0] if orders else None)
    entry = Handover.objects.filter(order=order).first() if order else None
    lead = Lead.objects.filter(deal=deal).order_by("pk").first() if deal else None
    stops = [_lead_stop(lead)] if lead else []
    stops += [_deal_stop(deal)] if deal else []
    stops.append(_quote_stop(quote, revisions, order))
    stops.append(_order_stop(order, [each for each in orders if each != order]))
    stops.append(_handover_stop(entry))
    stops.extend(_fulfilment(order))
    return list(_placed(stops))


def _placed(stops: list[Stop]) -> Iterable[Stop]:
    """The last reached stop is where the work stands, unless it is in trouble or all is done."""
    reached = [n for n, stop in enumerate(stops) if stop.state in (REACHED, TROUBLE)]
    last = reached[-1] if reached else 0
    if last == len(stops) - 1 and not any(stop.open for stop in stops):
        last = len(stops)
    for n, stop in enumerate(stops):
        if n == last and stop.state == REACHED:
            yield _with_state(stop, HERE)
        elif n < last and stop.state == AHEAD:
            yield _with_state(stop, REACHED)
        else:
            yield stop


def _with_state(stop: Stop, state: str) -> Stop:
    values = {name: getattr(stop, name) for name in Stop.__slots__}
    return Stop(**{**values, "state": state})


def _lead_stop(lead: Lead) -> Stop:
    return Stop(
        kind="lead",
        state=REACHED,
        name=lead.topic or lead.title,
        on=timezone.localdate(lead.created_at),
        to=f"/leads/{lead.pk}",
    )


def _deal_stop(deal: Deal) -> Stop:
    return Stop(
        kind="deal",
        state=REACHED,
        name=deal.stage.name,
        on=timezone.localdate(deal.created_at),
        to=f"/deals/{deal.pk}",
    )


def _quote_stop(quote: Quote | None, revisions: list[Revision], order: Order | None) -> Stop:
    if quote is None or not revisions:
        return Stop(kind="quote")
    main = next((r for r in revisions if order and r.pk == order.revision_id), revisions[0])
    return Stop(
        kind="quote",
        branches=tuple(_revision_stop(r) for r in revisions if r is not main),
        state=REACHED,
        name=main.letter,
        note="issued" if main.issued_at else "draft",
        on=main.on,
        amount=_text(main.payable, main.currency),
        currency=main.currency,
        to=f"/quotes/{main.pk}",
    )


def _revision_stop(revision: Revision) -> Stop:
    return Stop(
        kind="revision",
        name=revision.letter,
        state=REACHED,
        note="issued" if revision.issued_at else "draft",
        on=revision.on,
        amount=_text(revision.payable, revision.currency),
        currency=revision.currency,
        to=f"/quotes/{revision.pk}",
    )


def _orders(quote: Quote) -> list[Order]:
    """The orders that took something of a quote, the newest first."""
    rows = Order.objects.filter(acceptances__revision__quote=quote, cancelled_at=None)
    return list(rows.defer("buyer", "delivery_address", "tax", "charges").order_by("-pk"))


def _order_stop(order: Order | None, others: Sequence[Order] = ()) -> Stop:
    """An order; beside it the others of the same quote."""
    if order is None:
        return Stop(kind="order")
    return Stop(
        kind="order",
        state=TROUBLE if order.cancelled_at else REACHED,
        note="cancelled" if order.cancelled_at else "",
        branches=tuple(_order_stop(each) for each in others),
        name=order.number,
        on=order.accepted_on,
        amount=_text(order.payable, order.currency),
        currency=order.currency,
        to=f"/orders/{order.pk}",
    )


def _handover_stop(entry: Handover | None) -> Stop:
    if entry is None:
        return Stop(kind="handover")
    trouble = entry.state in (HELD, REFUSED)
    return Stop(
        kind="handover",
        state=TROUBLE if trouble else REACHED,
        name=entry.backoffice_number if entry.state == TAKEN else "",
        note="" if entry.state == TAKEN else entry.state,
        on=timezone.localdate(entry.created_at),
        to=f"/orders/{entry.order_id}",
        open=entry.state != TAKEN,
    )


def _fulfilment(order: Order | None) -> list[Stop]:
    if order is None:
        return [Stop(kind=kind) for kind in ("delivery", "invoice", "payment")]
    deliveries = list(Delivery.objects.filter(order=order).order_by("pk"))
    bills = list(Invoice.objects.filter(order=order).order_by("pk"))
    invoices = [row for row in bills if row.kind == INVOICE]
    credits = [row for row in bills if row.kind != INVOICE]
    rows = Allocation.objects.filter(invoice__order=order, payment__isnull=False)
    payments = list(rows.select_related("payment").order_by("pk"))
    goods, shipped = order.goods_quantity, order.shipped_quantity
    invoiced, settled = order.invoiced, order.settled
    to = f"/orders/{order.pk}"
    delivery = Stop(
        kind="delivery",
        state=REACHED if deliveries else AHEAD,
        name=deliveries[-1].number if deliveries else "",
        on=deliveries[-1].on if deliveries else None,
        to=to,
        open=bool(deliveries) and shipped < goods,
    )
    invoice = _money_stop("invoice", order, to, invoiced, open_=settled < invoiced)
    credited = -sum((row.gross for row in credits), Decimal(0))
    credit = _money_stop("credit", order, to, credited, open_=any(c.open_amount for c in credits))
    paid = sum((row.amount for row in payments), Decimal(0))
    payment = _money_stop("payment", order, to, paid, open_=settled < order.payable)
    if invoices:
        invoice = _named(invoice, invoices[-1].number, invoices[-1].on)
    if credits:
        credit = _named(credit, credits[-1].number, credits[-1].on)
    if payments and (paying := payments[-1].payment):
        payment = _named(payment, paying.number, paying.on)
    # Services alone go straight to the invoice.
    return [
        *([delivery] if goods or deliveries else []),
        invoice,
        *([credit] if credits else []),
        payment,
    ]


def _money_stop(kind: str, order: Order, to: str, amount: Decimal, *, open_: bool) -> Stop:
    return Stop(
        kind=kind,
        state=REACHED if amount else AHEAD,
        amount=_text(amount, order.currency) if amount else None,
        currency=order.currency,
        to=to,
        open=bool(amount) and open_,
    )


def _named(stop: Stop, name: str, on: date) -> Stop:
    values = {name: getattr(stop, name) for name in Stop.__slots__}
    return Stop(**{**values, "name": name, "on": on})


def _text(amount: Decimal, currency: str) -> str | None:
    return plain(amount, minor_digits(currency))
