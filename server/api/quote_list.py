"""The list of quotes, filtered, summed, exported; and starting one."""

from datetime import date
from decimal import Decimal
from typing import Annotated, Any, Literal

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from ninja import Query, Router, Schema, Status
from pydantic import Field

from api.export import Column, Seen, as_file
from api.quote_shapes import NewQuote, QuoteOut
from api.quote_view import quote_out
from api.shapes import Day, Id, Paged, QuoteState, Sort, Words, cut, sure_money, today, who
from apps.people.models import User
from apps.quotes.flows import start_quote
from apps.quotes.models import Quote
from apps.quotes.queries import SORTS, filter_quotes, quote_state, quotes_of
from apps.sorting import in_order
from apps.words import state_words

router = Router(tags=["quotes"])


class QuoteRow(Schema):
    """A quote in a list, by its newest revision."""

    revision_id: int
    number: str
    letter: str
    customer_id: int
    customer: str
    deal: str
    owner: str
    state: QuoteState
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
    since: Day | None = None
    until: Day | None = None
    sort: Sort = "-date"
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
        deal=quote.deal.title if quote.deal else "",
        owner=quote.owner.name,
        state=quote_state(quote, on),
        currency=currency,
        net=sure_money(getattr(quote, "net"), currency),
        payable=sure_money(getattr(quote, "payable"), currency),
        on=getattr(quote, "on"),
        valid_until=getattr(quote, "valid_until"),
        order_id=getattr(quote, "order_pk"),
        order_number=getattr(quote, "order_number"),
    )


def _filtered(person: User, filters: QuoteFilters, on: date) -> Any:
    given = filters.model_dump(exclude={"page", "sort"})
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
        rows=[quote_row(quote, on) for quote in in_order(rows, filters.sort, SORTS, "-date")[span]],
        sums={currency: sure_money(total, currency) for currency, total in sums.items()},
        **facts,
    )


@router.get("/quotes.{kind}", operation_id="export_quotes")
def export(
    request: HttpRequest,
    kind: Literal["csv", "xlsx"],
    filters: Query[QuoteFilters],
    columns: Seen = "",
) -> HttpResponse:
    """The filtered quotes as a file, in the list's order and columns."""
    on = today()
    known = [
        Column("Quote", "number"),
        Column("Revision", "letter"),
        Column("Customer", "customer"),
        Column("Deal", "deal"),
        Column("State", "state", words=state_words()["quote"]),
        Column("Date", "on"),
        Column("Valid until", "valid_until"),
        Column("Currency", "currency"),
        Column("Net", "net", number=True),
        Column("Payable", "payable", number=True),
        Column("Order", "order_number"),
        Column("Rep", "owner"),
    ]
    found = _filtered(who(request), filters, on)
    rows = in_order(found, filters.sort, SORTS, "-date")[:10_000]
    return as_file(kind, "quotes", known, (quote_row(quote, on) for quote in rows), seen=columns)


@router.post("/quotes", response={201: QuoteOut}, operation_id="start_quote")
def new_quote(request: HttpRequest, data: NewQuote) -> Status[QuoteOut]:
    """Start a quote with its draft A."""
    made = start_quote(who(request), today=today(), **data.model_dump())
    return Status(201, quote_out(who(request), made.pk))
