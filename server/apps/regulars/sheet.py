"""The sheet of regulars: what a customer usually buys, when it is due, what it costs today."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from apps.catalogue.models import Item
from apps.catalogue.queries import core_item, core_items, find_items, items_shown, tax_table
from apps.customers.models import Customer
from apps.errors import Invalid
from apps.listing import Span, count, in_order
from apps.prices.queries import price_book
from apps.regulars.buying import Bought, bought, buyers_of
from routecore import pricing
from routecore.dates import months_back
from routecore.errors import CoreError
from routecore.quantity import typeable
from routecore.regulars import Habit, changed_percent, habit_of, unit_price
from routecore.totals import (
    DocumentTerms,
    Line,
    PricedDocument,
    PricedLine,
    price_alone,
    price_document,
)

#: The order of a sheet: what asks for something first.
ORDER = ("late", "due", "stopped", "not_yet", "out_of_season", "unknown")
#: What "due or late" shows; what was stopped is asked about, too.
ASKING = ("late", "due", "stopped")
SHOWS = ("due", "bought", "group", "all")
PAGE = 50


@dataclass(frozen=True, slots=True, kw_only=True)
class Today:
    """What the usual quantity costs today, net, in the price's own unit; in the buyer's currency.

    ``paid`` is what was paid last, in that same unit; ``change`` from it to today, in percent.
    """

    price: Decimal
    per: Decimal
    unit: str
    paid: Decimal | None
    change: Decimal | None
    margin_percent: Decimal | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Regular:
    """A row: the item, its sales unit and what one holds, the habit, the purchases, the price of today.

    ``usual`` is in the sales unit; ``today`` is None where no price holds.
    """

    item: Item
    unit: str
    factor: Decimal
    usual: Decimal
    habit: Habit | None
    purchases: Sequence[tuple[date, Decimal]]
    buyers: int
    today: Today | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Sheet:
    """A page of rows, how many there are, and how many ask for something or were bought at all."""

    rows: Sequence[Regular]
    count: int
    more: bool
    asking: int
    bought: int
    since: date


def regulars_of(
    customer: Customer, *, show: str, months: int, words: str, page: int, today: date
) -> Sheet:
    """The rows that ``show`` names (``SHOWS``), those first that ask for something.

    The same number of queries, however much was bought. Words narrow the sheet to items that hold them.
    """
    since = months_back(today, months)
    tax = customer.tax_category_id
    who = buyers_of(customer, group=show == "group")
    goods = bought(who, since, today, customer.currency, tax_category=tax)
    habits = {item: _habit(entry, today) for item, entry in goods.items()}
    asking = [item for item, habit in habits.items() if habit.state in ASKING]
    more = False
    if show == "all":
        listed = count(in_order(find_items(words).order_by(), "code", {"code": "code"}, "code"))
        more, total = listed.more, listed.count
        span = Span.of(total, page, PAGE).slice
        wanted = list(listed.keys_at(span))
    else:
        keys = _in_order(asking if show == "due" else habits, habits, goods)
        if words.strip():
            kept = set(find_items(words).filter(pk__in=keys).values_list("pk", flat=True))
            keys = [key for key in keys if key in kept]
        total = len(keys)
        wanted = keys[Span.of(total, page, PAGE).slice]
    return Sheet(
        rows=_rows(customer, wanted, goods, habits, today),
        count=total,
        more=more,
        asking=len(asking),
        bought=len(goods),
        since=since,
    )


def _habit(entry: Bought, today: date) -> Habit:
    found = habit_of(entry.purchases, today, pack=entry.item.pack_multiple or Decimal(1))
    assert found is not None  # what was bought has a purchase up to today
    return found


def _in_order(
    keys: Iterable[int], habits: Mapping[int, Habit], goods: Mapping[int, Bought]
) -> list[int]:
    return sorted(
        keys,
        key=lambda key: (
            ORDER.index(habits[key].state),
            habits[key].due_on or date.max,
            goods[key].item.id,
        ),
    )


def _rows(
    customer: Customer,
    keys: Sequence[int],
    goods: Mapping[int, Bought],
    habits: Mapping[int, Habit],
    today: date,
) -> list[Regular]:
    """The rows of these items, priced. Eight queries at most."""
    shown = {row.pk: row for row in items_shown().filter(pk__among=keys)}
    tax = customer.tax_category_id
    cores = {key: goods[key].item if key in goods else core_item(shown[key], tax) for key in keys}
    shop = _Shop(customer, keys, today)
    found = []
    for key in keys:
        item, core, habit = shown[key], cores[key], habits.get(key)
        unit = item.sales_unit_id if core.units.knows(item.sales_unit_id) else core.units.base
        usual = _usual(core, unit, habit)
        entry = goods.get(key)
        found.append(
            Regular(
                item=item,
                unit=unit,
                factor=core.units.factor(unit),
                usual=usual,
                habit=habit,
                purchases=_by_day(entry, core, unit) if entry else (),
                buyers=len(entry.by) if entry else 0,
                today=shop.price(core, usual, unit, habit),
            )
        )
    return found


def _usual(item: pricing.Item, unit: str, habit: Habit | None) -> Decimal:
    """The usual quantity in a unit, as it can be ordered; of what was never bought the least."""
    units = item.units
    grid = typeable(units.factor(unit), item.minimum_quantity, item.pack_multiple)
    asked = Decimal(0) if habit is None else units.convert(habit.usual, units.base, unit)
    return grid.nearest(asked) or Decimal(1)


def _by_day(entry: Bought, item: pricing.Item, unit: str) -> list[tuple[date, Decimal]]:
    days: dict[date, Decimal] = {}
    for row in entry.purchases:
        days[row.on] = days.get(row.on, Decimal(0)) + row.quantity
    base = item.units.base
    return [(day, item.units.convert(quantity, base, unit)) for day, quantity in days.items()]


class _Shop:
    """What prices items for one customer today, each for itself."""

    def __init__(self, customer: Customer, items: Iterable[int], today: date):
        self.book = price_book(customer, items, today)
        self.terms = DocumentTerms(
            on=today, currency=customer.currency, payable_step=customer.payable_step
        )

    def price(
        self, item: pricing.Item, quantity: Decimal, unit: str, habit: Habit | None
    ) -> Today | None:
        """The price of so much of one item alone; None where none holds."""
        try:
            line = Line(id="1", item=item, quantity=quantity, unit=unit)
            priced = price_alone(self.terms, self.book, line)
        except CoreError:
            return None
        if priced.net is None or priced.per is None:
            return None
        factor = item.units.factor(priced.unit)
        now = unit_price(
            priced.net, item.units.in_base(quantity, unit), factor=factor, per=priced.per
        )
        paid = _paid(habit, factor, priced)
        return Today(
            price=now,
            per=priced.per,
            unit=priced.unit,
            paid=paid,
            change=changed_percent(paid, now) if paid is not None else None,
            margin_percent=priced.margin_percent,
        )


def _paid(habit: Habit | None, factor: Decimal, priced: PricedLine) -> Decimal | None:
    """What was paid last in the unit of today's price; None for nothing known."""
    if habit is None or not habit.last_price or priced.per is None:
        return None
    return unit_price(habit.last_price, Decimal(1), factor=factor, per=priced.per)


@dataclass(frozen=True, slots=True, kw_only=True)
class Wanted:
    """A row with a quantity typed: an item, how much, in which unit, from which depot (None: the usual)."""

    item: int
    quantity: Decimal
    unit: str
    depot: int | None = None


def price_sheet(customer: Customer, rows: Sequence[Wanted], today: date) -> PricedDocument:
    """What the typed rows come to together, as a quote of today would; the line's id is the item's.

    Raises ``Invalid`` for an item that is not there, ``InvalidInput`` for a unit that it has not.
    """
    ids = {row.item for row in rows}
    goods = core_items(ids, customer.tax_category_id)
    for n, row in enumerate(rows):
        if row.item not in goods:
            raise Invalid("unknown_item", path=f"lines[{n}].item_id")
    lines = [
        Line(id=str(row.item), item=goods[row.item], quantity=row.quantity, unit=row.unit)
        for row in rows
    ]
    terms = DocumentTerms(on=today, currency=customer.currency, payable_step=customer.payable_step)
    return price_document(terms, price_book(customer, ids, today), lines, tax_table())
