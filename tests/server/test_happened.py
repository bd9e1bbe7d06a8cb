"""What happened with a customer, in the order of time."""

from datetime import timedelta
from typing import Any

from django.db import connection
from django.test.utils import CaptureQueriesContext

from apps.customers.models import Contact
from apps.diary.models import Activity
from apps.mail.models import Message
from demo.factories import CustomerFactory
from tests.server.conftest import Caller, World
from tests.server.letters import came, mail


def happened(caller: Caller, world: World, **asked: object) -> list[dict[str, Any]]:
    rows: list[dict[str, Any]] = caller("get", f"customers/{world.customer.pk}/timeline", **asked)[
        "rows"
    ]
    return rows


def kinds(rows: list[dict[str, Any]]) -> list[str]:
    return [row["kind"] for row in rows]


def noted(caller: Caller, world: World, kind: str = "call", days: int = 0, **more: object) -> Any:
    body = {"kind": kind, "text": "Rang about the frost", "customer_id": world.customer.pk}
    day = f"{world.today + timedelta(days=days)}"
    return caller("post", "activities", {**body, "day": day, **more})


def test_mails_calls_and_papers_stand_in_one_line_the_newest_first(
    world: World, as_ilse: Caller, sent: Message, maren: Contact
) -> None:
    arrived = came(mail(Subject="Frost"))
    assert arrived is not None
    noted(as_ilse, world, contact_id=maren.pk)
    rows = happened(as_ilse, world)
    said = [row for row in rows if row["at"]]
    assert {"mail", "arrived", "call", "quote"} == set(kinds(rows))
    (ours,) = [row for row in rows if row["kind"] == "mail"]
    assert (ours["who"], ours["whom"], ours["title"]) == (
        world.ilse.name,
        "Maren Holt",
        "Your quote",
    )
    (call,) = [row for row in rows if row["kind"] == "call"]
    assert (call["who"], call["whom"], call["words"]) == (
        world.ilse.name,
        "Maren Holt",
        "Rang about the frost",
    )
    assert said == sorted(said, key=lambda row: (row["day"], row["at"]), reverse=True)


def test_a_colleagues_deal_is_named_and_leads_nowhere(world: World, as_ilse: Caller) -> None:
    noted(as_ilse, world, deal_id=world.deal.pk)
    (row,) = happened(as_ilse, world)
    assert (row["title"], row["to"]) == (world.deal.title, f"/deals/{world.deal.pk}")
    world.deal.owner = world.tomas
    world.deal.save()
    (row,) = happened(as_ilse, world)
    assert (row["title"], row["to"]) == (world.deal.title, "")


def test_what_is_only_planned_or_a_draft_did_not_happen(world: World, as_ilse: Caller) -> None:
    body = {"kind": "follow_up", "text": "Ring", "due_on": f"{world.today}"}
    made = as_ilse("post", "activities", {**body, "customer_id": world.customer.pk})
    as_ilse("post", "quotes", {"customer_id": world.customer.pk})
    assert happened(as_ilse, world) == []
    as_ilse("patch", f"activities/{made['id']}", {"version": 1, "done": True})
    assert kinds(happened(as_ilse, world)) == ["follow_up"]


def test_it_is_narrowed_by_kind_words_and_days(
    world: World, as_ilse: Caller, sent: Message
) -> None:
    noted(as_ilse, world, days=-3, text="Rang about the hail")
    assert set(kinds(happened(as_ilse, world, kind="said"))) == {"mail", "call"}
    assert set(kinds(happened(as_ilse, world, kind="papers"))) == {"quote"}
    assert kinds(happened(as_ilse, world, words="hail")) == ["call"]
    assert kinds(happened(as_ilse, world, words="quote here")) == ["mail"]
    # What was noted later stands on the day on which it was.
    gone = f"{world.today - timedelta(days=3)}"
    assert kinds(happened(as_ilse, world, since=gone, until=gone)) == ["call"]
    assert "call" not in kinds(happened(as_ilse, world, since=f"{world.today}"))


def test_it_is_told_to_those_who_see_the_customer_and_not_to_the_back_office(
    world: World, as_ilse: Caller, sent: Message
) -> None:
    path = f"customers/{world.customer.pk}/timeline"
    assert world.call(world.petra).status("get", path) == 200
    assert world.call(world.tomas).status("get", path) == 404
    assert world.call(world.joren).status("get", path) == 403


def test_many_things_are_paged_and_take_a_constant_number_of_queries(
    world: World, as_ilse: Caller
) -> None:
    noted(as_ilse, world)

    def asked() -> int:
        with CaptureQueriesContext(connection) as queries:
            assert happened(as_ilse, world)
        return len(queries)

    few = asked()
    Activity.objects.bulk_create(
        Activity(kind="note", customer=world.customer, owner=world.ilse, text=f"Note {n}")
        for n in range(60)
    )
    other = CustomerFactory(owner=world.ilse, name="Other")
    Activity.objects.create(kind="note", customer=other, owner=world.ilse, text="-")
    assert asked() == few
    path = f"customers/{world.customer.pk}/timeline"
    page = as_ilse("get", path, page=2)
    assert (page["count"], page["pages"], len(page["rows"])) == (61, 2, 21)
