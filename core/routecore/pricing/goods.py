"""Items, and what gives them a price: lists, prices for a customer, framework agreements."""

from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from routecore.errors import InvalidInput
from routecore.exact import ONE, ZERO
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
class Customer:
    """Who buys; ``parents`` nearest first. Without a ``price_list`` the base list serves."""

    id: str = ""
    parents: tuple[str, ...] = ()
    tier: str = ""
    price_list: str | None = None

    @property
    def family(self) -> tuple[str, ...]:
        """The customer and its parents, nearest first."""
        return (self.id, *self.parents) if self.id else self.parents


@dataclass(frozen=True, slots=True, kw_only=True)
class PriceEntry:
    """``price`` per ``per`` of ``unit``, from a quantity (inclusive, in ``unit``) upwards.

    Both dates are inclusive; None is open. Prices keep up to six decimals. Rules leave a price
    alone that is not ``discountable``.
    """

    item: str
    unit: str
    price: Decimal
    per: Decimal = ONE
    from_quantity: Decimal = ZERO
    valid_from: date | None = None
    valid_to: date | None = None
    discountable: bool = True

    def __post_init__(self) -> None:
        if self.per <= 0:
            raise InvalidInput("not_positive", path="per", facts={"value": self.per})
        if self.price < 0:
            raise InvalidInput("negative", path="price", facts={"value": self.price})
        check_validity(self.valid_from, self.valid_to)


def check_validity(valid_from: date | None, valid_to: date | None) -> None:
    """Refuse a validity that ends before it starts."""
    if valid_from and valid_to and valid_to < valid_from:
        raise InvalidInput("ends_before_start", path="valid_to")


def not_valid(valid_from: date | None, valid_to: date | None, on: date) -> str:
    """Why something does not hold on a day: ``not_yet_valid``, ``expired``, or nothing."""
    if valid_from is not None and on < valid_from:
        return "not_yet_valid"
    return "expired" if valid_to is not None and on > valid_to else ""


@dataclass(frozen=True, slots=True, kw_only=True)
class PriceList:
    """Entries in one currency; where it is silent it may derive from another list.

    A derived price is the other list's price times ``factor``, rounded to ``round_to``.
    """

    id: str
    currency: str
    entries: tuple[PriceEntry, ...] = ()
    derives_from: str | None = None
    factor: Decimal = ONE
    round_to: Decimal | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class CustomerPrice:
    """A price agreed with one customer (or a parent, for its members)."""

    customer: str
    currency: str
    entry: PriceEntry


@dataclass(frozen=True, slots=True, kw_only=True)
class Agreement:
    """A framework agreement: a price for a quantity that is called off over time.

    ``remaining`` is what is left of it, in the entry's unit, less what was ``called_off`` since, in the
    item's base units: thirds of a box add up there. The entry's "from" is the least that is called
    off at once.
    """

    id: str
    customer: str
    currency: str
    remaining: Decimal
    entry: PriceEntry
    called_off: Decimal = ZERO

    def __post_init__(self) -> None:
        for name, value in (("remaining", self.remaining), ("called_off", self.called_off)):
            if value < 0:
                raise InvalidInput("negative", path=name, facts={"value": value})


@dataclass(frozen=True, slots=True, kw_only=True)
class Rate:
    """``rate`` units of ``to`` for one ``currency``, as of a day."""

    currency: str
    to: str
    rate: Decimal
    on: date

    def __post_init__(self) -> None:
        if self.rate <= 0:
            raise InvalidInput("not_positive", path="rate", facts={"value": self.rate})
