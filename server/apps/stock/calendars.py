"""The working days of a depot and of a buyer's country, by their public holidays (``holidays``)."""

from datetime import date
from functools import lru_cache

from django.conf import settings
import holidays

from routecore.workdays import Workdays, joined

#: How many years ahead holidays are known.
YEARS = 3


@lru_cache(maxsize=64)
def _of(country: str, region: str, year: int) -> Workdays:
    """A country's, from a year on; without holidays where the country or region is not known."""
    years = range(year - 1, year + YEARS)
    country = settings.HOLIDAYS_LIKE.get(country, country)
    try:
        days = holidays.country_holidays(country, subdiv=region or None, years=years)
    except NotImplementedError:
        days = holidays.HolidayBase()
    return Workdays(holidays=frozenset(days))


def workdays(country: str, region: str, today: date) -> Workdays:
    """The working days in a place around a day."""
    return _of(country, region, today.year)


def on_the_way(country: str, region: str, buyer: str, today: date) -> Workdays:
    """The days on which goods travel: both the depot and the buyer's country work."""
    return _both(country, region, buyer, today.year)


@lru_cache(maxsize=256)
def _both(country: str, region: str, buyer: str, year: int) -> Workdays:
    there = [_of(buyer, "", year)] if buyer and buyer != country else []
    return joined([_of(country, region, year), *there])
