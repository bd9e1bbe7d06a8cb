"""What the demo's customers usually buy, and when: the baskets of past quotes."""

from dataclasses import dataclass, field, replace
from datetime import date
from decimal import Decimal
from functools import cached_property
from random import Random

from apps.catalogue.models import Item, PriceEntry
from apps.catalogue.queries import core_items, tax_table
from apps.customers.addresses import delivery_address
from apps.customers.models import Contact, Customer
from apps.prices.queries import price_book
from apps.quotes.documents import buyer_of
from apps.quotes.models import Quote
from apps.quotes.pricing.question import DraftLine, Prices
from demo.habits import Basket
from routecore.quantity import Units

#: What is bought when, by month. Tools, wire, drip and substrates sell beside it all year.
SEASON = {
    1: ("posts", "wire"), 2: ("posts", "wire", "frost"), 3: ("netting", "frost"), 4: ("netting", "frost"),
    5: ("netting", "drip"), 6: ("drip", "substrates"), 7: ("bins", "drip"), 8: ("bins",), 9: ("bins", "tools"),
    10: ("tools", "substrates"), 11: ("posts", "wire", "tools"), 12: ("posts", "wire"),
}  # fmt: skip
BESIDE = ("tools", "drip", "wire", "substrates")
#: Items of each group that a customer keeps coming back to.
REGULARS = 3


@dataclass(slots=True)
class Buyer:
    """A customer with what each of their documents repeats; ``regulars`` by group."""

    customer: Customer
    contact: Contact | None
    frozen: dict[str, object]
    address: dict[str, str] | None
    prices: Prices
    regulars: dict[str, list[Item]] = field(default_factory=dict)


class Shop:
    """The catalogue, and what each customer usually takes from it; read once."""

    def __init__(self, random: Random, rates_on: date):
        """Choices are drawn from ``random``; other currencies count at the rates of a day."""
        self._random = random
        self._rates_on = rates_on
        self._buyers: dict[int, Buyer] = {}

    @cached_property
    def _items(self) -> dict[str, list[Item]]:
        found: dict[str, list[Item]] = {}
        rows = Item.objects.select_related("group").prefetch_related("units").order_by("code")
        for item in rows:
            found.setdefault(item.group.code, []).append(item)
        return found

    @cached_property
    def items(self) -> dict[int, Item]:
        """Every item by its id."""
        return {item.pk: item for items in self._items.values() for item in items}

    @cached_property
    def _first_prices(self) -> dict[int, Decimal]:
        """About what a base unit costs, to choose a quantity by."""
        rows = PriceEntry.objects.filter(price_list__code="base").order_by("price")
        return dict(rows.values_list("item_id", "price"))

    def buyer(self, customer: Customer) -> Buyer:
        """The customer, with the prices and rules that there are by now."""
        if customer.pk not in self._buyers:
            contact = customer.contacts.first()
            self._buyers[customer.pk] = Buyer(
                customer=customer,
                contact=contact,
                frozen=buyer_of(Quote(customer=customer, contact=contact)),
                address=delivery_address(customer),
                prices=Prices(
                    items=core_items(self.items, customer.tax_category_id),
                    book=price_book(customer, self.items, self._rates_on),
                    taxes=tax_table(),
                ),
            )
        return self._buyers[customer.pk]

    def basket(self, buyer: Buyer, group: str) -> list[DraftLine]:
        """The season's goods and now and then something beside, in the quantities of a farm."""
        goods = list(self._usual(buyer, group))
        if self._random.random() < 0.6:
            goods.append(self._usual(buyer, self._random.choice(BESIDE))[0])
        return [self._line(n, item) for n, item in enumerate(dict.fromkeys(goods), start=1)]

    def lines(self, basket: Basket) -> list[DraftLine]:
        """These items in these quantities, in the units they are sold in."""
        items = {item.code: item for item in self.items.values()}
        rows = [(items[code], count) for code, count in basket.items()]
        return [
            _draft_line(n, item, self._in_packs(item, Decimal(count)))
            for n, (item, count) in enumerate(rows, start=1)
        ]

    def _usual(self, buyer: Buyer, group: str) -> list[Item]:
        if group not in buyer.regulars:
            items = self._items[group]
            buyer.regulars[group] = self._random.sample(items, min(REGULARS, len(items)))
        return buyer.regulars[group]

    def _line(self, n: int, item: Item) -> DraftLine:
        """Some of an item, for 150 to 1,400 or so, in the unit it is sold in and in its packs."""
        factors = {row.unit_id: row.factor for row in item.units.all()}
        in_base = Units(base=item.base_unit_id, factors=factors).factor(item.sales_unit_id)
        wanted = Decimal(self._random.randrange(150, 1400))
        count = max(1, round(wanted / (self._first_prices[item.pk] * in_base)))
        line = _draft_line(n, item, self._in_packs(item, Decimal(count)))
        return replace(
            line, discount_percent=self._random.choice((*(None,) * 4, Decimal(2), Decimal(5)))
        )

    def _in_packs(self, item: Item, count: Decimal) -> Decimal:
        """So many of the sales unit or a little more, in whole packs where it is the base unit."""
        if item.sales_unit_id != item.base_unit_id:
            return count
        pack = int(item.pack_multiple or 1)
        return Decimal(max(int(item.minimum_quantity or 1), -(-int(count) // pack) * pack))


def _draft_line(n: int, item: Item, quantity: Decimal) -> DraftLine:
    return DraftLine(
        key=f"past-{n}",
        item_id=item.pk,
        quantity=quantity,
        unit=item.sales_unit_id,
        text=item.name,
    )
