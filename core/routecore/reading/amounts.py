"""How much of an item is meant: its unit, its packs, sizes that say how many, and what of it is in doubt."""

from collections.abc import Iterator, Sequence
from dataclasses import replace
from decimal import Decimal

from routecore.reading.counting import COUNTED
from routecore.reading.found import Quantity
from routecore.reading.goods import Candidate, Good, Goods
from routecore.reading.measures import SOLD, Measure
from routecore.reading.mentions import Mention
from routecore.reading.sentences import Clause


def joined(mentions: Sequence[Mention], goods: Goods) -> Iterator[Mention]:
    """Mentions, where "2 pallets (120 posts)" is one of them."""
    n = 0
    while n < len(mentions):
        one = mentions[n]
        two = mentions[n + 1] if n + 1 < len(mentions) else None
        if two and not one.cluster and one.quantity and _same_amount(one.quantity, two, goods):
            yield Mention(one.quantity, two.cluster, two.strange)
            n += 2
            continue
        yield one
        n += 1


def _same_amount(first: Quantity, second: Mention, goods: Goods) -> bool:
    """Whether both quantities are the same number of the likeliest item."""
    cluster, other = second.cluster, second.quantity
    if cluster is None or other is None or not first.unit:
        return False
    found = goods.like(cluster.named(first.unit)) if cluster.stems else []
    key = cluster.item if cluster.item is not None else found[0].key if found else None
    if key is None:
        return False
    good = goods.known[key].good
    one, two = (_factor(good, each.unit or good.base) for each in (first, other))
    return bool(one and two) and first.values[0] * (one or 0) == other.values[0] * (two or 0)


def _factor(good: Good, unit: str) -> Decimal | None:
    return Decimal(1) if unit == good.base else good.units.get(unit)


def with_sizes(
    quantity: Quantity | None, best: Candidate, good: Good
) -> tuple[Quantity | None, list[Measure]]:
    """The quantity, where a size that is not the item's own says it; and the sizes that stay without a meaning."""
    left = list(best.left)
    if quantity is None:
        if len(left) == 2 and _is_pack(good, left[1]):
            many, pack = left
            return Quantity(many.written, _is_pack(good, pack), many.first, many.after), []
        for size in left:
            unit = SOLD.get(size.kind, ("", 0))[0]
            whole = (
                size.word[:1] in ("m", "l") and size.word not in ("mm",)
            ) or size.word.startswith("k")
            if unit and good.has_unit(unit) and whole:
                rest = [other for other in left if other is not size]
                return Quantity(size.written, unit, size.first, size.after), rest
        return None, left
    rest = [size for size in left if not _is_pack(good, size, quantity.unit)]
    if quantity and not quantity.unit and len(rest) < len(left):
        pack = next(size for size in left if _is_pack(good, size))
        quantity = replace(quantity, unit=_is_pack(good, pack))
    return quantity, rest


def _is_pack(good: Good, size: Measure, unit: str = "") -> str:
    """The unit that holds so much of the item: "3 rolls of 100 m"; nothing where none does."""
    base = SOLD.get(size.kind, ("", 0))[0]
    if base != good.base:
        return ""
    for code, factor in good.units.items():
        if factor in size.written and unit in ("", code):
            return code
    return ""


def quantity_doubts(clause: Clause, mention: Mention, quantity: Quantity | None) -> Iterator[str]:
    """What is in doubt of a number."""
    if (
        quantity is None
        or len(quantity.values) > 1
        or quantity.about
        or mention.article
        or clause.unsure
        or clause.each
    ):
        yield "quantity"


def unit_of(quantity: Quantity | None, good: Good) -> str:
    """The item's unit that is meant; nothing where the one that was named is none of its own, or none was and a
    number alone does not count it."""
    if quantity is None:
        return ""
    if quantity.unit:
        return quantity.unit if good.has_unit(quantity.unit) else ""
    return good.base if good.base in COUNTED else ""
