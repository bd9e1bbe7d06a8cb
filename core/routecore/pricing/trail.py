"""The price trail: how a price came about, as facts; words are the reader's."""

from dataclasses import dataclass
from datetime import date
from decimal import Decimal


@dataclass(frozen=True, slots=True, kw_only=True)
class Step:
    """One step to the price or the net of a line.

    ``code``: ``typed``, ``list_price``, ``derived``, ``line_discount``, ``needs_price``.
    ``value`` is the price (or the amount taken off) after the step; ``percent`` where it applies.
    """

    code: str
    source: str = ""
    value: Decimal | None = None
    per: Decimal | None = None
    unit: str = ""
    percent: Decimal | None = None
    from_quantity: Decimal | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class PassedOver:
    """A candidate that did not serve, and why.

    ``reason``: ``not_yet_valid``, ``expired``, ``below``, ``other_currency``, ``replaced`` (by a
    typed price), ``no_entry``.
    """

    source: str
    reason: str
    price: Decimal | None = None
    per: Decimal | None = None
    unit: str = ""
    day: date | None = None
    from_quantity: Decimal | None = None
    currency: str = ""
