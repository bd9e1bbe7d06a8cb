"""Quotes: the list, the desk, issuing, revising, the document."""

from datetime import date, datetime
from decimal import Decimal
from typing import Annotated, Any, Literal, cast

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Query, Router, Schema, Status
from pydantic import BaseModel, Field, StringConstraints, model_validator

from api.catalogue import ItemOut, item_out
from api.deals import ContactOut
from api.export import Column, as_file
from api.priced import PricedOut, ProblemOut
from api.routes import RouteStop, route_out
from api.shapes import (
    Amount,
    Day,
    Id,
    Paged,
    PathId,
    Percent,
    Quantity,
    Text,
    Version,
    Words,
    cut,
    sure_money,
    today,
    who,
)
from api.standing import StandingOut, standing_out
from apps.catalogue.models import Item, TaxCategory
from apps.catalogue.queries import rate_on, unit_names
from apps.customers.queries import standings
from apps.people.models import User
from apps.prices.queries import source_names
from apps.quotes.flows import (
    PROBLEM_WORDS,
    Draft,
    discard_draft,
    issue_revision,
    own_revision,
    revise,
    save_draft,
    start_quote,
)
from apps.quotes.models import WORDS_ONLY, Quote, QuoteLine, Revision
from apps.quotes.pricing import DraftLine
from apps.quotes.queries import filter_quotes, quotes_of, revision_state, state_of
from apps.quotes.signing import sign_off_of
from apps.route.queries import route_of_quote
from routecore.casefile.writer import plain
from routecore.money import Money

router = Router(tags=["quotes"])
HIDDEN_WITHOUT_RIGHT = ("cost", "margin", "margin_percent")


class QuoteRow(Schema):
    """A quote in a list, by its newest revision."""

    revision_id: int
    number: str
    letter: str
    customer_id: int
    customer: str
    owner: str
    state: str
    currency: str
    net: str
    payable: str
    on: date
    valid_until: date
    order_id: int | None
    order_number: str | None


class QuotePage(Paged):
    """One page of quotes; ``sums`` is the net by currency over the whole filter."""

    rows: list[QuoteRow]
    sums: dict[str, str]


class QuoteFilters(Schema):
    """What narrows a list of quotes."""

    state: Literal["", "draft", "issued", "lapsing", "lapsed", "declined", "ordered"] = ""
    owner: Id | None = None
    customer: Id | None = None
    words: Words = ""
    page: Annotated[int, Field(ge=1, le=100_000)] = 1


def quote_row(quote: Quote, on: date) -> QuoteRow:
    """A quote that was read with its newest revision."""
    currency = getattr(quote, "currency")
    return QuoteRow(
        revision_id=getattr(quote, "revision_id"),
        number=quote.number,
        letter=getattr(quote, "letter"),
        customer_id=quote.customer_id,
        customer=quote.customer.name,
        owner=quote.owner.name,
        state=state_of(quote, on),
        currency=currency,
        net=sure_money(getattr(quote, "net"), currency),
        payable=sure_money(getattr(quote, "payable"), currency),
        on=getattr(quote, "on"),
        valid_until=getattr(quote, "valid_until"),
        order_id=getattr(quote, "order_pk"),
        order_number=getattr(quote, "order_number"),
    )


def _filtered(person: User, filters: QuoteFilters, on: date) -> Any:
    given = filters.model_dump(exclude={"page"})
    days = settings.QUOTE_LAPSING_DAYS
    return filter_quotes(quotes_of(person), today=on, lapsing_days=days, **given)


@router.get("/quotes", response=QuotePage, operation_id="list_quotes")
def quotes(request: HttpRequest, filters: Query[QuoteFilters]) -> QuotePage:
    """A page of quotes, newest first. Two queries."""
    on = today()
    rows = _filtered(who(request), filters, on)
    sums: dict[str, Decimal] = {}
    count = 0
    for currency, net in rows.order_by().values_list("currency", "net"):
        count += 1
        sums[currency] = sums.get(currency, Decimal(0)) + net
    span, facts = cut(count, filters.page)
    return QuotePage(
        rows=[quote_row(quote, on) for quote in rows.order_by("-on", "-pk")[span]],
        sums={currency: sure_money(total, currency) for currency, total in sums.items()},
        **facts,
    )


@router.get("/quotes.{kind}", operation_id="export_quotes")
def export(
    request: HttpRequest, kind: Literal["csv", "xlsx"], filters: Query[QuoteFilters]
) -> HttpResponse:
    """The filtered quotes as a file."""
    on = today()
    columns = [
        Column("Quote", "number"),
        Column("Revision", "letter"),
        Column("Customer", "customer"),
        Column("State", "state"),
        Column("Date", "on"),
        Column("Valid until", "valid_until"),
        Column("Currency", "currency"),
        Column("Net", "net", number=True),
        Column("Payable", "payable", number=True),
        Column("Order", "order_number"),
        Column("Rep", "owner"),
    ]
    rows = _filtered(who(request), filters, on).order_by("-on", "-pk")[:10_000]
    return as_file(kind, "quotes", columns, (quote_row(quote, on) for quote in rows))


class DeskLine(Schema):
    """A line for the desk; a heading or a note has words and no item."""

    key: str
    kind: str
    alternative_to: str
    item: ItemOut | None
    text: str
    quantity: str
    unit: str
    price: str | None
    price_reason: str
    discount_percent: str | None
    discount_amount: str | None


class ChargeOut(Schema):
    """A charge as typed."""

    name: str
    percent: str | None = None
    amount: str | None = None
    tax_category: str


class SignOffOut(Schema):
    """A sign-off that was asked for the quote as it stands."""

    id: int
    answer: str
    reason: str
    asked_by: str
    asked_at: datetime
    answered_by: str
    comment: str


class ExcessOut(Schema):
    """A limit of this person that is exceeded, by line or by the whole."""

    code: str
    line: str
    found: str
    limit: str


class RevisionMark(Schema):
    """A revision of the quote, to go to."""

    id: int
    letter: str
    issued_at: datetime | None
    payable: str


class AddressChoice(Schema):
    """A place goods can go to."""

    id: int
    label: str


class QuoteOut(Schema):
    """A revision as the desk shows it. ``priced`` is the core's stored answer."""

    id: int
    quote_id: int
    version: int
    number: str
    letter: str
    state: str
    newest: bool
    on: date
    valid_until: date
    days_left: int
    currency: str
    customer_id: int
    customer: str
    price_list: str
    list_names: dict[str, str]
    unit_names: dict[str, str]
    deal_id: int | None
    deal: str
    owner: str
    contact_id: int | None
    contacts: list[ContactOut]
    addresses: list[AddressChoice]
    discount_percent: str | None
    discount_amount: str | None
    discount_on: str
    charges: list[ChargeOut]
    tax_categories: dict[str, str]
    buyer_reference: str
    message: str
    paper: str
    terms_days: int
    terms_end_of_month: str
    requested_on: date | None
    delivery_address_id: int | None
    lines: list[DeskLine]
    priced: PricedOut
    problems: list[ProblemOut]
    excesses: list[ExcessOut]
    sign_off: SignOffOut | None
    may_sign: bool
    declined_at: datetime | None
    decline_reason: str
    margin_floor: str
    saved_at: datetime
    issued_at: datetime | None
    issued_by: str
    order_id: int | None
    order_number: str
    revisions: list[RevisionMark]
    standing: StandingOut
    base_payable: str
    route: list[RouteStop]


class Answer(Schema):
    """What a save answers: the new version, the price, the verdicts that hang on it."""

    id: int
    version: int
    saved_at: datetime
    on: date
    priced: PricedOut
    problems: list[ProblemOut]
    excesses: list[ExcessOut]
    sign_off: SignOffOut | None
    standing: StandingOut
    base_payable: str
    days_left: int


def shown(priced: dict[str, Any], person: User) -> PricedOut:
    """The stored answer, without cost and margin for those who may not see them."""
    if not person.sees_margin:
        lines = [_without(line) for line in priced["lines"]]
        priced = {**priced, "lines": lines, "totals": _without(priced["totals"])}
    return cast("PricedOut", priced)


def _without(part: dict[str, Any]) -> dict[str, Any]:
    return {key: value for key, value in part.items() if key not in HIDDEN_WITHOUT_RIGHT}


def problems_of(revision: Revision) -> list[ProblemOut]:
    """The core's problems with words for a person."""
    return problems_in(revision.priced)


def problems_in(priced: dict[str, Any]) -> list[ProblemOut]:
    """The problems of an answer, with words for a person."""
    found = []
    for problem in priced["problems"]:
        facts = {name: problem.get(name) or "—" for name in ("below", "above")}
        words = PROBLEM_WORDS[problem["code"]].format(**facts)
        found.append(cast("ProblemOut", {**problem, "words": words}))
    return found


def _excesses(revision: Revision) -> list[ExcessOut]:
    return [ExcessOut(**row) for row in revision.priced["excesses"]]


def sign_off_out(revision: Revision) -> SignOffOut | None:
    """The newest sign-off for the revision as it stands; None where nobody asked."""
    row = sign_off_of(revision)
    if row is None:
        return None
    return SignOffOut(
        id=row.pk,
        answer=row.answer,
        reason=row.reason,
        asked_by=row.asked_by.name,
        asked_at=row.asked_at,
        answered_by=row.answered_by.name if row.answered_by else "",
        comment=row.comment,
    )


def _desk_line(row: QuoteLine, item: ItemOut | None) -> DeskLine:
    return DeskLine(
        key=row.key,
        kind=row.kind,
        alternative_to=row.alternative_to,
        item=item,
        text=row.text,
        quantity=plain(row.quantity) or "",
        unit=row.unit,
        price=plain(row.typed_price),
        price_reason=row.price_reason,
        discount_percent=plain(row.discount_percent),
        discount_amount=plain(row.discount_amount, 2),
    )


def _base_payable(revision: Revision, on: date) -> Decimal:
    rate = revision.base_rate or rate_on(revision.currency, on)
    money = Money(revision.payable, revision.currency)
    return money.converted(rate, settings.BASE_CURRENCY).amount


def _standing(revision: Revision, on: date, ordered: bool) -> tuple[StandingOut, str]:
    """An order counts in the exposure already; a quote is added to it."""
    customer = revision.quote.customer
    base = _base_payable(revision, on)
    extra = Decimal(0) if ordered else base
    found = standings([customer], on, this_document=extra)[customer.pk]
    return standing_out(found), sure_money(base, settings.BASE_CURRENCY)


def quote_out(person: User, revision_id: int) -> QuoteOut:
    """A revision as the desk shows it; a constant number of queries."""
    on = today()
    revision = own_revision(person, revision_id)
    quote, names = revision.quote, unit_names()
    rows = list(revision.lines.all())
    items = Item.objects.filter(pk__in={row.item_id for row in rows if row.item_id})
    shapes = {
        item.pk: item_out(item, names)
        for item in items.select_related("group").prefetch_related("units__unit")
    }
    marks = list(quote.revisions.select_related("order").defer("priced").order_by("pk"))
    order = next((m.order for m in marks if hasattr(m, "order")), None)
    standing, base_payable = _standing(revision, on, order is not None)
    customer = quote.customer
    return QuoteOut(
        id=revision.pk,
        quote_id=quote.pk,
        version=revision.version,
        number=quote.number,
        letter=revision.letter,
        state="ordered"
        if order and order.revision_id == revision.pk
        else "declined"
        if quote.declined_at and revision.issued_at
        else revision_state(revision.issued_at, revision.valid_until, on),
        newest=marks[-1].pk == revision.pk,
        on=revision.on,
        valid_until=revision.valid_until,
        days_left=(revision.valid_until - on).days,
        currency=revision.currency,
        customer_id=customer.pk,
        customer=customer.name,
        price_list=customer.price_list.name,
        list_names=source_names(customer),
        unit_names=names,
        deal_id=quote.deal_id,
        deal=quote.deal.title if quote.deal else "",
        owner=quote.owner.name,
        contact_id=quote.contact_id,
        contacts=[ContactOut.from_orm(c) for c in customer.contacts.all()],
        addresses=[
            AddressChoice(id=a.pk, label=", ".join(filter(None, (a.label, a.street, a.town))))
            for a in customer.addresses.order_by("kind", "pk")
        ],
        discount_percent=plain(revision.discount_percent),
        discount_amount=plain(revision.discount_amount, 2),
        buyer_reference=revision.buyer_reference,
        message=revision.message,
        paper=revision.paper,
        terms_days=revision.terms_days,
        terms_end_of_month=revision.terms_end_of_month,
        requested_on=revision.requested_on,
        delivery_address_id=(revision.deliver_to or {}).get("id"),
        discount_on=revision.discount_on,
        charges=[ChargeOut(**row) for row in revision.charges],
        tax_categories=dict(TaxCategory.objects.values_list("code", "name")),
        lines=[_desk_line(row, shapes.get(row.item_id or 0)) for row in rows],
        excesses=_excesses(revision),
        sign_off=sign_off_out(revision),
        may_sign=person.role in ("lead", "admin") and quote.owner_id != person.pk,
        declined_at=quote.declined_at,
        decline_reason=quote.decline_reason,
        priced=shown(revision.priced, person),
        problems=problems_of(revision),
        margin_floor=str(settings.MARGIN_FLOOR_PERCENT),
        saved_at=revision.saved_at,
        issued_at=revision.issued_at,
        issued_by=revision.issued_by.name if revision.issued_by else "",
        order_id=order.pk if order else None,
        order_number=order.number if order else "",
        revisions=[
            RevisionMark(
                id=m.pk,
                letter=m.letter,
                issued_at=m.issued_at,
                payable=sure_money(m.payable, m.currency),
            )
            for m in marks
        ],
        standing=standing,
        base_payable=base_payable,
        route=route_out(route_of_quote(quote)),
    )


class NewQuote(Schema):
    """From a deal, or for a customer."""

    deal_id: Id | None = None
    customer_id: Id | None = None


@router.post("/quotes", response={201: QuoteOut}, operation_id="start_quote")
def new_quote(request: HttpRequest, data: NewQuote) -> Status[QuoteOut]:
    """Start a quote with its draft A."""
    made = start_quote(who(request), today=today(), **data.model_dump())
    return Status(201, quote_out(who(request), made.pk))


@router.get("/revisions/{revision_id}", response=QuoteOut, operation_id="get_revision")
def revision(request: HttpRequest, revision_id: PathId) -> QuoteOut:
    """One revision of a quote."""
    return quote_out(who(request), revision_id)


Key = Annotated[str, StringConstraints(pattern=r"^[A-Za-z0-9-]{1,36}$")]
Price = Annotated[Decimal, Field(ge=0, lt=Decimal("1e9"), max_digits=15, decimal_places=6)]


class LineIn(BaseModel):
    """A line as typed; ``key`` is the desk's own name for it, kept through saves.

    Goods have an item, a quantity and a unit; a heading or a note has its text alone.
    A plain model: there are hundreds of them in a draft, and ninja's look at attributes first.
    """

    key: Key
    kind: Literal["normal", "alternative", "optional", "heading", "note"] = "normal"
    alternative_to: Annotated[str, StringConstraints(pattern=r"^[A-Za-z0-9-]{0,36}$")] = ""
    item_id: Id | None = None
    quantity: Quantity | None = None
    unit: Annotated[str, StringConstraints(max_length=3)] = ""
    text: Annotated[str, StringConstraints(max_length=200)] = ""
    price: Price | None = None
    price_reason: Annotated[str, StringConstraints(max_length=200)] = ""
    discount_percent: Percent | None = None
    discount_amount: Amount | None = None

    @model_validator(mode="after")
    def _goods_or_words(self) -> "LineIn":
        if self.kind not in WORDS_ONLY and (self.item_id is None or self.quantity is None):
            raise ValueError("A line of goods needs its item and its quantity")
        return self


class ChargeIn(Schema):
    """A charge: a percent of the lines, or an amount."""

    name: Annotated[str, StringConstraints(min_length=1, max_length=60)]
    percent: Percent | None = None
    amount: Amount | None = None
    tax_category: Annotated[str, StringConstraints(max_length=20)] = "standard"

    @model_validator(mode="after")
    def _one_figure(self) -> "ChargeIn":
        if (self.percent is None) == (self.amount is None):
            raise ValueError("A charge is a percent or an amount")
        return self


class TypedIn(Schema):
    """The whole draft as typed; lines in their order."""

    lines: Annotated[list[LineIn], Field(max_length=500)]
    valid_until: Day
    discount_percent: Percent | None = None
    discount_amount: Amount | None = None
    discount_on: Literal["net", "gross"] = "net"
    charges: Annotated[list[ChargeIn], Field(max_length=10)] = []
    buyer_reference: Annotated[str, StringConstraints(max_length=60)] = ""
    message: Text = ""
    paper: Literal["short", "detailed"] = "short"
    requested_on: Day | None = None
    delivery_address_id: Id | None = None
    terms_days: Annotated[int, Field(ge=0, le=365)] | None = None
    terms_end_of_month: Literal["", "after", "before"] = ""
    contact_id: Id | None = None
    as_of_today: bool = False

    def as_draft(self) -> Draft:
        """As the flows take it."""
        return Draft(
            lines=[DraftLine(**line.model_dump()) for line in self.lines],
            charges=[
                {k: str(v) if v is not None else None for k, v in charge.model_dump().items()}
                for charge in self.charges
            ],
            **self.model_dump(include=set(TypedIn.model_fields) - {"lines", "charges"}),
        )


class DraftIn(TypedIn):
    """A draft to save, made from the version that was read."""

    version: Version


@router.put("/revisions/{revision_id}", response=Answer, operation_id="save_draft")
def save(request: HttpRequest, revision_id: PathId, data: DraftIn) -> Answer:
    """Save the draft and answer its price; 409 where somebody changed it meanwhile."""
    on = today()
    row = save_draft(who(request), revision_id, data.version, data.as_draft(), today=on)
    standing, base_payable = _standing(row, on, ordered=False)
    return Answer(
        id=row.pk,
        version=row.version,
        saved_at=row.saved_at,
        on=row.on,
        priced=shown(row.priced, who(request)),
        problems=problems_of(row),
        excesses=_excesses(row),
        sign_off=sign_off_out(row),
        standing=standing,
        base_payable=base_payable,
        days_left=(row.valid_until - on).days,
    )


class IssueIn(Schema):
    """Issue the draft as it is at this version."""

    version: Version
    follow_up_on: Day | None = None


@router.post("/revisions/{revision_id}/issue", response=QuoteOut, operation_id="issue_revision")
def issue(request: HttpRequest, revision_id: PathId, data: IssueIn) -> QuoteOut:
    """Freeze the revision, make its document, plan the follow-up, move the deal."""
    issue_revision(
        who(request),
        revision_id,
        data.version,
        today=today(),
        now=timezone.now(),
        follow_up_on=data.follow_up_on,
    )
    return quote_out(who(request), revision_id)


@router.post("/quotes/{quote_id}/revise", response={201: QuoteOut}, operation_id="revise_quote")
def make_revision(request: HttpRequest, quote_id: PathId) -> Status[QuoteOut]:
    """A new draft with everything of the newest issued revision."""
    made = revise(who(request), quote_id, today=today())
    return Status(201, quote_out(who(request), made.pk))


@router.delete("/revisions/{revision_id}", response={204: None}, operation_id="discard_draft")
def discard(
    request: HttpRequest, revision_id: PathId, version: Annotated[int, Field(ge=1)]
) -> Status[None]:
    """Throw a draft away."""
    discard_draft(who(request), revision_id, version)
    return Status(204, None)
