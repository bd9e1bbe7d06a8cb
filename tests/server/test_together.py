"""Several deals are changed together: all or none, told first, taken back."""

from datetime import timedelta
from decimal import Decimal
from typing import Any

import pytest

from apps.deals.models import Deal
from apps.journal.models import Change
from demo.factories import DealFactory
from tests.server.conftest import Caller, World

D = Decimal


@pytest.fixture
def deals(world: World) -> list[Deal]:
    Deal.objects.all().delete()
    return [
        DealFactory(
            customer=world.customer, title=f"Deal {n}", estimate=D(1000 * n),
            decision_on=world.today + timedelta(days=40 * n), own_probability_percent=D(50),
            probability_reason="as told",
        )
        for n in (1, 2, 3)
    ]  # fmt: skip


def rows(deals: list[Deal], **change: object) -> list[dict[str, Any]]:
    return [{"id": deal.pk, "version": deal.version, **change} for deal in deals]


def test_what_it_comes_to_is_told_before_anything_is_changed(
    world: World, as_ilse: Caller, deals: list[Deal]
) -> None:
    day = f"{deals[2].decision_on}"
    told = as_ilse("post", "deal-changes", {"rows": rows(deals[:1], decision_on=day)})
    first, last = (f"{deal.decision_on:%Y-%m}" for deal in (deals[0], deals[2]))
    assert {row["month"]: (row["before"], row["after"]) for row in told["months"]} == {
        first: ("500.00", "0.00"),
        last: ("0.00", "500.00"),
    }
    deals[0].refresh_from_db()
    assert (f"{deals[0].decision_on}" != day, deals[0].version) == (True, 1)
    assert not Change.objects.filter(record=deals[0].pk, field="decision").exists()


def test_all_of_them_change_and_can_be_taken_back(
    world: World, as_ilse: Caller, deals: list[Deal]
) -> None:
    told = as_ilse("post", "deal-changes", {"rows": rows(deals, stage="parked"), "keep": True})
    assert ({row["stage"] for row in told["rows"]}, told["months"]) == ({"parked"}, [])
    back = [
        {"id": row["id"], "version": row["version"], "stage": "spotted"} for row in told["rows"]
    ]
    again = as_ilse("post", "deal-changes", {"rows": back, "keep": True})
    assert [row["stage"] for row in again["rows"]] == ["spotted"] * 3
    assert Change.objects.filter(what="deal", field="stage", record=deals[0].pk).count() == 2


def test_one_that_somebody_changed_keeps_all_as_they_were(
    world: World, as_ilse: Caller, deals: list[Deal]
) -> None:
    Deal.objects.filter(pk=deals[1].pk).update(version=9, title="Changed")
    answer = as_ilse.ask(
        "post", "deal-changes", {"rows": rows(deals, stage="quoted"), "keep": True}
    )
    assert (answer.status_code, answer.json()["path"]) == (409, "rows[1].version")
    assert not Deal.objects.filter(stage__code="quoted").exists()


def test_a_try_that_a_change_overtook_is_answered_on_the_deals_as_they_are(
    world: World, as_ilse: Caller, deals: list[Deal]
) -> None:
    """The question about three deals is still under way while they are moved, or taken back."""
    asked = {"rows": rows(deals, stage="parked")}
    Deal.objects.filter(pk=deals[1].pk).update(version=9)
    assert as_ilse("post", "deal-changes", asked)["months"]
    assert as_ilse.status("post", "deal-changes", {**asked, "keep": True}) == 409
    assert Deal.objects.get(pk=deals[1].pk).version == 9


def test_others_deals_are_not_among_them(world: World, as_ilse: Caller, deals: list[Deal]) -> None:
    body = {"rows": rows(deals, stage="quoted"), "keep": True}
    assert world.call(world.tomas).status("post", "deal-changes", body) == 404
    owner = {"rows": rows(deals, owner_id=world.tomas.pk), "keep": True}
    assert as_ilse.status("post", "deal-changes", owner) == 403
    given = world.call(world.petra)("post", "deal-changes", owner)
    assert {row["owner_id"] for row in given["rows"]} == {world.tomas.pk}
    double = {"rows": [*rows(deals[:1]), *rows(deals[:1])]}
    assert as_ilse.status("post", "deal-changes", double) == 422


def test_a_move_of_a_deal_whose_day_had_gone_by_is_taken_back(
    world: World, as_ilse: Caller, deals: list[Deal]
) -> None:
    gone = world.today - timedelta(days=9)
    Deal.objects.filter(pk=deals[0].pk).update(decision_on=gone)
    later = f"{world.today + timedelta(days=21)}"
    body = {"rows": rows(deals[:1], decision_on=later), "keep": True}
    (moved,) = as_ilse("post", "deal-changes", body)["rows"]
    back = {"id": moved["id"], "version": moved["version"]}
    other = {"rows": [{**back, "decision_on": f"{gone - timedelta(days=1)}"}], "keep": True}
    assert as_ilse.status("post", "deal-changes", other) == 422
    was = {"rows": [{**back, "decision_on": f"{gone}"}], "keep": True}
    assert as_ilse("post", "deal-changes", was)["rows"][0]["decision_on"] == f"{gone}"
