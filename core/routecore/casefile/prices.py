"""Reading a case file: lists, customer prices, agreements, rates."""

from collections.abc import Mapping
from functools import partial

from routecore.casefile.faults import Node
from routecore.exact import ONE, ZERO
from routecore.pricing import (
    BASE_LIST,
    Agreement,
    Customer,
    CustomerPrice,
    Item,
    PriceEntry,
    PriceList,
    Rate,
)


def read_lists(root: Node, items: Mapping[str, Item], customer: Customer) -> dict[str, PriceList]:
    """The lists by their ids; none leads back to itself, and what serves the customer is there."""
    found: dict[str, PriceList] = {}
    nodes: dict[str, Node] = {}
    for node in root.objects("price_lists"):
        made = _list(node, items)
        if made is not None and node.first(made.id, found):
            found[made.id] = made
            nodes[made.id] = node
    _derivations(found, nodes)
    if not found:
        root.fault("price_lists", "at least one list is required")
    elif customer.price_list is not None and customer.price_list not in found:
        root.fault("customer.price_list", f"no list {customer.price_list}")
    elif customer.price_list is None and BASE_LIST not in found:
        root.fault("price_lists", f"a list {BASE_LIST} is required where the customer has none")
    return found


def _list(node: Node, items: Mapping[str, Item]) -> PriceList | None:
    name, currency = node.text("id"), node.currency()
    entries = []
    seen: set[object] = set()
    for row in node.objects("entries"):
        entry = read_entry(row, items)
        row.close()
        if entry and row.single(
            (entry.item, entry.unit, entry.from_quantity, entry.valid_from), seen
        ):
            entries.append(entry)
    derives = node.optional_text("derives_from")
    factor = node.decimal("factor", default=ONE, positive=True)
    step = node.optional_decimal("round_to", positive=True)
    node.close()
    return node.build(
        lambda: PriceList(
            id=name,
            currency=currency,
            entries=tuple(entries),
            derives_from=derives,
            factor=factor,
            round_to=step,
        )
    )


def _derivations(found: Mapping[str, PriceList], nodes: Mapping[str, Node]) -> None:
    """Name every list that derives from none, and every one in a circle. Each is walked once."""
    settled: set[str] = set()
    for start in found:
        walked: dict[str, None] = {}
        name: str | None = start
        while name is not None and name in found and name not in settled:
            if name in walked:
                circle = list(walked)[list(walked).index(name) :]
                for part in circle:
                    nodes[part].fault("derives_from", "leads back to the list itself")
                break
            walked[name] = None
            further = found[name].derives_from
            if further is not None and further not in found:
                nodes[name].fault("derives_from", f"no list {further}")
            name = further
        settled.update(walked)


def read_entry(
    node: Node, items: Mapping[str, Item], *, discountable: bool = True
) -> PriceEntry | None:
    """The fields of a price; ``close`` is the caller's."""
    code, unit = node.text("item"), node.text("unit")
    price = node.decimal("price", minimum=ZERO)
    per = node.decimal("per", default=ONE, positive=True)
    start = node.decimal("from", default=ZERO, minimum=ZERO)
    first, last = node.day("valid_from"), node.day("valid_to")
    takes_rules = node.flag("discountable", default=discountable)
    if code not in items:
        node.fault("item", f"no item {code}")
    elif not items[code].units.knows(unit):
        node.fault("unit", f"{code} has no unit {unit}")
    return node.build(
        lambda: PriceEntry(
            item=code,
            unit=unit,
            price=price,
            per=per,
            from_quantity=start,
            valid_from=first,
            valid_to=last,
            discountable=takes_rules,
        )
    )


def read_customer_prices(root: Node, items: Mapping[str, Item]) -> list[CustomerPrice]:
    """The prices agreed with customers, whoever they are."""
    found: list[CustomerPrice] = []
    seen: set[object] = set()
    for node in root.objects("customer_prices"):
        customer, currency = node.text("customer"), node.currency()
        entry = read_entry(node, items, discountable=False)
        node.close()
        if entry is None:
            continue
        key = customer, currency, entry.item, entry.unit, entry.from_quantity, entry.valid_from
        if node.single(key, seen):
            found.append(CustomerPrice(customer=customer, currency=currency, entry=entry))
    return found


def read_agreements(root: Node, items: Mapping[str, Item]) -> list[Agreement]:
    """The framework agreements, whoever's they are."""
    found: dict[str, Agreement] = {}
    for node in root.objects("agreements"):
        name, customer, currency = node.text("id"), node.text("customer"), node.currency()
        remaining = node.decimal("remaining", minimum=ZERO)
        called_off = node.decimal("called_off", default=ZERO, minimum=ZERO, fine=True)
        entry = read_entry(node, items, discountable=False)
        node.close()
        if entry and node.first(name, found):
            found[name] = Agreement(
                id=name,
                customer=customer,
                currency=currency,
                remaining=remaining,
                called_off=called_off,
                entry=entry,
            )
    return list(found.values())


def read_rates(root: Node) -> list[Rate]:
    """The dated exchange rates."""
    found: list[Rate] = []
    seen: set[object] = set()
    for node in root.objects("exchange_rates"):
        currency, to = node.currency("from"), node.currency("to")
        rate = node.decimal("rate", positive=True)
        on = node.required_day("date")
        node.close()
        made = node.build(partial(Rate, currency=currency, to=to, rate=rate, on=on))
        if made and node.single((currency, to, on), seen):
            found.append(made)
    return found
