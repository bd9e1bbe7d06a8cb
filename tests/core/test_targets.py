"""What is to be won together: by a team's own target, or by its people's."""

from datetime import date
from decimal import Decimal

from hypothesis import given
from hypothesis import strategies as st

from routecore.forecast import Aimed, aimed_by_month

JAN, FEB = date(2027, 1, 1), date(2027, 2, 1)


def aimed(month: date, team: int | None, person: int | None, amount: int) -> Aimed:
    return Aimed(month=month, team=team, person=person, amount=Decimal(amount))


def test_a_teams_own_target_stands_for_its_peoples_in_its_months_alone() -> None:
    rows = [
        aimed(JAN, 1, 7, 40),
        aimed(JAN, 1, 8, 60),
        aimed(FEB, 1, 7, 30),
        aimed(JAN, 1, None, 90),
    ]
    assert aimed_by_month(rows, whole={1}) == {JAN: 90, FEB: 30}


def test_beside_a_part_of_a_team_its_own_target_says_nothing() -> None:
    rows = [aimed(JAN, 1, 7, 40), aimed(JAN, 1, None, 90)]
    assert aimed_by_month(rows, whole=set()) == {JAN: 40}


def test_people_of_no_team_count_beside_teams() -> None:
    rows = [aimed(JAN, None, 5, 10), aimed(JAN, 1, None, 90), aimed(JAN, 2, 9, 7)]
    assert aimed_by_month(rows, whole={1, 2}) == {JAN: 107}


@st.composite
def targets(draw: st.DrawFn) -> list[Aimed]:
    """At most one target of a person, and of a team, in a month; a person is of one team."""
    keys = draw(st.sets(st.tuples(st.sampled_from((JAN, FEB)), st.integers(0, 8)), max_size=16))
    found = []
    for month, key in sorted(keys):
        amount = draw(st.integers(1, 10**6))
        person, team = (None, key - 6) if key > 6 else (key + 1, key % 2 + 1)
        found.append(aimed(month, team, person, amount))
    return found


@given(rows=targets(), whole=st.sets(st.sampled_from((1, 2))))
def test_a_whole_is_the_sum_of_its_teams(rows: list[Aimed], whole: set[int]) -> None:
    together = aimed_by_month(rows, whole=whole)
    apart = [
        aimed_by_month([row for row in rows if row.team == team], whole=whole) for team in (1, 2)
    ]
    months = {month for each in apart for month in each}
    assert together == {month: sum(each.get(month, 0) for each in apart) for month in months}
    assert aimed_by_month(reversed(rows), whole=whole) == together
