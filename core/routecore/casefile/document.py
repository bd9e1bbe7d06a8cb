"""Reading a case file: the document's own fields, its customer, its taxes and its lines."""

from collections.abc import Iterable, Mapping
from decimal import Decimal

from routecore.casefile.faults import Node
from routecore.exact import HUNDRED, ZERO
from routecore.pricing import Customer, Item
from routecore.totals import Charge, DocumentDiscount, DocumentTerms, Line, TaxComponent
from routecore.totals.lines import KINDS

Taxes = Mapping[str, tuple[TaxComponent, ...]]
#: A document of more lines is refused.
MOST_LINES = 10_000


def read_customer(root: Node) -> Customer:
    """Who buys; nobody in particular where the file does not say."""
    node = root.object("customer")
    if node is None:
        return Customer()
    parents = tuple(node.texts("parent"))
    made = Customer(
        id=node.text("id", default=""),
        parents=parents,
        tier=node.optional_text("tier") or "",
        price_list=node.optional_text("price_list"),
    )
    node.close()
    return made


def read_terms(root: Node, taxes: Taxes) -> DocumentTerms | None:
    """Date, currency, rounding, discount and charges."""
    document = root.object("document", required=True)
    discount = _document_discount(root)
    charges = tuple(_charges(root, taxes))
    if document is None:
        return None
    currency = document.currency()
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


def _charges(root: Node, taxes: Taxes) -> list[Charge]:
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


def read_reasons(root: Node) -> dict[str, str]:
    """Why a category has no tax, by category."""
    node = root.object("tax_reasons")
    return {category: node.text(category) for category in node.value} if node else {}


def read_taxes(root: Node) -> dict[str, tuple[TaxComponent, ...]]:
    """The tax components by category; none where a category has no tax."""
    table = root.object("taxes")
    if table is None:
        return {}
    return {
        category: tuple(
            component for component in map(_component, table.objects(category)) if component
        )
        for category in table.value
    }


def _component(node: Node) -> TaxComponent | None:
    name = node.text("name")
    percent = node.decimal("percent", minimum=ZERO)
    on = node.text("on", default="net", choices=("net", "running"))
    node.close()
    return node.build(lambda: TaxComponent(name=name, percent=percent, on=on))


def read_lines(root: Node, items: Mapping[str, Item], taxes: Taxes) -> Iterable[Line]:
    """The lines in their order."""
    ids: set[object] = set()
    for node in root.objects("lines", most=MOST_LINES):
        line = _line(node, items, taxes)
        if line and node.first(line.id, ids):
            ids.add(line.id)
            yield line


def _line(node: Node, items: Mapping[str, Item], taxes: Taxes) -> Line | None:
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
