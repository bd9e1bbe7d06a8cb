"""What a document says about itself before any line is priced."""

from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from routecore.errors import InvalidInput
from routecore.money import HUNDRED, ZERO, percent_of, round_amount


def _percent_or_amount(percent: Decimal | None, amount: Decimal | None) -> None:
    if (percent is None) == (amount is None):
        raise InvalidInput("percent_or_amount")
    if percent is not None and not 0 <= percent <= HUNDRED:
        raise InvalidInput("out_of_range", path="percent", facts={"value": percent})
    if amount is not None and amount < 0:
        raise InvalidInput("negative", path="amount", facts={"value": amount})


@dataclass(frozen=True, slots=True, kw_only=True)
class DocumentDiscount:
    """A discount on the whole, a percent or an amount, taken ``on`` the ``net`` or the ``gross``."""

    percent: Decimal | None = None
    amount: Decimal | None = None
    on: str = "net"

    def __post_init__(self) -> None:
        _percent_or_amount(self.percent, self.amount)
        if self.on not in ("net", "gross"):
            raise InvalidInput("unknown_choice", path="on", facts={"value": self.on})

    def off(self, whole: Decimal, currency: str) -> Decimal:
        """What comes off a net (or a gross), rounded to the minor unit, never more than it.

        >>> DocumentDiscount(percent=Decimal(3)).off(Decimal("888.25"), "EUR")
        Decimal('26.65')
        """
        taken = percent_of(whole, self.percent) if self.percent is not None else self.amount
        return min(round_amount(taken or ZERO, currency), max(whole, ZERO))


@dataclass(frozen=True, slots=True, kw_only=True)
class Charge:
    """Freight, packing and the like: an amount, or a percent of the lines' sum, with its own tax."""

    name: str
    percent: Decimal | None = None
    amount: Decimal | None = None
    tax_category: str = "standard"

    def __post_init__(self) -> None:
        _percent_or_amount(self.percent, self.amount)

    def on(self, lines_net: Decimal, currency: str) -> Decimal:
        """The charge in whole minor units."""
        if self.percent is not None:
            return round_amount(percent_of(lines_net, self.percent), currency)
        return round_amount(self.amount or ZERO, currency)


@dataclass(frozen=True, slots=True, kw_only=True)
class DocumentTerms:
    """Date, currency and the document-wide settings.

    ``payable_step`` is the increment the payable is rounded to (None: the minor unit);
    ``tax_rounding`` is ``document`` or ``line``.
    """

    on: date
    currency: str
    payable_step: Decimal | None = None
    tax_rounding: str = "document"
    discount: DocumentDiscount | None = None
    charges: tuple[Charge, ...] = ()

    def __post_init__(self) -> None:
        if self.tax_rounding not in ("document", "line"):
            raise InvalidInput(
                "unknown_choice", path="tax_rounding", facts={"value": self.tax_rounding}
            )
        if self.payable_step is not None and self.payable_step <= 0:
            raise InvalidInput(
                "not_positive",
                path="payable_rounding",
                facts={"value": self.payable_step},
            )
