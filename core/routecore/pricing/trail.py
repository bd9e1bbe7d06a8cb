"""The price trail: how a price came about, as facts; words are the reader's."""

from dataclasses import dataclass
from datetime import date
from decimal import Decimal


@dataclass(frozen=True, slots=True, kw_only=True)
class Step:
    """One step to the price or the net of a line.

    ``code``: ``typed``, ``agreement``, ``customer_price``, ``list_price``, ``derived``,
    ``converted`` (at ``rate`` of ``day`` from ``currency``), ``rule``, ``line_discount``,
    ``needs_price``. ``value`` is the price after the step, or the amount that it took off.
    """

    code: str
    source: str = ""
    value: Decimal | None = None
    per: Decimal | None = None
    unit: str = ""
    percent: Decimal | None = None
    from_quantity: Decimal | None = None
    rate: Decimal | None = None
    day: date | None = None
    currency: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class PassedOver:
    """A candidate or a rule that did not serve, and why.

    ``reason`` of a price: ``not_yet_valid``, ``expired``, ``below``, ``other_currency`` (no rate),
    ``not_enough`` (of an agreement; ``from_quantity`` is what is left), ``replaced`` (by a typed
    price), ``no_entry``. Of a rule: ``not_yet_valid``, ``expired``, ``below`` (its first tier),
    ``other_currency``, ``not_measurable``, ``net_price``, ``not_greatest``, ``not_exclusive``.
    """

    source: str
    reason: str
    price: Decimal | None = None
    per: Decimal | None = None
    unit: str = ""
    day: date | None = None
    from_quantity: Decimal | None = None
    currency: str = ""
