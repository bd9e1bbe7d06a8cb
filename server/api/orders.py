"""Orders: made from an accepted revision, handed over, followed."""

from datetime import date, datetime, timedelta
from decimal import Decimal
from typing import Annotated, Any, Literal

from django.db.models import QuerySet
from django.http import HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from django.utils import timezone
from ninja import Query, Router
from pydantic import Field, StringConstraints

from api.access import SELL, SIGN
from api.customers.sheet import signed
from api.export import Column, Seen, as_file
from api.order_facts import (
    BackOut,
    BySelfOut,
    Done,
    GoodsOut,
    OrderChangeOut,
    by_itself,
    changes_of,
    done_of,
    goods_of,
    returns_of,
    stage_of,
)
from api.quotes.priced import ChargeRowOut, TaxOut
from api.quotes.shapes import AddressChoice, SeenIn, addresses_to_choose
from api.routes import RouteStop, route_out
from api.schemas import Schema
from api.shapes import (
    Id,
    Paged,
    PathId,
    Sort,
    Version,
    Words,
    money,
    paged,
    sure_money,
    today,
    who,
)
from api.standing import StandingOut, standing_out, standings_now
from apps.catalogue.models import SERVICE
from apps.catalogue.queries import unit_names
from apps.customers.models import Address
from apps.errors import Refused
from apps.handover.changing import cancel_order
from apps.handover.clearing import (
    answer_order_sign_off,
    ask_order_sign_off,
    halts_in,
    holds_in,
    sign_off_of_order,
)
from apps.handover.flows import hand_over, send_again
from apps.handover.intake import story_from_raw
from apps.handover.models import APPLIED, BackOfficeEvent, Handover
from apps.handover.reading import Credited, Invoiced, Paid, Story, story_of
from apps.ledger.models import Invoice
from apps.listing import count, in_batches, in_order, sorts_for
from apps.orders.documents import document_of_order
from apps.orders.flows import order_mark
from apps.orders.models import Order, OrderLine, OrderSignOff
from apps.orders.queries import state_of
from apps.orders.ubl import order_document
from apps.papers.editions import current_template
from apps.papers.pdf import make_pdf
from apps.people.access import pick, read_for_fulfilment
from apps.people.models import User, beside_name
from apps.quotes.models import Revision
from apps.quotes.pricing.sight import excesses_for
from apps.quotes.state import can_still_be_ordered
from apps.route.queries import route_of_order
from apps.searching import Index
from apps.told import Unfit
from apps.words import state_words
from routecore.casefile.words import plain
from routecore.standing import Reason

router = Router(tags=["orders"])
STUMBLED = ("refused", "held")
ON_THE_WAY = ("waiting", "under_way")


def orders_of(person: User) -> QuerySet[Order]:
    """The orders this person may see; the back office sees all."""
    return Order.objects.filter(read_for_fulfilment(person))


def orders_shown(rows: QuerySet[Order] | None = None) -> QuerySet[Order]:
    """Orders as a list shows them, without what their sheet alone shows."""
    chosen = Order.objects.all() if rows is None else rows
    return chosen.select_related("owner").defer(*OF_THE_SHEET, *beside_name("owner"))


OF_THE_SHEET = ("buyer", "delivery_address", "tax", "charges", "terms_more")


#: What a list of orders can be sorted by.
SORTS = {
    "number": "number",
    "customer": "customer_name",
    "accepted": "accepted_on",
    "wanted": "requested_on",
    "leaves": "leaves_on",
    "payable": "payable",
    "owner": "owner_name",
}


class OrderRow(Schema):
    """An order in a list."""

    id: int
    number: str
    customer_id: int
    customer: str
    owner: str
    state: str
    backoffice_number: str
    accepted_on: date
    requested_on: date | None
    leaves_on: date | None
    late: bool
    currency: str
    payable: str


class OrderPage(Paged):
    """One page of orders; ``sums`` is the payable by currency over the whole filter."""

    rows: list[OrderRow]
    sums: dict[str, str]


OrderState = Literal[
    "",
    "way",
    "unbilled",
    "stumbled",
    "ready",
    "paid",
    "cancelled",
    "waiting",
    "held",
    "this_week",
    "late",
    "part_delivered",
    "delivered",
]


class OrderFilters(Schema):
    """What narrows a list of orders.

    ``way`` is everything not paid yet, ``unbilled`` what is not wholly invoiced; ``this_week`` what is promised to
    leave by Sunday, ``late`` what should have left; ``delivered`` what left and is not wholly invoiced.
    """

    state: OrderState = ""
    owner: Id | None = None
    customer: Id | None = None
    words: Words = ""
    sort: Sort = "-accepted"
    page: Annotated[int, Field(ge=1, le=100_000)] = 1


def order_row(order: Order) -> OrderRow:
    """An order as a row."""
    state = state_of(order)
    return OrderRow(
        id=order.pk,
        number=order.number,
        customer_id=order.customer_id,
        customer=order.customer_name,
        owner=order.owner.name,
        state=state,
        backoffice_number=order.backoffice_number,
        accepted_on=order.accepted_on,
        requested_on=order.requested_on,
        leaves_on=order.leaves_on,
        late=order.to_ship and order.leaves_on is not None and order.leaves_on < today(),
        currency=order.currency,
        payable=sure_money(order.payable, order.currency),
    )


def filter_orders(rows: QuerySet[Order], filters: OrderFilters, on: date) -> QuerySet[Order]:
    """Narrowed in SQL, as ``state_of`` would judge."""
    rows = _in_state(rows, filters.state, on)
    if filters.owner:
        rows = rows.filter(owner_id=filters.owner)
    if filters.customer:
        rows = rows.filter(customer_id=filters.customer)
    return WORDS.find(rows, filters.words)


def _in_state(rows: QuerySet[Order], state: str, on: date) -> QuerySet[Order]:
    match state:
        case "unbilled":
            rows = rows.filter(billed=False)
        case "way":
            rows = rows.filter(paid=False)
        case "stumbled":
            rows = rows.filter(handover_state__in=STUMBLED)
        case "ready":
            rows = rows.filter(handover_state="", cancelled_at=None)
        case "paid":
            rows = rows.filter(paid=True, cancelled_at=None)
        case "cancelled":
            rows = rows.filter(cancelled_at__isnull=False)
        case "waiting":
            rows = rows.filter(handover_state__in=ON_THE_WAY, cancelled_at=None)
        case "held":
            rows = rows.filter(handover_state="held")
        case "this_week":
            sunday = on + timedelta(days=6 - on.weekday())
            rows = rows.filter(to_ship=True, leaves_on__range=(on, sunday))
        case "late":
            rows = rows.filter(to_ship=True, leaves_on__lt=on)
        case "part_delivered":
            rows = rows.filter(to_ship=True, shipped_quantity__gt=0)
        case "delivered":
            rows = rows.filter(to_ship=False, billed=False, shipped_quantity__gt=0)
    return rows


WORDS = Index(
    columns=("number", "customer_name", "buyer_reference", "backoffice_number"),
    first="customer_name",
    numbers=("number", "backoffice_number"),
)


@router.get("/orders", response=OrderPage, operation_id="list_orders")
def orders(request: HttpRequest, filters: Query[OrderFilters]) -> OrderPage:
    """A page of orders, newest first. Three queries."""
    person = who(request)
    rows = filter_orders(orders_of(person), filters, today())
    ordered = in_order(rows, filters.sort, sorts_for(person, SORTS), "-accepted")
    found = count(ordered, "currency", "payable")
    span, facts = paged(found, filters.page)
    return OrderPage(
        rows=[order_row(order) for order in found.page(span, orders_shown())],
        sums={currency: sure_money(total, currency) for currency, total in found.sums.items()},
        **facts,
    )


@router.get("/orders.{kind}", operation_id="export_orders")
def export(
    request: HttpRequest,
    kind: Literal["csv", "xlsx"],
    filters: Query[OrderFilters],
    columns: Seen = "",
) -> HttpResponseBase:
    """The filtered orders as a file, in the list's order and columns."""
    known = [
        Column("Order", "number"),
        Column("Back office", "backoffice_number"),
        Column("Customer", "customer"),
        Column("State", "state", words=state_words()["order"]),
        Column("Accepted", "accepted_on"),
        Column("Wanted", "requested_on"),
        Column("Complete by", "leaves_on"),
        Column("Currency", "currency"),
        Column("Payable", "payable", number=True),
        Column("Rep", "owner"),
    ]
    person = who(request)
    found = filter_orders(orders_of(person), filters, today())
    ordered = in_order(found, filters.sort, sorts_for(person, SORTS), "-accepted")
    batches = in_batches(ordered, orders_shown())
    rows = ([order_row(order) for order in part] for part in batches)
    return as_file(kind, "orders", known, rows, seen=columns)


class OutlookOut(Schema):
    """The line's day is another now than was promised; None: no day is known any more."""

    leaves_on: date | None
    since: datetime


class OrderLineOut(Schema):
    """A line with its locked price, and how much of it was shipped.

    ``delivery_address`` and ``wanted_on`` where they are not the order's; ``quote`` the offer it came from.
    ``promised_on`` and ``arrives_on`` were promised when it was ordered; ``missing`` was short then, in the
    item's base unit. ``first_quantity`` was ordered at first, where less is wanted now; ``billed`` and
    ``credited`` are net.
    """

    id: int
    item_id: int
    promised_on: date | None
    arrives_on: date | None
    missing: str | None
    position: int
    item: str
    text: str
    quantity: str
    first_quantity: str | None
    unit: str
    price: str
    per: str
    price_unit: str
    discount_percent: str | None
    net: str
    stage: str
    shipped: str
    returned: str
    billed: str
    credited: str
    service: bool
    delivery_address: dict[str, str] | None
    wanted_on: date | None
    depot: str
    depot_id: int | None
    quote: str
    outlook: OutlookOut | None


class HandoverOut(Schema):
    """The order's passage to the back office."""

    id: int
    state: str
    tries: int
    next_try_at: datetime
    last_error: str
    backoffice_number: str
    created_at: datetime
    taken_at: datetime | None
    version: int


class NewsOut(Schema):
    """One piece of news about the order."""

    kind: str
    at: datetime
    number: str
    amount: str | None


class InvoiceOut(Schema):
    """An invoice of the order."""

    id: int
    number: str
    kind: str
    on: date
    due_on: date
    gross: str
    open: str


class LeftOut(Schema):
    """A delivery of the order."""

    id: int
    number: str
    on: date


class OrderSignOffOut(Schema):
    """A sign-off of the order as it stands, and for the reasons that there are now."""

    id: int
    reason: str
    asked_by: str
    asked_at: datetime
    answer: str
    answered_by: str
    answered_at: datetime | None
    comment: str


class OfferOut(Schema):
    """A quote that the order takes from; ``left`` whether something of it can still be ordered."""

    revision_id: int
    number: str
    direct: bool
    left: bool


class BeyondOut(Schema):
    """A limit that an order exceeds, by a line or as a whole; figures only where the person may see them."""

    code: str
    what: str
    found: str | None
    limit: str | None


class OrderOut(OrderRow):
    """An order with all that belongs to it."""

    version: int
    mark: str
    deal_id: int | None
    deal: str
    quotes: list[OfferOut]
    buyer_reference: str
    buyer: dict[str, str]
    delivery_address: dict[str, str] | None
    partial_deliveries: bool
    complete_on: date | None
    lines_net: str
    document_discount: str
    charges: list[ChargeRowOut]
    net: str
    tax: list[TaxOut]
    tax_total: str
    payable_rounding: str
    unit_names: dict[str, str]
    lines: list[OrderLineOut]
    handover: HandoverOut | None
    news: list[NewsOut]
    invoices: list[InvoiceOut]
    deliveries: list[LeftOut]
    returns: list[BackOut]
    changes: list[OrderChangeOut]
    addresses: list[AddressChoice]
    goods: list[GoodsOut]
    may_replenish: bool
    by_itself: BySelfOut | None
    standing: StandingOut
    held_back: bool
    halted: bool
    excesses: list[BeyondOut]
    sign_off: OrderSignOffOut | None
    may_sign: bool
    cancelled_at: datetime | None
    cancelled_by: str
    cancel_reason: str
    route: list[RouteStop]


def order_out(person: User, order_id: int) -> OrderOut:
    """An order as its sheet shows it; a constant number of queries."""
    rows = orders_of(person).select_related("customer", "owner", "deal", "revision__quote")
    order = pick(rows.defer("revision__priced", "revision__case"), order_id, "order")
    entry = Handover.objects.filter(order=order).first()
    lines = _lines(order)
    done = done_of(lines)
    standing = standings_now([order.customer], today())[order.customer_id]
    return OrderOut(
        **order_row(order).model_dump(),
        version=order.version,
        mark=order_mark(order, lines),
        deal_id=order.deal_id,
        deal=order.deal.title if order.deal else "",
        quotes=_offers(order),
        buyer_reference=order.buyer_reference,
        buyer=order.buyer,
        delivery_address=order.delivery_address,
        partial_deliveries=order.partial_deliveries,
        complete_on=_complete_on(lines),
        tax=order.tax,
        lines_net=sure_money(order.lines_net, order.currency),
        document_discount=sure_money(order.document_discount, order.currency),
        charges=order.charges,
        net=sure_money(order.net, order.currency),
        tax_total=sure_money(order.tax_total, order.currency),
        payable_rounding=sure_money(order.payable_rounding, order.currency),
        unit_names=unit_names(),
        lines=[_line(row, order.currency, done[row.pk]) for row in lines],
        handover=_handover(entry) if entry else None,
        news=_news(entry, order.currency) if entry else [],
        invoices=[_invoice(row) for row in order.invoices.order_by("pk")],
        deliveries=[LeftOut.from_orm(row) for row in order.deliveries.order_by("on", "pk")],
        **_happened(person, order, lines),
        standing=standing_out(standing),
        **_clearance(person, order, [] if entry or order.cancelled_at else halts_in(standing)),
        **_cancelled(order),
        route=route_out(route_of_order(order)),
    )


def _complete_on(lines: list[OrderLine]) -> date | None:
    """When the last of its goods is there, as promised; None where a line has no day."""
    goods = [line for line in lines if line.item.kind != SERVICE and line.quantity]
    days = [line.arrives_on for line in goods]
    return max((day for day in days if day), default=None) if all(days) else None


def _offers(order: Order) -> list[OfferOut]:
    rows = order.acceptances.select_related("revision__quote").order_by("pk")
    return [
        OfferOut(
            revision_id=row.revision_id,
            number=_quote_name(row.revision),
            direct=row.revision.quote.direct,
            left=can_still_be_ordered(row.revision.quote),
        )
        for row in rows.defer("revision__priced", "revision__case")
    ]


def _cancelled(order: Order) -> dict[str, Any]:
    return {
        "cancelled_at": order.cancelled_at,
        "cancelled_by": order.cancelled_by.name if order.cancelled_by else "",
        "cancel_reason": order.cancel_reason,
    }


def _happened(person: User, order: Order, lines: list[OrderLine]) -> dict[str, Any]:
    """What came back, was changed, was asked for; and what may be."""
    return {
        "returns": returns_of(order),
        "changes": changes_of(order, lines),
        "addresses": _places(order) if person.role in SELL else [],
        "goods": goods_of(order),
        "may_replenish": person.replenishes,
        "by_itself": by_itself(order),
    }


def _places(order: Order) -> list[AddressChoice]:
    return addresses_to_choose(Address.objects.active().filter(customer=order.customer_id))


def _clearance(person: User, order: Order, halts: list[Reason]) -> dict[str, Any]:
    """Whether a sign-off is needed before the order is handed over, and the newest one."""
    waits = order.cancelled_at is None and not order.handover_state
    holds = holds_in(halts, order) if waits else []
    found = sign_off_of_order(order, holds) if holds else None
    return {
        "held_back": bool(holds),
        "halted": bool(halts),
        "excesses": _beyond(person, order) if waits else [],
        "sign_off": _sign_off(found) if found else None,
        "may_sign": person.role in SIGN
        and order.owner_id != person.pk
        and found is not None
        and found.asked_by_id != person.pk,
    }


def _beyond(person: User, order: Order) -> list[BeyondOut]:
    """The limits that it exceeds, with the words of their lines."""
    rows = [
        (acceptance.revision_id, row)
        for acceptance in order.acceptances.all()
        for row in excesses_for(person, acceptance.excesses)
    ]
    if not rows:
        return []
    texts = {
        (line.quote_line.revision_id, line.quote_line.key): line.text
        for line in order.lines.select_related("quote_line")
    }
    return [
        BeyondOut(
            code=row["code"] or "",
            what=texts.get((revision, row["line"] or ""), ""),
            found=row["found"],
            limit=row["limit"],
        )
        for revision, row in rows
    ]


def _sign_off(row: OrderSignOff) -> OrderSignOffOut:
    return OrderSignOffOut(
        id=row.pk,
        reason=row.reason,
        asked_by=row.asked_by.name,
        asked_at=row.asked_at,
        answer=row.answer,
        answered_by=row.answered_by.name if row.answered_by else "",
        answered_at=row.answered_at,
        comment=row.comment,
    )


def _invoice(row: Invoice) -> InvoiceOut:
    return InvoiceOut(
        id=row.pk,
        number=row.number,
        kind=row.kind,
        on=row.on,
        due_on=row.due_on,
        gross=signed(row, row.gross),
        open=signed(row, row.open_amount),
    )


def _lines(order: Order) -> list[OrderLine]:
    rows = order.lines.select_related("item", "depot", "outlook", "quote_line__revision__quote")
    hidden = ("quote_line__revision__priced", "quote_line__revision__case")
    return list(rows.defer(*hidden).prefetch_related("delivery_lines", "return_lines"))


def _quote_name(revision: Revision) -> str:
    return f"{revision.quote.number} {revision.letter}"


def _line(row: OrderLine, currency: str, done: Done) -> OrderLineOut:
    return OrderLineOut(
        id=row.pk,
        item_id=row.item_id,
        promised_on=row.promised_on,
        arrives_on=row.arrives_on,
        missing=plain(row.missing) if row.missing else None,
        position=row.position,
        item=row.item.code,
        text=row.text,
        quantity=plain(row.quantity) or "0",
        first_quantity=plain(row.first_quantity),
        unit=row.unit,
        price=plain(row.price, 2) or "",
        per=plain(row.per) or "1",
        price_unit=row.price_unit,
        discount_percent=plain(row.discount_percent),
        net=sure_money(row.net, currency),
        stage=stage_of(row, done),
        shipped=plain(done.shipped) or "0",
        returned=plain(done.returned) or "0",
        billed=sure_money(done.billed, currency),
        credited=sure_money(done.credited, currency),
        service=row.item.kind == "service",
        delivery_address=row.delivery_address,
        wanted_on=row.wanted_on,
        depot=row.depot.name if row.depot else "",
        depot_id=row.depot_id,
        quote=_quote_name(row.quote_line.revision),
        outlook=OutlookOut.from_orm(row.outlook) if hasattr(row, "outlook") else None,
    )


def _handover(entry: Handover) -> HandoverOut:
    return HandoverOut(
        **{name: getattr(entry, name) for name in HandoverOut.model_fields if name != "id"},
        id=entry.pk,
    )


def _news(entry: Handover, currency: str) -> list[NewsOut]:
    rows = BackOfficeEvent.objects.filter(key=entry.key, state=APPLIED)
    return [
        NewsOut(
            kind=row.kind,
            at=row.occurred_at or row.received_at,
            number=_number_of(row),
            amount=money(_amount_of(row), currency),
        )
        for row in rows.order_by("occurred_at", "pk")
    ]


def _number_of(event: BackOfficeEvent) -> str:
    return str(getattr(_told(event), "number", ""))


def _told(event: BackOfficeEvent) -> Story | None:
    try:
        return story_of(event.kind, event.data) if event.data else story_from_raw(event)
    except Unfit:
        return None


def _amount_of(event: BackOfficeEvent) -> Decimal | None:
    told = _told(event)
    match told:
        case Invoiced() | Credited():
            return told.gross
        case Paid():
            return told.amount
    return None


@router.get("/orders/{order_id}", response=OrderOut, operation_id="get_order")
def order(request: HttpRequest, order_id: PathId) -> OrderOut:
    """One order."""
    return order_out(who(request), order_id)


@router.get("/orders/{order_id}/ubl", operation_id="get_order_ubl")
def ubl(request: HttpRequest, order_id: PathId) -> HttpResponse:
    """The order as a UBL 2.1 Order."""
    rows = orders_of(who(request)).select_related("owner", "revision__quote")
    row = pick(rows.defer("revision__priced", "revision__case"), order_id, "order")
    headers = {"Content-Disposition": f'attachment; filename="{row.number}.xml"'}
    return HttpResponse(order_document(row), content_type="application/xml", headers=headers)


@router.get("/orders/{order_id}/pdf", operation_id="get_order_pdf")
def pdf(
    request: HttpRequest,
    order_id: PathId,
    paper: Literal["short", "detailed"] = "short",
    language: Literal["", "en", "de"] = "",
) -> HttpResponse:
    """The order confirmation, on one of the papers, in a language or the customer's own."""
    rows = orders_of(who(request)).select_related("customer", "owner", "revision__quote")
    row = pick(rows, order_id, "order")
    if row.cancelled_at is not None:
        raise Refused("cancelled")
    body = make_pdf(document_of_order(row, language), current_template(paper))
    headers = {"Content-Disposition": f'inline; filename="{row.number}.pdf"'}
    return HttpResponse(body, content_type="application/pdf", headers=headers)


class AgainIn(Schema):
    """The version of what is sent again."""

    version: Version


class HandIn(AgainIn):
    """The version of what is handed over, and what was seen of it."""

    seen: SeenIn


@router.post("/orders/{order_id}/handover", response=OrderOut, operation_id="hand_over")
def hand(request: HttpRequest, order_id: PathId, data: HandIn) -> OrderOut:
    """Put the order into the outbox; a second time changes nothing."""
    hand_over(who(request), order_id, data.version, now=timezone.now(), seen=data.seen.as_seen())
    return order_out(who(request), order_id)


class CancelIn(AgainIn):
    """The version of what is cancelled, and why."""

    reason: Annotated[str, StringConstraints(max_length=200)]


@router.post("/orders/{order_id}/cancel", response=OrderOut, operation_id="cancel_order")
def cancel(request: HttpRequest, order_id: PathId, data: CancelIn) -> OrderOut:
    """Cancel an order that was not handed over."""
    cancel_order(who(request), order_id, data.version, reason=data.reason, now=timezone.now())
    return order_out(who(request), order_id)


class OrderAskIn(Schema):
    """Why the order should go on though its customer stands on Halt, and what was seen of it."""

    reason: Annotated[str, StringConstraints(max_length=500)]
    seen: SeenIn


@router.post("/orders/{order_id}/sign-off", response=OrderOut, operation_id="ask_order_sign_off")
def ask(request: HttpRequest, order_id: PathId, data: OrderAskIn) -> OrderOut:
    """Ask for a sign-off of exactly what was seen."""
    seen = data.seen.as_seen()
    ask_order_sign_off(
        who(request), order_id, data.reason, today=today(), now=timezone.now(), seen=seen
    )
    return order_out(who(request), order_id)


class OrderAnswerIn(Schema):
    """Granted or refused, with a word, and what was seen of the order."""

    granted: bool
    comment: Annotated[str, StringConstraints(max_length=500)] = ""
    seen: SeenIn


@router.post(
    "/order-sign-offs/{sign_off_id}", response=OrderOut, operation_id="answer_order_sign_off"
)
def answer(request: HttpRequest, sign_off_id: PathId, data: OrderAnswerIn) -> OrderOut:
    """Sign an order off, or refuse."""
    row = answer_order_sign_off(
        who(request),
        sign_off_id,
        granted=data.granted,
        comment=data.comment,
        now=timezone.now(),
        seen=data.seen.as_seen(),
    )
    return order_out(who(request), row.order_id)


@router.post("/handovers/{handover_id}/again", response=OrderOut, operation_id="send_again")
def again(request: HttpRequest, handover_id: PathId, data: AgainIn) -> OrderOut:
    """Try a refused or waiting handover now."""
    entry = send_again(who(request), handover_id, data.version, now=timezone.now())
    return order_out(who(request), entry.order_id)
