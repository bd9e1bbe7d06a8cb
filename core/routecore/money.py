"""Money: amounts, their currency, and the few places where they are rounded.

Rounding is half away from zero ("commercial"), to the currency's minor unit after ISO 4217.
Whatever decimal context the caller has set, nothing here depends on it: see ``routecore.exact``.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from decimal import ROUND_HALF_UP, Decimal
from functools import cache

from routecore.errors import InvalidInput
from routecore.exact import (
    CONTEXT,
    EXACT,
    HUNDRED,
    ONE,
    ZERO,
    amount_of,
    in_own_context,
    nearest,
    units_of,
)

__all__ = [
    "CONTEXT",
    "HUNDRED",
    "ONE",
    "ZERO",
    "Money",
    "in_own_context",
    "minor_digits",
    "minor_unit",
    "percent_of",
    "round_amount",
    "round_to_step",
    "split_amount",
    "split_units",
    "sum_of",
]

#: The currencies in use by the decimals of their minor unit (ISO 4217, list of 2026-01-01).
_CODES = {
    0: ("BIF CLP DJF GNF ISK JPY KMF KRW PYG RWF UGX UYI VND VUV XAF XOF XPF"),
    2: (
        "AED AFN ALL AMD AOA ARS AUD AWG AZN BAM BBD BDT BMD BND BOB BOV BRL BSD BTN BWP BYN BZD "
        "CAD CDF CHE CHF CHW CNY COP COU CRC CUP CVE CZK DKK DOP DZD EGP ERN ETB EUR FJD FKP GBP "
        "GEL GHS GIP GMD GTQ GYD HKD HNL HTG HUF IDR ILS INR IRR JMD KES KGS KHR KPW KYD KZT LAK "
        "LBP LKR LRD LSL MAD MDL MGA MKD MMK MNT MOP MRU MUR MVR MWK MXN MXV MYR MZN NAD NGN NIO "
        "NOK NPR NZD PAB PEN PGK PHP PKR PLN QAR RON RSD RUB SAR SBD SCR SDG SEK SGD SHP SLE SOS "
        "SRD SSP STN SVC SYP SZL THB TJS TMT TOP TRY TTD TWD TZS UAH USD USN UYU UZS VED VES WST "
        "XAD XCD XCG YER ZAR ZMW ZWG"
    ),
    3: ("BHD IQD JOD KWD LYD OMR TND"),
    4: ("CLF UYW"),
}
_MINOR_DIGITS = {code: digits for digits, codes in _CODES.items() for code in codes.split()}


@cache
def minor_digits(currency: str) -> int:
    """The number of decimals of an amount in this currency; raises ``unknown_currency``.

    Source: ISO 4217.

    >>> minor_digits("EUR"), minor_digits("JPY"), minor_digits("KWD")
    (2, 0, 3)
    """
    digits = _MINOR_DIGITS.get(currency)
    if digits is None:
        raise InvalidInput("unknown_currency", path="currency", facts={"value": currency})
    return digits


@cache
def minor_unit(currency: str) -> Decimal:
    """The smallest amount in this currency.

    >>> minor_unit("EUR")
    Decimal('0.01')
    """
    return ONE.scaleb(-minor_digits(currency), EXACT)


def round_amount(value: Decimal, currency: str) -> Decimal:
    """The amount in whole minor units, half away from zero.

    >>> round_amount(Decimal("26.6475"), "EUR"), round_amount(Decimal("-0.125"), "EUR")
    (Decimal('26.65'), Decimal('-0.13'))
    """
    return value.quantize(minor_unit(currency), ROUND_HALF_UP, CONTEXT)


def round_to_step(value: Decimal, step: Decimal) -> Decimal:
    """The nearest multiple of ``step``, half away from zero.

    >>> round_to_step(Decimal("1033.92"), Decimal("0.05"))
    Decimal('1033.90')
    """
    if step <= 0:
        raise InvalidInput("not_positive", facts={"value": step})
    return EXACT.multiply(nearest(value, step, ONE), step)


def percent_of(value: Decimal, percent: Decimal) -> Decimal:
    """``percent`` % of a value, exactly."""
    return EXACT.multiply(value, percent).scaleb(-2, EXACT)


def split_units(total: int, weights: Sequence[int]) -> list[int]:
    """Whole parts of ``total`` in proportion to ``weights``, which add up to it exactly.

    Largest remainder, ties by order. Weights are not negative; where all are zero, the first part
    takes the whole. The work is one sort.

    Source: Hamilton's method (see ``tests/reference/test_apportionment.py``).

    >>> split_units(100, [100, 1000, 400])
    [7, 67, 26]
    """
    whole = sum(weights)
    if not whole:
        return [total, *[0] * (len(weights) - 1)] if weights else []
    size, sign = (total, 1) if total >= 0 else (-total, -1)
    parts = [size * weight // whole for weight in weights]
    missing = size - sum(parts)
    if missing:
        left = [-(size * weight % whole) for weight in weights]
        for n in sorted(range(len(parts)), key=left.__getitem__)[:missing]:
            parts[n] += 1
    return parts if sign > 0 else [-part for part in parts]


@in_own_context
def split_amount(total: Decimal, weights: Sequence[Decimal], currency: str) -> list[Decimal]:
    """Parts of ``total`` in proportion to ``weights``, which add up to it exactly.

    As ``split_units``; ``total`` is in whole minor units, weights may have any decimals.

    >>> split_amount(Decimal("10.00"), [Decimal(1), Decimal(1), Decimal(1)], "EUR")
    [Decimal('3.34'), Decimal('3.33'), Decimal('3.33')]
    """
    if any(weight < 0 for weight in weights):
        raise InvalidInput("negative_weight")
    digits = minor_digits(currency)
    finest = max((-int(w.as_tuple().exponent) for w in weights), default=0)
    whole = [int(weight.scaleb(max(finest, 0))) for weight in weights]
    return [amount_of(part, digits) for part in split_units(units_of(total, digits), whole)]


def sum_of(values: Iterable[Decimal]) -> Decimal:
    """The exact sum."""
    total = ZERO
    for value in values:
        total = EXACT.add(total, value)
    return total


@dataclass(frozen=True, slots=True)
class Money:
    """An amount that knows its currency; two currencies do not add.

    >>> Money(Decimal("2.50"), "EUR") + Money(Decimal("1"), "EUR")
    Money(amount=Decimal('3.50'), currency='EUR')
    """

    amount: Decimal
    currency: str

    def __post_init__(self) -> None:
        if not isinstance(self.amount, Decimal):
            raise InvalidInput("not_decimal", path="amount", facts={"value": self.amount})
        if not self.amount.is_finite():
            raise InvalidInput("not_finite", path="amount", facts={"value": self.amount})
        minor_digits(self.currency)

    def __add__(self, other: "Money") -> "Money":
        if self.currency != other.currency:
            raise InvalidInput(
                "currencies_mixed", facts={"one": self.currency, "other": other.currency}
            )
        return Money(EXACT.add(self.amount, other.amount), self.currency)

    def converted(self, rate: Decimal, currency: str) -> "Money":
        """This money in another currency at ``rate`` (units of it per unit of ours), rounded.

        >>> Money(Decimal("100.00"), "GBP").converted(Decimal("1.1500"), "EUR")
        Money(amount=Decimal('115.00'), currency='EUR')
        """
        if rate <= 0:
            raise InvalidInput("not_positive", path="rate", facts={"value": rate})
        return Money(round_amount(EXACT.multiply(self.amount, rate), currency), currency)

    def converted_back(self, rate: Decimal, currency: str) -> "Money":
        """This money in a currency of which one unit is worth ``rate`` of ours, rounded once.

        >>> Money(Decimal("115.00"), "EUR").converted_back(Decimal("1.1500"), "GBP")
        Money(amount=Decimal('100.00'), currency='GBP')
        """
        if rate <= 0:
            raise InvalidInput("not_positive", path="rate", facts={"value": rate})
        return Money(nearest(self.amount, rate, minor_unit(currency)), currency)
