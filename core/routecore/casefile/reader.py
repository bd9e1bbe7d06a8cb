"""From JSON to the core's values, with every fault under its path.

Source of the format: ``docs/case-format.md``.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from decimal import Decimal
from functools import partial

from routecore.casefile.faults import CaseFaults, Fault, Node
from routecore.errors import CoreError
from routecore.money import HUNDRED, minor_digits
from routecore.pricing import (
    Agreement,
    Customer,
    CustomerPrice,
    DiscountRule,
    Item,
    PriceBook,
    PriceEntry,
    PriceList,
    Rate,
    Tier,
)
from routecore.pricing.rules import MEASURES, POLICIES, SPANS
from routecore.quantity import Units
from routecore.totals import (
    Charge,
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
    tax_reasons: Mapping[str, str]
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
    customer = _customer(root)
    items = {item.id: item for item in _items(root)}
    lists = {price_list.id: price_list for price_list in _lists(root, items)}
    taxes = _taxes(root)
    terms = _terms(root, taxes)
    lines = tuple(_lines(root, items, taxes))
    prices = _customer_prices(root, items)
    agreements = _agreements(root, items)
    rules = _rules(root, items)
    rates = _rates(root)
    policy = root.text("discount_policy", default="chain", choices=POLICIES)
    reasons = _reasons(root)
    expect = root.get("expect")
    if expect is not None and not isinstance(expect, Mapping):
        root.fault("expect", "must be an object")
    root.text("note", default="")
    root.close()
    if not lists:
        root.fault("price_lists", "at least one list is required")
    book = (
        root.build(
            lambda: PriceBook(
                lists=lists,
                customer=customer,
                customer_prices=prices,
                agreements=agreements,
                rules=rules,
                policy=policy,
                rates=rates,
            )
        )
        if lists and not faults
        else None
    )
    if faults or terms is None or book is None:
        raise CaseFaults(faults)
    return Case(
        terms=terms,
        book=book,
        lines=lines,
        taxes=taxes,
        tax_reasons=reasons,
        expect=expect if isinstance(expect, Mapping) else None,
    )


def _customer(root: Node) -> Customer:
    node = root.object("customer")
    if node is None:
        return Customer()
    parent = node.get("parent")
    parents: tuple[str, ...] = ()
    if isinstance(parent, list) and all(isinstance(name, str) for name in parent):
        parents = tuple(parent)
    elif parent is not None:
        parents = (node.text("parent"),)
    made = Customer(
        id=node.text("id", default=""),
        parents=parents,
        tier=node.optional_text("tier") or "",
        price_list=node.optional_text("price_list"),
    )
    node.close()
    return made


def _terms(root: Node, taxes: Mapping[str, tuple[TaxComponent, ...]]) -> DocumentTerms | None:
    document = root.object("document", required=True)
    discount = _document_discount(root)
    charges = tuple(_charges(root, taxes))
    if document is None:
        return None
    currency = _currency(document)
    on = document.required_day("date")
    step = document.optional_decimal("payable_rounding", positive=True)
    rounding = document.text("tax_rounding", default="document", choices=("document", "line"))
    document.close()
    return document.build(
        lambda: DocumentTerms(
            on=on,
            currency=currency,
            payable_step=step,
            tax_rounding=rounding,
            discount=discount,
            charges=charges,
        )
    )


def _currency(node: Node, key: str = "currency") -> str:
    currency = node.text(key)
    try:
        minor_digits(currency)
    except CoreError:
        node.fault(key, "must be a currency code of ISO 4217, as EUR")
    return currency


def _percent_or_amount(node: Node) -> tuple[Decimal | None, Decimal | None] | None:
    percent = node.optional_decimal("percent", minimum=ZERO, maximum=HUNDRED)
    amount = node.optional_decimal("amount", minimum=ZERO)
    if (node.get("percent") is None) == (node.get("amount") is None):
        node.fault("", "needs a percent or an amount, and not both")
        return None
    return None if percent is None and amount is None else (percent, amount)


def _document_discount(root: Node) -> DocumentDiscount | None:
    node = root.object("document_discount")
    if node is None:
        return None
    on = node.text("on", default="net", choices=("net", "gross"))
    given = _percent_or_amount(node)
    node.close()
    if given is None:
        return None
    percent, amount = given
    return node.build(lambda: DocumentDiscount(percent=percent, amount=amount, on=on))


def _charges(root: Node, taxes: Mapping[str, tuple[TaxComponent, ...]]) -> list[Charge]:
    found: list[Charge] = []
    for node in root.objects("charges"):
        name = node.text("name")
        category = node.text("tax_category", default="standard")
        given = _percent_or_amount(node)
        node.close()
        if category not in taxes:
            node.fault("tax_category", f"no taxes for category {category}")
        if given is not None:
            found.append(
                Charge(name=name, percent=given[0], amount=given[1], tax_category=category)
            )
    return found


def _reasons(root: Node) -> dict[str, str]:
    node = root.object("tax_reasons")
    return {str(category): node.text(str(category)) for category in node.value} if node else {}


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
        name, currency = node.text("id"), _currency(node)
        entries = []
        for row in node.objects("entries"):
            entry = _entry(row, items)
            row.close()
            if entry:
                entries.append(entry)
        _overlaps(node, entries)
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


def _entry(node: Node, items: Mapping[str, Item], discountable: bool = True) -> PriceEntry | None:
    """The fields of a price; ``close`` is the caller's."""
    code, unit = node.text("item"), node.text("unit")
    price = node.decimal("price", minimum=ZERO)
    per = node.decimal("per", default=Decimal(1), positive=True)
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


def _overlaps(node: Node, entries: list[PriceEntry]) -> None:
    """Two prices of one item, unit, quantity and first day: nobody could say which holds."""
    seen: set[tuple[object, ...]] = set()
    for n, entry in enumerate(entries):
        key = entry.item, entry.unit, entry.from_quantity, entry.valid_from
        if key in seen:
            node.fault(f"entries[{n}]", "has the same item, unit, from and valid_from as another")
        seen.add(key)


def _customer_prices(root: Node, items: Mapping[str, Item]) -> list[CustomerPrice]:
    found: list[CustomerPrice] = []
    for node in root.objects("customer_prices"):
        customer, currency = node.text("customer"), _currency(node)
        entry = _entry(node, items, discountable=False)
        node.close()
        if entry:
            found.append(CustomerPrice(customer=customer, currency=currency, entry=entry))
    return found


def _agreements(root: Node, items: Mapping[str, Item]) -> list[Agreement]:
    found: list[Agreement] = []
    for node in root.objects("agreements"):
        name, customer, currency = node.text("id"), node.text("customer"), _currency(node)
        remaining = node.decimal("remaining", minimum=ZERO)
        entry = _entry(node, items, discountable=False)
        node.close()
        if any(agreement.id == name for agreement in found):
            node.fault("id", "is used twice")
        if entry:
            found.append(
                Agreement(
                    id=name,
                    customer=customer,
                    currency=currency,
                    remaining=remaining,
                    entry=entry,
                )
            )
    return found


def _rules(root: Node, items: Mapping[str, Item]) -> list[DiscountRule]:
    found: list[DiscountRule] = []
    for node in root.objects("discount_rules"):
        rule = _rule(node, items)
        if rule and any(other.id == rule.id for other in found):
            node.fault("id", "is used twice")
        if rule:
            found.append(rule)
    return found


def _rule(node: Node, items: Mapping[str, Item]) -> DiscountRule | None:
    name = node.text("id")
    whom, what = node.object("for"), node.object("on")
    customer = whom.optional_text("customer") if whom else None
    customer_tier = whom.optional_text("tier") if whom else None
    item = what.optional_text("item") if what else None
    group = what.optional_text("group") if what else None
    for part in (whom, what):
        if part:
            part.close()
    if what and item is not None and item not in items:
        what.fault("item", f"no item {item}")
    measure = node.text("measure", default="quantity", choices=MEASURES)
    unit = node.optional_text("unit")
    over = node.text("over", default="line", choices=SPANS)
    tiers = [tier for tier in map(_tier, node.objects("tiers")) if tier]
    graduated = node.flag("graduated", default=False)
    exclusive = node.flag("exclusive", default=False)
    currency = _currency(node) if node.get("currency") is not None else None
    first, last = node.day("valid_from"), node.day("valid_to")
    node.close()
    return node.build(
        lambda: DiscountRule(
            id=name,
            tiers=tuple(tiers),
            customer=customer,
            customer_tier=customer_tier,
            item=item,
            group=group,
            measure=measure,
            unit=unit,
            over=over,
            graduated=graduated,
            exclusive=exclusive,
            currency=currency,
            valid_from=first,
            valid_to=last,
        )
    )


def _tier(node: Node) -> Tier | None:
    start = node.decimal("from", minimum=ZERO)
    percent = node.optional_decimal("percent", minimum=ZERO, maximum=HUNDRED)
    per_unit = node.optional_decimal("per_unit", minimum=ZERO)
    per_line = node.optional_decimal("per_line", minimum=ZERO)
    node.close()
    return node.build(
        lambda: Tier(start=start, percent=percent, per_unit=per_unit, per_line=per_line)
    )


def _rates(root: Node) -> list[Rate]:
    found: list[Rate] = []
    for node in root.objects("exchange_rates"):
        currency, to = _currency(node, "from"), _currency(node, "to")
        rate = node.decimal("rate", positive=True)
        on = node.required_day("date")
        node.close()
        made = node.build(partial(Rate, currency=currency, to=to, rate=rate, on=on))
        if made:
            found.append(made)
    return found


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
