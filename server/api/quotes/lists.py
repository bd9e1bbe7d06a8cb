"""The list of quotes, filtered, summed, exported; and starting one."""

from datetime import date
from typing import Annotated, Literal

from django.conf import settings
from django.db.models import QuerySet
from django.http import HttpRequest
from django.http.response import HttpResponseBase
from ninja import Query, Router, Status
from pydantic import Field

from api.export import Column, Seen, as_file
from api.quotes.shapes import NewQuote, QuoteOut
from api.quotes.view import quote_out
from api.schemas import Schema
from api.shapes import Day, Id, Paged, QuoteState, Sort, Words, paged, sure_money, today, who
from apps.listing import count, in_batches, in_order, sorts_for
from apps.people.models import User, beside_name
from apps.quotes.flows.starting import start_quote
from apps.quotes.models import Quote
from apps.quotes.queries import SORTS, filter_quotes, quote_state, quotes_of
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
    """One page of quotes; ``sums`` is the net by currency over the whole filter, if it is counted."""

    rows: list[QuoteRow]
    sums: dict[str, str]


class QuoteFilters(Schema):
    """What narrows a list of quotes."""

    state: Literal[
        "", "draft", "issued", "lapsing", "lapsed", "declined", "part_ordered", "ordered"
    ] = ""
    owner: Id | None = None
    customer: Id | None = None
    words: Words = ""
    since: Day | None = None
    until: Day | None = None
    sort: Sort = "-date"
    page: Annotated[int, Field(ge=1, le=100_000)] = 1


def quote_row(quote: Quote, on: date) -> QuoteRow:
    """A quote by its newest revision."""
    return QuoteRow(
        revision_id=quote.revision_id or 0,
        number=quote.number,
        letter=quote.letter,
        customer_id=quote.customer_id,
        customer=quote.customer_name,
        deal=quote.deal_title,
        owner=quote.owner.name,
        state=quote_state(quote, on),
        currency=quote.currency,
        net=sure_money(quote.net, quote.currency),
        payable=sure_money(quote.payable, quote.currency),
        on=quote.on or on,
        valid_until=quote.valid_until or on,
        order_id=quote.order_pk,
        order_number=quote.order_number,
    )


SHOWN = Quote.objects.select_related("owner").defer(*beside_name("owner"))


def _filtered(person: User, filters: QuoteFilters, on: date) -> QuerySet[Quote]:
    given = filters.model_dump(exclude={"page", "sort"})
    days = settings.QUOTE_LAPSING_DAYS
    return filter_quotes(quotes_of(person), today=on, lapsing_days=days, **given)


@router.get("/quotes", response=QuotePage, operation_id="list_quotes")
def quotes(request: HttpRequest, filters: Query[QuoteFilters]) -> QuotePage:
    """A page of quotes, newest first. Three queries."""
    person, on = who(request), today()
    rows = _filtered(person, filters, on)
    ordered = in_order(rows, filters.sort, sorts_for(person, SORTS), "-date")
    found = count(ordered, "currency", "net")
    span, facts = paged(found, filters.page)
    return QuotePage(
        rows=[quote_row(quote, on) for quote in found.page(span, SHOWN.all())],
        sums={currency: sure_money(total, currency) for currency, total in found.sums.items()},
        **facts,
    )


@router.get("/quotes.{kind}", operation_id="export_quotes")
def export(
    request: HttpRequest,
    kind: Literal["csv", "xlsx"],
    filters: Query[QuoteFilters],
    columns: Seen = "",
) -> HttpResponseBase:
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
    person = who(request)
    sorts = sorts_for(person, SORTS)
    found = in_order(_filtered(person, filters, on), filters.sort, sorts, "-date")
    batches = in_batches(found, SHOWN.all())
    rows = ([quote_row(quote, on) for quote in part] for part in batches)
    return as_file(kind, "quotes", known, rows, seen=columns)


@router.post("/quotes", response={201: QuoteOut}, operation_id="start_quote")
def new_quote(request: HttpRequest, data: NewQuote) -> Status[QuoteOut]:
    """Start a quote with its draft A."""
    made = start_quote(who(request), today=today(), **data.model_dump())
    return Status(201, quote_out(who(request), made.pk))
