"""What deals are about: each deal's amounts shared out over the groups of its items, adding up to the cent."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from decimal import Decimal

from routecore.forecast.weighted import Cell
from routecore.money import ZERO, in_own_context, split_amount

#: The group of what is not said: deals without lines.
UNSAID = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class DealGoods:
    """A deal: its amount, its weighted amount, and the net of its lines by item group, in any currency."""

    amount: Decimal
    weighted: Decimal
    nets: Mapping[str, Decimal]


@in_own_context
def shares_of(deal: DealGoods, currency: str) -> dict[str, Cell]:
    """Its parts by group, in the order of the groups' keys: shared as the lines' nets are, the largest remainders first.

    Discounts and charges of the whole are shared with them. Lines that cost nothing, or less, take no part.

    >>> {k: (c.amount, c.weighted) for k, c in shares_of(DealGoods(amount=Decimal(100), weighted=Decimal(50),
    ...     nets={"wire": Decimal(1), "posts": Decimal(2)}), "EUR").items()}
    {'posts': (Decimal('66.67'), Decimal('33.33')), 'wire': (Decimal('33.33'), Decimal('16.67'))}
    """
    groups = sorted(key for key, net in deal.nets.items() if net > 0)
    if len(groups) < 2:
        return {groups[0] if groups else UNSAID: Cell(1, deal.amount, deal.weighted)}
    nets = [deal.nets[key] for key in groups]
    amounts = split_amount(deal.amount, nets, currency)
    weights = split_amount(deal.weighted, nets, currency)
    return {
        key: Cell(1, amount, weight)
        for key, amount, weight in zip(groups, amounts, weights, strict=True)
    }


@in_own_context
def by_goods(shares: Iterable[Mapping[str, Cell]]) -> dict[str, Cell]:
    """What the groups come to; a deal counts once in each of its groups."""
    found: dict[str, Cell] = {}
    for deal in shares:
        for key, cell in deal.items():
            found[key] = found.get(key, Cell(0, ZERO, ZERO)).joined(cell)
    return found
