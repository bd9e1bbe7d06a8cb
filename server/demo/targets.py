"""What the demo's people are to win: a year, month by month, with the season in it."""

from datetime import date
from decimal import Decimal

from apps.forecast.models import Target
from apps.forecast.queries import months_from, quarter_of
from apps.people.models import User

#: A month's target in thousands, by January to December: trees are planted in winter, nets hung in spring.
SEASON = (30, 40, 55, 60, 45, 30, 25, 25, 35, 45, 45, 35)
#: Each person's part of it, in percent.
PARTS = {"ilse": 100, "tomas": 120, "amara": 60}


def make_targets(today: date) -> None:
    """From this quarter's first month on, fifteen months."""
    people = {row.username: row for row in User.objects.filter(username__in=PARTS)}
    Target.objects.bulk_create(
        Target(owner=people[name], month=month, amount=Decimal(SEASON[month.month - 1] * 10 * part))
        for name, part in PARTS.items()
        for month in months_from(quarter_of(today)[0], 15)
    )
