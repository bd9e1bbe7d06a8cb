"""The whole Route: every document of a chain, what each comes from, and where it stands."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date
from decimal import Decimal

from django.utils import timezone

from apps.deals.models import Deal
from apps.handover.models import HELD, REFUSED, TAKEN, Handover
from apps.leads.models import Lead
from apps.ledger.models import CREDIT, Allocation, Invoice, InvoiceLine
from apps.orders.models import Acceptance, Delivery, Order, Return
from apps.quotes.models import Quote, Revision
from apps.route.queries import REACHED, TROUBLE
from routecore.casefile.words import plain
from routecore.chart import Stop as Placed
from routecore.chart import places_of
from routecore.money import minor_digits

#: The columns, from left to right.
COLUMNS = (
    *("lead", "deal", "quote", "order", "handover", "delivery", "invoice", "credit", "payment"),
)
#: More stops than these are not read at a glance: orders that are done are folded.
MOST_STOPS = 60


@dataclass(frozen=True, slots=True, kw_only=True)
class Node:
    """A document: what it is, where it stands, what it comes from. ``open`` money is not settled, ``late`` is overdue.

    ``folded`` is how many documents an order that is done stands for.
    """

    id: str
    kind: str
    name: str
    note: str = ""
    state: str = REACHED
    on: date | None = None
    amount: str | None = None
    currency: str = ""
    to: str = ""
    open: bool = False
    late: bool = False
    folded: int = 0
    origins: tuple[str, ...] = field(default=())
    column: int = 0
    row: int = 0


@dataclass(slots=True)
class _Chain:
    """What belongs together: a deal or none, quotes, orders."""

    deal: Deal | None
    quotes: list[Quote]
    orders: list[Order]


def whole_of_deal(deal: Deal) -> list[Node]:
    """Every document that came of a deal."""
    quotes = list(Quote.objects.filter(deal=deal).order_by("pk"))
    return _nodes(_Chain(deal, quotes, _orders_of(quotes)))


def whole_of_quote(quote: Quote) -> list[Node]:
    """The chain that a quote lies in: its deal's, where it has one."""
    if quote.deal is not None:
        return whole_of_deal(quote.deal)
    return _nodes(_Chain(None, [quote], _orders_of([quote])))


def whole_of_order(order: Order) -> list[Node]:
    """The chain that an order lies in: of its deal, and of every quote that it takes from."""
    own = Quote.objects.filter(revisions__acceptances__order=order)
    quotes = set(own) | set(Quote.objects.filter(deal=order.deal) if order.deal_id else ())
    every = sorted(quotes, key=lambda quote: quote.pk)
    return _nodes(_Chain(order.deal, every, _orders_of(every)))


def _orders_of(quotes: Sequence[Quote]) -> list[Order]:
    rows = Order.objects.filter(acceptances__revision__quote__in=quotes).distinct()
    return list(rows.defer("buyer", "delivery_address", "tax", "charges").order_by("pk"))


def placed(nodes: Sequence[Node], *, unfolded: bool = False) -> list[Node]:
    """The nodes in their places; above ``MOST_STOPS``, orders that are done are folded into one stop each."""
    kept = list(nodes) if unfolded or len(nodes) <= MOST_STOPS else _folded(nodes)
    columns = [name for name in COLUMNS if any(node.kind == name for node in kept)]
    at = {node.id: columns.index(node.kind) for node in kept}
    stops = [Placed(id=node.id, column=at[node.id], origins=node.origins) for node in kept]
    places = places_of(stops)
    return [replace(node, column=places[node.id].column, row=places[node.id].row) for node in kept]


def _folded(nodes: Sequence[Node]) -> list[Node]:
    """Without what came of orders that are done; each of these tells how much it stands for."""
    done = {
        node.id for node in nodes if node.kind == "order" and node.note in ("paid", "cancelled")
    }
    under: dict[str, str] = {}
    for node in nodes:
        first = node.origins[0] if node.origins else ""
        if first in done:
            under[node.id] = first
        elif first in under:
            under[node.id] = under[first]
    many: dict[str, int] = {}
    for order in under.values():
        many[order] = many.get(order, 0) + 1
    return [
        replace(
            node,
            folded=many.get(node.id, 0),
            origins=tuple(each for each in node.origins if each not in under),
        )
        for node in nodes
        if node.id not in under
    ]


def _nodes(chain: _Chain) -> list[Node]:
    """Every document, each after what it comes from. Eleven queries."""
    orders = [order.pk for order in chain.orders]
    leads = _leads(chain.deal) if chain.deal else []
    nodes = [*leads, _deal(chain.deal, leads)] if chain.deal else []
    nodes += _quotes(chain)
    nodes += _orders(chain)
    handed = list(Handover.objects.filter(order__in=orders).defer("payload").order_by("pk"))
    nodes += [_handover(entry) for entry in handed]
    entries = {entry.order_id: entry.pk for entry in handed}
    nodes += _deliveries(orders, entries)
    nodes += _money(orders, entries)
    return nodes


def _leads(deal: Deal) -> list[Node]:
    """What a deal was made of; the deal comes after them."""
    return [
        Node(
            id=f"lead{lead.pk}",
            kind="lead",
            name=lead.topic or lead.title,
            on=timezone.localdate(lead.created_at),
            to=f"/leads/{lead.pk}",
        )
        for lead in Lead.objects.filter(deal=deal).order_by("pk")
    ]


def _deal(deal: Deal, leads: Sequence[Node]) -> Node:
    return Node(
        id=f"deal{deal.pk}",
        kind="deal",
        origins=tuple(lead.id for lead in leads),
        name=deal.title,
        note="",
        on=timezone.localdate(deal.created_at),
        to=f"/deals/{deal.pk}",
    )


def _quotes(chain: _Chain) -> list[Node]:
    """Revisions, each after the deal; the newest of a quote first, so that it goes on in the row."""
    rows = Revision.objects.filter(quote__in=chain.quotes).select_related("quote")
    origin = (f"deal{chain.deal.pk}",) if chain.deal else ()
    taken = set(
        Acceptance.objects.filter(order__in=chain.orders).values_list("revision_id", flat=True)
    )
    every = sorted(
        rows.defer("priced", "case"), key=lambda r: (r.quote_id, r.pk not in taken, -r.pk)
    )
    return [
        Node(
            id=f"quote{row.pk}",
            kind="quote",
            name=f"{row.quote.number} {row.letter}",
            note="" if row.issued_at else "draft",
            on=row.on,
            amount=_text(row.payable, row.currency),
            currency=row.currency,
            to=f"/quotes/{row.pk}",
            origins=origin if chain.deal and row.quote.deal_id == chain.deal.pk else (),
        )
        for row in every
    ]


def _orders(chain: _Chain) -> list[Node]:
    """Orders, each after the offers that it takes from."""
    offers: dict[int, list[str]] = {}
    for order, revision in (
        Acceptance.objects.filter(order__in=chain.orders)
        .order_by("pk")
        .values_list("order_id", "revision_id")
    ):
        offers.setdefault(order, []).append(f"quote{revision}")
    known = {
        f"quote{pk}"
        for pk in Revision.objects.filter(quote__in=chain.quotes).values_list("pk", flat=True)
    }
    return [
        Node(
            id=f"order{row.pk}",
            kind="order",
            name=row.number,
            note="cancelled" if row.cancelled_at else "paid" if row.paid else "",
            state=TROUBLE if row.cancelled_at else REACHED,
            on=row.accepted_on,
            amount=_text(row.payable, row.currency),
            currency=row.currency,
            to=f"/orders/{row.pk}",
            open=not row.billed,
            late=row.to_ship and row.leaves_on is not None and row.leaves_on < timezone.localdate(),
            origins=tuple(each for each in offers.get(row.pk, ()) if each in known),
        )
        for row in chain.orders
    ]


def _handover(entry: Handover) -> Node:
    return Node(
        id=f"handover{entry.pk}",
        kind="handover",
        name=entry.backoffice_number,
        note="" if entry.state == TAKEN else entry.state,
        state=TROUBLE if entry.state in (HELD, REFUSED) else REACHED,
        on=timezone.localdate(entry.created_at),
        to=f"/orders/{entry.order_id}",
        open=entry.state != TAKEN,
        origins=(f"order{entry.order_id}",),
    )


def _after(order: int, entries: Mapping[int, int]) -> tuple[str, ...]:
    """What follows an order comes after its handover, where there is one."""
    return (f"handover{entries[order]}",) if order in entries else (f"order{order}",)


def _deliveries(orders: Sequence[int], entries: Mapping[int, int]) -> list[Node]:
    left = [
        Node(
            id=f"delivery{row.pk}",
            kind="delivery",
            name=row.number,
            on=row.on,
            to=f"/deliveries/{row.pk}",
            origins=_after(row.order_id, entries),
        )
        for row in Delivery.objects.filter(order__in=orders).order_by("on", "pk")
    ]
    back = [
        Node(
            id=f"return{row.pk}",
            kind="delivery",
            name=row.number,
            note="returned",
            on=row.on,
            to=f"/orders/{row.order_id}",
            origins=_after(row.order_id, entries),
        )
        for row in Return.objects.filter(order__in=orders).order_by("on", "pk")
    ]
    return left + back


def _money(orders: Sequence[int], entries: Mapping[int, int]) -> list[Node]:
    """Invoices after the deliveries that they bill, credit notes after their invoices, payments after all they settle."""
    invoices = list(Invoice.objects.filter(order__in=orders).order_by("on", "pk"))
    bills = InvoiceLine.objects.filter(invoice__in=invoices, delivery_line__isnull=False)
    of: dict[int, list[str]] = {}
    pairs = bills.values_list("invoice_id", "delivery_line__delivery_id").distinct().order_by("pk")
    for invoice, delivery in pairs:
        name = f"delivery{delivery}"
        if name not in of.setdefault(invoice, []):
            of[invoice].append(name)
    rows = list(
        Allocation.objects.filter(invoice__in=invoices)
        .select_related("payment", "credit")
        .order_by("pk")
    )
    nodes = [
        _invoice(row, tuple(of.get(row.pk, ())) or _after(row.order_id or 0, entries))
        for row in invoices
        if row.kind != CREDIT
    ]
    credited = {row.credit_id: f"invoice{row.invoice_id}" for row in rows if row.credit_id}
    for row in invoices:
        if row.kind == CREDIT:
            first = credited.get(row.pk)
            nodes.append(_invoice(row, (first,) if first else _after(row.order_id or 0, entries)))
    return nodes + _payments(rows)


def _invoice(row: Invoice, origins: tuple[str, ...]) -> Node:
    credit = row.kind == CREDIT
    return Node(
        id=f"invoice{row.pk}",
        kind="credit" if credit else "invoice",
        name=row.number,
        on=row.on,
        amount=_text(-row.gross if credit else row.gross, row.currency),
        currency=row.currency,
        to=f"/invoices/{row.pk}",
        open=row.open_amount > 0 and not credit,
        late=not credit and row.open_amount > 0 and row.due_on < timezone.localdate(),
        origins=origins,
    )


def _payments(rows: Iterable[Allocation]) -> list[Node]:
    """A payment over several invoices joins their lines."""
    found: dict[int, Node] = {}
    for row in rows:
        payment, of = row.payment, f"invoice{row.invoice_id}"
        if payment is None:
            continue
        before = found.get(payment.pk)
        if before is not None:
            found[payment.pk] = replace(before, origins=(*before.origins, of))
            continue
        found[payment.pk] = Node(
            id=f"payment{payment.pk}",
            kind="payment",
            name=payment.number,
            on=payment.on,
            amount=_text(payment.amount, payment.currency),
            currency=payment.currency,
            to=f"/payments/{payment.pk}",
            open=payment.unused > 0,
            origins=(of,),
        )
    return list(found.values())


def _text(amount: Decimal, currency: str) -> str | None:
    return plain(amount, minor_digits(currency))
