"""All that can give one customer a price, indexed, so that only what touches an item is looked at."""

from collections.abc import Iterable, Iterator, Mapping, Sequence
from datetime import date

from routecore.errors import InvalidInput, NotAvailable
from routecore.pricing.goods import (
    Agreement,
    Customer,
    CustomerPrice,
    Item,
    PriceEntry,
    PriceList,
    Rate,
)
from routecore.pricing.rules import POLICIES, DiscountRule

BASE_LIST = "base"
Derivation = tuple[PriceList, tuple[PriceList, ...]]


class PriceBook:
    """The lists, prices, agreements, rules and rates that serve one customer.

    Raises ``NotAvailable`` for a list that is not there, ``InvalidInput`` for a circle of derived
    lists or an unknown policy. Building it costs as much as it holds; pricing with it does not.
    """

    __slots__ = (
        "_agreements",
        "_entries",
        "_everywhere",
        "_of_group",
        "_of_item",
        "_prices",
        "_rates",
        "_rules",
        "chain",
        "customer",
        "policy",
    )

    def __init__(
        self,
        *,
        lists: Mapping[str, PriceList],
        customer: Customer | None = None,
        customer_prices: Iterable[CustomerPrice] = (),
        agreements: Iterable[Agreement] = (),
        rules: Iterable[DiscountRule] = (),
        policy: str = "chain",
        rates: Iterable[Rate] = (),
    ):
        if policy not in POLICIES:
            raise InvalidInput("unknown_choice", path="discount_policy", facts={"value": policy})
        self.customer = customer or Customer()
        self.policy = policy
        self.chain: tuple[Derivation, ...] = tuple(_walk(lists, self.customer.price_list))
        self._entries = _by_item(self.chain)
        self._prices = self._own_prices(customer_prices)
        self._agreements = self._own_agreements(agreements)
        self._rates = _latest_first(rates)
        self._rules: dict[tuple[str, str], tuple[DiscountRule, ...]] = {}
        self._of_item: dict[str, list[tuple[int, DiscountRule]]] = {}
        self._of_group: dict[str, list[tuple[int, DiscountRule]]] = {}
        self._everywhere: list[tuple[int, DiscountRule]] = []
        for n, rule in enumerate(rules):
            if not rule.is_for(self.customer):
                continue
            if rule.item is not None:
                self._of_item.setdefault(rule.item, []).append((n, rule))
            elif rule.group is not None:
                self._of_group.setdefault(rule.group, []).append((n, rule))
            else:
                self._everywhere.append((n, rule))

    def _own_prices(
        self, rows: Iterable[CustomerPrice]
    ) -> dict[str, list[tuple[str, list[CustomerPrice]]]]:
        """By item: the prices of each member of the family, nearest first."""
        family = {name: n for n, name in enumerate(self.customer.family)}
        found: dict[str, dict[str, list[CustomerPrice]]] = {}
        for row in rows:
            if row.customer in family:
                found.setdefault(row.entry.item, {}).setdefault(row.customer, []).append(row)
        return {
            item: sorted(by_customer.items(), key=lambda pair: family[pair[0]])
            for item, by_customer in found.items()
        }

    def _own_agreements(self, rows: Iterable[Agreement]) -> dict[str, list[Agreement]]:
        """By item: the family's agreements, nearest first, then in the given order."""
        family = {name: n for n, name in enumerate(self.customer.family)}
        found: dict[str, list[Agreement]] = {}
        for row in rows:
            if row.customer in family:
                found.setdefault(row.entry.item, []).append(row)
        for agreements in found.values():
            agreements.sort(key=lambda row: family[row.customer])
        return found

    def entries(self, price_list: str, item: str) -> Sequence[PriceEntry]:
        """The entries of one list for one item."""
        return self._entries.get((price_list, item), ())

    def customer_prices(self, item: str) -> Sequence[tuple[str, list[CustomerPrice]]]:
        """The prices agreed with the customer and its parents, nearest first."""
        return self._prices.get(item, ())

    def customer_sources(
        self, item: str, currency: str
    ) -> Iterator[tuple[str, str, list[PriceEntry]]]:
        """The same as source, currency and entries; the given currency before the others."""
        for customer, rows in self._prices.get(item, ()):
            by_currency: dict[str, list[PriceEntry]] = {}
            for row in rows:
                by_currency.setdefault(row.currency, []).append(row.entry)
            for name in sorted(by_currency, key=lambda name: name != currency):
                yield f"customer_price:{customer}", name, by_currency[name]

    def agreements(self, item: str) -> Sequence[Agreement]:
        """The customer's and its parents' agreements on an item, nearest first."""
        return self._agreements.get(item, ())

    def rate(self, currency: str, to: str, on: date) -> Rate | None:
        """The latest rate that is dated on or before a day."""
        for rate in self._rates.get((currency, to), ()):
            if rate.on <= on:
                return rate
        return None

    def rates(self) -> list[Rate]:
        """Every rate, the latest of a pair first."""
        return [rate for rates in self._rates.values() for rate in rates]

    def order(self) -> dict[str, int]:
        """The turn of each rule that is for this customer."""
        named = [*self._everywhere]
        for rules in (*self._of_item.values(), *self._of_group.values()):
            named += rules
        return {rule.id: n for n, rule in named}

    def rules(self, item: Item) -> tuple[DiscountRule, ...]:
        """The rules on an item, in their order, whatever their dates."""
        key = item.id, item.group
        known = self._rules.get(key)
        if known is None:
            named = self._of_item.get(item.id, []) + self._everywhere
            if item.group:
                named = named + self._of_group.get(item.group, [])
            named = sorted(
                (pair for pair in named if pair[1].names(item)), key=lambda pair: pair[0]
            )
            known = self._rules[key] = tuple(rule for _, rule in named)
        return known


def _walk(lists: Mapping[str, PriceList], start: str | None) -> Iterable[Derivation]:
    """The lists that serve, each with those that a price goes through to come from it.

    The customer's list and what it derives from, then the base list and what that derives from, up
    to a list that has spoken already.
    """
    seen: set[str] = set()
    for first in (start or BASE_LIST, BASE_LIST):
        name: str | None = first
        through: tuple[PriceList, ...] = ()
        walked: set[str] = set()
        while name and name not in seen:
            if name not in lists:
                if first == BASE_LIST and name == BASE_LIST and seen:
                    break  # a house without a base list
                raise NotAvailable("unknown_list", path="price_lists", facts={"list": name})
            price_list = lists[name]
            seen.add(name)
            walked.add(name)
            yield price_list, through
            if price_list.derives_from:
                through = (*through, price_list)
            name = price_list.derives_from
        if name in walked:
            raise InvalidInput("circular_list", path="price_lists", facts={"circle": name})


def _by_item(chain: Iterable[Derivation]) -> dict[tuple[str, str], list[PriceEntry]]:
    index: dict[tuple[str, str], list[PriceEntry]] = {}
    for price_list, _ in chain:
        for entry in price_list.entries:
            index.setdefault((price_list.id, entry.item), []).append(entry)
    return index


def _latest_first(rates: Iterable[Rate]) -> dict[tuple[str, str], list[Rate]]:
    index: dict[tuple[str, str], list[Rate]] = {}
    for rate in rates:
        index.setdefault((rate.currency, rate.to), []).append(rate)
    for rows in index.values():
        rows.sort(key=lambda rate: rate.on, reverse=True)
    return index
