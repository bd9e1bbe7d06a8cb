"""A mail is written once and sent once; what became of it is told, and where nobody knows, a person is asked."""

from collections.abc import Iterator
from datetime import datetime, timedelta
from email import message_from_bytes, policy
from email.message import EmailMessage
from pathlib import Path
import socket
import threading
from typing import Any

from django.conf import settings
from django.utils import timezone
import pytest

from apps.customers.models import Customer
from apps.diary.models import Activity
from apps.mail.composing import mime_of
from apps.mail.flows import LEASE, MOST_TRIES, claim_next, note_handing, settle
from apps.mail.models import Message, Wording
from apps.mail.sending import drain
from apps.mail.transport import MailServer, Outcome
from apps.quotes.models import Revision
from demo.factories import ContactFactory
from standins.mailbox.box import Boxes
from standins.mailbox.smtp import smtp_server
from tests.server.conftest import Caller, World


@pytest.fixture(autouse=True)
def _files(tmp_path: Path, settings: Any) -> None:
    settings.FILES = tmp_path / "files"


@pytest.fixture
def boxes(tmp_path: Path) -> Boxes:
    return Boxes(tmp_path / "mailbox")


@pytest.fixture
def server(boxes: Boxes) -> Iterator[MailServer]:
    """The mail stand-in, running."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    running = smtp_server(boxes, port)
    running.start()
    yield MailServer(host="127.0.0.1", port=port, seconds=5)
    running.stop()


def body_of(record: int, **more: Any) -> dict[str, Any]:
    return {
        "kind": "quote",
        "record": record,
        "to": [{"name": "Maren Holt", "address": "maren.holt@grower.example"}],
        "subject": "Your quote",
        "body": "Dear Maren,\n.\nhere it is.",
        **more,
    }


def letters(boxes: Boxes, address: str = "maren.holt@grower.example") -> list[EmailMessage]:
    """What lies in a mailbox."""
    box = boxes._box(address)
    found = [message_from_bytes(box.get_bytes(key), policy=policy.default) for key in box.keys()]  # noqa: SIM118
    return [mail for mail in found if isinstance(mail, EmailMessage)]


def send(server: MailServer, at: datetime | None = None) -> str:
    """One round of the worker; the state of the newest mail then."""
    drain(server, lambda: at or timezone.now())
    newest = Message.objects.first()
    return newest.state if newest else ""


def test_a_quote_begins_as_a_mail_in_the_buyers_language(
    world: World, as_ilse: Caller, issued: Revision
) -> None:
    asked = {"kind": "quote", "record": issued.pk}
    told = as_ilse("get", "mail-draft", **asked)
    number = f"{issued.quote.number} A"
    assert told["to"][0]["address"] == "maren.holt@grower.example"
    assert told["subject"] == f"Quote {number} for Hazelmoor Orchards"
    assert told["body"].startswith("Dear Maren Holt,")
    assert "1\xa0033.92\xa0EUR" in told["body"]
    assert (told["missing"], told["whose"]) == ([], "shipped")
    assert [(paper["key"], paper["usual"]) for paper in told["papers"]] == [
        ("pdf", True),
        ("ubl", False),
    ]
    assert told["follow_up_on"] == str(world.today + timedelta(days=settings.FOLLOW_UP_DAYS))
    Customer.objects.filter(pk=world.customer.pk).update(language="de")
    german = as_ilse("get", "mail-draft", **asked)
    assert german["subject"] == f"Angebot {number} für Hazelmoor Orchards"
    assert "1\xa0033,92\xa0EUR" in german["body"]
    # Nobody to write to: the name is told as missing, not left as a hole.
    world.customer.contacts.update(email="")
    nobody = as_ilse("get", "mail-draft", **asked)
    assert (nobody["to"], nobody["chosen"], nobody["missing"]) == ([], None, ["contact"])
    assert world.call(world.tomas).status("get", "mail-draft", **asked) == 404


def test_a_draft_quote_is_not_sent(as_ilse: Caller, drafted: Revision) -> None:
    asked = as_ilse.ask("get", "mail-draft", kind="quote", record=drafted.pk)
    assert (asked.status_code, asked.json()["code"]) == (409, "not_issued")
    assert as_ilse.status("post", "mails", body_of(drafted.pk)) == 409


def test_a_mail_goes_out_once_with_its_paper_and_its_follow_up(
    world: World, as_ilse: Caller, issued: Revision, server: MailServer, boxes: Boxes
) -> None:
    follow = {"text": "Ask", "due_on": str(world.today), "owner_id": world.tomas.pk}
    made = as_ilse(
        "post",
        "mails",
        body_of(
            issued.pk,
            papers=["pdf", "ubl"],
            copies=[{"name": "", "address": "accounts@grower.example"}],
            copy_to_self=True,
            follow_up=follow,
        ),
    )
    assert (made["state"], [file["name"][-3:] for file in made["files"]]) == (
        "waiting",
        ["pdf", "xml"],
    )
    assert send(server) == "sent"
    assert send(server) == "sent"
    (mail,) = letters(boxes)
    assert mail["From"] == f"{world.ilse.name} <{settings.MAIL_FROM}>"
    assert mail["Reply-To"] == f"{world.ilse.name} <{world.ilse.email}>"
    assert (mail["To"], mail["Cc"]) == (
        "Maren Holt <maren.holt@grower.example>",
        "accounts@grower.example",
    )
    assert mail["Bcc"] is None
    assert mail["Message-ID"] == Message.objects.get().message_id
    text = mail.get_body(("plain",))
    assert text is not None
    # A line of a dot alone arrives as one.
    assert text.get_content().splitlines() == ["Dear Maren,", ".", "here it is."]
    files = {part.get_filename(): part.get_payload(decode=True) for part in mail.iter_attachments()}
    assert [bytes(content)[:5] for content in files.values()] == [b"%PDF-", b"<?xml"]  # type: ignore[arg-type]
    assert (
        len(letters(boxes, world.ilse.email)) == len(letters(boxes, "accounts@grower.example")) == 1
    )
    follow_up = Activity.objects.get(kind="follow_up", text="Ask")
    assert (follow_up.owner, follow_up.document) == (world.tomas, issued.quote.number)
    (told,) = as_ilse("get", "mails", kind="customer", record=world.customer.pk)
    assert (told["state"], told["about"]) == ("sent", f"{issued.quote.number} A")
    file = as_ilse.ask("get", f"mail-files/{told['files'][0]['id']}")
    assert b"".join(file)[:5] == b"%PDF-"
    stranger = world.call(world.tomas)
    assert stranger.status("get", f"mail-files/{told['files'][0]['id']}") == 404
    assert stranger("get", "mails", kind="customer", record=world.customer.pk) == []
    assert len(world.call(world.petra)("get", "mails", kind="quote", record=issued.pk)) == 1


def test_a_server_that_is_busy_or_away_is_tried_again_after_growing_pauses(
    as_ilse: Caller, issued: Revision, server: MailServer, boxes: Boxes
) -> None:
    as_ilse("post", "mails", body_of(issued.pk))
    away = MailServer(host="127.0.0.1", port=9, seconds=1)
    now = timezone.now()
    assert send(away, now) == "waiting"
    first = Message.objects.get()
    assert first.next_try_at > now
    assert send(server, now) == "waiting"  # not yet
    boxes.turn("busy")
    later = first.next_try_at
    assert send(server, later) == "waiting"
    second = Message.objects.get()
    assert second.said.startswith("451")
    assert second.next_try_at - later > first.next_try_at - now
    boxes.turn("busy")
    assert send(server, second.next_try_at) == "sent"
    assert [mail["Message-ID"] for mail in letters(boxes)] == [first.message_id]


def test_who_is_not_known_there_refuses_the_mail_and_a_person_decides(
    world: World, as_ilse: Caller, issued: Revision, server: MailServer, boxes: Boxes
) -> None:
    to = [
        {"name": "", "address": "maren.holt@grower.example"},
        {"name": "", "address": "nobody@grower.example"},
    ]
    made = as_ilse("post", "mails", body_of(issued.pk, to=to))
    assert send(server) == "refused"
    # Nobody has it: not the one who is known either.
    assert boxes.addresses() == []
    (told,) = as_ilse("get", "mails", kind="quote", record=issued.pk)
    assert told["said"].startswith("550")
    path, body = f"mails/{made['id']}/decide", {"version": told["version"], "what": "again"}
    assert world.call(world.tomas).status("post", path, body) == 404
    assert as_ilse.status("post", path, {**body, "version": 99}) == 409
    assert as_ilse("post", path, body)["state"] == "waiting"
    assert as_ilse.ask("post", path, {**body, "version": told["version"] + 1}).json()["code"] == (
        "mail_not_stuck"
    )
    assert (
        as_ilse("post", path, {"version": told["version"] + 1, "what": "go"})["state"] == "let_go"
    )
    assert send(server) == "let_go"


def test_a_server_that_takes_it_and_falls_silent_leaves_a_question_not_a_second_mail(
    world: World, as_ilse: Caller, issued: Revision, server: MailServer, boxes: Boxes
) -> None:
    as_ilse("post", "mails", body_of(issued.pk))
    boxes.turn("mute")
    assert send(server) == "unknown"
    boxes.turn("mute")
    assert send(server, timezone.now() + timedelta(days=1)) == "unknown"
    assert len(letters(boxes)) == 1
    (told,) = as_ilse("get", "mails", kind="quote", record=issued.pk)
    path = f"mails/{told['id']}/decide"
    done = as_ilse("post", path, {"version": told["version"], "what": "sent"})
    assert (done["state"], done["settled_by"]) == ("sent", world.ilse.name)


def test_a_worker_that_ends_before_the_words_are_there_is_followed_by_another_one(
    as_ilse: Caller, issued: Revision, server: MailServer, boxes: Boxes
) -> None:
    as_ilse("post", "mails", body_of(issued.pk))
    now = timezone.now()
    taken = claim_next(now)
    assert taken is not None
    assert claim_next(now) is None  # it is that worker's alone
    assert send(server, now + LEASE + timedelta(seconds=1)) == "sent"
    # What the first one says later changes nothing.
    assert settle(taken.pk, Outcome(state="refused"), now=now).state == "sent"
    assert len(letters(boxes)) == 1


def test_a_worker_that_ends_while_the_server_has_it_leaves_a_question(
    as_ilse: Caller, issued: Revision, server: MailServer, boxes: Boxes
) -> None:
    as_ilse("post", "mails", body_of(issued.pk))
    now = timezone.now()
    taken = claim_next(now)
    assert taken is not None
    note_handing(taken.pk)
    assert send(server, now + LEASE + timedelta(seconds=1)) == "unknown"
    assert boxes.addresses() == []


def test_after_many_tries_a_person_is_asked(as_ilse: Caller, issued: Revision) -> None:
    as_ilse("post", "mails", body_of(issued.pk))
    Message.objects.update(tries=MOST_TRIES - 1)
    assert send(MailServer(host="127.0.0.1", port=9, seconds=1)) == "refused"


@pytest.mark.parametrize(
    ("change", "path", "code"),
    [
        ({"to": []}, "to", "invalid"),
        ({"to": [{"address": "a@b.example\nBcc: all@x.example"}]}, "to", "mail_wrong"),
        ({"to": [{"address": "not one"}]}, "to", "mail_wrong"),
        ({"to": [{"address": "a@b.example"}] * 21}, "to", "invalid"),
        ({"subject": " "}, "subject", "required"),
        ({"body": "Dear ⟨contact⟩"}, "body", "still_open_field"),
        ({"papers": ["costs"]}, "papers", "unknown_choice"),
        ({"contact_id": 999_999}, "", "not_found"),
    ],
)
def test_a_mail_that_cannot_be_is_not_written(
    as_ilse: Caller, issued: Revision, change: dict[str, Any], path: str, code: str
) -> None:
    answer = as_ilse.ask("post", "mails", body_of(issued.pk, **change))
    assert answer.status_code in (404, 422)
    assert answer.json()["code"] == code
    assert path in answer.json()["path"]
    assert not Message.objects.exists()


def test_what_is_typed_gets_into_no_header(world: World, as_ilse: Caller, issued: Revision) -> None:
    name = 'Ada "Bcc: x@y.example" <b@c.example>'
    body = body_of(
        issued.pk,
        subject="One\r\nBcc: all@grower.example",
        to=[{"name": name, "address": "ada@grower.example"}],
    )
    as_ilse("post", "mails", body)
    mail = message_from_bytes(mime_of(Message.objects.get()), policy=policy.default)
    assert mail["Bcc"] is None
    assert mail["Subject"] == "One Bcc: all@grower.example"
    (to,) = mail["To"].addresses
    assert to.addr_spec == "ada@grower.example"


def test_words_are_kept_in_editions_and_taken_back(
    world: World, as_ilse: Caller, issued: Revision
) -> None:
    as_admin = world.call(world.admin)
    kept = {
        "kind": "quote",
        "language": "en",
        "subject": "Offer {number}",
        "body": "Hello {contact}",
    }
    assert as_ilse.status("put", "mail-words", {**kept, "own": False}) == 403
    wrong = as_admin.ask("put", "mail-words", {**kept, "body": "{margin}", "own": False}).json()
    assert (wrong["code"], wrong["path"]) == ("unknown", "body")
    assert as_admin("put", "mail-words", {**kept, "own": False})["whose"] == "house"
    asked = {"kind": "quote", "record": issued.pk}
    assert as_ilse("get", "mail-draft", **asked)["body"] == "Hello Maren Holt"
    assert as_ilse("put", "mail-words", {**kept, "body": "Hi {contact}"})["whose"] == "own"
    assert as_ilse("put", "mail-signature", {"text": "Ilse\n+44 1632 960 101"})
    assert as_ilse("get", "mail-draft", **asked)["body"] == (
        "Hi Maren Holt\n\n-- \nIlse\n+44 1632 960 101"
    )
    # Another's own words are not hers; back to the house's, and to what ships.
    assert world.call(world.petra)("get", "mail-draft", **asked)["body"] == "Hello Maren Holt"
    assert as_ilse("put", "mail-words", {**kept, "body": ""})["whose"] == "house"
    assert as_admin("put", "mail-words", {**kept, "body": "", "own": False})["whose"] == "shipped"
    assert Wording.objects.count() == 4
    # What each keeps is told, the newest first; the way back to one is to keep it again.
    house = as_admin("get", "mail-words/editions", kind="quote", language="en")
    assert [(row["body"], row["by"]) for row in house] == [
        ("", world.admin.name),
        ("Hello {contact}", world.admin.name),
    ]
    own = as_ilse("get", "mail-words/editions", kind="quote", language="en")
    assert [row["body"] for row in own] == ["", "Hi {contact}"]
    assert as_ilse("get", "mail-words/editions", kind="quote", language="de") == []
    assert (
        world.call(world.joren).status("get", "mail-words/editions", kind="quote", language="en")
        == 403
    )


def test_another_contact_is_greeted_by_name(
    world: World, as_ilse: Caller, issued: Revision
) -> None:
    other = ContactFactory(customer=world.customer, name="Bo Lind", email="bo@grower.example")
    told = as_ilse("get", "mail-draft", kind="quote", record=issued.pk, contact=other.pk)
    assert told["chosen"] == other.pk
    assert told["body"].startswith("Dear Bo Lind,")


def test_two_workers_send_each_mail_once(
    transactional_db: None, world: World, as_ilse: Caller, issued: Revision,
    server: MailServer, boxes: Boxes,
) -> None:  # fmt: skip
    for n in range(6):
        as_ilse("post", "mails", body_of(issued.pk, subject=f"Mail {n}"))
    threads = [threading.Thread(target=_drained, args=(server,)) for _ in range(2)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert set(Message.objects.values_list("state", flat=True)) == {"sent"}
    assert sorted(mail["Subject"] for mail in letters(boxes)) == [f"Mail {n}" for n in range(6)]


def _drained(server: MailServer) -> None:
    from django.db import connection

    while drain(server, timezone.now):
        pass
    connection.close()


def test_a_quote_about_to_lapse_is_reminded_of_in_words_of_its_own(
    world: World, as_ilse: Caller, issued: Revision
) -> None:
    asked = {"kind": "quote", "record": issued.pk, "words": "reminder"}
    told = as_ilse("get", "mail-draft", **asked)
    assert told["subject"].startswith(f"Our quote {issued.quote.number} A holds until ")
    assert (told["missing"], told["papers"][0]["usual"]) == ([], True)
    kept = {"kind": "reminder", "language": "en", "subject": "Soon", "body": "Until {valid_until}."}
    as_ilse("put", "mail-words", kept)
    again = as_ilse("get", "mail-draft", **asked)
    assert (again["subject"], again["whose"]) == ("Soon", "own")
    # Of what is no quote there is no reminder.
    customer = {"kind": "customer", "record": world.customer.pk, "words": "reminder"}
    assert as_ilse("get", "mail-draft", **customer)["subject"] == ""


def test_who_is_to_ask_already_is_told(world: World, as_ilse: Caller, issued: Revision) -> None:
    asked = {"kind": "quote", "record": issued.pk}
    Activity.objects.all().delete()
    assert as_ilse("get", "mail-draft", **asked)["planned_on"] is None
    follow = {"text": "Ask about it", "due_on": str(world.today + timedelta(days=4))}
    as_ilse("post", "mails", body_of(issued.pk, follow_up=follow))
    assert as_ilse("get", "mail-draft", **asked)["planned_on"] == follow["due_on"]
    Activity.objects.update(done_at=timezone.now())
    assert as_ilse("get", "mail-draft", **asked)["planned_on"] is None


@pytest.mark.parametrize("kind", ["quote", "reminder", "free"])
def test_words_are_tried_on_the_newest_record_of_ones_own(
    world: World, as_ilse: Caller, issued: Revision, kind: str
) -> None:
    words = {"kind": kind, "language": "en", "subject": "For {customer}", "body": "Dear {contact}"}
    told = as_ilse("post", "mail-words/try", words)
    assert (told["customer"], told["subject"]) == ("Hazelmoor Orchards", "For Hazelmoor Orchards")
    assert told["missing"] == ([] if kind != "free" else ["contact"])
    assert Wording.objects.count() == 0


def test_words_with_a_field_that_is_not_known_are_not_tried(
    world: World, as_ilse: Caller, issued: Revision
) -> None:
    words = {"kind": "quote", "language": "en", "subject": "", "body": "Due {due_on}"}
    refused = as_ilse.ask("post", "mail-words/try", words)
    assert (refused.status_code, refused.json()["path"]) == (422, "body")
    order = {**words, "kind": "order", "body": "{number}"}
    assert as_ilse.status("post", "mail-words/try", order) == 404
    assert world.call(world.joren).status("post", "mail-words/try", words) == 403
