"""The diary: what was done and is to do, who asks whom, who is told what."""

from datetime import timedelta
from typing import Any

import pytest

from apps.diary.models import Activity, Told
from apps.people.models import User
from demo.factories import ContactFactory, CustomerFactory
from tests.server.conftest import Caller, World


@pytest.fixture
def as_tomas(world: World) -> Caller:
    return world.call(world.tomas)


def asked(world: World, as_ilse: Caller, days: int = 3, **more: object) -> dict[str, Any]:
    """Ilse asks Tomas to do something."""
    body = {
        "kind": "follow_up",
        "text": "Bring Maren the sample",
        "customer_id": world.customer.pk,
        "due_on": f"{world.today + timedelta(days=days)}",
        "owner_id": world.tomas.pk,
    }
    made: dict[str, Any] = as_ilse("post", "activities", {**body, **more})
    return made


def change(caller: Caller, row: dict[str, Any], **what: object) -> dict[str, Any]:
    changed: dict[str, Any] = caller(
        "patch", f"activities/{row['id']}", {"version": row["version"], **what}
    )
    return changed


def told(caller: Caller) -> list[tuple[str, str, str]]:
    return [(stop["kind"], stop["who"], stop["detail"]) for stop in caller("get", "today")["told"]]


def test_what_a_colleague_asks_for_stands_on_their_today_before_it_is_due(
    world: World, as_ilse: Caller, as_tomas: Caller
) -> None:
    made = asked(world, as_ilse)
    assert (made["who"], made["asked_by"]) == (world.tomas.name, world.ilse.name)
    (stop,) = as_tomas("get", "today")["follow_ups"]
    assert (stop["who"], stop["days"], stop["customer"]) == (
        world.ilse.name,
        -3,
        world.customer.name,
    )
    # The customer is not his: its name is told, and what is to do leads to his own diary.
    assert stop["to"] == f"/diary?day={made['due_on']}"
    assert as_ilse("get", "today")["follow_ups"] == []


def test_who_asked_is_told_once_that_it_is_done_and_with_which_word(
    world: World, as_ilse: Caller, as_tomas: Caller
) -> None:
    made = asked(world, as_ilse)
    done = change(as_tomas, made, done=True, word="She likes the green one")
    assert told(as_ilse) == [("told_done", world.tomas.name, "She likes the green one")]
    assert [(each["what"], each["word"]) for each in done["told"]] == [
        ("done", "She likes the green one")
    ]
    (stop,) = as_ilse("get", "today")["told"]
    assert as_ilse.status("post", f"told/{stop['told_id']}/seen") == 204
    assert as_ilse.status("post", f"told/{stop['told_id']}/seen") == 204
    assert told(as_ilse) == []


def test_what_was_not_done_after_all_is_told_no_more(
    world: World, as_ilse: Caller, as_tomas: Caller
) -> None:
    done = change(as_tomas, asked(world, as_ilse), done=True)
    change(as_tomas, done, done=False)
    assert told(as_ilse) == []


def test_of_two_moves_that_were_not_seen_the_last_is_told(
    world: World, as_ilse: Caller, as_tomas: Caller
) -> None:
    made = asked(world, as_ilse)
    moved = change(as_tomas, made, due_on=f"{world.today + timedelta(days=9)}", word="Too soon")
    change(as_tomas, moved, due_on=f"{world.today + timedelta(days=12)}", word="They are away")
    assert told(as_ilse) == [("told_moved", world.tomas.name, "They are away")]


def test_it_is_handed_back_with_a_word_and_is_theirs_again(
    world: World, as_ilse: Caller, as_tomas: Caller
) -> None:
    made = asked(world, as_ilse, days=0)
    back = change(as_tomas, made, back=True, word="No time this week")
    assert (back["who"], back["asked_by"]) == (world.ilse.name, "")
    assert as_tomas("get", "today")["follow_ups"] == []
    assert told(as_ilse) == [("told_back", world.tomas.name, "No time this week")]
    assert [stop["title"] for stop in as_ilse("get", "today")["follow_ups"]] == [back["text"]]
    answer = as_ilse.ask(
        "patch", f"activities/{back['id']}", {"version": back["version"], "back": True}
    )
    assert (answer.status_code, answer.json()["code"]) == (422, "nobody_asked")


def test_what_is_given_on_is_still_heard_of_by_who_asked_first(
    world: World, as_ilse: Caller, as_tomas: Caller
) -> None:
    made = asked(world, as_ilse)
    given = change(as_tomas, made, owner_id=world.petra.pk)
    assert (given["who"], given["asked_by"]) == (world.petra.name, world.ilse.name)
    change(world.call(world.petra), given, done=True)
    assert told(as_ilse) == [("told_done", world.petra.name, "")]


def test_only_a_follow_up_is_given_away_and_only_to_a_colleague(
    world: World, as_ilse: Caller
) -> None:
    body = {"kind": "call", "text": "Rang", "customer_id": world.customer.pk}
    assert as_ilse.status("post", "activities", {**body, "owner_id": world.tomas.pk}) == 422
    body |= {"kind": "follow_up", "due_on": f"{world.today}"}
    for nobody in (world.joren, world.stranger):
        assert as_ilse.status("post", "activities", {**body, "owner_id": nobody.pk}) == 404
    assert not Activity.objects.filter(customer=world.customer).exists()


def named(person: User) -> str:
    return f"@{person.name}"


def test_who_is_named_in_a_note_is_told_and_nobody_else(
    world: World, as_ilse: Caller, as_tomas: Caller
) -> None:
    text = f"Maren wants candles, {named(world.tomas)}: have we any? {named(world.ilse)}"
    body = {"kind": "note", "text": text, "customer_id": world.customer.pk}
    as_ilse("post", "activities", body)
    assert told(as_tomas) == [("told_mentioned", world.ilse.name, "")]
    assert told(as_ilse) == []
    other = {**body, "text": f"{named(world.stranger)} and {named(world.joren)}"}
    as_ilse("post", "activities", other)
    assert Told.objects.count() == 1
    # What is told to one is nobody else's to put away.
    (stop,) = as_tomas("get", "today")["told"]
    assert as_ilse.status("post", f"told/{stop['told_id']}/seen") == 404


def test_a_call_is_noted_with_what_comes_next_or_not_at_all(world: World, as_ilse: Caller) -> None:
    person = ContactFactory(customer=world.customer, name="Maren Holt")
    body = {
        "kind": "call",
        "text": "Wants the quote by Friday",
        "customer_id": world.customer.pk,
        "contact_id": person.pk,
        "then": {"text": " ", "due_on": f"{world.today}"},
    }
    refused = as_ilse.ask("post", "activities", body)
    assert (refused.status_code, refused.json()["path"]) == (422, "then.text")
    assert not Activity.objects.exists()
    body["then"] = {
        "text": "Send the quote",
        "due_on": f"{world.today + timedelta(days=2)}",
        "owner_id": world.tomas.pk,
    }
    made = as_ilse("post", "activities", body)
    assert (made["person"], made["day"]) == ("Maren Holt", f"{world.today}")
    step = Activity.objects.get(kind="follow_up")
    assert (step.text, step.owner, step.asked_by, step.contact) == (
        "Send the quote",
        world.tomas,
        world.ilse,
        person,
    )


def test_a_person_of_another_customer_is_refused_and_nothing_is_noted(
    world: World, as_ilse: Caller
) -> None:
    other = ContactFactory(customer=CustomerFactory(owner=world.ilse, name="Other"))
    body = {"kind": "call", "text": "Rang", "customer_id": world.customer.pk}
    assert as_ilse.status("post", "activities", {**body, "contact_id": other.pk}) == 404
    assert not Activity.objects.exists()


def test_what_was_done_stands_on_its_day_and_no_later_than_today(
    world: World, as_ilse: Caller
) -> None:
    body = {"kind": "visit", "text": "Saw the field", "customer_id": world.customer.pk}
    gone, ahead = (f"{world.today + timedelta(days=by)}" for by in (-2, 1))
    place = {"starts": "09:30", "minutes": 45, "where": "North gate"}
    made = as_ilse("post", "activities", {**body, **place, "day": gone})
    assert (made["day"], made["starts"], made["minutes"], made["where"]) == (
        gone,
        "09:30",
        45,
        "North gate",
    )
    answer = as_ilse.ask("post", "activities", {**body, "day": ahead})
    assert (answer.status_code, answer.json()["code"]) == (422, "in_the_future")
    wrong_hours = [{"starts": hour} for hour in ("25:00", "09:30+02:00", "9", 34200)]
    for wrong in (
        *wrong_hours,
        {"visit": True},
        {"minutes": 0},
        {"minutes": 1441},
        {"due_on": ahead},
    ):
        assert as_ilse.status("post", "activities", {**body, **wrong}) == 422


def test_the_diary_is_one_s_own_by_days_and_the_team_s_for_the_lead(
    world: World, as_ilse: Caller, as_tomas: Caller
) -> None:
    asked(world, as_ilse, days=1, owner_id=world.ilse.pk)
    his = CustomerFactory(owner=world.tomas, name="His orchard")
    as_tomas("post", "activities", {"kind": "note", "text": "Frost", "customer_id": his.pk})
    as_ilse("post", "activities", {"kind": "call", "text": "R", "customer_id": world.customer.pk})
    assert [row["kind"] for row in as_ilse("get", "diary")["rows"]] == ["call", "follow_up"]
    # A rep reads no colleague's customers; the lead the team's, each or all of them.
    assert {row["who"] for row in as_ilse("get", "diary", whose="all")["rows"]} == {world.ilse.name}
    as_petra = world.call(world.petra)
    assert as_petra("get", "diary")["rows"] == []
    assert len(as_petra("get", "diary", whose="all")["rows"]) == 3
    (row,) = as_petra("get", "diary", owner=world.tomas.pk)["rows"]
    assert (row["customer"], row["customer_id"], row["settles"]) == (his.name, his.pk, False)
    assert world.call(world.joren).status("get", "diary") == 403


def test_the_diary_is_narrowed_by_kind_days_customer_and_words(
    world: World, as_ilse: Caller
) -> None:
    to_do = asked(world, as_ilse, days=4, owner_id=world.ilse.pk)
    asked(world, as_ilse, days=2, owner_id=world.ilse.pk, visit=True, text="See the posts")
    change(as_ilse, to_do, done=True)
    last = f"{world.today + timedelta(days=2)}"
    texts = [row["text"] for row in as_ilse("get", "diary", until=last)["rows"]]
    assert texts == ["See the posts"]
    assert [row["visit"] for row in as_ilse("get", "diary", kind="visit")["rows"]] == [True]
    assert len(as_ilse("get", "diary", kind="open")["rows"]) == 1
    assert len(as_ilse("get", "diary", kind="follow_up")["rows"]) == 2
    assert as_ilse("get", "diary", customer=world.customer.pk + 999)["rows"] == []
    assert as_ilse.status("get", "diary", kind="party") == 422
    assert "See the posts" in as_ilse.ask("get", "diary.csv").content.decode()
    # A day and an hour, as when something was done, stand in a sheet as well.
    assert as_ilse.status("get", "diary.xlsx") == 200


def test_what_was_given_to_a_colleague_names_the_customer_and_leads_nowhere(
    world: World, as_ilse: Caller, as_tomas: Caller
) -> None:
    asked(world, as_ilse)
    (row,) = as_tomas("get", "diary")["rows"]
    assert (row["customer"], row["customer_id"], row["settles"]) == (
        world.customer.name,
        None,
        True,
    )


def test_the_diary_costs_the_same_queries_for_one_and_for_many(
    world: World, as_ilse: Caller, django_assert_max_num_queries: Any
) -> None:
    for n in range(6):
        asked(world, as_ilse, days=n)
    with django_assert_max_num_queries(10):
        as_ilse("get", "diary", whose="all")
