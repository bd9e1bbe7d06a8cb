"""Items as the desk looks them up."""

from typing import Annotated

from django.http import HttpRequest
from ninja import Router
from pydantic import Field, StringConstraints

from api.schemas import Schema
from api.shapes import Id, Words, today, who
from apps.calloffs.facts import running_agreements
from apps.catalogue.matching import Meant, match_rows
from apps.catalogue.models import Item
from apps.catalogue.queries import find_items, items_shown, unit_names
from apps.listing import rows_at
from routecore.casefile.words import plain

router = Router(tags=["catalogue"])


class UnitOut(Schema):
    """A unit of an item."""

    code: str
    name: str
    factor: str


class ItemOut(Schema):
    """An item with the units it is sold in; minimum and pack in the base unit."""

    id: int
    code: str
    name: str
    group: str
    kind: str
    base_unit: str
    sales_unit: str
    units: list[UnitOut]
    minimum_quantity: str | None
    pack_multiple: str | None


@router.get("/items", response=list[ItemOut], operation_id="find_items")
def items(
    request: HttpRequest,
    words: Words = "",
    most: Annotated[int, Field(ge=1, le=50)] = 12,
    id: Id | None = None,
) -> list[ItemOut]:
    """Items whose code or name holds every word, or the one of an id. Four queries."""
    found = find_items(words) if id is None else find_items("").filter(pk=id)
    rows = rows_at(found, slice(most), items_shown())
    names = unit_names()
    return [item_out(row, names) for row in rows]


def item_out(row: Item, names: dict[str, str]) -> ItemOut:
    """An item read with its units."""
    own = [UnitOut(code=row.base_unit_id, name=names[row.base_unit_id], factor="1")]
    others = [
        UnitOut(code=u.unit_id, name=names[u.unit_id], factor=plain(u.factor) or "1")
        for u in row.units.all()
    ]
    return ItemOut(
        id=row.pk,
        code=row.code,
        name=row.name,
        group=row.group.name,
        kind=row.kind,
        base_unit=row.base_unit_id,
        sales_unit=row.sales_unit_id,
        units=own + others,
        minimum_quantity=plain(row.minimum_quantity),
        pack_multiple=plain(row.pack_multiple),
    )


class PasteIn(Schema):
    """Rows as they lie on the clipboard; of a customer, whose agreements' numbers stand for their items."""

    text: Annotated[str, StringConstraints(max_length=200_000)]
    customer_id: Id | None = None


#: A pasted price is shown with at least so many decimals; which currency it is in, the quote knows.
LEAST_DIGITS = 2


class ReadingOut(Schema):
    """Another way to read a row; ``why`` is what it takes a figure or a sign for."""

    words: str
    item: ItemOut | None
    quantity: str | None
    unit: str
    price: str | None
    why: str


class MatchOut(Schema):
    """A row and its item; ``doubts`` names what somebody should look at.

    ``agreement`` is the customer's that runs for the item: named in the row, or known by the item.
    """

    row: int
    words: str
    item: ItemOut | None
    candidates: list[ItemOut]
    quantity: str | None
    unit: str
    price: str | None
    doubts: list[str]
    others: list[ReadingOut]
    agreement: str


@router.post("/items/match", response=list[MatchOut], operation_id="match_items")
def match(request: HttpRequest, data: PasteIn) -> list[MatchOut]:
    """Pasted rows, matched with items; nothing is guessed silently."""
    names = unit_names()
    running = running_agreements(who(request), data.customer_id, today())
    numbers = {row.number.lower(): Meant(row.item_id, row.unit_id) for row in running}
    by_item = {row.item_id: row.number for row in reversed(running)}
    return [
        MatchOut(
            row=found.row.number,
            words=found.row.words,
            item=item_out(found.item, names) if found.item else None,
            candidates=[item_out(item, names) for item in found.candidates],
            quantity=plain(found.quantity),
            unit=found.unit,
            price=plain(found.row.price, LEAST_DIGITS),
            doubts=list(found.doubts),
            others=[
                ReadingOut(
                    words=other.reading.words,
                    item=item_out(other.item, names) if other.item else None,
                    quantity=plain(other.reading.quantity),
                    unit=other.unit,
                    price=plain(other.reading.price, LEAST_DIGITS),
                    why=other.reading.why,
                )
                for other in found.others
            ],
            agreement=found.number.upper() or by_item.get(found.item.pk if found.item else 0, ""),
        )
        for found in match_rows(data.text, numbers)
    ]
