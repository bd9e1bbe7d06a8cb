"""A stop of Today: one thing to do."""

from datetime import date

from api.customers.sheet import BooksOut
from api.schemas import Schema


class StopLine(Schema):
    """The order's line that a stop is about, and its item."""

    order: int
    line: int
    item: int


class DueStop(Schema):
    """One thing to do: what (words, or a document's number and state), for whom, by when; of an account that does
    not add up what was told of it and what ours come to. ``who``: the colleague who asks for it or lets one know;
    ``told_id``: what one has seen once one says so."""

    kind: str
    title: str
    state: str = ""
    customer: str
    on: date | None
    days: int
    amount: str | None
    currency: str
    detail: str
    to: str
    who: str = ""
    told_id: int | None = None
    activity_id: int | None = None
    version: int | None = None
    books: list[BooksOut] = []
    line: StopLine | None = None
