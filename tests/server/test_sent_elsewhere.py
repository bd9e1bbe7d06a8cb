"""What a person sends with another program: found among what they sent, kept where it went to a customer of theirs."""

from datetime import timedelta
from email.message import EmailMessage
from email.utils import format_datetime
from typing import Any
from unittest.mock import Mock

from django.utils import timezone
import pytest

from apps.customers.models import Contact
from apps.mail.imap import ImapBox, Line
from apps.mail.mailboxes import Reader
from apps.mail.models import Mailbox, Message, Received
from apps.mail.receiving import look_round
from demo.factories import ContactFactory, CustomerFactory
from standins.mailbox.box import Boxes
from tests.server.conftest import World
from tests.server.letters import came, mail
from tests.server.test_mailboxes import ILSE, added, there

pytestmark = pytest.mark.usefixtures("files_aside")
__all__ = ["there"]
MARK = "<from-her-phone@quillfen.example>"


def written(to: str = "maren.holt@grower.example", **fields: str) -> EmailMessage:
    """A mail of Ilse's, from her phone."""
    given = {"From": f"Ilse <{ILSE}>", "To": to, "Subject": "As I said", "Message_ID": MARK}
    return mail(**{**given, **fields})


def looked(reader: Reader | None = None, rounds: int = 2) -> None:
    """The first look finds the folder, the second what lies in it."""
    reader = reader or Reader()
    for n in range(rounds):
        look_round(reader, lambda n=n: timezone.now() + timedelta(seconds=10 * n))  # type: ignore[misc]


def test_what_she_sends_with_another_program_stands_at_the_customer_once(
    world: World, there: Boxes, maren: Contact
) -> None:
    added(world, there)
    sent = written()
    sent.add_attachment(b"%PDF-1.7", maintype="application", subtype="pdf", filename="plan.pdf")
    there.keep_sent(ILSE, sent.as_bytes())
    reader = Reader()
    looked(reader, 3)
    (row,) = world.call(world.ilse)("get", "mails", kind="customer", record=world.customer.pk)
    assert (row["subject"], row["state"], row["elsewhere"]) == ("As I said", "sent", True)
    assert row["to"] == [maren.email.lower()]
    assert [each["name"] for each in row["files"]] == ["plan.pdf"]
    kept = Message.objects.get()
    assert (kept.who, kept.contact, kept.message_id) == (world.ilse, maren, MARK)
    # Laid there again, by a program that moves folders: still once.
    there.keep_sent(ILSE, sent.as_bytes())
    looked(reader)
    assert Message.objects.count() == 1
    told = world.call(world.ilse)("get", f"customers/{world.customer.pk}/timeline", kind="said")
    assert [(each["kind"], each["title"]) for each in told["rows"]] == [("mail", "As I said")]


def test_an_answer_with_another_program_ends_the_waiting_and_stands_at_the_quote(
    world: World, there: Boxes, maren: Contact, sent: Message
) -> None:
    added(world, there)
    asked = came(mail(In_Reply_To=sent.message_id))
    assert asked and asked.settled_at is None
    there.keep_sent(ILSE, written(In_Reply_To="<1@grower.example>").as_bytes())
    looked()
    asked.refresh_from_db()
    assert (asked.settled_by, asked.settled_at is not None) == (world.ilse, True)
    kept = Message.objects.get(message_id=MARK)
    assert (kept.in_answer_to, kept.revision, kept.deal) == (asked, sent.revision, sent.deal)


def test_what_the_customer_answers_to_it_is_in_the_same_conversation(
    world: World, there: Boxes, maren: Contact
) -> None:
    added(world, there)
    there.keep_sent(ILSE, written().as_bytes())
    looked()
    back = came(mail(From="Somebody else <office@grower.example>", In_Reply_To=MARK))
    assert back and back.answers == Message.objects.get()
    assert back.customer == world.customer


def test_what_goes_to_nobody_of_hers_leaves_no_trace(
    world: World, there: Boxes, maren: Contact
) -> None:
    his = CustomerFactory(owner=world.tomas)
    ContactFactory(customer=his, email="else@his.example")
    added(world, there)
    for n, to in enumerate(("mother@home.example", "else@his.example", "petra@quillfen.example")):
        there.keep_sent(ILSE, written(to, Message_ID=f"<{n}@quillfen.example>").as_bytes())
    looked()
    assert not Message.objects.exists()
    assert Mailbox.objects.get(name=ILSE).sent_uid == 3


def test_what_was_sent_before_the_mailbox_was_read_stays_unread(
    world: World, there: Boxes, maren: Contact
) -> None:
    long_ago = format_datetime(timezone.now() - timedelta(minutes=2))
    there.keep_sent(ILSE, written(Date=long_ago).as_bytes())
    added(world, there)
    looked()
    assert not Message.objects.exists()


def test_what_another_wrote_is_not_believed_to_be_hers(
    world: World, there: Boxes, maren: Contact
) -> None:
    added(world, there)
    there.keep_sent(ILSE, written(From="Petra <petra@quillfen.example>").as_bytes())
    looked()
    assert not Message.objects.exists()


def test_what_claims_in_the_inbox_to_be_hers_is_held_off_still(
    world: World, there: Boxes, maren: Contact
) -> None:
    added(world, there)
    there.keep(ILSE, written().as_bytes())
    looked()
    assert not Message.objects.exists()
    assert not Received.objects.exists()


def test_a_copy_of_what_went_out_from_here_is_not_taken_for_another_mail(
    world: World, there: Boxes, maren: Contact, sent: Message
) -> None:
    added(world, there)
    there.keep_sent(ILSE, written(Message_ID=sent.message_id).as_bytes())
    looked()
    assert Message.objects.get() == sent


def test_one_without_a_mark_of_its_own_is_kept_once_as_well(
    world: World, there: Boxes, maren: Contact
) -> None:
    added(world, there)
    bare = written()
    del bare["Message-ID"]
    for _ in range(2):
        there.keep_sent(ILSE, bare.as_bytes())
    looked()
    assert Message.objects.get().message_id.endswith("@quillfen.example>")


def test_a_shared_mailbox_tells_nothing_of_what_was_sent_from_it(
    world: World, there: Boxes, maren: Contact
) -> None:
    added(world, there, world.admin, shared=True)
    there.keep_sent(ILSE, written().as_bytes())
    looked()
    assert not Message.objects.exists()
    assert Mailbox.objects.get(name=ILSE).sent_name == ""


def test_a_folder_that_is_gone_is_looked_for_again(
    world: World, there: Boxes, maren: Contact
) -> None:
    added(world, there)
    there.keep_sent(ILSE, written().as_bytes())
    Mailbox.objects.filter(name=ILSE).update(sent_name="Outgoing")
    look_round(Reader(), timezone.now)
    row = Mailbox.objects.get(name=ILSE)
    assert (row.sent_name, row.fault != "") == ("", True)
    later = timezone.now() + timedelta(minutes=5)
    look_round(Reader(), lambda: later)
    look_round(Reader(), lambda: later + timedelta(minutes=5))
    assert (Mailbox.objects.get(name=ILSE).fault, Message.objects.count()) == ("", 1)


@pytest.mark.parametrize(
    ("told", "name"),
    [
        ([rb'(\HasNoChildren) "/" INBOX', rb'(\HasNoChildren \Sent) "/" "Out &- gone"'], "Out &- gone"),
        ([rb'(\Marked) "." "INBOX.Sent"', rb'(\Drafts) "." "INBOX.Drafts"'], "INBOX.Sent"),
        ([rb'() "/" "Gesendete Elemente"'], "Gesendete Elemente"),
        ([rb'() NIL Sent'], "Sent"),
        ([rb'() "/" "Sent \"all\""', rb'(\Sent) "/" "My \"own\""'], 'My "own"'),
        ([rb'() "/" "Not sent"', rb'() "/" Archive', (rb'() "/" {4}', b"Sent")], ""),
        ([None], ""),
    ],
)  # fmt: skip
def test_the_folder_of_what_was_sent_is_the_one_the_server_marks_else_one_of_a_usual_name(
    told: list[Any], name: str
) -> None:
    """RFC 6154, 2; RFC 3501, 7.2.2."""
    imap = Mock()
    imap.list.return_value = ("OK", told)
    assert Line(imap, 7).sent_folder() == name


def test_a_day_is_written_as_imap_does_whatever_the_machine_speaks(
    reading: tuple[Boxes, ImapBox],
) -> None:
    """RFC 3501, 9: date-month."""
    boxes, box = reading
    boxes.keep(box.user, mail().as_bytes())
    today = timezone.localdate()
    with box.open() as line:
        assert len(line.after(0, 20, today - timedelta(days=2))) == 1
        assert line.after(0, 20, today + timedelta(days=2)) == []
