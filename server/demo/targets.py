"""What the demo's people are to win: a year, month by month, with the season in it."""

from datetime import date
from decimal import Decimal

from apps.catalogue.models import ItemGroup
from apps.forecast.models import Target
from apps.people.models import User
from routecore.dates import months_from, quarter_of

#: A month's target in thousands, by January to December: trees are planted in winter, nets hung in spring.
SEASON = (30, 40, 55, 60, 45, 30, 25, 25, 35, 45, 45, 35)
#: Each person's part of it, in percent.
PARTS = {"ilse": 100, "tomas": 120, "amara": 60}
OF_TEAM = 270
#: What the team is to win with items of a group, in percent of the same.
GROUPS = {"posts": 70, "wire": 50, "netting": 60, "drip": 40}


def make_targets(today: date) -> None:
    """From this quarter's first month on, fifteen months; the team's own a little below its people's together."""
    people = {row.username: row for row in User.objects.filter(username__in=PARTS)}
    groups = {row.code: row for row in ItemGroup.objects.filter(code__in=GROUPS)}
    team = people["ilse"].team
    aims: list[tuple[dict[str, object], int]] = [({"team": team}, OF_TEAM)]
    aims += [({"owner": people[name]}, part) for name, part in PARTS.items()]
    aims += [({"team": team, "group": groups[code]}, part) for code, part in GROUPS.items()]
    Target.objects.bulk_create(
        Target(**of, month=month, amount=Decimal(SEASON[month.month - 1] * 10 * part))
        for of, part in aims
        for month in months_from(quarter_of(today)[0], 15)
    )
