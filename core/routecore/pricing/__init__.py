"""Which price a line gets, and by which steps."""

from routecore.pricing.find import FoundPrice, PriceBook, find_price
from routecore.pricing.goods import Item, PriceEntry, PriceList
from routecore.pricing.trail import PassedOver, Step

__all__ = [
    "FoundPrice",
    "Item",
    "PassedOver",
    "PriceBook",
    "PriceEntry",
    "PriceList",
    "Step",
    "find_price",
]
