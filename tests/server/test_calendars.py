"""Follow-ups in calendars: a feed under a secret address, and single ones as files (RFC 5545)."""

from datetime import timedelta
from typing import Any

from django.test import Client
from django.utils import timezone
from icalendar import Calendar
import pytest

from apps.diary.feeds import MOST_MISSES
from apps.diary.models import Activity, Feed
from tests.server.conftest import Caller, World


def follow_up(caller: Caller, world: World, text: str, days: int = 2) -> Any:
    body = {
        "kind": "follow_up",
        "text": text,
        "deal_id": world.deal.pk,
        "due_on": f"{world.today + timedelta(days=days)}",
    }
    return caller("post", "activities", body)


def read(path: str) -> Any:
    """As a calendar does: without a session."""
    return Client().get(path)


def events(body: bytes) -> list[Any]:
    return list(Calendar.from_ical(body).walk("VEVENT"))


def test_a_calendar_reads_ones_own_follow_ups(world: World, as_ilse: Caller) -> None:
    made = follow_up(as_ilse, world, "Call Maren; ask: when, where?\nÄpfel")
    follow_up(world.call(world.petra), world, "The lead's own")
    path = as_ilse("post", "feed")["path"]
    answer = read(path)
    assert answer["Content-Type"].startswith("text/calendar")
    assert b"\r\nREFRESH-INTERVAL;VALUE=DURATION:PT1H\r\n" in answer.content  # RFC 7986, 5.7
    (event,) = events(answer.content)
    assert str(event["summary"]) == "Call Maren; ask: when, where?\nÄpfel"
    due = world.today + timedelta(days=2)
    assert (event["dtstart"].dt, event["dtend"].dt) == (due, due + timedelta(days=1))
    assert world.customer.name in str(event["description"])
    assert all(len(line) <= 75 for line in answer.content.split(b"\r\n"))
    # Moved, it is the same event in a later state; done, it says so.
    first = (str(event["uid"]), int(event["sequence"]))
    as_ilse("patch", f"activities/{made['id']}", {"version": 1, "due_on": f"{world.today}"})
    (moved,) = events(read(path).content)
    assert (str(moved["uid"]), int(moved["sequence"])) == (first[0], first[1] + 1)
    as_ilse("patch", f"activities/{made['id']}", {"version": 2, "done": True})
    (done,) = events(read(path).content)
    assert str(done["summary"]).startswith("✓")


def test_an_address_is_told_once_and_a_new_one_ends_it(world: World, as_ilse: Caller) -> None:
    first = as_ilse("post", "feed")["path"]
    assert as_ilse("get", "feed")["path"] == ""
    assert first.split("/")[-1].removesuffix(".ics") not in str(Feed.objects.values())
    second = as_ilse("post", "feed")["path"]
    assert (read(first).status_code, read(second).status_code) == (404, 200)
    assert as_ilse("get", "feed")["read_at"] is not None
    assert as_ilse.status("delete", "feed") == 204
    assert read(second).status_code == 404


def test_who_has_left_is_read_no_more(world: World, as_ilse: Caller) -> None:
    path = as_ilse("post", "feed")["path"]
    type(world.ilse).objects.filter(pk=world.ilse.pk).update(is_active=False)
    assert read(path).status_code == 404


def test_addresses_are_not_guessed(world: World) -> None:
    found = [read(f"/c/guess{n}.ics").status_code for n in range(MOST_MISSES + 1)]
    assert (found[0], found[-1]) == (404, 429)
    assert Client().post("/c/guess.ics").status_code == 405


def test_one_follow_up_is_a_file(world: World, as_ilse: Caller) -> None:
    made = follow_up(as_ilse, world, "Bring the samples")
    answer = as_ilse.ask("get", f"activities/{made['id']}/card")
    assert [str(each["summary"]) for each in events(answer.content)] == ["Bring the samples"]
    assert world.call(world.tomas).status("get", f"activities/{made['id']}/card") == 404
    note = as_ilse("post", "activities", {"kind": "note", "text": "x", "deal_id": world.deal.pk})
    assert as_ilse.status("get", f"activities/{note['id']}/card") == 404


def test_a_long_past_follow_up_that_is_done_leaves_the_calendar(
    world: World, as_ilse: Caller
) -> None:
    made = follow_up(as_ilse, world, "Old")
    Activity.objects.filter(pk=made["id"]).update(
        due_on=world.today - timedelta(days=90),
        day=world.today - timedelta(days=90),
        done_at=timezone.now(),
    )
    assert events(read(as_ilse("post", "feed")["path"]).content) == []


@pytest.mark.parametrize("who", ["joren"])
def test_who_does_not_sell_has_none(world: World, who: str) -> None:
    assert world.call(getattr(world, who)).status("post", "feed") == 403
