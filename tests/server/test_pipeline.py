"""The pipeline is kept by an administrator; deals say what they lack, why they are closed, and to whom they went."""

from datetime import timedelta
from decimal import Decimal
from typing import Any

from django.utils import timezone
import pytest

from apps.deals.models import Deal, Reason, Stage
from apps.forecast.models import Seen
from apps.journal.models import Change
from apps.kept.figures import wrong_figures
from demo.factories import DealFactory
from tests.server.conftest import Caller, World

D = Decimal


@pytest.fixture
def as_admin(world: World) -> Caller:
    return world.call(world.admin)


@pytest.fixture
def reasons(world: World) -> dict[str, Reason]:
    return {
        name: Reason.objects.create(outcome=outcome, name=name)
        for outcome, name in (("lost", "Price"), ("parked", "Next season"), ("won", "Knows us"))
    }


def sent(told: Any, **more: Any) -> dict[str, Any]:
    """All as it is, to be sent back."""
    stages = [
        {name: row[name] for name in ("id", "name", "probability_percent", "asks", "retired")}
        for row in told["stages"]
        if row["outcome"] == "open"
    ]
    kept = [
        {name: row[name] for name in ("id", "outcome", "name", "retired")}
        for row in told["reasons"]
    ]
    return {"stages": stages, "reasons": kept, "seen": told["seen"], **more}


def names(told: Any) -> list[str]:
    return [row["name"] for row in told["stages"] if not row["retired"]]


def test_stages_are_renamed_reordered_added_and_their_deals_follow(
    world: World, as_admin: Caller
) -> None:
    told = as_admin("get", "pipeline")
    body = sent(told)
    first, second, *rest = body["stages"]
    second["name"], second["probability_percent"] = "In talks", "33"
    body["stages"] = [second, first, *rest, {"name": "Signing", "probability_percent": "90"}]
    deal = DealFactory(customer=world.customer, stage=Stage.objects.get(pk=second["id"]))
    after = as_admin("put", "pipeline", body)
    assert names(after) == [
        "In talks", "Spotted", "Shaping", "Quoted", "Deciding", "Signing", "Won", "Lost", "Parked",
    ]  # fmt: skip
    deal.refresh_from_db()
    assert (deal.probability, deal.stage_position) == (33, 1)
    written = Change.objects.filter(what="stage", record=second["id"]).values_list("field", "after")
    assert dict(written) == {"name": "In talks", "probability": "33", "position": "1"}


def test_a_stage_that_is_left_out_is_retired_and_its_deals_stay_in_every_sum(
    world: World, as_admin: Caller, as_ilse: Caller
) -> None:
    Deal.objects.all().delete()
    shaping = Stage.objects.get(code="shaping")
    deal = DealFactory(customer=world.customer, stage=shaping, estimate=D(1000))
    body = sent(as_admin("get", "pipeline"))
    body["stages"] = [row for row in body["stages"] if row["id"] != shaping.pk]
    as_admin("put", "pipeline", body)
    assert as_ilse("get", "forecast")["total"]["weighted"] == "400.00"
    assert [row["id"] for row in as_ilse("get", "timetable")] == [deal.pk]
    # It is entered no more; the deal moves on from it.
    other = DealFactory(customer=world.customer, stage=Stage.objects.get(code="talking"))
    assert as_ilse.status("patch", f"deals/{other.pk}", {"version": 1, "stage": "shaping"}) == 422
    assert as_ilse.status("patch", f"deals/{deal.pk}", {"version": 1, "stage": "talking"}) == 200
    # That move is taken back, once; from elsewhere nothing leads there.
    back = {"version": 2, "stage": "shaping"}
    assert as_ilse("patch", f"deals/{deal.pk}", back)["stage"] == "shaping"
    for version, stage, status in ((3, "deciding", 200), (4, "talking", 200), (5, "shaping", 422)):
        given = {"version": version, "stage": stage}
        assert as_ilse.status("patch", f"deals/{deal.pk}", given) == status


def test_nobody_else_keeps_it_and_nobody_overwrites_unseen(
    world: World, as_ilse: Caller, as_admin: Caller
) -> None:
    body = sent(as_admin("get", "pipeline"))
    for caller in (as_ilse, world.call(world.petra)):
        assert caller.status("put", "pipeline", body) == 403
    Stage.objects.filter(code="talking").update(name="Chatting")
    assert as_admin.status("put", "pipeline", body) == 409
    assert Stage.objects.get(code="talking").name == "Chatting"


@pytest.mark.parametrize(
    ("change", "path"),
    [
        ({"name": " "}, "stages[0].name"),
        ({"name": "Talking"}, "stages[0].name"),
    ],
)
def test_what_makes_no_pipeline_is_refused_at_its_line(
    world: World, as_admin: Caller, change: dict[str, str], path: str
) -> None:
    body = sent(as_admin("get", "pipeline"))
    body["stages"][0] |= change
    answer = as_admin.ask("put", "pipeline", body)
    assert (answer.status_code, answer.json()["path"]) == (422, path)
    assert names(as_admin("get", "pipeline"))[0] == "Spotted"


def test_one_stage_stays_at_least(world: World, as_admin: Caller) -> None:
    body = sent(as_admin("get", "pipeline"))
    for row in body["stages"]:
        row["retired"] = True
    assert as_admin.status("put", "pipeline", body) == 422


def test_a_deal_says_what_its_stage_asks_for_and_moves_without_it(
    world: World, as_ilse: Caller, as_admin: Caller
) -> None:
    body = sent(as_admin("get", "pipeline"))
    for row in body["stages"]:
        row["asks"] = {"Quoted": "quote", "Deciding": "decider"}.get(row["name"], "")
    as_admin("put", "pipeline", body)
    deal = DealFactory(customer=world.customer, title="Bird net", contact=None)
    quoted = as_ilse("patch", f"deals/{deal.pk}", {"version": 1, "stage": "quoted"})
    assert (quoted["stage"], quoted["lacks"]) == ("quoted", ["quote"])
    deciding = as_ilse("patch", f"deals/{deal.pk}", {"version": 2, "stage": "deciding"})
    assert deciding["lacks"] == ["decider"]
    stops = as_ilse("get", "today")["lacking"]
    assert [(stop["kind"], stop["title"]) for stop in stops] == [("lacks_decider", "Bird net")]
    contact = as_ilse("get", f"deals/{deal.pk}")["contacts"]
    if not contact:
        path = f"customers/{world.customer.pk}/contacts"
        as_ilse("post", path, {"name": "Maren"})
        contact = as_ilse("get", f"deals/{deal.pk}")["contacts"]
    settled = as_ilse("patch", f"deals/{deal.pk}", {"version": 3, "contact_id": contact[0]["id"]})
    assert settled["lacks"] == []
    assert as_ilse("get", "today")["lacking"] == []


def test_what_a_deal_lacks_follows_what_its_stage_asks_for_and_is_told_for_a_while(
    world: World, as_ilse: Caller, as_admin: Caller
) -> None:
    def asking(of_quoted: str) -> list[str]:
        body = sent(as_admin("get", "pipeline"))
        for row in body["stages"]:
            row["asks"] = of_quoted if row["name"] == "Quoted" else ""
        as_admin("put", "pipeline", body)
        return [stop["kind"] for stop in as_ilse("get", "today")["lacking"]]

    deal = DealFactory(customer=world.customer, contact=None)
    as_ilse("patch", f"deals/{deal.pk}", {"version": 1, "stage": "quoted"})
    assert asking("") == []
    assert asking("decider") == ["lacks_decider"]
    assert asking("quote") == ["lacks_quote"]
    assert wrong_figures() == {}

    as_ilse("patch", f"deals/{deal.pk}", {"version": 2, "stage": "lost"})
    assert asking("quote") == ["lacks_reason"]
    Deal.objects.filter(pk=deal.pk).update(closed_at=timezone.now() - timedelta(days=31))
    assert asking("quote") == []
    assert as_ilse("get", f"deals/{deal.pk}")["lacks"] == ["reason"]


def test_a_lost_deal_says_why_and_to_whom_and_forgets_it_when_it_opens_again(
    world: World, as_ilse: Caller, reasons: dict[str, Reason]
) -> None:
    deal = DealFactory(customer=world.customer, rivals="Fieldline")
    lost = as_ilse("patch", f"deals/{deal.pk}", {"version": 1, "stage": "lost"})
    assert lost["lacks"] == ["reason"]
    assert as_ilse("get", "today")["lacking"][0]["kind"] == "lacks_reason"
    why = {"reason_id": reasons["Price"].pk, "lost_to": "Fieldline", "reason_note": "by 4 %"}
    told = as_ilse("patch", f"deals/{deal.pk}", {"version": 2, **why})
    assert (told["lacks"], told["lost_to"], told["reason_note"]) == ([], "Fieldline", "by 4 %")
    written = Change.objects.get(what="deal", record=deal.pk, field="reason")
    assert written.after == "Price: by 4 %"
    opened = as_ilse("patch", f"deals/{deal.pk}", {"version": 3, "stage": "talking"})
    assert (opened["reason_id"], opened["lost_to"], opened["rivals"]) == (None, "", "Fieldline")


def test_the_stage_and_its_reason_come_in_one_change(
    world: World, as_ilse: Caller, reasons: dict[str, Reason]
) -> None:
    deal = DealFactory(customer=world.customer)
    body = {"version": 1, "reason_id": reasons["Next season"].pk, "stage": "parked"}
    assert as_ilse("patch", f"deals/{deal.pk}", body)["lacks"] == []


def test_a_reason_of_another_list_is_refused(
    world: World, as_ilse: Caller, reasons: dict[str, Reason]
) -> None:
    deal = DealFactory(customer=world.customer)
    body = {"version": 1, "stage": "lost", "reason_id": reasons["Knows us"].pk}
    assert as_ilse.status("patch", f"deals/{deal.pk}", body) == 404
    deal.refresh_from_db()
    assert deal.stage.code != "lost"


def test_a_deal_tells_its_next_step_and_what_earlier_ones_teach(
    world: World, as_ilse: Caller
) -> None:
    deal = DealFactory(customer=world.customer, stage=Stage.objects.get(code="quoted"))
    assert as_ilse("get", f"deals/{deal.pk}")["next_step"] is None
    for days, text in ((9, "Later"), (2, "Call Maren")):
        day = f"{world.today + timedelta(days=days)}"
        body = {"kind": "follow_up", "text": text, "deal_id": deal.pk, "due_on": day}
        as_ilse("post", "activities", body)
    now = timezone.now()
    for n in range(4):
        earlier = DealFactory(
            customer=world.customer, stage=Stage.objects.get(code="won" if n else "lost"),
            closed_at=now - timedelta(days=5),
        )  # fmt: skip
        Seen.objects.create(
            deal=earlier, since=now - timedelta(days=9), owner=earlier.owner, stage=deal.stage,
            outcome="open", amount=D(10), probability=D(55), decision_on=world.today,
            confidence="likely",
        )  # fmt: skip
    told = as_ilse("get", f"deals/{deal.pk}")
    assert told["next_step"]["text"] == "Call Maren"
    assert told["learnt"] == {"percent": "75.0", "won": 3, "decided": 4, "by": [], "thin": True}


def test_a_reason_that_is_left_out_is_retired_and_recorded_as_a_reason(
    world: World, as_admin: Caller, reasons: dict[str, Reason]
) -> None:
    body = sent(as_admin("get", "pipeline"))
    body["reasons"] = [row for row in body["reasons"] if row["name"] != "Price"]
    as_admin("put", "pipeline", body)
    gone = Reason.objects.get(name="Price")
    assert gone.retired
    written = Change.objects.get(record=gone.pk, field="retired", what="reason")
    assert (written.before, written.after) == ("False", "True")
