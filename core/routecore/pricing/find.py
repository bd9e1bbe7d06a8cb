"""The search for a line's price: typed, the customer's list, what it derives from, the base list.

Within a list, of the entries that hold: those in the line's own unit before converted ones, then
the greatest "from" that the quantity reaches, then the latest valid-from.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from datetime import date
from decimal import Decimal

from routecore.errors import InvalidInput, NotAvailable
from routecore.money import CONTEXT, round_to_step
from routecore.pricing.goods import Item, PriceEntry, PriceList
from routecore.pricing.trail import PassedOver, Step

BASE_LIST = "base"
SIX_DECIMALS = Decimal("0.000001")


@dataclass(frozen=True, slots=True, kw_only=True)
class FoundPrice:
    """A price per ``per`` of ``unit``, its source and the way to it.

    ``next_entry`` is the nearest entry with a greater "from" in the list that gave the price, as
    that list would price it; None for typed prices.
    """

    price: Decimal
    per: Decimal
    unit: str
    source: str
    steps: tuple[Step, ...]
    passed_over: tuple[PassedOver, ...]
    next_entry: PriceEntry | None = None


@dataclass(frozen=True, slots=True)
class _Derivation:
    """A list on the way, with the factors that lie between it and the customer's list."""

    price_list: PriceList
    through: tuple[PriceList, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class PriceBook:
    """The lists that serve one customer, indexed by item, nearest list first.

    Raises ``NotAvailable`` for a list that is not there, ``InvalidInput`` for a circle.
    """

    lists: Mapping[str, PriceList]
    start: str | None
    chain: tuple[_Derivation, ...] = field(init=False)
    _entries: dict[tuple[str, str], list[PriceEntry]] = field(init=False)

    def __post_init__(self) -> None:
        object.__setattr__(self, "chain", tuple(self._walk()))
        index: dict[tuple[str, str], list[PriceEntry]] = {}
        for derivation in self.chain:
            for entry in derivation.price_list.entries:
                index.setdefault((derivation.price_list.id, entry.item), []).append(entry)
        object.__setattr__(self, "_entries", index)

    def _walk(self) -> Iterable[_Derivation]:
        seen: set[str] = set()
        through: tuple[PriceList, ...] = ()
        name = self.start or BASE_LIST
        while name:
            if name in seen:
                raise InvalidInput("circular_list", path="price_lists", facts={"list": name})
            seen.add(name)
            price_list = self._get(name)
            yield _Derivation(price_list, through)
            if price_list.derives_from:
                through = (*through, price_list)
            name = price_list.derives_from or ""
        if BASE_LIST not in seen and BASE_LIST in self.lists:
            yield _Derivation(self.lists[BASE_LIST], ())

    def _get(self, name: str) -> PriceList:
        if name not in self.lists:
            raise NotAvailable("unknown_list", path="price_lists", facts={"list": name})
        return self.lists[name]

    def entries(self, price_list: str, item: str) -> list[PriceEntry]:
        """The entries of one list for one item."""
        return self._entries.get((price_list, item), [])


def find_price(
    book: PriceBook, item: Item, quantity: Decimal, unit: str, *, on: date, currency: str
) -> FoundPrice | tuple[PassedOver, ...]:
    """The price that holds, or all that was passed over where none does.

    ``quantity`` is in ``unit``. Another currency's list does not serve.
    """
    passed: list[PassedOver] = []
    for derivation in book.chain:
        price_list = derivation.price_list
        source = f"price_list:{price_list.id}"
        entries = [e for e in book.entries(price_list.id, item.id) if item.units.knows(e.unit)]
        if price_list.currency != currency:
            if entries:
                passed.append(
                    PassedOver(source=source, reason="other_currency", currency=price_list.currency)
                )
            continue
        holding: list[PriceEntry] = []
        for entry in entries:
            reason = _why_not(entry, item.units.convert(quantity, unit, entry.unit), on)
            if reason:
                passed.append(_passed(source, entry, reason))
            else:
                holding.append(entry)
        if holding:
            best = max(holding, key=lambda e: _rank(e, unit))
            return _found(derivation, best, entries, passed, on)
        if not entries:
            passed.append(PassedOver(source=source, reason="no_entry"))
    return tuple(passed)


def _rank(entry: PriceEntry, unit: str) -> tuple[bool, Decimal, date]:
    return entry.unit == unit, entry.from_quantity, entry.valid_from or date.min


def _why_not(entry: PriceEntry, quantity: Decimal, on: date) -> str:
    if entry.valid_from and on < entry.valid_from:
        return "not_yet_valid"
    if entry.valid_to and on > entry.valid_to:
        return "expired"
    return "below" if quantity < entry.from_quantity else ""


def _passed(source: str, entry: PriceEntry, reason: str) -> PassedOver:
    days = {"not_yet_valid": entry.valid_from, "expired": entry.valid_to}
    return PassedOver(
        source=source,
        reason=reason,
        price=entry.price,
        per=entry.per,
        unit=entry.unit,
        day=days.get(reason),
        from_quantity=entry.from_quantity,
    )


def _found(
    derivation: _Derivation,
    entry: PriceEntry,
    entries: list[PriceEntry],
    passed: list[PassedOver],
    on: date,
) -> FoundPrice:
    source = f"price_list:{derivation.price_list.id}"
    steps = [_step("list_price", source, entry, entry.price)]
    price = entry.price
    for price_list in reversed(derivation.through):
        derived = _derive(price, price_list)
        if derived != price:
            steps.append(_step("derived", f"price_list:{price_list.id}", entry, derived))
        price = derived
    following = [
        e
        for e in entries
        if e.unit == entry.unit
        and e.from_quantity > entry.from_quantity
        and _why_not(e, e.from_quantity, on) == ""
    ]
    ahead = min(
        following,
        key=lambda e: (e.from_quantity, -(e.valid_from or date.min).toordinal()),
        default=None,
    )
    return FoundPrice(
        price=price,
        per=entry.per,
        unit=entry.unit,
        source=source,
        steps=tuple(steps),
        passed_over=tuple(passed),
        next_entry=_priced(ahead, derivation) if ahead else None,
    )


def _step(code: str, source: str, entry: PriceEntry, value: Decimal) -> Step:
    return Step(
        code=code,
        source=source,
        value=value,
        per=entry.per,
        unit=entry.unit,
        from_quantity=entry.from_quantity,
    )


def _derive(price: Decimal, price_list: PriceList) -> Decimal:
    raw = CONTEXT.multiply(price, price_list.factor)
    return round_to_step(raw, price_list.round_to or SIX_DECIMALS).normalize(CONTEXT)


def _priced(entry: PriceEntry, derivation: _Derivation) -> PriceEntry:
    price = entry.price
    for price_list in reversed(derivation.through):
        price = _derive(price, price_list)
    return PriceEntry(
        item=entry.item,
        unit=entry.unit,
        price=price,
        per=entry.per,
        from_quantity=entry.from_quantity,
    )
