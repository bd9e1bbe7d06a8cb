"""Money: amounts, their currency, and the few places where they are rounded.

Rounding is half away from zero ("commercial"), to the currency's minor unit after ISO 4217.
Whatever decimal context the caller has set, nothing here depends on it: functions pass their own,
or run ``in_own_context``.
"""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from decimal import ROUND_DOWN, ROUND_HALF_UP, Context, Decimal, localcontext
from functools import cache, wraps
from typing import ParamSpec, TypeVar

from routecore.errors import InvalidInput

#: Wide enough for an 18-digit amount times a 12-digit price, divided, without loss.
CONTEXT = Context(prec=50, rounding=ROUND_HALF_UP)

P = ParamSpec("P")
R = TypeVar("R")


def in_own_context(compute: Callable[P, R]) -> Callable[P, R]:
    """A function whose plain ``+ - * /`` are computed in our context, not in the caller's."""

    @wraps(compute)
    def run(*args: P.args, **kwargs: P.kwargs) -> R:
        with localcontext(CONTEXT):
            return compute(*args, **kwargs)

    return run


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

HUNDRED = Decimal(100)
ZERO = Decimal(0)


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
    return Decimal(1).scaleb(-minor_digits(currency))


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
    steps = CONTEXT.divide(value, step).quantize(Decimal(1), ROUND_HALF_UP, CONTEXT)
    return CONTEXT.multiply(steps, step)


def percent_of(value: Decimal, percent: Decimal) -> Decimal:
    """``percent`` % of a value, unrounded."""
    return CONTEXT.divide(CONTEXT.multiply(value, percent), HUNDRED)


@in_own_context
def split_amount(total: Decimal, weights: Sequence[Decimal], currency: str) -> list[Decimal]:
    """Parts of ``total`` in proportion to ``weights``, which add up to it exactly.

    Largest remainder, ties by order. Weights are not negative; where all are zero, the first part
    takes the whole. ``total`` is in whole minor units.

    Source: Hamilton's method (see ``tests/reference/test_apportionment.py``).

    >>> split_amount(Decimal("10.00"), [Decimal(1), Decimal(1), Decimal(1)], "EUR")
    [Decimal('3.34'), Decimal('3.33'), Decimal('3.33')]
    """
    if not weights:
        return []
    if any(weight < 0 for weight in weights):
        raise InvalidInput("negative_weight")
    unit = minor_unit(currency)
    whole = sum_of(weights)
    if not whole:
        return [total, *[ZERO.quantize(unit)] * (len(weights) - 1)]
    exact = [CONTEXT.divide(CONTEXT.multiply(total, weight), whole) for weight in weights]
    parts = [share.quantize(unit, ROUND_DOWN, CONTEXT) for share in exact]
    missing = int(CONTEXT.divide(CONTEXT.subtract(total, sum_of(parts)), unit))
    step = unit if missing > 0 else -unit
    by_remainder = sorted(range(len(parts)), key=lambda n: (-abs(exact[n] - parts[n]), n))
    for n in by_remainder[: abs(missing)]:
        parts[n] += step
    return parts


def sum_of(values: Iterable[Decimal]) -> Decimal:
    """The exact sum."""
    total = ZERO
    for value in values:
        total = CONTEXT.add(total, value)
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
        return Money(CONTEXT.add(self.amount, other.amount), self.currency)

    def converted(self, rate: Decimal, currency: str) -> "Money":
        """This money in another currency at ``rate`` (units of it per unit of ours), rounded.

        >>> Money(Decimal("100.00"), "GBP").converted(Decimal("1.1500"), "EUR")
        Money(amount=Decimal('115.00'), currency='EUR')
        """
        if rate <= 0:
            raise InvalidInput("not_positive", path="rate", facts={"value": rate})
        return Money(round_amount(CONTEXT.multiply(self.amount, rate), currency), currency)
