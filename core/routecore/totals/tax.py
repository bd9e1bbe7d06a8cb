"""Tax by category and component.

A component lies on the net, or ``running``: on the net plus the components before it. The tax of
a component is rounded once over the document (default) or line by line.

Source: EN 16931 BR-CO-17 (tax = base times rate, rounded) for a single component; a component on
net plus the first is common practice, no source.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from decimal import Decimal

from routecore.errors import InvalidInput, NoRule
from routecore.money import HUNDRED, ZERO, round_amount


@dataclass(frozen=True, slots=True, kw_only=True)
class TaxComponent:
    """One tax of a category: ``on`` is ``net`` or ``running``."""

    name: str
    percent: Decimal
    on: str = "net"

    def __post_init__(self) -> None:
        if not 0 <= self.percent <= 1000:
            raise InvalidInput("out_of_range", path="percent", facts={"value": self.percent})
        if self.on not in ("net", "running"):
            raise InvalidInput("unknown_choice", path="on", facts={"value": self.on})


#: The components of each category; an empty tuple is a category without tax.
TaxTable = Mapping[str, tuple[TaxComponent, ...]]


@dataclass(frozen=True, slots=True, kw_only=True)
class TaxRow:
    """The tax of one component over the document."""

    category: str
    name: str
    percent: Decimal
    base: Decimal
    amount: Decimal


def tax_rows(
    bases: Iterable[tuple[str, Decimal]], table: TaxTable, *, currency: str, rounding: str
) -> tuple[TaxRow, ...]:
    """The tax on the taxable amounts of the lines, given as (category, amount) pairs.

    Raises ``NoRule`` for a category that the table does not have.
    """
    by_category: dict[str, list[Decimal]] = {}
    for category, base in bases:
        by_category.setdefault(category, []).append(base)
    rows: list[TaxRow] = []
    for category, amounts in by_category.items():
        if category not in table:
            raise NoRule("unknown_tax_category", path="taxes", facts={"category": category})
        groups = [[amount] for amount in amounts] if rounding == "line" else [amounts]
        rows.extend(_category_rows(category, table[category], groups, currency))
    return tuple(rows)


def _category_rows(
    category: str,
    components: tuple[TaxComponent, ...],
    groups: list[list[Decimal]],
    currency: str,
) -> Iterable[TaxRow]:
    nets = [sum(group, ZERO) for group in groups]
    if not components:
        yield TaxRow(
            category=category,
            name="",
            percent=ZERO,
            base=round_amount(sum(nets, ZERO), currency),
            amount=round_amount(ZERO, currency),
        )
    running = list(nets)
    for component in components:
        bases = running if component.on == "running" else nets
        taxes = [round_amount(base * component.percent / HUNDRED, currency) for base in bases]
        yield TaxRow(
            category=category,
            name=component.name,
            percent=component.percent,
            base=round_amount(sum(bases, ZERO), currency),
            amount=sum(taxes, ZERO),
        )
        running = [base + tax for base, tax in zip(running, taxes, strict=True)]
