"""A customer's mail is answered, or needs no answer; what it says to an offer is told, never acted upon."""

from email import message_from_bytes
from typing import Any

from django.db import connection
from django.test.utils import CaptureQueriesContext
from django.utils import timezone
import pytest

from apps.customers.models import Contact
from apps.mail.composing import mime_of
from apps.mail.flows import settle
from apps.mail.models import REFUSED, UNDER_WAY, Message, Received
from apps.mail.transport import Outcome
from apps.quotes.models import Revision
from demo.factories import CustomerFactory
from tests.server.conftest import Caller, World
from tests.server.letters import came, mail

pytestmark = pytest.mark.usefixtures("files_aside")


def words(text: str, **fields: str) -> Any:
    made = mail(**fields)
    made.set_content(text)
    return made


def stops(world: World, who: Any = None) -> list[dict[str, Any]]:
    return list(world.call(who or world.ilse)("get", "today")["mails"])


def answer(kept: Received, **changes: Any) -> dict[str, Any]:
    return {
        "kind": "customer",
        "record": kept.customer_id,
        "to": [{"name": "Maren Holt", "address": kept.sender}],
        "subject": "Re: Posts",
        "body": "They leave on Monday.",
        "answers": kept.pk,
        **changes,
    }


def test_a_mail_stands_on_today_until_it_is_answered(world: World, sent: Message) -> None:
    kept = came(words("When do they leave?", In_Reply_To=sent.message_id))
    assert kept is not None
    [stop] = stops(world)
    assert (stop["kind"], stop["title"], stop["detail"]) == ("mail_waits", "Posts", "Maren Holt")
    assert stop["to"] == f"/quotes/{sent.revision_id}#mail-in-{kept.pk}"
    assert stops(world, world.stranger) == []
    assert stops(world, world.petra) == [stop]
    ilse = world.call(world.ilse)
    ilse("post", "mails", answer(kept))
    assert stops(world) == []
    told = ilse("get", f"arrived-mails/{kept.pk}")
    assert (told["waits"], told["settled_by"]) == (False, world.ilse.name)


def test_today_reads_no_mail_to_tell_that_it_waits(world: World, sent: Message) -> None:
    came(words("When do they leave?", In_Reply_To=sent.message_id))
    caller = world.call(world.ilse)
    with CaptureQueriesContext(connection) as asked:
        assert caller("get", "today")["mails"]
    assert not [one["sql"] for one in asked if "`markup`" in one["sql"] or "`body`" in one["sql"]]


def test_an_answer_continues_the_conversation(world: World, sent: Message) -> None:
    kept = came(mail(References=f"<0@grower.example> {sent.message_id}"))
    assert kept is not None
    made = world.call(world.ilse)("post", "mails", answer(kept))
    raw = mime_of(Message.objects.get(pk=made["id"]))
    letter = message_from_bytes(raw)
    assert letter["In-Reply-To"] == "<1@grower.example>"
    assert letter["References"].split() == [
        "<0@grower.example>",
        sent.message_id,
        "<1@grower.example>",
    ]


def test_an_answer_begins_with_what_it_answers(world: World, maren: Contact) -> None:
    kept = came(words("Could you ask ⟨contact⟩?\n\n> an earlier mail", Subject="AW: Posts"))
    assert kept is not None
    asked = {"kind": "customer", "record": world.customer.pk, "answers": kept.pk}
    begun = world.call(world.ilse)("get", "mail-draft", **asked)
    assert begun["subject"] == "Re: Posts"
    assert (begun["chosen"], begun["missing"]) == (maren.pk, [])
    assert begun["body"].endswith(" Maren Holt wrote:\n> Could you ask (contact)?")
    assert begun["follow_up_on"] is None
    assert not any(paper["usual"] for paper in begun["papers"])


def test_who_wrote_and_is_no_contact_is_answered_all_the_same(
    world: World,
    sent: Message,
) -> None:
    kept = came(mail(From="Ole <ole@grower.example>", In_Reply_To=sent.message_id))
    assert kept is not None
    asked = {"kind": "quote", "record": sent.revision_id, "answers": kept.pk}
    begun = world.call(world.ilse)("get", "mail-draft", **asked)
    assert begun["chosen"] == 0
    assert begun["to"][-1] == {
        "contact_id": None,
        "name": "Ole",
        "role": "",
        "address": "ole@grower.example",
    }
    assert not any(paper["usual"] for paper in begun["papers"])


def test_a_mail_that_needs_no_answer_may_wait_after_all(world: World, maren: Contact) -> None:
    kept = came(mail())
    assert kept is not None
    ilse, place = world.call(world.ilse), f"arrived-mails/{kept.pk}/waits"
    told = ilse("post", place, {"version": 1, "waits": False})
    assert (told["waits"], told["settled_by"], stops(world)) == (False, world.ilse.name, [])
    assert ilse.status("post", place, {"version": 1, "waits": True}) == 409
    told = ilse("post", place, {"version": told["version"], "waits": True})
    assert (told["waits"], told["settled_by"]) == (True, "")
    assert len(stops(world)) == 1
    stranger = world.call(world.stranger)
    assert stranger.status("post", place, {"version": 3, "waits": False}) == 404
    assert stranger.status("post", "mails", answer(kept)) == 404


def test_nobody_answers_another_customers_mail_in_passing(
    world: World,
    maren: Contact,
) -> None:
    kept = came(mail())
    assert kept is not None
    record = CustomerFactory(owner=world.ilse).pk
    ilse = world.call(world.ilse)
    assert ilse.status("post", "mails", answer(kept, record=record)) == 404
    asked = {"kind": "customer", "record": record, "answers": kept.pk}
    assert ilse.status("get", "mail-draft", **asked) == 404
    assert Received.objects.get().settled_at is None
    assert not Message.objects.exists()


def test_what_a_mail_says_to_an_offer_is_told_and_changes_nothing(
    world: World,
    sent: Message,
    issued: Revision,
) -> None:
    text = "We accept. Our order no. is 4711-A.\n\nMaren"
    kept = came(words(text, In_Reply_To=sent.message_id))
    assert kept is not None
    told = world.call(world.ilse)("get", f"arrived-mails/{kept.pk}")
    assert told["says"] == {
        "kind": "accepts",
        "sentence": "We accept.",
        "order_number": "4711-A",
        "wanted_on": None,
        "sure": True,
    }
    assert (told["kind"], told["record"]) == ("quote", issued.pk)
    [stop] = stops(world)
    assert (stop["kind"], stop["detail"]) == ("mail_accepts", "Maren Holt: We accept.")
    assert world.call(world.ilse)("get", f"revisions/{issued.pk}")["state"] == "issued"


def test_a_yes_to_no_offer_is_none(world: World, maren: Contact) -> None:
    kept = came(words("We accept."))
    assert kept is not None
    assert kept.says == {}


def test_an_automatic_answer_is_not_waited_for(world: World, sent: Message) -> None:
    away = words("I am out of the office until Monday.", Auto_Submitted="auto-replied")
    kept = came(away)
    assert kept is not None
    assert kept.says["kind"] == "away"
    assert stops(world) == []


def test_a_mail_of_ours_that_did_not_arrive_stands_on_today(world: World, sent: Message) -> None:
    Message.objects.filter(pk=sent.pk).update(state=UNDER_WAY)
    settle(sent.pk, Outcome(state=REFUSED, said="550 no such box"), now=timezone.now())
    [stop] = stops(world)
    assert (stop["kind"], stop["title"], stop["detail"]) == (
        "mail_stuck",
        "Your quote",
        "550 no such box",
    )
    assert stops(world, world.stranger) == []


def test_todays_mails_take_a_constant_number_of_queries(
    world: World,
    sent: Message,
    queries_of: Any,
) -> None:
    def asked() -> int:
        return int(queries_of(lambda: Caller(world.ilse)("get", "today")))

    came(mail(In_Reply_To=sent.message_id))
    few = asked()
    for number in range(2, 9):
        came(mail(Message_ID=f"<{number}@grower.example>"), number)
    assert asked() == few


def test_a_table_that_came_along_is_read_as_a_mail_would_have_it(
    world: World,
    maren: Contact,
) -> None:
    made = mail()
    table = "Item,Quantity\r\nPOS-300,40\r\n"
    made.add_attachment(table.encode(), maintype="text", subtype="csv", filename="order.csv")
    made.add_attachment(b"x", maintype="image", subtype="png", filename="farm.png")
    kept = came(made)
    assert kept is not None
    order, farm = kept.files.order_by("pk")
    ilse = world.call(world.ilse)
    told = ilse("get", f"arrived-files/{order.pk}/table")
    assert told == {"text": "Item\tQuantity\nPOS-300\t40"}
    assert ilse.status("get", f"arrived-files/{farm.pk}/table") == 422
    assert world.call(world.stranger).status("get", f"arrived-files/{order.pk}/table") == 404
