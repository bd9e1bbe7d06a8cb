"""Which price a line gets, which rules discount it, and by which steps."""

from routecore.pricing.book import BASE_LIST, PriceBook
from routecore.pricing.find import Asked, FoundPrice, Split, find_price
from routecore.pricing.goods import (
    Agreement,
    Customer,
    CustomerPrice,
    Item,
    PriceEntry,
    PriceList,
    Rate,
)
from routecore.pricing.rules import DiscountRule, Tier
from routecore.pricing.trail import PassedOver, Step

__all__ = [
    "BASE_LIST",
    "Agreement",
    "Asked",
    "Customer",
    "CustomerPrice",
    "DiscountRule",
    "FoundPrice",
    "Item",
    "PassedOver",
    "PriceBook",
    "PriceEntry",
    "PriceList",
    "Rate",
    "Split",
    "Step",
    "Tier",
    "find_price",
]
