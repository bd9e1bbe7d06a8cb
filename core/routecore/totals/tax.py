"""Tax by category and component.

A component lies on the net, or ``running``: on the net plus the components before it. The tax of
a component is rounded once over the document (default) or line by line.

Source: EN 16931 BR-CO-17 (tax = base times rate, rounded) for a single component; a component on
net plus the first is common practice, no source.
"""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal
from fractions import Fraction

from routecore.errors import InvalidInput, NoRule
from routecore.exact import EXACT, ZERO, amount_of


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


class TaxRates:
    """The components of one category as whole fractions, to tax whole minor units.

    >>> TaxRates((TaxComponent(name="VAT", percent=Decimal("9.975")),)).taxes(10_000)
    [998]
    """

    __slots__ = ("_parts", "bend", "steepness")

    def __init__(self, components: tuple[TaxComponent, ...]):
        self._parts = [
            (*component.percent.scaleb(-2, EXACT).as_integer_ratio(), component.on == "running")
            for component in components
        ]
        #: What one more unit of net adds to the taxes, unrounded; and the most by which rounding
        #: once takes them from that, in units.
        self.steepness = self.bend = Fraction(0)
        for top, under, running in self._parts:
            rate = Fraction(top, under)
            carried = self.bend if running else 0
            self.bend += rate * carried + Fraction(1, 2)
            self.steepness += rate * (1 + self.steepness) if running else rate

    def total(self, net: int) -> int:
        """All taxes on a net."""
        if len(self._parts) == 1 and net >= 0:
            top, under, _ = self._parts[0]
            return (2 * net * top + under) // (2 * under)
        return sum(self.taxes(net))

    def taxes(self, net: int) -> list[int]:
        """The tax of each component on a net, each rounded half away from zero."""
        if net < 0:
            return [-tax for tax in self.taxes(-net)]
        found: list[int] = []
        running = net
        for top, under, on_running in self._parts:
            base = running if on_running else net
            tax = (2 * base * top + under) // (2 * under)
            found.append(tax)
            running += tax
        return found


def rates_of(table: TaxTable, category: str) -> TaxRates:
    """The rates of a category; raises ``NoRule`` for one that the table does not have."""
    if category not in table:
        raise NoRule("unknown_tax_category", path="taxes", facts={"category": category})
    return TaxRates(table[category])


def tax_rows(
    nets: Mapping[str, Sequence[int]], table: TaxTable, *, digits: int, rounding: str
) -> tuple[TaxRow, ...]:
    """The tax on what is taxed of each category, in whole minor units, one figure a line or charge.

    Raises ``NoRule`` for a category that the table does not have.
    """
    rows: list[TaxRow] = []
    for category, amounts in nets.items():
        rates = rates_of(table, category)
        taxed = amounts if rounding == "line" else [sum(amounts)]
        rows.extend(_category_rows(category, table[category], rates, taxed, digits))
    return tuple(rows)


def _category_rows(
    category: str,
    components: tuple[TaxComponent, ...],
    rates: TaxRates,
    taxed: Sequence[int],
    digits: int,
) -> Iterator[TaxRow]:
    whole = sum(taxed)
    if not components:
        yield TaxRow(
            category=category,
            name="",
            percent=ZERO,
            base=amount_of(whole, digits),
            amount=amount_of(0, digits),
        )
        return
    sums = [sum(parts) for parts in zip(*(rates.taxes(net) for net in taxed), strict=True)]
    running = whole
    for component, tax in zip(components, sums or [0] * len(components), strict=True):
        yield TaxRow(
            category=category,
            name=component.name,
            percent=component.percent,
            base=amount_of(running if component.on == "running" else whole, digits),
            amount=amount_of(tax, digits),
        )
        running += tax
