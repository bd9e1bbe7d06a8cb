"""The sheet of regulars: read, priced while quantities are typed, put on a quote."""

from datetime import date
from decimal import Decimal
from typing import Annotated, Literal

from django.conf import settings
from django.http import HttpRequest
from django.utils import timezone
from ninja import Query, Router, Status
from pydantic import Field, StringConstraints

from api.catalogue import ItemOut, item_out
from api.customers.scope import customers_of
from api.promises import DepotOut
from api.quotes.priced import ProblemOut, TotalsOut
from api.quotes.view import problems_in, shown
from api.schemas import Schema
from api.shapes import Amount, HabitState, Id, Paged, PathId, Quantity, Version, Words, today, who
from api.standing import StandingOut, standing_now
from apps.catalogue.queries import rate_on, unit_names
from apps.customers.models import Customer
from apps.errors import Invalid
from apps.listing import Span
from apps.people.access import owned, pick
from apps.people.models import User
from apps.quotes.models import Revision
from apps.quotes.pricing.question import stored_form
from apps.regulars.buying import USUAL_PERIOD
from apps.regulars.flows import onto_new_quote, onto_quote, straight_to_order
from apps.regulars.sheet import PAGE, Regular, Sheet, Wanted, price_sheet, regulars_of
from apps.stock.plans import depots
from routecore.casefile.words import plain
from routecore.errors import CoreError
from routecore.money import Money

router = Router(tags=["regulars"])
Unit = Annotated[str, StringConstraints(min_length=1, max_length=3)]
MOST_TYPED = 200
#: How many open drafts are offered to take the lines.
MOST_DRAFTS = 12


class RegularsIn(Schema):
    """What is shown: due or late, what was bought, the group's, all items; over so many months."""

    show: Literal["due", "bought", "group", "all"] = "bought"
    months: Annotated[int, Field(ge=1, le=60)] = USUAL_PERIOD
    words: Words = ""
    page: Annotated[int, Field(ge=1, le=1_000)] = 1


class BuyOut(Schema):
    """A purchase: its day, its quantity in the row's unit."""

    on: date
    quantity: str


class HabitOut(Schema):
    """How it is bought: see ``routecore.regulars``; quantities in the row's unit."""

    state: HabitState
    purchases: int
    last_on: date
    last_quantity: str
    cadence_days: int | None
    due_on: date | None
    season: int | None
    days_over: int


class PriceOut(Schema):
    """What the usual quantity costs today, net, per ``per`` of a unit; what was paid; the change in percent."""

    price: str
    per: str
    unit: str
    paid: str | None
    change: str | None
    margin_percent: str | None


class RegularOut(Schema):
    """A row of the sheet; ``buyers`` is how many of the group bought it."""

    item: ItemOut
    unit: str
    usual: str
    habit: HabitOut | None
    purchases: list[BuyOut]
    buyers: int
    price: PriceOut | None


class DraftChoice(Schema):
    """An open draft of this customer that can take the lines."""

    id: int
    version: int
    number: str
    letter: str


class RegularsOut(Paged):
    """A page of the sheet."""

    customer: str
    currency: str
    rows: list[RegularOut]
    asking: int
    bought: int
    since: date
    until: date
    unit_names: dict[str, str]


class AroundRegulars(Schema):
    """What stands around the sheet, whatever it shows: the group, the standing, drafts that can take the lines,
    depots to leave from."""

    group: str
    standing: StandingOut
    drafts: list[DraftChoice]
    depots: list[DepotOut]


def _customer(person: User, customer_id: int) -> Customer:
    rows = customers_of(person).select_related("price_list", "parent")
    return pick(rows, customer_id, "customer")


@router.get("/customers/{customer_id}/regulars", response=RegularsOut, operation_id="list_regulars")
def regulars(request: HttpRequest, customer_id: PathId, asked: Query[RegularsIn]) -> RegularsOut:
    """What a customer usually buys, in a constant number of queries."""
    person, on, names = who(request), today(), unit_names()
    customer = _customer(person, customer_id)
    sheet = regulars_of(
        customer,
        show=asked.show,
        months=asked.months,
        words=asked.words,
        page=asked.page,
        today=on,
    )
    span = Span.of(sheet.count, asked.page, PAGE)
    return RegularsOut(
        customer=customer.name,
        currency=customer.currency,
        rows=_rows(sheet, person, names),
        count=sheet.count,
        more=sheet.more,
        page=span.page,
        pages=span.pages,
        asking=sheet.asking,
        bought=sheet.bought,
        since=sheet.since,
        until=on,
        unit_names=names,
    )


@router.get(
    "/customers/{customer_id}/regulars/around",
    response=AroundRegulars,
    operation_id="around_regulars",
)
def around(request: HttpRequest, customer_id: PathId) -> AroundRegulars:
    """Asked once where the sheet is asked for with every filter. A constant number of queries."""
    person = who(request)
    customer = _customer(person, customer_id)
    return AroundRegulars(
        group=_group_name(customer),
        standing=standing_now(customer, today()),
        drafts=_drafts(person, customer),
        depots=[DepotOut(id=row.pk, name=row.name) for row in depots()],
    )


def _group_name(customer: Customer) -> str:
    """The name of the group that the customer belongs to, or is the head of; nothing for none."""
    if customer.parent:
        return customer.parent.name
    return customer.name if customer.members.exists() else ""


def _rows(sheet: Sheet, person: User, names: dict[str, str]) -> list[RegularOut]:
    return [
        RegularOut(
            item=item_out(row.item, names),
            unit=row.unit,
            usual=plain(row.usual) or "",
            habit=_habit(row),
            purchases=[
                BuyOut(on=on, quantity=plain(quantity) or "") for on, quantity in row.purchases
            ],
            buyers=row.buyers,
            price=_price(row, person),
        )
        for row in sheet.rows
    ]


def _habit(row: Regular) -> HabitOut | None:
    found = row.habit
    if found is None:
        return None
    return HabitOut(
        state=found.state,
        purchases=found.purchases,
        last_on=found.last_on,
        last_quantity=plain(row.purchases[-1][1]) or "",
        cadence_days=found.cadence_days,
        due_on=found.due_on,
        season=found.season,
        days_over=found.days_over,
    )


def _price(row: Regular, person: User) -> PriceOut | None:
    found = row.today
    if found is None:
        return None
    return PriceOut(
        price=plain(found.price, 2) or "",
        per=plain(found.per) or "",
        unit=found.unit,
        paid=plain(found.paid, 2),
        change=plain(found.change, 1),
        margin_percent=plain(found.margin_percent, 1) if person.sees_margin else None,
    )


def _drafts(person: User, customer: Customer) -> list[DraftChoice]:
    rows = Revision.objects.filter(
        owned(person, "quote__owner"), quote__customer=customer, issued_at__isnull=True
    )
    newest = rows.select_related("quote").defer("priced", "case").order_by("-saved_at", "-pk")
    return [
        DraftChoice(id=row.pk, version=row.version, number=row.quote.number, letter=row.letter)
        for row in newest[:MOST_DRAFTS]
    ]


class WantedRow(Schema):
    """A quantity typed in a row; ``depot_id`` None leaves from the usual one."""

    item_id: Id
    quantity: Quantity
    unit: Unit
    depot_id: Id | None = None


class SheetLines(Schema):
    """All rows with a quantity."""

    lines: Annotated[list[WantedRow], Field(min_length=1, max_length=MOST_TYPED)]

    def wanted(self) -> list[Wanted]:
        """As the sheet's own values; each item once."""
        rows = [
            Wanted(item=row.item_id, quantity=row.quantity, unit=row.unit, depot=row.depot_id)
            for row in self.lines
        ]
        if len({row.item for row in rows}) < len(rows):
            raise Invalid("double_id", path="lines")
        return rows


class SheetLine(Schema):
    """What a typed row comes to, by its item; nothing where no price holds."""

    item_id: int
    price: str | None
    net: str | None


class SheetSums(Schema):
    """What the typed rows come to together, and where the customer stands after them."""

    lines: list[SheetLine]
    totals: TotalsOut
    problems: list[ProblemOut]
    standing: StandingOut


@router.post(
    "/customers/{customer_id}/regulars/price", response=SheetSums, operation_id="price_regulars"
)
def price(request: HttpRequest, customer_id: PathId, data: SheetLines) -> SheetSums:
    """What the quantities come to as a quote of today. Stores nothing."""
    person, on = who(request), today()
    customer = _customer(person, customer_id)
    try:
        priced = price_sheet(customer, data.wanted(), on)
    except CoreError as error:
        raise Invalid.of(error, path="lines") from error
    answer = stored_form(priced)
    seen = shown(answer, person)
    return SheetSums(
        lines=[
            SheetLine(item_id=int(line["id"]), price=line["price"], net=line["net"])
            for line in seen["lines"]
        ],
        totals=seen["totals"],
        problems=problems_in(answer),
        standing=standing_now(customer, on, _in_base(priced.totals.payable, customer, on)),
    )


def _in_base(payable: Decimal, customer: Customer, on: date) -> Decimal:
    money = Money(payable, customer.currency)
    return money.converted(rate_on(customer.currency, on), settings.BASE_CURRENCY).amount


class OntoIn(SheetLines):
    """Where the lines go: onto an open draft as it was seen, or onto a new quote."""

    revision_id: Id | None = None
    version: Version | None = None


class OntoOut(Schema):
    """The quote that has the lines now."""

    revision_id: int
    number: str
    letter: str


@router.post(
    "/customers/{customer_id}/regulars/quote",
    response={201: OntoOut},
    operation_id="quote_regulars",
)
def onto(request: HttpRequest, customer_id: PathId, data: OntoIn) -> Status[OntoOut]:
    """Put the typed rows on a new quote, or after the lines of a draft."""
    person, on = who(request), today()
    customer, rows = _customer(person, customer_id), data.wanted()
    if data.revision_id is None:
        made = onto_new_quote(person, customer.pk, rows, today=on)
    else:
        made = onto_quote(
            person,
            customer.pk,
            rows,
            revision_id=data.revision_id,
            version=data.version or 1,
            today=on,
        )
    out = OntoOut(revision_id=made.pk, number=made.quote.number, letter=made.letter)
    return Status(201, out)


class StraightIn(SheetLines):
    """The typed rows, and the total that was seen."""

    payable: Amount


class StraightOut(Schema):
    """The order that was written."""

    order_id: int
    number: str


@router.post(
    "/customers/{customer_id}/regulars/order",
    response={201: StraightOut},
    operation_id="order_regulars",
)
def straight(request: HttpRequest, customer_id: PathId, data: StraightIn) -> Status[StraightOut]:
    """Write an order of the typed rows in one act, at today's prices."""
    person = who(request)
    customer, rows = _customer(person, customer_id), data.wanted()
    made = straight_to_order(
        person, customer.pk, rows, payable=data.payable, today=today(), now=timezone.now()
    )
    return Status(201, StraightOut(order_id=made.pk, number=made.number))
