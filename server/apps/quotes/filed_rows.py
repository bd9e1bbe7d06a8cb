"""The rows of a file of quotes, read against the catalogue and the customers.

One row is one line; rows with the same word in the column Quote are one quote. What belongs to the
whole quote may stand in each of its rows or in the first alone. Nothing is guessed: an item, a
customer or a number that is not certain refuses its row, and with it the quote.
"""

from collections.abc import Callable, Mapping
from contextlib import suppress
from dataclasses import dataclass
from datetime import date, timedelta
from decimal import Decimal
from functools import partial
import re
from typing import Any, TypeVar

from django.conf import settings
from django.db.models import QuerySet

from apps.catalogue.matching import unit_named
from apps.catalogue.models import Item, Unit
from apps.customers.models import Customer
from apps.errors import FlowError, Invalid
from apps.people.access import owned
from apps.people.models import User
from apps.quotes.drafts import MOST_LINES, Draft
from apps.quotes.models import LINE_KINDS, WORDS_ONLY
from apps.quotes.pricing.question import DraftLine
from apps.tables import Row, refuse_formulas
from routecore.reading import NumberStyle, read_number, readings_of, style_of

Record = TypeVar("Record", Item, Customer)
MOST_QUOTES = 500
#: The columns: heading, whether it must be there, what it holds.
COLUMNS = (
    ("quote", "Quote", "Any word; rows with the same one are one quote"),
    ("customer", "Customer", "The customer's number, or the whole name"),
    ("reference", "Reference", "The buyer's reference"),
    ("valid_until", "Valid until", "A day, as 2026-12-31 or 31.12.2026"),
    ("kind", "Kind", "normal (or empty), alternative, optional, heading, note"),
    ("item", "Item", "The item's code, or the whole name"),
    ("text", "Text", "The words of a heading or a note, or another text for the item"),
    ("quantity", "Quantity", "How many"),
    ("unit", "Unit", "A unit of the item; empty for the one it is sold in"),
    ("price", "Price", "A price agreed by hand; empty for the price by the rules"),
    ("reason", "Reason", "Why that price was agreed"),
    ("discount", "Discount %", "A discount on the line"),
)
NEEDED = ("quote", "customer", "item", "quantity")
OF_THE_WHOLE = ("customer", "reference", "valid_until")


@dataclass(frozen=True, slots=True, kw_only=True)
class RowFault:
    """A refused row: its number in the file, the quote, the column, and why."""

    row: int
    quote: str
    field: str
    fault: FlowError


@dataclass(slots=True)
class Group:
    """The rows of a quote; ``key`` tells it, of this very file, from any other."""

    name: str
    rows: list[tuple[int, dict[str, str]]]
    key: str = ""


def groups_of(table: list[Row]) -> list[Group]:
    """The rows of each quote, in the order of the file; raises ``Invalid`` without the headings."""
    headings = [cell.strip().lower() for cell in table[0][1]] if table else []
    known = {heading.lower(): name for name, heading, _ in COLUMNS}
    columns = [known.get(heading, "") for heading in headings]
    missing = [heading for name, heading, _ in COLUMNS if name in NEEDED and name not in columns]
    if missing:
        raise Invalid("no_heading", path="file", facts={"missing": missing})
    groups: dict[str, Group] = {}
    for number, cells in table[1:]:
        values = {
            column: cell.strip()
            for column, cell in zip(columns, cells, strict=False)
            if column and cell.strip()
        }
        name = values.get("quote", "")
        groups.setdefault(name, Group(name, [])).rows.append((number, values))
    if len(groups) > MOST_QUOTES:
        raise Invalid("too_many", path="file", facts={"what": "quotes", "most": MOST_QUOTES})
    return list(groups.values())


class Faulty(Exception):
    """The faults of a quote's rows."""

    def __init__(self, faults: list[RowFault]):
        self.faults = faults
        super().__init__(f"{len(faults)} faults")


class RowReader:
    """Reads groups of rows against the catalogue and the customers. Six queries for a file."""

    def __init__(self, who: User, groups: list[Group], today: date):
        self.today = today
        rows = [values for group in groups for _, values in group.rows]
        items = Item.objects.filter(active=True).prefetch_related("units")
        self.items = _called(items, rows, "item", "code")
        own = Customer.objects.active().filter(owned(who))
        self.customers = _called(own, rows, "customer", "number")
        self.units = {code: name.lower() for code, name in Unit.objects.values_list("code", "name")}
        self.styles = {
            name: style_of(values.get(name, "") for values in rows)
            for name in ("quantity", "price", "discount")
        }

    def draft_of(self, group: Group) -> tuple[Customer, Draft]:
        """The quote's customer and draft; raises ``Faulty`` with every row's first fault."""
        faults: list[RowFault] = []

        def tried(number: int, read: Callable[[], Any]) -> Any:
            try:
                return read()
            except Invalid as error:
                faults.append(RowFault(row=number, quote=group.name, field=error.path, fault=error))
                return None

        first = group.rows[0][0]
        whole = tried(first, partial(self._whole, group))
        customer = until = None
        if whole is not None:
            customer = tried(first, partial(_single, self.customers, whole["customer"], "customer"))
            until = tried(first, partial(self._until, whole["valid_until"]))
        lines: list[DraftLine] = []
        for n, (number, values) in enumerate(group.rows):
            original = next((row.key for row in reversed(lines) if row.kind == "normal"), "")
            line = tried(number, partial(self._line, values, f"r{n + 1}", original))
            lines += [line] if line else []
        if len(group.rows) > MOST_LINES:
            most = Invalid("too_many", path="quote", facts={"what": "lines", "most": MOST_LINES})
            faults.append(RowFault(row=first, quote=group.name, field="quote", fault=most))
        if faults or customer is None or until is None:
            raise Faulty(faults)
        draft = Draft(lines=lines, valid_until=until, buyer_reference=whole["reference"])
        return customer, draft

    def _whole(self, group: Group) -> dict[str, str]:
        if not group.name:
            raise Invalid("required", path="quote", facts={"what": "row"})
        found: dict[str, str] = {}
        for name in OF_THE_WHOLE:
            said = {values[name] for _, values in group.rows if name in values}
            if len(said) > 1:
                raise Invalid("disagree", path=name, facts={"values": sorted(said)[:3]})
            found[name] = said.pop() if said else ""
        refuse_formulas(found)
        if len(found["reference"]) > 60:
            raise Invalid("too_long", path="reference", facts={"most": 60})
        return found

    def _until(self, text: str) -> date:
        if not text:
            return self.today + timedelta(days=settings.QUOTE_VALID_DAYS)
        written = re.fullmatch(r"(\d{1,2})\.(\d{1,2})\.(\d{4})", text)
        with suppress(ValueError):
            if written:
                return date(int(written[3]), int(written[2]), int(written[1]))
            return date.fromisoformat(text)
        raise Invalid("unreadable", path="valid_until", facts={"what": "day", "value": text})

    def _line(self, values: Mapping[str, str], key: str, original: str) -> DraftLine:
        refuse_formulas(values)
        kind = values.get("kind", "normal").lower()
        text = values.get("text", "")
        if kind not in LINE_KINDS:
            raise Invalid("unknown", path="kind", facts={"value": kind})
        if len(text) > 200:
            raise Invalid("too_long", path="text", facts={"most": 200})
        if kind in WORDS_ONLY:
            if not text:
                raise Invalid("required", path="text", facts={"what": "words_only"})
            return DraftLine(key=key, item_id=None, quantity=None, unit="", kind=kind, text=text)
        item = _single(self.items, values.get("item", ""), "item")
        quantity = self._number(values, "quantity")
        if quantity is None:
            raise Invalid("required", path="quantity")
        price = self._number(values, "price")
        return DraftLine(
            key=key,
            item_id=item.pk,
            quantity=quantity,
            unit=self._unit(values.get("unit", ""), item),
            kind=kind,
            alternative_to=original if kind == "alternative" else "",
            text=text,
            price=price,
            price_reason=values.get("reason", "From the file")[:200] if price is not None else "",
            discount_percent=self._number(values, "discount"),
        )

    def _unit(self, word: str, item: Item) -> str:
        if not word:
            return item.sales_unit_id
        found = unit_named(word, item, self.units)
        if not found:
            facts = {"what": "row", "item": item.code, "word": word}
            raise Invalid("unknown_unit", path="unit", facts=facts)
        return found

    def _number(self, values: Mapping[str, str], name: str) -> Decimal | None:
        text = values.get(name, "").removesuffix("%").strip()
        if not text:
            return None
        number = read_number(text, self.styles.get(name, NumberStyle()))
        if number is None or number.value >= 10**9:
            raise Invalid("unreadable", path=name, facts={"what": "number", "value": text})
        if not number.certain:
            ways = [f"{way.value:f}" for way in readings_of(text)]
            facts = {"what": "number", "text": text, "ways": ways}
            raise Invalid("doubtful", path=name, facts=facts)
        return number.value


def _single(known: Mapping[str, list[Record]], word: str, name: str) -> Record:
    """The one record that a word names."""
    if not word:
        raise Invalid("required", path=name, facts={"what": f"row_{name}"})
    found = known.get(word.lower(), [])
    if not found:
        raise Invalid("unknown", path=name, facts={"value": word})
    if len({row.pk for row in found}) > 1:
        raise Invalid("doubtful", path=name, facts={"word": word})
    return found[0]


def _called(
    records: "QuerySet[Record]", rows: list[dict[str, str]], column: str, code: str
) -> dict[str, list[Record]]:
    """The records that a column of the file calls by code or by name, by what they are called."""
    words = {values[column] for values in rows if column in values}
    named = {
        row.pk: row for key in (code, "name") for row in records.filter(**{f"{key}__in": words})
    }
    found: dict[str, list[Record]] = {}
    for row in named.values():
        for word in {getattr(row, code).lower(), row.name.lower()}:
            found.setdefault(word, []).append(row)
    return found
