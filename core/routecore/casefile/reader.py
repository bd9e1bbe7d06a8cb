"""From JSON to the core's values.

Source of the format: ``docs/case-format.md``. What this version does not compute (customer
prices, agreements, discount rules, exchange rates, charges, a discount on the gross) is refused
with its path as soon as it says anything.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from decimal import Decimal

from routecore.casefile.faults import CaseFaults, Fault, Node
from routecore.errors import CoreError
from routecore.money import HUNDRED, minor_digits
from routecore.pricing import Item, PriceBook, PriceEntry, PriceList
from routecore.quantity import Units
from routecore.totals import (
    DocumentDiscount,
    DocumentTerms,
    Line,
    PricedDocument,
    TaxComponent,
    price_document,
)
from routecore.totals.lines import KINDS

ZERO = Decimal(0)


@dataclass(frozen=True, slots=True, kw_only=True)
class Case:
    """All that one computation needs, and what it is expected to give."""

    terms: DocumentTerms
    book: PriceBook
    lines: tuple[Line, ...]
    taxes: Mapping[str, tuple[TaxComponent, ...]]
    expect: Mapping[str, object] | None

    def price(self) -> PricedDocument:
        """The priced document."""
        return price_document(self.terms, self.book, self.lines, self.taxes)


def read_case(data: object) -> Case:
    """Read a case; raises ``CaseFaults`` with every fault found."""
    faults: list[Fault] = []
    root = Node(data, "", faults)
    if faults:
        raise CaseFaults(faults)
    customer = root.object("customer")
    items = {item.id: item for item in _items(root)}
    lists = {price_list.id: price_list for price_list in _lists(root, items)}
    taxes = _taxes(root)
    terms = _terms(root)
    lines = tuple(_lines(root, items, taxes))
    start = _start(customer)
    root.refuse("customer_prices", "agreements", "discount_rules", "exchange_rates", "charges")
    root.text("discount_policy", default="chain", choices=("chain",))
    expect = root.get("expect")
    if expect is not None and not isinstance(expect, Mapping):
        root.fault("expect", "must be an object")
    root.text("note", default="")
    root.close()
    book = root.build(lambda: PriceBook(lists=lists, start=start)) if lists else None
    if not lists:
        root.fault("price_lists", "at least one list is required")
    if faults or terms is None or book is None:
        raise CaseFaults(faults)
    return Case(
        terms=terms,
        book=book,
        lines=lines,
        taxes=taxes,
        expect=expect if isinstance(expect, Mapping) else None,
    )


def _start(customer: Node | None) -> str | None:
    if customer is None:
        return None
    start = customer.optional_text("price_list")
    for key in ("id", "parent", "tier"):
        customer.optional_text(key)
    customer.close()
    return start


def _terms(root: Node) -> DocumentTerms | None:
    document = root.object("document", required=True)
    discount = _document_discount(root)
    if document is None:
        return None
    currency = document.text("currency")
    try:
        minor_digits(currency)
    except CoreError:
        document.fault("currency", "must be a currency code of ISO 4217, as EUR")
    on = document.required_day("date")
    step = document.optional_decimal("payable_rounding", positive=True)
    rounding = document.text("tax_rounding", default="document", choices=("document", "line"))
    document.close()
    return document.build(
        lambda: DocumentTerms(
            on=on, currency=currency, payable_step=step, tax_rounding=rounding, discount=discount
        )
    )


def _document_discount(root: Node) -> DocumentDiscount | None:
    node = root.object("document_discount")
    if node is None:
        return None
    if node.text("on", default="net", choices=("net", "gross")) == "gross":
        node.fault("on", "a discount on the gross is not supported yet")
    percent = node.optional_decimal("percent", minimum=ZERO, maximum=HUNDRED)
    amount = node.optional_decimal("amount", minimum=ZERO)
    node.close()
    if (percent is None) == (amount is None):
        node.fault("", "needs a percent or an amount, and not both")
        return None
    return DocumentDiscount(percent=percent, amount=amount)


def _items(root: Node) -> list[Item]:
    found: list[Item] = []
    for node in root.objects("items"):
        units = node.object("units")
        factors = (
            {str(unit): units.decimal(str(unit), positive=True) for unit in units.value}
            if units
            else {}
        )
        code, base = node.text("id"), node.text("base_unit")
        values = {
            key: node.optional_decimal(key, minimum=ZERO)
            for key in ("weight_kg", "cost", "minimum_quantity", "pack_multiple")
        }
        category = node.text("tax_category", default="standard")
        group = node.text("group", default="")
        node.close()
        if any(item.id == code for item in found):
            node.fault("id", "is used twice")
        made = node.build(
            lambda code=code, base=base, factors=factors, group=group, category=category, values=values: (
                Item(  # type: ignore[misc]
                    id=code,
                    units=Units(base=base, factors=factors),
                    tax_category=category,
                    group=group,
                    **values,
                )
            )
        )
        if made:
            found.append(made)
    return found


def _lists(root: Node, items: Mapping[str, Item]) -> list[PriceList]:
    found: list[PriceList] = []
    for node in root.objects("price_lists"):
        name, currency = node.text("id"), node.text("currency")
        entries = [entry for entry in map(_entry, node.objects("entries")) if entry]
        for entry in entries:
            if entry.item not in items:
                node.fault("entries", f"no item {entry.item}")
            elif not items[entry.item].units.knows(entry.unit):
                node.fault("entries", f"{entry.item} has no unit {entry.unit}")
        derives = node.optional_text("derives_from")
        factor = node.decimal("factor", default=Decimal(1), positive=True)
        step = node.optional_decimal("round_to", positive=True)
        node.close()
        if any(price_list.id == name for price_list in found):
            node.fault("id", "is used twice")
        found.append(
            PriceList(
                id=name,
                currency=currency,
                entries=tuple(entries),
                derives_from=derives,
                factor=factor,
                round_to=step,
            )
        )
    return found


def _entry(node: Node) -> PriceEntry | None:
    fields = {
        "item": node.text("item"),
        "unit": node.text("unit"),
        "price": node.decimal("price", minimum=ZERO),
        "per": node.decimal("per", default=Decimal(1), positive=True),
        "from_quantity": node.decimal("from", default=ZERO, minimum=ZERO),
        "valid_from": node.day("valid_from"),
        "valid_to": node.day("valid_to"),
    }
    node.close()
    return node.build(lambda: PriceEntry(**fields))  # type: ignore[arg-type]


def _taxes(root: Node) -> dict[str, tuple[TaxComponent, ...]]:
    table = root.object("taxes")
    if table is None:
        return {}
    return {
        str(category): tuple(
            component for component in map(_component, table.objects(str(category))) if component
        )
        for category in table.value
    }


def _component(node: Node) -> TaxComponent | None:
    name = node.text("name")
    percent = node.decimal("percent", minimum=ZERO)
    on = node.text("on", default="net", choices=("net", "running"))
    node.close()
    return node.build(lambda: TaxComponent(name=name, percent=percent, on=on))


def _lines(
    root: Node, items: Mapping[str, Item], taxes: Mapping[str, tuple[TaxComponent, ...]]
) -> list[Line]:
    found: list[Line] = []
    ids: set[str] = set()
    for node in root.objects("lines"):
        line = _line(node, items, taxes)
        if line and line.id in ids:
            node.fault("id", "is used twice")
        if line:
            ids.add(line.id)
            found.append(line)
    return found


def _line(
    node: Node, items: Mapping[str, Item], taxes: Mapping[str, tuple[TaxComponent, ...]]
) -> Line | None:
    name, code = node.text("id"), node.text("item")
    quantity = node.decimal("quantity", positive=True)
    kind = node.text("kind", default="normal", choices=KINDS)
    instead = node.optional_text("alternative_to")
    price = node.optional_decimal("price", minimum=ZERO)
    percent = node.optional_decimal("discount_percent", minimum=ZERO, maximum=HUNDRED)
    amount = node.optional_decimal("discount_amount", minimum=ZERO)
    item = items.get(code)
    if item is None:
        node.fault("item", f"no item {code}")
    unit = node.text("unit", default=item.units.base if item else "H87")
    node.close()
    if item is None:
        return None
    if item.tax_category not in taxes:
        node.fault("item", f"no taxes for category {item.tax_category}")
    return node.build(
        lambda: Line(
            id=name,
            item=item,
            quantity=quantity,
            unit=unit,
            kind=kind,
            alternative_to=instead,
            price=price,
            discount_percent=percent,
            discount_amount=amount,
        )
    )
