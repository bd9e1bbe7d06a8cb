"""What may be won, as a range, against targets that the lead sets."""

from collections.abc import Callable
from datetime import date, timedelta
from decimal import Decimal
from typing import Any

from django.db import IntegrityError, transaction
from django.utils import timezone
import pytest

from apps.deals.models import Deal
from apps.forecast.models import Target
from apps.journal.models import Change
from demo.factories import DealFactory
from routecore.dates import months_from, quarter_of
from routecore.forecast import Chance, spread_of
from tests.server.conftest import Caller, World

D = Decimal


@pytest.fixture
def as_petra(world: World) -> Caller:
    return world.call(world.petra)


def month_after(day: date, many: int = 1) -> date:
    """The first day of the month so many after this one's."""
    return months_from(day, many + 1)[-1]


def deal(world: World, amount: int, percent: int, on: date, **more: Any) -> Deal:
    found: Deal = DealFactory(
        title=f"{amount}",
        customer=world.customer,
        estimate=D(amount),
        decision_on=on,
        own_probability_percent=D(percent),
        probability_reason="as told",
        **more,
    )
    return found


def aim(owner: int, month: date, amount: str | None, version: int = 0) -> dict[str, Any]:
    return {
        "owner_id": owner,
        "month": month.isoformat(),
        "amount": amount,
        "version": version,
    }


def period(caller: Caller, first: date, *, quarter: bool = False, **filters: Any) -> Any:
    """One of the periods that are told."""
    rows = caller("get", "forecast/outlook", **filters)["periods"]
    return next(row for row in rows if (row["first"], row["quarter"]) == (str(first), quarter))


def test_a_month_is_told_as_a_range_with_the_chance_of_its_target(
    world: World, as_ilse: Caller, as_petra: Caller
) -> None:
    """Of 10,000/25,000/40,000/15,000 at 1/2, 1/4, 1/10, 9/10: 40,000 or more with 121 in 400."""
    month = month_after(world.today)
    Deal.objects.all().delete()
    for amount, percent in ((10000, 50), (25000, 25), (40000, 10), (15000, 90)):
        deal(world, amount, percent, month + timedelta(days=4))
    as_petra("put", "targets", {"rows": [aim(world.ilse.pk, month, "40000")]})
    told = period(as_ilse, month)
    assert (told["count"], told["weighted"], told["won"]) == (4, "28750.00", "0.00")
    assert (told["target"], told["chance"]) == ("40000.00", 0.3025)
    assert (told["low"], told["middle"], told["high"]) == ("15000.00", "25000.00", "50000.00")


def test_what_was_won_this_month_is_there_already(
    world: World, as_ilse: Caller, as_petra: Caller
) -> None:
    first = world.today.replace(day=1)
    Deal.objects.all().delete()
    won = deal(world, 8000, 100, world.today)
    as_ilse("patch", f"deals/{won.pk}", {"version": 1, "stage": "won"})
    deal(world, 4000, 50, world.today)
    as_petra("put", "targets", {"rows": [aim(world.ilse.pk, first, "12000")]})
    for quarter, begins in ((False, first), (True, quarter_of(world.today)[0])):
        told = period(as_ilse, begins, quarter=quarter)
        assert (told["won"], told["low"], told["high"]) == ("8000.00", "8000.00", "12000.00")
        assert (told["target"], told["chance"]) == ("12000.00", 0.5)
    listed = as_ilse("get", "deals", state="won", month=f"{first:%Y-%m}")
    assert (listed["count"], listed["sums"]["amount"]) == (1, "8000.00")
    # What was won before is of its own month.
    Deal.objects.filter(pk=won.pk).update(closed_at=timezone.now() - timedelta(days=120))
    assert period(as_ilse, first)["won"] == "0.00"
    assert as_ilse("get", "deals", state="won", month=f"{first:%Y-%m}")["count"] == 0


def test_a_deal_whose_day_has_gone_by_is_in_no_month(world: World, as_ilse: Caller) -> None:
    Deal.objects.all().delete()
    deal(world, 4000, 50, world.today - timedelta(days=1))
    rows = as_ilse("get", "forecast/outlook")["periods"]
    assert [row["count"] for row in rows] == [0] * 8


def test_the_quarter_is_its_months(world: World, as_ilse: Caller) -> None:
    Deal.objects.all().delete()
    after = quarter_of(quarter_of(world.today)[1] + timedelta(days=1))[0]
    for n, month in enumerate(months_from(after, 3), start=1):
        deal(world, 1000 * n, 40, month + timedelta(days=9))
    told = period(as_ilse, after, quarter=True)
    months = [period(as_ilse, month) for month in months_from(after, 3) if month in known(as_ilse)]
    assert told["count"] == 3
    assert D(told["weighted"]) >= sum(D(row["weighted"]) for row in months)
    truth = spread_of([Chance(amount=D(1000 * n), probability_percent=D(40)) for n in (1, 2, 3)])
    assert D(told["high"]) == truth.quantile(0.9)


def known(caller: Caller) -> set[date]:
    """The months that are told by themselves."""
    rows = caller("get", "forecast/outlook")["periods"]
    return {date.fromisoformat(row["first"]) for row in rows if not row["quarter"]}


def test_a_season_in_common_widens_the_range(world: World, as_ilse: Caller) -> None:
    month = month_after(world.today)
    for _ in range(20):
        deal(world, 1000, 50, month)
    plain, shared = period(as_ilse, month), period(as_ilse, month, season=80)
    assert plain["weighted"] == shared["weighted"]
    assert D(shared["low"]) < D(plain["low"]) <= D(plain["high"]) < D(shared["high"])
    assert as_ilse.status("get", "forecast/outlook", season=101) == 422


def test_everybody_sees_their_own_and_the_lead_the_teams(world: World, as_petra: Caller) -> None:
    month = month_after(world.today)
    rows = [aim(world.ilse.pk, month, "40000"), aim(world.tomas.pk, month, "25000")]
    as_petra("put", "targets", {"rows": rows})
    targets = {
        person: period(world.call(person), month)["target"]
        for person in (world.ilse, world.tomas, world.petra, world.admin, world.stranger)
    }
    assert list(targets.values()) == ["40000.00", "25000.00", "65000.00", "65000.00", None]
    assert period(as_petra, month, owner=world.tomas.pk)["target"] == "25000.00"
    seen = world.call(world.ilse)("get", "targets")["rows"]
    assert [(row["person"], row["team"]) for row in seen] == [(world.ilse.name, "")]


def test_targets_are_set_by_the_lead_for_the_team_alone(world: World, as_petra: Caller) -> None:
    month = month_after(world.today)
    body = {"rows": [aim(world.ilse.pk, month, "40000")]}
    asked = {
        person.username: world.call(person).status("put", "targets", body)
        for person in (world.ilse, world.joren, world.stranger, world.petra)
    }
    assert asked == {"ilse": 403, "joren": 403, "stranger": 404, "petra": 200}
    note = Change.objects.get(what="target", record=world.ilse.pk)
    assert (note.field, note.before, note.after) == (f"{month:%Y-%m}", "", "40000.00")


def test_a_target_that_somebody_set_meanwhile_is_told_and_nothing_is_set(
    world: World, as_petra: Caller
) -> None:
    month, next_ = month_after(world.today), month_after(world.today, 2)
    as_petra("put", "targets", {"rows": [aim(world.ilse.pk, month, "40000")]})
    rows = [aim(world.ilse.pk, next_, "1000"), aim(world.ilse.pk, month, "50000", version=0)]
    assert as_petra.status("put", "targets", {"rows": rows}) == 409
    assert Target.objects.get().amount == 40000
    as_petra("put", "targets", {"rows": [aim(world.ilse.pk, month, None, version=1)]})
    assert not Target.objects.exists()


@pytest.mark.parametrize(
    ("change", "status"),
    [
        ({"amount": "0"}, 422),
        ({"amount": "-5"}, 422),
        ({"amount": "1e400"}, 422),
        ({"month": "2027-01-02"}, 422),
        ({"owner_id": 999_999}, 404),
    ],
)
def test_a_target_that_cannot_be_changes_nothing(
    world: World, as_petra: Caller, change: dict[str, Any], status: int
) -> None:
    body = {"rows": [{**aim(world.ilse.pk, date(2027, 1, 1), "100"), **change}]}
    assert as_petra.status("put", "targets", body) == status
    assert not Target.objects.exists()


def test_the_database_holds_targets_of_whole_months_above_nothing(world: World) -> None:
    for month, amount in ((date(2027, 1, 2), 5), (date(2027, 1, 1), 0)):
        with pytest.raises(IntegrityError), transaction.atomic():
            Target.objects.create(owner=world.ilse, month=month, amount=amount)


def test_the_outlook_takes_the_same_queries_however_many_deals(
    world: World, as_ilse: Caller, queries_of: Callable[[Callable[[], object]], int]
) -> None:
    counted = []
    for many in (3, 40):
        for n in range(many):
            deal(world, 1000 + n, 50, month_after(world.today))
        counted.append(queries_of(lambda: as_ilse("get", "forecast/outlook")))
    assert counted[0] == counted[1]


def test_the_deals_that_decide_a_month_and_what_it_is_without_them(
    world: World, as_ilse: Caller, as_petra: Caller
) -> None:
    """100,000 at one half, two of 20,000 at one half, for 110,000: with the first and one of the others."""
    month = month_after(world.today)
    Deal.objects.all().delete()
    small, large, other = (deal(world, n, 50, month) for n in (20_000, 100_000, 20_001))
    as_petra("put", "targets", {"rows": [aim(world.ilse.pk, month, "110000")]})
    asked = {"month": f"{month:%Y-%m}"}
    told = as_ilse("get", "forecast/deciding", **asked)
    assert (told["target"], told["target_set"], told["chance"]) == ("110000.00", True, 0.375)
    assert [(row["id"], row["swing"]) for row in told["deals"]] == [
        (large.pk, 0.75),
        (other.pk, 0.25),
        (small.pk, 0.25),
    ]
    assert told["deals"][0]["reason"] == "as told"
    # Left out, it is as if it were not there; nothing is stored.
    less = as_ilse(
        "post", "forecast/what-if", {**asked, "thoughts": [{"id": small.pk, "out": True}]}
    )
    assert (less["deciding"]["chance"], less["deciding"]["thought"]) == (0.375, 0.25)
    assert [row["inside"] for row in less["deciding"]["deals"]] == [True, True, False]
    assert as_ilse("get", "forecast/deciding", **asked)["thought"] == 0.375
    # Another rep's deals decide nothing of hers, and hers nothing of theirs.
    assert world.call(world.tomas)("get", "forecast/deciding", **asked)["deals"] == []
    as_petra("put", "targets", {"rows": [aim(world.ilse.pk, month, None, version=1)]})
    none = as_ilse("get", "forecast/deciding", **asked)
    assert (none["target_set"], none["target"]) == (False, "40001.00")
    assert as_ilse.status("get", "forecast/deciding", month="2026-13") == 422


def test_targets_are_proposed_from_a_year_before_and_what_was_set_is_told(
    world: World, as_ilse: Caller, as_petra: Caller
) -> None:
    month = world.today.replace(day=1)
    before = month.replace(year=month.year - 1)
    Target.objects.create(owner=world.ilse, month=before, amount=D("1000.10"))
    won = deal(world, 300, 50, world.today)
    as_ilse("patch", f"deals/{won.pk}", {"version": won.version, "stage": "won"})
    Deal.objects.filter(pk=won.pk).update(
        closed_at=timezone.now().replace(year=world.today.year - 1, day=15)
    )
    asked = as_petra("get", "targets/proposed", factor="1.055")
    told = {"owner_id": world.ilse.pk, "team_id": None, "group_id": None, "month": str(month)}
    assert asked == [{**told, "amount": "1055.11"}]
    of_team = {**told, "owner_id": None, "team_id": world.ilse.team_id}
    assert as_petra("get", "targets/proposed", of="won") == [
        {**told, "amount": "300.00"},
        {**of_team, "amount": "300.00"},
    ]
    assert as_ilse.status("get", "targets/proposed") == 403
    for factor in ("0", "-1", "11", "much"):
        assert as_petra.status("get", "targets/proposed", factor=factor) == 422
    as_petra("put", "targets", {"rows": [aim(world.ilse.pk, month, "900")]})
    (change,) = as_ilse("get", "targets/changes")
    assert (change["who"], change["owner"], change["month"]) == (
        world.petra.name,
        world.ilse.name,
        f"{month:%Y-%m}",
    )
    assert (change["before"], change["after"]) == (None, "900.00")
    assert world.call(world.stranger)("get", "targets/changes") == []
