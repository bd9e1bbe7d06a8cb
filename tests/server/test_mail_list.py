"""All mails in one list: which way they went, what waits, whose, by words and days."""

from collections.abc import Callable
from datetime import timedelta
from typing import Any

from django.utils import timezone
import pytest

from apps.customers.models import Contact
from apps.mail.models import Message, Received
from demo.factories import ContactFactory, CustomerFactory
from tests.server.conftest import Caller, World
from tests.server.letters import came, mail

pytestmark = pytest.mark.usefixtures("files_aside")


@pytest.fixture
def both(sent: Message) -> tuple[Message, Received]:
    """One of ours from yesterday, and what came back today."""
    Message.objects.filter(pk=sent.pk).update(created_at=timezone.now() - timedelta(days=1))
    back = came(mail(In_Reply_To=sent.message_id, Subject="Re: Your quote"))
    assert back
    return sent, back


def listed(caller: Caller, **asked: object) -> list[dict[str, Any]]:
    rows: list[dict[str, Any]] = caller("get", "mail-list", **asked)["rows"]
    return rows


def ways(caller: Caller, **asked: object) -> list[str]:
    return [row["way"] for row in listed(caller, **asked)]


def test_what_came_and_what_went_stand_in_one_list_the_newest_first(
    world: World, as_ilse: Caller, both: tuple[Message, Received]
) -> None:
    back, sent = listed(as_ilse)
    assert (back["way"], back["state"], back["who"]) == ("in", "waits", "Maren Holt")
    assert (sent["way"], sent["state"], sent["whom"]) == ("out", "sent", "Maren Holt")
    place = f"/quotes/{both[0].revision_id}#mail"
    assert back["to"] == f"{place}-in-{both[1].pk}"
    assert sent["to"] == f"{place}-out-{both[0].pk}"
    assert ways(as_ilse, sort="at") == ["out", "in"]


def test_the_list_is_narrowed_by_way_waiting_words_and_days(
    world: World, as_ilse: Caller, both: tuple[Message, Received]
) -> None:
    assert ways(as_ilse, way="in") == ways(as_ilse, waits=True) == ["in"]
    assert ways(as_ilse, way="out") == ["out"]
    assert ways(as_ilse, way="out", waits=True) == []
    assert ways(as_ilse, since=f"{world.today}") == ["in"]
    assert ways(as_ilse, until=f"{world.today - timedelta(days=1)}") == ["out"]
    assert as_ilse.status("get", "mail-list", way="round") == 422
    Received.objects.update(settled_at=timezone.now())
    assert ways(as_ilse, waits=True) == []
    assert listed(as_ilse, way="in")[0]["state"] == "settled"


@pytest.mark.django_db(transaction=True)
def test_words_are_found_in_subjects_and_in_what_was_written(
    world: World, as_ilse: Caller, both: tuple[Message, Received]
) -> None:
    """The word index knows what was committed."""
    assert ways(as_ilse, words="rolls") == ["in"]
    assert ways(as_ilse, words="quote") == ["in", "out"]
    assert ways(as_ilse, words="tractor") == []


def test_each_sees_the_mails_of_their_customers_alone(
    world: World, as_ilse: Caller, both: tuple[Message, Received]
) -> None:
    his = ContactFactory(customer=CustomerFactory(owner=world.tomas), email="else@his.example")
    assert came(mail(From=his.email, Message_ID="<2@his.example>"), 2)
    as_petra = world.call(world.petra)
    assert ways(world.call(world.tomas)) == ["in"]
    assert len(listed(as_ilse)) == 2
    assert len(listed(as_petra)) == 3
    assert ways(as_petra, owner=world.tomas.pk) == ["in"]
    assert ways(as_ilse, owner=world.tomas.pk) == []
    assert world.call(world.joren).status("get", "mail-list") == 403
    assert listed(world.call(world.stranger)) == []


def test_a_page_of_mails_costs_the_same_queries_for_two_and_for_many(
    world: World,
    as_ilse: Caller,
    maren: Contact,
    both: tuple[Message, Received],
    queries_of: Callable[[Callable[[], object]], int],
) -> None:
    few = queries_of(lambda: listed(as_ilse))
    for n in range(60):
        came(mail(Message_ID=f"<more-{n}@grower.example>"), n + 10)
    assert queries_of(lambda: listed(as_ilse, page=2)) == few
    told = as_ilse("get", "mail-list", page=2)
    assert (told["count"], told["pages"], len(told["rows"])) == (62, 2, 12)


def test_the_filtered_mails_are_a_file(
    world: World, as_ilse: Caller, both: tuple[Message, Received]
) -> None:
    rows = as_ilse.ask("get", "mails.csv", way="in").content.decode().splitlines()
    assert len(rows) == 2
    assert "Re: Your quote" in rows[1]
    came_at = timezone.localtime(both[1].written_at)
    assert rows[1].startswith(f"{came_at:%Y-%m-%d %H:%M:%S},in,waits,")
    assert as_ilse.status("get", "mails.xlsx") == 200
    assert world.call(world.joren).status("get", "mails.csv") == 403


def test_one_that_is_asked_for_is_among_a_records_mails_however_old_it_is(
    world: World, as_ilse: Caller, both: tuple[Message, Received], monkeypatch: pytest.MonkeyPatch
) -> None:
    sent, back = both
    again = came(mail(In_Reply_To=sent.message_id, Message_ID="<later@his.example>"), 3)
    assert again
    monkeypatch.setattr("api.mail.SHOWN", 1)
    asked = {"kind": "quote", "record": sent.revision_id}

    def keys(**more: int) -> list[int]:
        return [row["id"] for row in as_ilse("get", "arrived-mails", **asked, **more)]

    [newest] = keys()
    older = back.pk if newest == again.pk else again.pk
    assert keys(also=older) == [newest, older]
    assert keys(also=newest) == [newest]
    # Of another's customer none, whatever is asked.
    his = ContactFactory(customer=CustomerFactory(owner=world.tomas), email="x@his.example")
    other = came(mail(From=his.email, Message_ID="<x@his.example>"), 4)
    assert other
    assert keys(also=other.pk) == [newest]
