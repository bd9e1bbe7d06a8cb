"""Which price a line gets, which rules discount it, and by which steps."""

from routecore.pricing.book import BASE_LIST, PriceBook
from routecore.pricing.find import Found, ItemPrices, Split, find_price
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
from routecore.pricing.shelf import Offer
from routecore.pricing.touch import Touch
from routecore.pricing.trail import PassedOver, Step

__all__ = [
    "BASE_LIST",
    "Agreement",
    "Customer",
    "CustomerPrice",
    "DiscountRule",
    "Found",
    "Item",
    "ItemPrices",
    "Offer",
    "PassedOver",
    "PriceBook",
    "PriceEntry",
    "PriceList",
    "Rate",
    "Split",
    "Step",
    "Tier",
    "Touch",
    "find_price",
]
