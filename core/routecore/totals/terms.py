"""What a document says about itself before any line is priced."""

from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from routecore.errors import InvalidInput
from routecore.money import HUNDRED, percent_of, round_amount


@dataclass(frozen=True, slots=True, kw_only=True)
class DocumentDiscount:
    """A discount on the whole, taken on the net: a percent, or an amount."""

    percent: Decimal | None = None
    amount: Decimal | None = None

    def __post_init__(self) -> None:
        if (self.percent is None) == (self.amount is None):
            raise InvalidInput("percent_or_amount", path="document_discount")
        if self.percent is not None and not 0 <= self.percent <= HUNDRED:
            raise InvalidInput(
                "out_of_range", path="document_discount.percent", facts={"value": self.percent}
            )
        if self.amount is not None and self.amount < 0:
            raise InvalidInput(
                "negative", path="document_discount.amount", facts={"value": self.amount}
            )

    def on(self, net: Decimal, currency: str) -> Decimal:
        """What comes off a net, rounded to the minor unit, never more than the net.

        >>> DocumentDiscount(percent=Decimal(3)).on(Decimal("888.25"), "EUR")
        Decimal('26.65')
        """
        off = percent_of(net, self.percent) if self.percent is not None else self.amount
        return min(round_amount(off or Decimal(0), currency), max(net, Decimal(0)))


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

    def __post_init__(self) -> None:
        if self.tax_rounding not in ("document", "line"):
            raise InvalidInput(
                "unknown_choice", path="document.tax_rounding", facts={"value": self.tax_rounding}
            )
        if self.payable_step is not None and self.payable_step <= 0:
            raise InvalidInput(
                "not_positive",
                path="document.payable_rounding",
                facts={"value": self.payable_step},
            )
