"""The demo's people."""

from django.contrib.auth.hashers import make_password

from apps.people.models import ADMIN, CLERK, LEAD, REP, Team, User
from demo.factories import TeamFactory, UserFactory

PASSWORD = "orchard-demo"  # noqa: S105 - the demo's, printed by the start command
#: user name, first name, last name, role, may see margin and ask for goods
PEOPLE = [
    ("ilse", "Ilse", "Brandvold", REP, True),
    ("tomas", "Tomas", "Quell", REP, True),
    ("amara", "Amara", "Osei-Lund", REP, False),
    ("petra", "Petra", "Vashti", LEAD, True),
    ("joren", "Joren", "Makk", CLERK, False),
    ("admin", "Wyn", "Hallory", ADMIN, True),
]


def make_people() -> dict[str, User]:
    """Everybody, by user name."""
    team: Team = TeamFactory(name="Growers' team")
    hashed = make_password(PASSWORD)  # once: hashing is slow on purpose
    return {
        username: UserFactory(
            username=username,
            first_name=first,
            last_name=last,
            role=role,
            team=team,
            may_see_margin=margin,
            may_replenish=margin,
            password=hashed,
        )
        for username, first, last, role, margin in PEOPLE
    }
