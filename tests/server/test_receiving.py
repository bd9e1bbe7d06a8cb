"""The house's mailbox: a customer's mail comes in once, strangers' leave no trace, what came back is told."""

from email.message import EmailMessage
from pathlib import Path
import re
from typing import Any

from django.utils import timezone
import pytest

from apps.customers.models import Contact
from apps.mail.imap import ImapBox
from apps.mail.models import SENT, Mailbox, Message, Received
from apps.mail.receiving import AFTER_FAULT, EVERY, take
from apps.quotes.models import Revision
from routecore.arriving import read_mail
from standins.mailbox.answers import SAMPLES, answer
from standins.mailbox.box import Boxes
from tests.server.conftest import Caller, World
from tests.server.letters import HOUSE, came, looked, mail

pytestmark = pytest.mark.usefixtures("files_aside")


def test_an_answer_stands_where_the_mail_was_sent_from(
    world: World, sent: Message, issued: Revision
) -> None:
    kept = came(mail(In_Reply_To=sent.message_id))
    assert kept is not None
    assert (kept.answers, kept.deal, kept.revision) == (sent, world.deal, issued)
    for kind, record in (
        ("quote", issued.pk),
        ("deal", world.deal.pk),
        ("customer", world.customer.pk),
    ):
        [row] = world.call(world.ilse)("get", "arrived-mails", kind=kind, record=record)
        assert (row["sender"], row["text"]) == ("Maren Holt", "Could you add two rolls?\n")
    assert world.call(world.ilse)("get", "arrived-mails", kind="order", record=1) == []


def test_a_mail_of_a_known_contact_is_kept_and_found_by_the_quote_it_names(
    world: World, maren: Contact, issued: Revision
) -> None:
    kept = came(mail(Subject=f"About {issued.quote.number} A"))
    assert kept is not None
    assert (kept.contact, kept.revision, kept.deal) == (maren, issued, world.deal)
    other = came(mail(Subject="About Q-1", Message_ID="<2@grower.example>"), 2)
    assert other is not None
    assert (other.customer, other.revision, other.deal) == (world.customer, None, None)


def test_a_strangers_mail_leaves_no_trace(world: World, maren: Contact) -> None:
    assert came(mail(From="somebody@elsewhere.example")) is None
    assert came(mail(From="x", Message_ID="<2@x.example>"), 2) is None
    assert came(b"\xff\xfe not a mail", 3) is None
    assert not Received.objects.exists()
    assert Mailbox.objects.get().last_uid == 3


@pytest.mark.parametrize("address", [HOUSE, "ilse@vividroute.example"])
def test_a_mail_that_claims_to_be_from_the_house_is_left(
    world: World, sent: Message, address: str
) -> None:
    world.ilse.email = "ilse@vividroute.example"
    world.ilse.save()
    assert came(mail(From=f"Ilse <{address}>", In_Reply_To=sent.message_id)) is None


def test_each_mail_comes_in_once_whatever_the_box_counts(world: World, maren: Contact) -> None:
    assert came(mail(), 5) is not None
    assert came(mail(), 5) is None
    assert came(mail(), 4) is None
    box = Mailbox.objects.get()
    # The box counts anew: all of it is looked at again, and nothing is kept twice.
    assert take(box.pk, 8, 1, mail().as_bytes(), now=timezone.now()) is None
    assert (Received.objects.count(), Mailbox.objects.get().uid_validity) == (1, 8)


def test_what_no_person_wrote_says_so(world: World, maren: Contact) -> None:
    kept = came(mail(Auto_Submitted="auto-replied"))
    assert kept is not None
    assert kept.automatic


def test_files_that_came_along_are_for_those_who_see_the_customer(
    world: World, maren: Contact
) -> None:
    made = mail()
    made.add_attachment(b"<script>", maintype="text", subtype="html", filename="../order.html")
    came(made)
    ilse = world.call(world.ilse)
    [row] = ilse("get", "arrived-mails", kind="customer", record=world.customer.pk)
    [file] = row["files"]
    assert file["name"] == "order.html"
    answered = ilse.ask("get", f"arrived-files/{file['id']}")
    assert b"".join(answered.streaming_content) == b"<script>"
    assert answered["Content-Type"] == "application/octet-stream"
    assert answered["Content-Disposition"].startswith("attachment")
    stranger = world.call(world.stranger)
    assert stranger.status("get", f"arrived-files/{file['id']}") == 404
    assert stranger("get", "arrived-mails", kind="customer", record=world.customer.pk) == []


def test_the_mails_of_a_record_take_a_constant_number_of_queries(
    world: World, maren: Contact, queries_of: Any
) -> None:
    def asked() -> int:
        ilse = Caller(world.ilse)
        return int(
            queries_of(
                lambda: ilse("get", "arrived-mails", kind="customer", record=world.customer.pk)
            )
        )

    came(mail())
    few = asked()
    for number in range(2, 12):
        came(mail(Message_ID=f"<{number}@grower.example>"), number)
    assert asked() == few


def letter_of(sent: Message, boxes: Boxes, address: str) -> Any:
    """Our mail as it lies in the buyer's box of the stand-in."""
    made = EmailMessage()
    made["From"], made["To"], made["Subject"] = f"Ilse <{HOUSE}>", address, sent.subject
    made["Message-ID"] = sent.message_id
    made.set_content(sent.body)
    boxes.keep(address, made.as_bytes())
    return boxes.letters(address)[0]


def test_what_came_back_is_told_and_a_person_decides(
    world: World, sent: Message, tmp_path: Path
) -> None:
    letter = letter_of(sent, Boxes(tmp_path), "maren.holt@grower.example")
    _, report = answer(letter, "maren.holt@grower.example", "bounce", "")
    assert came(report) is None
    ilse = world.call(world.ilse)
    [row] = ilse("get", "mails", kind="quote", record=sent.revision_id)
    assert row["state"] == "bounced"
    assert row["said"].startswith("maren.holt@grower.example: 5.1.1 550 There is no such mailbox")
    again = {"version": row["version"], "what": "again"}
    assert ilse("post", f"mails/{sent.pk}/decide", again)["state"] == "waiting"


def test_a_report_about_somebody_it_was_not_sent_to_changes_nothing(
    world: World, sent: Message, tmp_path: Path
) -> None:
    letter = letter_of(sent, Boxes(tmp_path), "other@grower.example")
    came(answer(letter, "other@grower.example", "bounce", "")[1])
    sent.refresh_from_db()
    assert sent.state == SENT


def test_the_mailbox_is_read_from_where_the_last_look_ended(
    world: World, sent: Message, reading: tuple[Boxes, ImapBox]
) -> None:
    boxes, box = reading
    letter = letter_of(sent, boxes, "maren.holt@grower.example")
    now = timezone.now()
    for turn, sample in enumerate(sorted(set(SAMPLES) - {"bounce"})):
        to, body = answer(letter, "maren.holt@grower.example", sample, "")
        assert to == HOUSE
        boxes.keep(to, body)
        assert looked(box, lambda turn=turn: now + 2 * EVERY * (turn + 1)) == 1
    assert Received.objects.filter(answers=sent).count() == len(SAMPLES) - 1
    assert Received.objects.get(automatic=True).text.startswith("I am out of the office")
    # Looked at just now: nobody asks again; then there is nothing new.
    at = now + 2 * EVERY * (len(SAMPLES) - 1)
    assert looked(box, lambda: at) == 0
    assert looked(box, lambda: at + 2 * EVERY) == 0
    assert Mailbox.objects.get().fault == ""


def test_a_mail_that_nothing_can_keep_does_not_hold_up_the_next(
    world: World,
    maren: Contact,
    reading: tuple[Boxes, ImapBox],
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    boxes, box = reading
    boxes.keep(HOUSE, mail(Subject="Broken").as_bytes())
    boxes.keep(HOUSE, mail(Message_ID="<2@grower.example>").as_bytes())

    def read(raw: bytes) -> Any:
        if b"Broken" in raw:
            raise AssertionError("a fault of ours")
        return read_mail(raw)

    monkeypatch.setattr("apps.mail.known.read_mail", read)
    assert looked(box, timezone.now) == 2
    assert Received.objects.get().mark == "<2@grower.example>"
    assert "could not be kept" in Mailbox.objects.get().fault


def test_a_mail_waits_where_the_disk_is_full(
    world: World, maren: Contact, reading: tuple[Boxes, ImapBox], monkeypatch: pytest.MonkeyPatch
) -> None:
    boxes, box = reading
    made = mail()
    made.add_attachment(b"x", maintype="text", subtype="csv", filename="order.csv")
    boxes.keep(HOUSE, made.as_bytes())
    now = timezone.now()
    with monkeypatch.context() as full:
        full.setattr("apps.mail.receiving.put", _no_room)
        looked(box, lambda: now)
    assert Mailbox.objects.get().last_uid == 0
    assert looked(box, lambda: now + 2 * EVERY) == 0
    assert looked(box, lambda: now + 2 * AFTER_FAULT) == 1
    assert Received.objects.get().files.get().name == "order.csv"


def _no_room(_: bytes) -> str:
    raise OSError("No space left on device")


def test_a_mailbox_that_cannot_be_read_says_why_and_is_tried_again(
    world: World, maren: Contact, reading: tuple[Boxes, ImapBox]
) -> None:
    boxes, box = reading
    boxes.keep(HOUSE, mail().as_bytes())
    now = timezone.now()
    wrong = ImapBox(host="127.0.0.1", port=box.port, user=HOUSE, password="another")
    assert looked(wrong, lambda: now) == 0
    assert re.search("(?i)auth|credentials|invalid", Mailbox.objects.get().fault)
    nowhere = ImapBox(host="127.0.0.1", port=9, user=HOUSE, password="x")
    assert looked(nowhere, lambda: now + 2 * AFTER_FAULT) == 0
    assert "refused" in Mailbox.objects.get().fault
    assert looked(box, lambda: now + 4 * AFTER_FAULT) == 1
    assert (Mailbox.objects.get().fault, Received.objects.count()) == ("", 1)
