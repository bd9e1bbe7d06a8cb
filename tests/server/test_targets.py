"""Targets of teams and of item groups, from a file too; what was won of each beside what is to be."""

from datetime import date
from decimal import Decimal
from typing import Any

from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import IntegrityError, transaction
from django.utils import timezone
import pytest

from apps.catalogue.models import ItemGroup
from apps.deals.models import Deal
from apps.forecast.models import Target
from apps.journal.models import Change
from demo.factories import DealFactory
from routecore.dates import months_from, quarter_of
from tests.server.conftest import Caller, World
from tests.server.test_interest import put, wanted

D = Decimal


@pytest.fixture
def as_petra(world: World) -> Caller:
    return world.call(world.petra)


@pytest.fixture
def as_admin(world: World) -> Caller:
    return world.call(world.admin)


@pytest.fixture
def month(world: World) -> date:
    """The next month's first day."""
    return months_from(world.today, 2)[-1]


def aim(month: date, amount: str | None, version: int = 0, **of: int) -> dict[str, Any]:
    return {"month": str(month), "amount": amount, "version": version, **of}


def target(caller: Caller, month: date, **filters: object) -> Any:
    """What is told to be won in a month."""
    rows = caller("get", "forecast/outlook", **filters)["periods"]
    return next(r["target"] for r in rows if (r["first"], r["quarter"]) == (str(month), False))


def test_a_teams_own_target_stands_for_its_peoples_where_the_whole_team_is_looked_at(
    world: World, as_ilse: Caller, as_petra: Caller, as_admin: Caller, month: date
) -> None:
    team, other = world.petra.team_id, world.stranger.team_id
    assert team and other
    rows = [
        aim(month, "40000", owner_id=world.ilse.pk),
        aim(month, "25000", owner_id=world.tomas.pk),
        aim(month, "60000", team_id=team),
    ]
    assert as_petra.status("put", "targets", {"rows": rows}) == 200
    elsewhere = {"rows": [aim(month, "7000", owner_id=world.stranger.pk)]}
    assert as_petra.status("put", "targets", elsewhere) == 404
    assert as_admin.status("put", "targets", elsewhere) == 200
    assert target(as_petra, month) == "60000.00"
    assert target(as_petra, month, owner=world.ilse.pk) == "40000.00"
    assert target(as_ilse, month) == "40000.00"
    assert target(as_admin, month) == "67000.00"
    assert target(as_admin, month, team=team) == "60000.00"
    assert target(as_admin, month, team=other) == "7000.00"
    # Of a team that is not hers a lead learns nothing.
    assert target(as_petra, month, team=other) is None
    told = {row["team"]: row for row in as_petra("get", "targets")["rows"] if not row["person"]}
    own = next(row for row in told["Orchard patch"]["targets"] if row["month"] == str(month))
    assert told.keys() == {"Orchard patch"}
    assert own["of_people"] is None or own["amount"] is None  # the last row is that of a group
    whole = next(r for r in as_petra("get", "targets")["rows"] if r["team"] and not r["group"])
    own = next(row for row in whole["targets"] if row["month"] == str(month))
    assert (own["amount"], own["of_people"]) == ("60000.00", "65000.00")


def test_who_set_a_teams_target_of_a_group_is_told(
    world: World, as_petra: Caller, as_ilse: Caller, month: date
) -> None:
    group, team = ItemGroup.objects.get(pk=world.post.group_id), world.petra.team_id
    rows = [aim(month, "9000.50", team_id=team, group_id=group.pk)]
    assert as_petra.status("put", "targets", {"rows": rows}) == 200
    assert as_petra.status("put", "targets", {"rows": rows}) == 409
    note = Change.objects.get(what="team_target")
    assert (note.record, note.field, note.after) == (team, f"{month:%Y-%m} {group.pk}", "9000.50")
    (told,) = as_petra("get", "targets/changes")
    assert (told["owner"], told["group"]) == ("Orchard patch", group.name)
    assert told["month"] == f"{month:%Y-%m}"
    # A rep is told of what is theirs alone.
    assert as_ilse("get", "targets/changes") == []


@pytest.mark.parametrize(
    ("of", "status"),
    [
        ({}, 422),
        ({"owner_id": 1, "team_id": 1}, 422),
        ({"owner_id": 1, "group_id": 1}, 422),
        ({"group_id": 1}, 422),
        ({"team_id": 999_999}, 404),
    ],
)
def test_a_target_is_either_a_persons_or_a_teams(
    world: World, as_petra: Caller, month: date, of: dict[str, int], status: int
) -> None:
    assert as_petra.status("put", "targets", {"rows": [aim(month, "5", **of)]}) == status
    assert not Target.objects.exists()


def test_the_database_holds_one_target_of_a_team_and_group_and_none_of_nobody(
    world: World, month: date
) -> None:
    team, group = world.petra.team, world.post.group
    for more in ({"team": team}, {"team": team, "group": group}):
        Target.objects.create(month=month, amount=5, **more)
        with pytest.raises(IntegrityError), transaction.atomic():
            Target.objects.create(month=month, amount=6, **more)
    for wrong in ({}, {"owner": world.ilse, "team": team}, {"owner": world.ilse, "group": group}):
        with pytest.raises(IntegrityError), transaction.atomic():
            Target.objects.create(month=month, amount=7, **wrong)


def read(caller: Caller, name: str, body: bytes) -> Any:
    answer = caller.client.post("/api/targets/file", {"file": SimpleUploadedFile(name, body)})
    return answer.json() | {"status": answer.status_code}


def test_the_file_of_targets_is_read_in_again_as_it_was_taken_out(
    world: World, as_petra: Caller, month: date
) -> None:
    group = world.post.group
    rows = [
        aim(month, "40000.25", owner_id=world.ilse.pk),
        aim(month, "60000", team_id=world.petra.team_id),
        aim(month, "9000", team_id=world.petra.team_id, group_id=group.pk),
    ]
    as_petra("put", "targets", {"rows": rows})
    for kind in ("csv", "xlsx"):
        body = b"".join(as_petra.ask("get", f"targets.{kind}"))
        told = read(as_petra, f"targets.{kind}", body)
        assert told["refused"] == []
        assert sorted(row["amount"] for row in told["targets"]) == [
            "40000.25",
            "60000.00",
            "9000.00",
        ]
    assert Target.objects.count() == 3


def test_a_row_that_is_not_certain_is_refused_and_the_others_are_read(
    world: World, as_petra: Caller, as_ilse: Caller, month: date
) -> None:
    head = f"Person;Team;Item group;{month:%Y-%m};2001-01"
    lines = [
        f"{world.ilse.name.upper()};;;40.000,50;1",
        f"{world.tomas.name};;;much;1",
        "Nobody Atall;;;5;1",
        f"{world.stranger.name};;;5;1",
        f"{world.ilse.name};;;7;1",
        ";orchard patch;;=1+1;1",
        "Elsewhere;;;5;1",
    ]
    body = "\n".join([head, *lines]).encode()
    told = read(as_petra, "targets.csv", body)
    assert [(row["owner_id"], row["amount"]) for row in told["targets"]] == [
        (world.ilse.pk, "40000.50")
    ]
    assert [(row["row"], row["fault"]["code"]) for row in told["refused"]] == [
        (3, "unreadable"),
        (4, "unknown"),
        (5, "unknown"),
        (6, "double_id"),
        (7, "formula"),
        (8, "unknown"),
    ]
    assert not Target.objects.exists()
    assert read(as_ilse, "targets.csv", body)["status"] == 403
    assert read(as_petra, "targets.csv", b"Who;When\n1;2\n")["code"] == "no_heading"
    assert read(as_petra, "targets.pdf", body)["code"] == "unknown_format"


def won(world: World, caller: Caller, **more: Any) -> Deal:
    """A deal of twenty posts and three rolls, 944, won today."""
    deal: Deal = DealFactory(
        customer=world.customer, owner=world.ilse, decision_on=world.today, **more
    )
    put(caller, deal, wanted(world))
    deal.refresh_from_db()
    assert (
        caller.status("patch", f"deals/{deal.pk}", {"version": deal.version, "stage": "won"}) == 200
    )
    return deal


def test_a_cut_within_a_period_has_what_was_won_and_what_is_to_be(
    world: World, as_ilse: Caller, as_petra: Caller
) -> None:
    """Posts 830 and wire 114 of one deal won; another, as large, decided today at 20 in 100."""
    Deal.objects.all().delete()
    deal = won(world, as_ilse)
    open_: Deal = DealFactory(
        customer=world.customer, owner=world.ilse, decision_on=world.today,
        own_probability_percent=D(20), probability_reason="so",
    )  # fmt: skip
    put(as_ilse, open_, wanted(world))
    group, this = world.post.group_id, world.today.replace(day=1)
    assert group == world.wire.group_id
    aims = [aim(this, "5000", team_id=world.petra.team_id, group_id=group)]
    as_petra("put", "targets", {"rows": aims})
    told = as_petra("get", "forecast/cuts", by="goods", within="month", group=str(group))
    (cell,) = told["cells"]
    assert (cell["key"], cell["amount"], cell["weighted"]) == (str(group), "944.00", "188.80")
    assert (cell["won"], cell["target"]) == ("944.00", "5000.00")
    assert [(row["id"], row["won"]) for row in told["parts"]] == [
        (deal.pk, True),
        (open_.pk, False),
    ]
    assert (told["first"], told["open_since"]) == (str(this), str(world.today))
    # A rep sees no team's target; the next quarter has neither of them.
    (cell,) = as_ilse("get", "forecast/cuts", by="goods", within="quarter")["cells"]
    assert (cell["won"], cell["target"]) == ("944.00", None)
    assert as_petra("get", "forecast/cuts", by="customer", within="next")["cells"] == []
    # Each other cut has the same, and its links list just these.
    for by in ("customer", "confidence", "team"):
        (cell,) = as_petra("get", "forecast/cuts", by=by, within="month")["cells"]
        assert (cell["won"], cell["weighted"]) == ("944.00", "188.80")
    days = {"since": told["first"], "until": told["last"]}
    assert as_petra("get", "deals", state="won", **days)["sums"]["amount"] == "944.00"
    days["since"] = told["open_since"]
    assert as_petra("get", "deals", **days)["sums"]["weighted"] == "188.80"
    Deal.objects.filter(pk=deal.pk).update(closed_at=timezone.now() - timezone.timedelta(days=200))
    assert as_petra("get", "deals", state="won", **days)["count"] == 0


def test_a_cut_by_team_has_each_teams_target(
    world: World, as_petra: Caller, as_admin: Caller
) -> None:
    first, last = quarter_of(world.today)
    this = world.today.replace(day=1)
    rows = [aim(this, "60000", team_id=world.petra.team_id), aim(this, "9", owner_id=world.ilse.pk)]
    as_petra("put", "targets", {"rows": rows})
    as_admin("put", "targets", {"rows": [aim(this, "7000", owner_id=world.stranger.pk)]})
    told = as_admin("get", "forecast/cuts", by="team", within="quarter")
    assert (told["first"], told["last"]) == (str(first), str(last))
    assert {cell["name"]: cell["target"] for cell in told["cells"]} == {
        "Orchard patch": "60000.00",
        "Elsewhere": "7000.00",
    }


def test_a_team_narrows_deals_forecast_invoices_and_backlog(world: World, as_admin: Caller) -> None:
    Deal.objects.all().delete()
    mine: Deal = DealFactory(customer=world.customer, owner=world.ilse, decision_on=world.today)
    DealFactory(customer=world.customer, owner=world.stranger, decision_on=world.today)
    team = world.petra.team_id
    assert [row["id"] for row in as_admin("get", "deals", team=team)["rows"]] == [mine.pk]
    assert [row["id"] for row in as_admin("get", "timetable", team=team)] == [mine.pk]
    assert as_admin("get", "timetable/sums", team=team)["total"]["count"] == 1
    assert as_admin("get", "forecast", team=team)["total"]["count"] == 1
    assert as_admin("get", "forecast", team=team, owner=world.stranger.pk)["total"]["count"] == 0
    for path in ("invoices", "backlog", "forecast/revenue", "forecast/calibration"):
        assert as_admin.status("get", path, team=team) == 200
    assert {each["name"] for each in as_admin("get", "session")["teams"]} == {
        "Elsewhere",
        "Orchard patch",
    }
    assert [each["name"] for each in world.call(world.petra)("get", "session")["teams"]] == [
        "Orchard patch"
    ]
    assert world.call(world.ilse)("get", "session")["teams"] == []
