"""Deals: made, changed, undone, summed; their activities."""

from datetime import timedelta
from decimal import Decimal

from apps.customers.models import Customer
from apps.deals.models import Deal
from apps.journal.models import Change
from demo.factories import DealFactory
from tests.server.conftest import Caller, World


def test_customer_and_contact_are_made_in_place(world: World, as_ilse: Caller) -> None:
    made = as_ilse(
        "post",
        "deals",
        {
            "title": " Bird   net ",
            "decision_on": world.today.isoformat(),
            "new_customer": "Sable Farm",
            "new_contact": "Ines Corrow",
            "contact_email": "ines@sable.example",
            "estimate": "1200.50",
        },
    )
    assert (made["title"], made["amount"], made["stage"]) == ("Bird net", "1200.50", "spotted")
    customer = Customer.objects.get(name="Sable Farm")
    assert (customer.owner, customer.currency) == (world.ilse, "EUR")
    assert customer.contacts.get().email == "ines@sable.example"


def test_a_known_customer_is_not_made_twice(world: World, as_ilse: Caller) -> None:
    refused = as_ilse.ask(
        "post",
        "deals",
        {
            "title": "Net",
            "decision_on": world.today.isoformat(),
            "new_customer": "Hazelmoor  Orchards",
        },
    )
    assert (refused.status_code, refused.json()["code"]) == (422, "already_there")
    assert Customer.objects.count() == 1


def test_moving_changes_stage_and_day_and_is_recorded(world: World, as_ilse: Caller) -> None:
    later = (world.today + timedelta(days=21)).isoformat()
    moved = as_ilse(
        "patch",
        f"deals/{world.deal.pk}",
        {"version": 1, "stage": "talking", "decision_on": later},
    )
    assert (moved["stage"], moved["decision_on"], moved["version"]) == ("talking", later, 2)
    changes = Change.objects.filter(what="deal", record=world.deal.pk)
    assert {row.field for row in changes} == {"stage", "decision"}
    assert changes.get(field="stage").who == world.ilse


def test_a_stale_change_gets_409_and_changes_nothing(world: World, as_ilse: Caller) -> None:
    as_ilse("patch", f"deals/{world.deal.pk}", {"version": 1, "title": "First"})
    refused = as_ilse.ask("patch", f"deals/{world.deal.pk}", {"version": 1, "title": "Second"})
    assert (refused.status_code, refused.json()["facts"]) == (409, {"current": 2, "given": 1})
    assert Deal.objects.get().title == "First"


def test_an_own_probability_needs_its_reason(world: World, as_ilse: Caller) -> None:
    path = f"deals/{world.deal.pk}"
    refused = as_ilse.ask("patch", path, {"version": 1, "probability": "80"})
    assert (refused.status_code, refused.json()["path"]) == (422, "probability_reason")
    done = as_ilse(
        "patch", path, {"version": 1, "probability": "80", "probability_reason": "They called"}
    )
    assert (done["probability"], done["weighted"]) == ("80", "4000.00")
    back = as_ilse("patch", path, {"version": 2, "probability": None})
    assert back["probability"] == "10"


def test_closing_notes_the_moment_and_reopening_takes_it_back(
    world: World, as_ilse: Caller
) -> None:
    path = f"deals/{world.deal.pk}"
    as_ilse("patch", path, {"version": 1, "stage": "lost"})
    assert Deal.objects.get().closed_at is not None
    as_ilse("patch", path, {"version": 2, "stage": "talking"})
    assert Deal.objects.get().closed_at is None


def test_sums_are_those_of_the_whole_filter(world: World, as_ilse: Caller) -> None:
    for n in range(60):
        DealFactory(title=f"Deal {n}", customer=world.customer, estimate=Decimal("10.00"))
    page = as_ilse("get", "deals", page=2)
    assert (page["count"], page["pages"], len(page["rows"])) == (61, 2, 11)
    assert (page["sums"]["amount"], page["sums"]["weighted"]) == ("5600.00", "560.00")


def test_the_forecast_cell_opens_the_deals_it_sums(world: World, as_ilse: Caller) -> None:
    DealFactory(title="Late", customer=world.customer, decision_on=world.today - timedelta(days=1))
    forecast = as_ilse("get", "forecast")
    for month in forecast["months"]:
        deals = as_ilse("get", "deals", month=month["key"])
        assert (deals["count"], deals["sums"]["weighted"]) == (month["count"], month["weighted"])
    assert forecast["months"][0]["key"] == "overdue"


def test_a_follow_up_is_planned_shown_today_done_and_taken_back(
    world: World, as_ilse: Caller
) -> None:
    made = as_ilse(
        "post",
        "activities",
        {
            "kind": "follow_up",
            "text": "Call Maren",
            "deal_id": world.deal.pk,
            "due_on": world.today.isoformat(),
        },
    )
    [stop] = as_ilse("get", "today")["follow_ups"]
    assert (stop["title"], stop["to"]) == ("Call Maren", f"/deals/{world.deal.pk}")
    path = f"activities/{made['id']}"
    as_ilse("patch", path, {"version": 1, "done": True})
    assert as_ilse("get", "today")["follow_ups"] == []
    as_ilse("patch", path, {"version": 2, "done": False})
    assert len(as_ilse("get", "today")["follow_ups"]) == 1


def test_a_cell_that_a_spreadsheet_would_run_is_defused(world: World, as_ilse: Caller) -> None:
    Deal.objects.update(title='=HYPERLINK("x")')
    body = as_ilse.ask("get", "deals.csv").content.decode("utf-8-sig")
    assert """'=HYPERLINK(""x"")""" in body
