"""What some of the demo's customers buy again and again, and when: their regulars.

Days are counted back from today, so that the same is due, late, stopped or in season whenever the demo
is made.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, timedelta
from random import Random

#: How far back habits go, in days.
SPAN = 900
#: Purchases so few days apart come in one order.
TOGETHER = 6
JITTER = 3


@dataclass(frozen=True, slots=True)
class Steady:
    """An item bought every so many days, about so much, last so many days ago."""

    item: str
    every: int
    about: int
    last: int

    def days(self, today: date, random: Random) -> Iterator[date]:
        """The days of purchase, newest first; only the last is exact."""
        back = self.last
        while back < SPAN:
            yield today - timedelta(days=back)
            back += self.every + random.randint(-JITTER, JITTER)


@dataclass(frozen=True, slots=True)
class Seasonal:
    """An item bought on some days of each year (month, day), about so much."""

    item: str
    on: tuple[tuple[int, int], ...]
    about: int

    def days(self, today: date, random: Random) -> Iterator[date]:
        """The days of purchase that are over."""
        for year in range(today.year - 2, today.year + 1):
            for month, day in self.on:
                found = date(year, month, day) + timedelta(days=random.randint(0, JITTER))
                if found < today - timedelta(days=JITTER):
                    yield found


HABITS: dict[str, tuple[Steady | Seasonal, ...]] = {
    "Stonebeck Farm": (
        Steady("POS-200", 49, 150, 51),
        Steady("WIR-025", 63, 12, 49),
        Steady("DRI-016", 35, 2400, 58),
        Steady("TIE-100", 84, 8, 46),
        Steady("SUB-BAR", 42, 4, 251),
        Seasonal("NET-730", ((4, 9), (5, 14)), 20),
        Seasonal("FRO-420", ((1, 28), (3, 3)), 480),
    ),
    "Saltmarsh Vineyards": (
        Steady("WIR-031", 42, 30, 40),
        Steady("POS-250", 56, 240, 62),
        Steady("FIX-TEN", 70, 50, 108),
        Seasonal("NET-BIR", ((7, 20), (8, 11)), 12),
    ),
    "Tarn & Daughters": (
        Steady("BIN-CRA", 60, 100, 58),
        Steady("GLV-09", 45, 24, 71),
        Seasonal("HTR-06", ((2, 6), (3, 10)), 4),
    ),
}

#: What is bought of which item in one order.
Basket = dict[str, int]


def orders_of(name: str, today: date, random: Random) -> list[tuple[date, Basket]]:
    """The days on which a customer buys its regulars, oldest first, and what then."""
    bought = sorted(
        (day, habit.item, max(1, round(habit.about * random.choice((0.8, 1, 1, 1, 1.2)))))
        for habit in HABITS.get(name, ())
        for day in habit.days(today, random)
    )
    orders: list[tuple[date, Basket]] = []
    for day, item, quantity in bought:
        if orders and (day - orders[-1][0]).days < TOGETHER and item not in orders[-1][1]:
            orders[-1][1][item] = quantity
        else:
            orders.append((day, {item: quantity}))
    return orders
