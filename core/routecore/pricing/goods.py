"""Items and the lists that price them."""

from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from routecore.errors import InvalidInput
from routecore.quantity import Units


@dataclass(frozen=True, slots=True, kw_only=True)
class Item:
    """What is sold. Cost, minimum and pack multiple are per, or in, the base unit."""

    id: str
    units: Units
    tax_category: str = "standard"
    group: str = ""
    cost: Decimal | None = None
    weight_kg: Decimal | None = None
    minimum_quantity: Decimal | None = None
    pack_multiple: Decimal | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class PriceEntry:
    """``price`` per ``per`` of ``unit``, from a quantity (inclusive, in ``unit``) upwards.

    Both dates are inclusive; None is open. Prices keep up to six decimals.
    """

    item: str
    unit: str
    price: Decimal
    per: Decimal = Decimal(1)
    from_quantity: Decimal = Decimal(0)
    valid_from: date | None = None
    valid_to: date | None = None

    def __post_init__(self) -> None:
        if self.per <= 0:
            raise InvalidInput("not_positive", path="per", facts={"value": self.per})
        if self.price < 0:
            raise InvalidInput("negative", path="price", facts={"value": self.price})
        if self.valid_from and self.valid_to and self.valid_to < self.valid_from:
            raise InvalidInput("ends_before_start", path="valid_to")


@dataclass(frozen=True, slots=True, kw_only=True)
class PriceList:
    """Entries in one currency; where it is silent it may derive from another list.

    A derived price is the other list's price times ``factor``, rounded to ``round_to``.
    """

    id: str
    currency: str
    entries: tuple[PriceEntry, ...] = ()
    derives_from: str | None = None
    factor: Decimal = Decimal(1)
    round_to: Decimal | None = None
