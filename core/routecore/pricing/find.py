"""The search for a line's price: agreement, customer price, the customer's list, the base list.

The first candidate that holds wins; each passed-over one stays with its reason. Within a list, of
the entries that hold: those in the line's own unit before converted ones, then the greatest "from"
that the quantity reaches, then the latest valid-from.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import date
from decimal import ROUND_FLOOR, ROUND_HALF_UP, Decimal

from routecore.money import round_to_step
from routecore.pricing.book import Derivation, PriceBook
from routecore.pricing.goods import Agreement, Item, PriceEntry, PriceList, Rate, not_valid
from routecore.pricing.trail import PassedOver, Step

SIX_DECIMALS = Decimal("0.000001")
ONE = Decimal(1)
NO_STEPS: tuple[Step, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class Split:
    """An agreement covers a part of the line: so much of it, and so much not, in the line's unit."""

    agreement: str
    covered: Decimal
    rest: Decimal


@dataclass(frozen=True, slots=True, kw_only=True)
class FoundPrice:
    """A price per ``per`` of ``unit``, its source and the way to it.

    ``next_entry`` is the nearest entry with a greater "from" where the price came from, priced as
    there; None for typed and agreement prices. ``agreement`` is the one that gave the price,
    ``split`` the proposal where one covers the line in part.
    """

    price: Decimal
    per: Decimal
    unit: str
    source: str
    steps: tuple[Step, ...]
    passed_over: tuple[PassedOver, ...]
    discountable: bool = True
    next_entry: PriceEntry | None = None
    agreement: str = ""
    split: Split | None = None


@dataclass(frozen=True, slots=True)
class Asked:
    """What a price is looked for: so much of an item on a day in a currency.

    ``left`` is what remains of agreements after the lines before, in their own units. ``brief`` asks
    for the price alone, without its trail.
    """

    item: Item
    quantity: Decimal
    unit: str
    on: date
    currency: str
    left: Mapping[str, Decimal]
    brief: bool = False

    def quantity_in(self, unit: str) -> Decimal:
        """The quantity in another unit of the item."""
        return self.item.units.convert(self.quantity, self.unit, unit)


def find_price(book: PriceBook, asked: Asked) -> FoundPrice | tuple[PassedOver, ...]:
    """The price that holds, or all that was passed over where none does."""
    passed: list[PassedOver] = []
    split: Split | None = None
    for agreement in book.agreements(asked.item.id):
        found, part = _from_agreement(book, asked, agreement, passed)
        split = split or part
        if found:
            return found
    for customer, rows in book.customer_prices(asked.item.id):
        source = f"customer_price:{customer}"
        for currency in dict.fromkeys(row.currency for row in rows):
            entries = [row.entry for row in rows if row.currency == currency]
            found = _from_entries(book, asked, source, currency, entries, (), passed, split)
            if found:
                return found
    for derivation in book.chain:
        found = _from_list(book, asked, derivation, passed, split)
        if found:
            return found
    return tuple(passed)


def _from_list(
    book: PriceBook,
    asked: Asked,
    derivation: Derivation,
    passed: list[PassedOver],
    split: Split | None,
) -> FoundPrice | None:
    price_list, through = derivation
    source = f"price_list:{price_list.id}"
    entries = book.entries(price_list.id, asked.item.id)
    if not entries:
        passed.append(PassedOver(source=source, reason="no_entry"))
        return None
    return _from_entries(book, asked, source, price_list.currency, entries, through, passed, split)


def _from_entries(
    book: PriceBook,
    asked: Asked,
    source: str,
    currency: str,
    entries: Iterable[PriceEntry],
    through: tuple[PriceList, ...],
    passed: list[PassedOver],
    split: Split | None,
) -> FoundPrice | None:
    rate = None
    if currency != asked.currency:
        rate = book.rate(currency, asked.currency, asked.on)
        if rate is None:
            passed.append(PassedOver(source=source, reason="other_currency", currency=currency))
            return None
    known = [entry for entry in entries if asked.item.units.knows(entry.unit)]
    best: PriceEntry | None = None
    for entry in known:
        reason = not_valid(entry.valid_from, entry.valid_to, asked.on)
        if not reason and asked.quantity_in(entry.unit) < entry.from_quantity:
            reason = "below"
        if reason:
            if not asked.brief:
                passed.append(_passed(source, entry, reason))
        elif best is None or _rank(entry, asked.unit) > _rank(best, asked.unit):
            best = entry
    if best is None:
        return None
    price, steps = best.price, NO_STEPS
    if not asked.brief or through or rate is not None:
        price, steps = _priced(source, best, through, rate)
    ahead = None if asked.brief else _ahead(best, known, asked.on)
    return FoundPrice(
        price=price,
        per=best.per,
        unit=best.unit,
        source=source,
        steps=steps,
        passed_over=tuple(passed),
        discountable=best.discountable,
        next_entry=_as_there(source, ahead, through, rate) if ahead else None,
        split=split,
    )


def _rank(entry: PriceEntry, unit: str) -> tuple[bool, Decimal, date]:
    return entry.unit == unit, entry.from_quantity, entry.valid_from or date.min


def _passed(source: str, entry: PriceEntry, reason: str) -> PassedOver:
    day = {"not_yet_valid": entry.valid_from, "expired": entry.valid_to}.get(reason)
    return PassedOver(
        source=source,
        reason=reason,
        price=entry.price,
        per=entry.per,
        unit=entry.unit,
        day=day,
        from_quantity=entry.from_quantity,
    )


def _ahead(best: PriceEntry, known: list[PriceEntry], on: date) -> PriceEntry | None:
    ahead: PriceEntry | None = None
    for entry in known:
        if entry.unit != best.unit or entry.from_quantity <= best.from_quantity:
            continue
        if not_valid(entry.valid_from, entry.valid_to, on):
            continue
        nearer = ahead is None or entry.from_quantity < ahead.from_quantity
        if nearer or (
            ahead is not None
            and entry.from_quantity == ahead.from_quantity
            and (entry.valid_from or date.min) > (ahead.valid_from or date.min)
        ):
            ahead = entry
    return ahead


def _priced(
    source: str, entry: PriceEntry, through: tuple[PriceList, ...], rate: Rate | None
) -> tuple[Decimal, tuple[Step, ...]]:
    kind = "list_price" if source.startswith("price_list:") else source.partition(":")[0]
    price = entry.price
    steps = [_step(kind, source, entry, price)]
    for price_list in reversed(through):
        derived = derive(price, price_list)
        if derived != price:
            steps.append(_step("derived", f"price_list:{price_list.id}", entry, derived))
        price = derived
    if rate is not None:
        price = converted(price, rate)
        steps.append(
            Step(
                code="converted",
                source=source,
                value=price,
                per=entry.per,
                unit=entry.unit,
                rate=rate.rate,
                day=rate.on,
                currency=rate.currency,
            )
        )
    return price, tuple(steps)


def _as_there(
    source: str, entry: PriceEntry, through: tuple[PriceList, ...], rate: Rate | None
) -> PriceEntry:
    price, _ = _priced(source, entry, through, rate) if through or rate else (entry.price, ())
    return PriceEntry(
        item=entry.item,
        unit=entry.unit,
        price=price,
        per=entry.per,
        from_quantity=entry.from_quantity,
        discountable=entry.discountable,
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


def derive(price: Decimal, price_list: PriceList) -> Decimal:
    """A price as a derived list has it, rounded to the list's own step."""
    step = price_list.round_to or SIX_DECIMALS
    return round_to_step(price * price_list.factor, step).normalize()


def converted(price: Decimal, rate: Rate) -> Decimal:
    """A price in another currency, to six decimals."""
    return (price * rate.rate).quantize(SIX_DECIMALS, ROUND_HALF_UP).normalize()


def _from_agreement(
    book: PriceBook, asked: Asked, agreement: Agreement, passed: list[PassedOver]
) -> tuple[FoundPrice | None, Split | None]:
    entry, source = agreement.entry, f"agreement:{agreement.id}"
    if not asked.item.units.knows(entry.unit):
        return None, None
    reason = not_valid(entry.valid_from, entry.valid_to, asked.on)
    if reason:
        passed.append(_passed(source, entry, reason))
        return None, None
    rate = None
    if agreement.currency != asked.currency:
        rate = book.rate(agreement.currency, asked.currency, asked.on)
        if rate is None:
            passed.append(
                PassedOver(source=source, reason="other_currency", currency=agreement.currency)
            )
            return None, None
    left = asked.left.get(agreement.id, agreement.remaining)
    if asked.quantity_in(entry.unit) > left:
        passed.append(
            PassedOver(
                source=source,
                reason="not_enough",
                price=entry.price,
                per=entry.per,
                unit=entry.unit,
                from_quantity=left,
            )
        )
        return None, _split(asked, agreement, left)
    price, steps = _priced(source, entry, (), rate)
    found = FoundPrice(
        price=price,
        per=entry.per,
        unit=entry.unit,
        source=source,
        steps=steps,
        passed_over=tuple(passed),
        discountable=entry.discountable,
        agreement=agreement.id,
    )
    return found, None


def _split(asked: Asked, agreement: Agreement, left: Decimal) -> Split | None:
    """The covered part in whole packs (or whole units) of the line's unit; None where it is none."""
    units = asked.item.units
    factor = units.factor(asked.unit)
    step = asked.item.pack_multiple or factor
    base = units.convert(left, agreement.entry.unit, units.base)
    covered = (base / step).to_integral_value(ROUND_FLOOR) * step / factor
    if covered <= 0 or covered >= asked.quantity:
        return None
    return Split(agreement=agreement.id, covered=covered, rest=asked.quantity - covered)
