"""From offers to an order: what it will be, writing it, and what becomes of the rest."""

from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from typing import Annotated, Any

from django.conf import settings
from django.http import HttpRequest
from django.utils import timezone
from ninja import Status
from pydantic import Field, StringConstraints

from api import orders
from api.orders import OrderOut, order_out
from api.promises import PromisesOut, promises_out
from api.quotes.priced import ChargeRowOut, TaxOut
from api.quotes.shapes import AddressChoice, QuoteOut, SeenIn, addresses_to_choose
from api.quotes.view import quote_out
from api.schemas import Schema
from api.shapes import Day, Id, LineKind, PathId, Quantity, Version, money, sure_money, today, who
from api.standing import StandingOut, standing_out, standings_now
from apps.buyers.flows import taking_otherwise
from apps.catalogue.queries import rate_on, unit_names
from apps.customers.addresses import usual_address
from apps.customers.models import Address, Customer
from apps.customers.payment import payment_of
from apps.handover.by_itself import plan_self_handover
from apps.handover.changing import price_order_again
from apps.orders.carrying import tax_out
from apps.orders.flows import Plan, Source, beyond_limits, order_now, plan_order, write_order
from apps.orders.models import Order
from apps.orders.offers import OfferedLine, Take, Taken, Want, with_place
from apps.orders.repricing import Moved, priced_again
from apps.orders.resting import allow_late, ask_late, close_rest
from apps.papers.words import ENGLISH
from apps.people.access import owned, pick
from apps.people.models import User
from apps.quotes.models import Quote, Revision
from apps.quotes.queries import quotes_of
from apps.stock.plans import depots
from apps.stock.promising import Wanted, factors_of, promises
from routecore.casefile.words import plain
from routecore.money import Money, minor_digits

#: One router with the list of orders: they share a path.
router = orders.router

Key = Annotated[str, StringConstraints(max_length=36)]
Reason = Annotated[str, StringConstraints(max_length=200)]


class WantIn(Schema):
    """So much of an offered line; without a quantity, all that is left of it."""

    key: Key
    quantity: Quantity | None = None
    depot_id: Id | None = None
    wanted_on: Day | None = None
    address_id: Id | None = None

    def as_want(self) -> Want:
        """As the flows take it."""
        return Want(**self.model_dump())


class SourceIn(Schema):
    """An offer, and what of it; without ``lines`` all that counts and is left, with what is to ``take`` besides."""

    revision_id: Id
    version: Version
    lines: Annotated[list[WantIn], Field(max_length=1000)] | None = None
    take: Annotated[list[Key], Field(max_length=200)] = []

    def as_source(self) -> Source:
        """As the flows take it."""
        wants = None if self.lines is None else tuple(line.as_want() for line in self.lines)
        return Source(
            revision_id=self.revision_id,
            version=self.version,
            wants=wants,
            take=tuple(self.take),
        )


Sources = Annotated[list[SourceIn], Field(min_length=1, max_length=20)]


class PlanIn(Schema):
    """What an order would be written from."""

    sources: Sources
    requested_on: Day | None = None
    delivery_address_id: Id | None = None


class OfferedOut(Schema):
    """An offered line: how much was offered, was ordered before, and is left; its net for all of it.

    ``replaced`` where an alternative was ordered in its place.
    """

    key: str
    kind: LineKind
    alternative_to: str
    item: str
    text: str
    unit: str
    offered: str
    ordered: str
    left: str
    net: str
    depot_id: int | None
    wanted_on: date | None
    replaced: bool


class PlannedOffer(Schema):
    """One of the offers; of ``left`` lines something is left once the order is written."""

    revision_id: int
    version: int
    number: str
    deal_id: int | None
    deal: str
    valid_until: date
    terms: str
    lines: list[OfferedOut]
    left: int


class PlannedRow(Schema):
    """A line of the order to be; ``key`` of its promise is its place in the list."""

    offer: int
    key: str
    quantity: str
    unit: str
    net: str
    beyond: bool


class JoinOut(Schema):
    """Another open quote of the customer, which can go into the same order."""

    revision_id: int
    number: str
    payable: str


class PlanOut(Schema):
    """What the order would be, before it is."""

    mark: str
    customer_id: int
    customer: str
    currency: str
    terms: str
    buyer_reference: str
    requested_on: date | None
    addresses: list[AddressChoice]
    usual_address_id: int | None
    unit_names: dict[str, str]
    offers: list[PlannedOffer]
    rows: list[PlannedRow]
    lines_net: str
    document_discount: str
    charges: list[ChargeRowOut]
    net: str
    tax: list[TaxOut]
    tax_total: str
    payable_rounding: str
    payable: str
    beyond: bool
    within_limits: bool
    partial_deliveries: bool
    standing: StandingOut
    promises: PromisesOut
    complete_on: date | None
    joins: list[JoinOut]


@router.post("/order-plan", response=PlanOut, operation_id="plan_order")
def plan(request: HttpRequest, data: PlanIn) -> PlanOut:
    """What an order of these offers would be; nothing is changed."""
    person = who(request)
    found = plan_order(person, [each.as_source() for each in data.sources], today=today())
    return _Shown(person, found, data).out()


@dataclass(frozen=True, slots=True)
class _Shown:
    """A plan for the browser."""

    person: User
    plan: Plan
    asked: PlanIn

    @property
    def customer(self) -> Customer:
        return self.plan.revision.quote.customer

    def out(self) -> PlanOut:
        plan, revision = self.plan, self.plan.revision
        promised = self._promises()
        arrivals = [line.arrives for line in promised.lines if line.kind != "none"]
        whole = not promised.short and all(arrivals)
        return PlanOut(
            mark=plan.mark,
            customer_id=self.customer.pk,
            customer=self.customer.name,
            terms=ENGLISH.terms(payment_of(revision)),
            buyer_reference=revision.buyer_reference,
            requested_on=revision.requested_on,
            **self._places(),
            unit_names=unit_names(),
            offers=[_offer(take) for take in plan.takes],
            rows=self._rows(),
            **self._sums(),
            beyond=plan.beyond,
            within_limits=not any(beyond_limits(self.person, plan, today())),
            partial_deliveries=plan.revision.quote.customer.partial_deliveries,
            standing=self._standing(),
            promises=promised,
            complete_on=max((day for day in arrivals if day), default=None) if whole else None,
            joins=self._joins(),
        )

    def _places(self) -> dict[str, Any]:
        places = list(self.customer.addresses.active().order_by("kind", "pk"))
        usual = usual_address(places)
        chosen = (self.plan.revision.deliver_to or {}).get("id")
        return {
            "addresses": addresses_to_choose(places),
            "usual_address_id": chosen or (usual.pk if usual else None),
        }

    def _taken(self) -> list[tuple[int, Taken]]:
        return [(n, row) for n, take in enumerate(self.plan.takes) for row in take.rows]

    def _rows(self) -> list[PlannedRow]:
        currency = self.plan.revision.currency
        beyond = [set(take.beyond) for take in self.plan.takes]
        return [
            PlannedRow(
                offer=n,
                key=row.line.row.key,
                quantity=plain(row.quantity) or "",
                unit=row.line.row.unit,
                net=sure_money(row.net, currency),
                beyond=row.line.row.key in beyond[n],
            )
            for n, row in self._taken()
        ]

    def _sums(self) -> dict[str, Any]:
        totals, currency = self.plan.totals, self.plan.revision.currency
        return {
            "currency": currency,
            **{
                name: sure_money(getattr(totals, name), currency)
                for name in (
                    *("lines_net", "document_discount", "net", "tax_total"),
                    *("payable_rounding", "payable"),
                )
            },
            "charges": [
                ChargeRowOut(
                    name=row.name,
                    amount=plain(row.amount, minor_digits(currency)) or "0",
                    tax_category=row.tax_category,
                )
                for row in totals.charge_rows
                if row.amount
            ],
            "tax": [tax_out(row, currency) for row in totals.tax],
        }

    def _standing(self) -> StandingOut:
        """As it will be with the order counted, in the base currency at the offer's rate."""
        revision, base = self.plan.revision, settings.BASE_CURRENCY
        rate = revision.base_rate or rate_on(revision.currency, today())
        payable = Money(self.plan.totals.payable, revision.currency)
        extra = payable.converted(rate, base).amount
        return standing_out(standings_now([self.customer], today(), extra)[self.customer.pk])

    def _promises(self) -> PromisesOut:
        rows = self._taken()
        factors = factors_of(row.item.pk for _, row in rows)
        units = {
            str(n): factors.get((row.item.pk, row.line.row.unit), Decimal(1))
            for n, (_, row) in enumerate(rows)
        }
        wanted = [self._wanted(str(n), row, units[str(n)]) for n, (_, row) in enumerate(rows)]
        places = depots()
        country = self._country(self.asked.delivery_address_id)
        found = promises(
            wanted, places=places, buyer_country=country, today=today(), now=timezone.now()
        )
        return promises_out(found, units, places)

    def _wanted(self, key: str, row: Taken, factor: Decimal) -> Wanted:
        want = with_place(row.want, row.line.row)
        country = self.plan.places.get(want.address_id or 0, {}).get("country", "")
        return Wanted(
            key=key,
            item=row.item.pk,
            quantity=row.quantity * factor,
            depot=want.depot_id,
            on=want.wanted_on or self.asked.requested_on or self.plan.revision.requested_on,
            step=row.item.pack_multiple or Decimal(1),
            country=country,
        )

    def _country(self, address_id: int | None) -> str:
        rows = Address.objects.active().filter(customer=self.customer)
        chosen = rows.filter(pk=address_id).first() if address_id else usual_address(rows)
        return chosen.country if chosen else ""

    def _joins(self) -> list[JoinOut]:
        """Open quotes of the same customer and currency beside these, the newest first."""
        own = {take.offer.revision.quote_id for take in self.plan.takes}
        rows = quotes_of(self.person).filter(
            customer=self.customer,
            currency=self.plan.revision.currency,
            issued_at__isnull=False,
            declined_at__isnull=True,
            valid_until__gte=today(),
        )
        open_ = [row for row in rows.exclude(pk__in=own).order_by("-pk")[:50] if _open(row)]
        return [
            JoinOut(
                revision_id=row.revision_id or 0,
                number=f"{row.number} {row.letter}",
                payable=sure_money(row.payable, row.currency),
            )
            for row in open_[:20]
        ]


def _open(quote: Quote) -> bool:
    return quote.order_pk is None or (quote.lines_left > 0 and quote.rest_closed_at is None)


def _offer(take: Take) -> PlannedOffer:
    revision = take.offer.revision
    quote = revision.quote
    instead = take.offer.replaced(())
    return PlannedOffer(
        revision_id=revision.pk,
        version=revision.version,
        number=f"{quote.number} {revision.letter}",
        deal_id=quote.deal_id,
        deal=quote.deal.title if quote.deal else "",
        valid_until=revision.valid_until,
        terms=ENGLISH.terms(payment_of(revision)),
        lines=[_offered(line, revision, instead) for line in take.offer.lines.values()],
        left=take.left,
    )


def _offered(line: OfferedLine, revision: Revision, instead: dict[str, str]) -> OfferedOut:
    row = line.row
    return OfferedOut(
        key=row.key,
        kind=row.kind,
        alternative_to=row.alternative_to,
        item=row.item.code if row.item else "",
        text=row.text,
        unit=row.unit,
        offered=plain(row.quantity) or "0",
        ordered=plain(line.before.quantity) or "0",
        left=plain(line.left) or "0",
        net=sure_money(row.net or Decimal(0), revision.currency),
        depot_id=row.depot_id,
        wanted_on=row.wanted_on,
        replaced=row.key in instead,
    )


class OrderIn(Schema):
    """The buyer said yes, in ``answer_id`` where they said it at the quote's address. ``close_deal`` is the rep's choice at this moment; ``beyond`` says that more than was
    offered is meant."""

    sources: Sources
    seen: SeenIn
    close_deal: bool
    buyer_reference: Annotated[str, StringConstraints(max_length=60)] = ""
    requested_on: Day | None = None
    delivery_address_id: Id | None = None
    partial_deliveries: bool | None = None
    beyond: bool = False
    answer_id: Id | None = None


@router.post("/orders", response={201: OrderOut}, operation_id="write_order")
def write(request: HttpRequest, data: OrderIn) -> Status[OrderOut]:
    """Write the order, as it was seen in its plan."""
    first, *more = [each.as_source() for each in data.sources]
    with taking_otherwise(who(request), data.answer_id, timezone.now()) as written:
        order = write_order(
            who(request),
            first.revision_id,
            first.version,
            today=today(),
            now=timezone.now(),
            wants=first.wants,
            take=first.take,
            more=more,
            seen=data.seen.as_seen(),
            **data.model_dump(exclude={"sources", "seen", "answer_id"}),
        )
        written.append(order)
    plan_self_handover(order, timezone.now())
    return Status(201, order_out(who(request), order.pk))


class NowIn(Schema):
    """A draft that is ordered as it stands, and what was seen of it."""

    version: Version
    seen: SeenIn
    close_deal: bool
    buyer_reference: Annotated[str, StringConstraints(max_length=60)] = ""
    requested_on: Day | None = None
    delivery_address_id: Id | None = None


@router.post(
    "/revisions/{revision_id}/order-now", response={201: OrderOut}, operation_id="order_now"
)
def at_once(request: HttpRequest, revision_id: PathId, data: NowIn) -> Status[OrderOut]:
    """An order without an offer, from a draft as it was seen."""
    order = order_now(
        who(request),
        revision_id,
        today=today(),
        now=timezone.now(),
        seen=data.seen.as_seen(),
        **data.model_dump(exclude={"seen"}),
    )
    plan_self_handover(order, timezone.now())
    return Status(201, order_out(who(request), order.pk))


class AgainRow(Schema):
    """A line of an order, its locked price and net, and those of today; None where it has no price any more."""

    position: int
    item: str
    text: str
    price: str
    price_now: str | None
    unit: str
    per: str
    per_now: str | None
    net: str
    net_now: str | None
    moved: bool


class AgainOut(Schema):
    """An order at today's prices: nothing has changed yet. ``may``: whether they can be taken."""

    mark: str
    moved: int
    rows: list[AgainRow]
    net: str
    net_now: str | None
    payable: str
    payable_now: str | None
    currency: str
    may: bool
    within_limits: bool


@router.get("/orders/{order_id}/again", response=AgainOut, operation_id="see_order_again")
def again(request: HttpRequest, order_id: PathId) -> AgainOut:
    """Where the rules have moved since an order's prices were locked."""
    person = who(request)
    order = pick(Order.objects.filter(owned(person)), order_id, "order")
    found = priced_again(person, order, today())
    currency, totals = order.currency, found.totals
    return AgainOut(
        mark=found.mark,
        moved=found.moved,
        rows=[_again(row, currency) for row in found.rows],
        net=sure_money(order.net, currency),
        net_now=money(totals.net if totals else None, currency),
        payable=sure_money(order.payable, currency),
        payable_now=money(totals.payable if totals else None, currency),
        currency=currency,
        may=totals is not None and order.handover_state == "" and order.cancelled_at is None,
        within_limits=not any(found.excesses),
    )


def _again(row: Moved, currency: str) -> AgainRow:
    line, now = row.line, row.now
    priced = now.price is not None
    return AgainRow(
        position=line.position,
        item=line.item.code,
        text=line.text,
        price=plain(line.price, 2) or "",
        price_now=plain(now.price, 2),
        unit=line.price_unit,
        per=plain(line.per) or "1",
        per_now=plain(now.per),
        net=sure_money(line.net, currency),
        net_now=money(now.net if priced else None, currency),
        moved=row.differs,
    )


class PriceAgainIn(Schema):
    """The version of what is priced again, and what was seen of its new prices."""

    version: Version
    seen: SeenIn


@router.post("/orders/{order_id}/price-again", response=OrderOut, operation_id="price_order_again")
def price_again(request: HttpRequest, order_id: PathId, data: PriceAgainIn) -> OrderOut:
    """Take today's prices in place of the locked ones."""
    person, seen = who(request), data.seen.as_seen()
    price_order_again(person, order_id, data.version, seen=seen, today=today())
    return order_out(person, order_id)


class RestIn(Schema):
    """Why nothing more will be ordered."""

    reason: Reason


@router.post("/quotes/{quote_id}/close-rest", response=QuoteOut, operation_id="close_rest")
def rest(request: HttpRequest, quote_id: PathId, data: RestIn) -> QuoteOut:
    """What is left of a quote will not be ordered."""
    quote = close_rest(
        who(request), quote_id, reason=data.reason, today=today(), now=timezone.now()
    )
    return quote_out(who(request), quote.revision_id or 0)


class LateIn(Schema):
    """Why a lapsed quote should still be ordered."""

    reason: Reason


@router.post("/quotes/{quote_id}/ask-late", response=QuoteOut, operation_id="ask_late")
def late(request: HttpRequest, quote_id: PathId, data: LateIn) -> QuoteOut:
    """Ask a lead to let a lapsed quote be ordered."""
    quote = ask_late(who(request), quote_id, reason=data.reason, today=today(), now=timezone.now())
    return quote_out(who(request), quote.revision_id or 0)


class AllowIn(Schema):
    """Until when a lapsed quote may be ordered as it was offered, and why."""

    until: Day
    reason: Reason


@router.post("/quotes/{quote_id}/allow-late", response=QuoteOut, operation_id="allow_late")
def allow(request: HttpRequest, quote_id: PathId, data: AllowIn) -> QuoteOut:
    """Let a lapsed quote be ordered, at its prices, until a day."""
    quote = allow_late(who(request), quote_id, until=data.until, reason=data.reason, today=today())
    return quote_out(who(request), quote.revision_id or 0)
