"""What became of earlier deals and forecasts: learnt chances, calibration, how early a month was right; people's words."""

from datetime import date, datetime, time, timedelta
from decimal import Decimal
from typing import Any

from django.db import OperationalError, connection, transaction
from django.test.utils import CaptureQueriesContext
from django.utils import timezone
import pytest

from apps.deals.models import Deal, Stage
from apps.forecast.backtest import POINTS, backtest
from apps.forecast.learning import calibration, experience
from apps.forecast.models import STILL, Seen, Snapshot, Word
from apps.forecast.queries import months_from
from apps.forecast.seen import View
from apps.forecast.snapshots import keep_snapshot, take_tonight
from apps.people.models import User
from demo.factories import DealFactory
from routecore.dates import month_end
from tests.server.conftest import Caller, World

D = Decimal
ALL = View(owners=None)


@pytest.fixture
def as_petra(world: World) -> Caller:
    return world.call(world.petra)


def moment(day: date) -> datetime:
    return timezone.make_aware(datetime.combine(day, time(12)))


def decided(
    world: World, outcome: str, *, days: int = 30, stage: str = "quoted", **more: Any
) -> Deal:
    """A deal that was won or lost so many days ago, seen in a stage for the forty days before."""
    closed = timezone.now() - timedelta(days=days)
    percent = more.pop("percent", None)
    deal: Deal = DealFactory(
        title="Was decided",
        customer=world.customer,
        stage=Stage.objects.get(outcome=outcome),
        estimate=more.pop("amount", D(1000)),
        decision_on=timezone.localdate(closed),
        closed_at=closed,
        **more,
    )
    stood = Stage.objects.get(code=stage)
    Seen.objects.create(
        deal=deal, since=closed - timedelta(days=40), until=closed + timedelta(hours=12),
        owner=deal.owner, stage=stood, outcome="open", amount=deal.amount,
        probability=stood.probability_percent if percent is None else D(percent),
        decision_on=deal.decision_on, confidence="likely",
    )  # fmt: skip
    return deal


def test_an_open_deals_chance_is_learnt_from_the_stage_it_stands_in(
    world: World, as_ilse: Caller
) -> None:
    """Of 20 that stood in Quoted 16 were won, of all 40 half: (16 + 10 × ½) ÷ 30 = 70 %; shown where the target is set."""
    Deal.objects.all().delete()
    for n in range(20):
        decided(world, "won" if n < 16 else "lost", owner=world.tomas)
        decided(world, "won" if n < 4 else "lost", stage="talking", owner=world.tomas)
    month = months_from(world.today, 2)[1]
    DealFactory(
        title="Is open", customer=world.customer, stage=Stage.objects.get(code="quoted"),
        estimate=D(50000), decision_on=month + timedelta(days=3),
    )  # fmt: skip
    asked = {"month": f"{month:%Y-%m}"}
    (by_stage,) = as_ilse("get", "forecast/deciding", **asked)["deals"]
    assert (by_stage["probability"], by_stage["learnt_from"]) == ("55", None)
    (learnt,) = as_ilse("get", "forecast/deciding", **asked, chances="learnt")["deals"]
    assert (learnt["probability"], learnt["learnt_from"]) == ("70", 20)
    told = as_ilse("get", "forecast/outlook", chances="learnt")["periods"]
    row = next(each for each in told if each["first"] == f"{month}" and not each["quarter"])
    assert row["weighted"] == "35000.00"


def test_what_the_rep_says_stays_though_chances_are_learnt(world: World, as_ilse: Caller) -> None:
    Deal.objects.all().delete()
    decided(world, "lost", owner=world.tomas)
    month = months_from(world.today, 2)[1]
    DealFactory(
        customer=world.customer, stage=Stage.objects.get(code="quoted"), decision_on=month,
        own_probability_percent=D(95), probability_reason="signed on the bonnet",
    )  # fmt: skip
    (deal,) = as_ilse("get", "forecast/deciding", month=f"{month:%Y-%m}", chances="learnt")["deals"]
    assert (deal["probability"], deal["own"], deal["learnt_from"]) == ("95", True, None)


def test_a_stage_that_is_passed_twice_teaches_once(world: World) -> None:
    Deal.objects.all().delete()
    deal = decided(world, "won")
    row = Seen.objects.get(deal=deal)
    Seen.objects.create(
        deal=deal, since=row.since - timedelta(days=9), until=row.since, owner=row.owner,
        stage=row.stage, outcome="open", amount=D(5), probability=D(55), decision_on=row.decision_on,
        confidence="likely",
    )  # fmt: skip
    told = experience(timezone.now()).learnt("quoted")
    assert told is not None and (told.won, told.decided, told.thin) == (1, 1, True)


def test_what_is_learnt_is_of_the_last_snapshot(world: World) -> None:
    """A page does not count what the night has counted; the next night knows the rest."""
    Deal.objects.all().delete()
    for n in range(3):
        decided(world, "won" if n else "lost")
    take_tonight(timezone.now)
    decided(world, "won")
    told = experience(timezone.now()).learnt("quoted", rep=str(world.ilse.pk))
    assert told is not None and (told.won, told.decided) == (2, 3)
    with CaptureQueriesContext(connection) as caught:
        experience(timezone.now())
    assert len(caught) == 1
    keep_snapshot(world.ilse, "Now", timezone.now())
    told = experience(timezone.now()).learnt("quoted")
    assert told is not None and (told.won, told.decided) == (3, 4)


def test_what_was_decided_three_years_ago_teaches_nothing(world: World) -> None:
    Deal.objects.all().delete()
    decided(world, "won", days=1100)
    assert experience(timezone.now()).learnt("quoted") is None


def test_deals_count_once_as_they_were_called_so_long_before(
    world: World, as_petra: Caller
) -> None:
    """Called 80 % until three days before the end, then 20 %: won two of three."""
    Deal.objects.all().delete()
    for outcome in ("won", "won", "lost"):
        deal = decided(world, outcome, percent=80)
        assert deal.closed_at is not None
        turned = deal.closed_at - timedelta(days=3)
        Seen.objects.filter(deal=deal).update(until=turned)
        row = Seen.objects.get(deal=deal)
        Seen.objects.create(
            deal=deal, since=turned, owner=row.owner, stage=row.stage, outcome="open",
            amount=row.amount, probability=D(20), decision_on=row.decision_on, confidence="likely",
        )  # fmt: skip
    fortnight = as_petra("get", "forecast/calibration")
    assert (fortnight["deals"], fortnight["called"], fortnight["share"]) == (3, "80.0", "66.7")
    assert (fortnight["score"], len(fortnight["classes"])) == ("0.240", 1)  # (.04 + .04 + .64) ÷ 3
    (row,) = fortnight["classes"]
    assert (row["percent"], row["won"], row["low"], row["high"]) == (80, 2, "25.4", "92.2")
    assert as_petra("get", "forecast/calibration", days=0)["called"] == "20.0"
    assert as_petra("get", "forecast/calibration", days=60)["deals"] == 0
    assert [each["name"] for each in fortnight["stages"]] == ["Quoted"]
    assert [each["name"] for each in fortnight["reps"]] == [world.ilse.name]


def test_a_rep_sees_what_became_of_their_own_deals_alone(world: World, as_ilse: Caller) -> None:
    Deal.objects.all().delete()
    decided(world, "won", owner=world.tomas)
    decided(world, "lost")
    told = as_ilse("get", "forecast/calibration")
    assert (told["deals"], told["share"]) == (1, "0.0")
    assert {each["name"] for each in told["reps"]} == {world.ilse.name}


def test_how_early_a_month_was_right(world: World) -> None:
    """Foretold 1,000 sure of a month from its beginning on, won 1,000; thirty days before nothing was known of it."""
    Deal.objects.all().delete()
    first = months_from(world.today.replace(day=1) - timedelta(days=70), 1)[0]
    last = month_end(first)
    deal: Deal = DealFactory(
        customer=world.customer, stage=Stage.objects.get(code="won"), estimate=D(1000),
        decision_on=last, closed_at=moment(last),
    )  # fmt: skip
    seen = first - timedelta(days=10)
    Seen.objects.create(
        deal=deal, since=moment(seen), until=STILL, owner=deal.owner, stage=deal.stage,
        outcome="open", amount=D(1000), probability=D(100), decision_on=last, confidence="sure",
    )  # fmt: skip
    for days in (-95, -30, -10, -1, 13):
        Snapshot.objects.create(at=moment(first + timedelta(days=days)))
    told = backtest(ALL, world.today)
    month = next(row for row in told.months if row.first == first)
    middles = [row.middle if row else None for row in month.foretold]
    assert middles == [0, 0, 0, 1000, 1000]
    assert (month.came, month.right) == (D(1000), first - timedelta(days=1))
    assert told.of == sum(
        1
        for row in told.months
        for n, each in zip(POINTS, row.foretold, strict=True)
        if each and n >= 0
    )


def test_a_year_of_backtest_takes_a_constant_number_of_queries(
    world: World, as_petra: Caller
) -> None:
    def queries() -> int:
        with CaptureQueriesContext(connection) as caught:
            assert as_petra.status("get", "forecast/backtest") == 200
        return len(caught)

    few = queries()
    for n in range(12):
        decided(world, "won", days=30 * n + 20)
    assert queries() == few


def word(owner: User, month: date, amount: str | None, **more: Any) -> dict[str, Any]:
    return {"owner_id": owner.pk, "month": f"{month}", "amount": amount, "seen": 0, **more}


def person(told: Any, who: User) -> Any:
    return next(row for row in told["people"] if row["id"] == who.pk)


def test_a_rep_commits_and_the_lead_judges_beside_it(
    world: World, as_ilse: Caller, as_petra: Caller
) -> None:
    month = months_from(world.today, 2)[1]
    said = person(as_ilse("post", "forecast/words", word(world.ilse, month, "30000")), world.ilse)
    assert (said["committed"]["amount"], said["judged"], said["may_commit"]) == (
        "30000.00",
        None,
        True,
    )
    judged = word(world.ilse, month, "22000", judged=True)
    assert as_petra.status("post", "forecast/words", judged) == 422  # without a reason
    told = as_petra("post", "forecast/words", {**judged, "reason": "one customer for two deals"})
    row = person(told, world.ilse)
    assert (row["committed"]["amount"], row["judged"]["amount"]) == ("30000.00", "22000.00")
    assert (row["judged"]["who"], told["committed"], told["judged"]) == (
        world.petra.name,
        "30000.00",
        "22000.00",
    )
    # The rep reads it, and says something else: the earlier word stays on record.
    newer = word(world.ilse, month, "26000", seen=said["committed"]["seen"])
    again = person(as_ilse("post", "forecast/words", newer), world.ilse)
    assert (again["committed"]["amount"], again["judged"]["reason"]) == (
        "26000.00",
        "one customer for two deals",
    )
    assert Word.objects.filter(owner=world.ilse, judged=False).count() == 2


def test_words_of_two_tabs_do_not_pass_each_other(world: World, as_ilse: Caller) -> None:
    month = months_from(world.today, 2)[1]
    as_ilse("post", "forecast/words", word(world.ilse, month, "100"))
    assert as_ilse.status("post", "forecast/words", word(world.ilse, month, "200")) == 409
    assert Word.objects.count() == 1


def test_nobody_commits_for_others_and_reps_do_not_judge(
    world: World, as_ilse: Caller, as_petra: Caller
) -> None:
    month = months_from(world.today, 2)[1]
    for caller, data, status in (
        (as_ilse, word(world.tomas, month, "1"), 404),
        (as_petra, word(world.ilse, month, "1"), 403),
        (as_ilse, word(world.ilse, month, "1", judged=True, reason="me"), 403),
        (as_petra, word(world.stranger, month, "1", judged=True, reason="not mine"), 404),
        (as_ilse, word(world.ilse, world.today.replace(day=1) - timedelta(days=1), "1"), 422),
        (
            as_ilse,
            word(
                world.ilse, months_from(world.today.replace(day=1) - timedelta(days=40), 1)[0], "1"
            ),
            422,
        ),
        (as_ilse, word(world.ilse, month, "-5"), 422),
    ):
        assert caller.status("post", "forecast/words", data) == status, data
    assert not Word.objects.exists()


def test_a_word_is_taken_back_by_a_newer_one_and_never_changed(
    world: World, as_ilse: Caller
) -> None:
    month = months_from(world.today, 2)[1]
    said = person(as_ilse("post", "forecast/words", word(world.ilse, month, "100")), world.ilse)
    back = word(world.ilse, month, None, seen=said["committed"]["seen"])
    told = as_ilse("post", "forecast/words", back)
    assert (person(told, world.ilse)["committed"]["amount"], told["committed"]) == (None, "0.00")
    with pytest.raises(OperationalError), transaction.atomic():
        Word.objects.update(amount=D(7))


def test_a_months_people_take_a_constant_number_of_queries(world: World, as_petra: Caller) -> None:
    month = months_from(world.today, 2)[1]

    def queries() -> int:
        with CaptureQueriesContext(connection) as caught:
            as_petra("get", "forecast/words", month=f"{month:%Y-%m}")
        return len(caught)

    few = queries()
    for n in range(15):
        DealFactory(customer=world.customer, title=f"Deal {n}", decision_on=month)
    assert queries() == few


def test_deals_that_were_parked_or_open_are_called_nothing(world: World) -> None:
    Deal.objects.all().delete()
    decided(world, "parked")
    assert calibration(ALL, timezone.now(), 14).together is None
