"""Somebody unknown wrote: offered once to those who may know them; what is not taken leaves no trace."""

from typing import Any

from django.utils import timezone
import pytest

from apps.customers.marks import refresh_marks
from apps.customers.models import Contact
from apps.leads.models import Lead
from apps.mail.imap import ImapBox
from apps.mail.models import Mailbox, Received, Stranger
from apps.mail.receiving import EVERY
from apps.mail.receiving import _keep_once as keep_once
from demo.factories import ContactFactory, CustomerFactory
from standins.mailbox.box import Boxes
from tests.server.conftest import Caller, World
from tests.server.letters import HOUSE, came, looked, mail

pytestmark = pytest.mark.usefixtures("files_aside")
OLE = "Ole Brand <ole@grower.example>"


@pytest.fixture
def known(maren: Contact) -> Contact:
    """Her customer's domain is known."""
    refresh_marks([maren.customer_id])
    return maren


def offered(world: World, person: Any = None) -> list[dict[str, Any]]:
    return list(world.call(person or world.ilse)("get", "strangers"))


def test_a_colleague_of_a_contact_is_offered_there_to_whose_customer_it_is(
    world: World, known: Contact
) -> None:
    assert came(mail(From=OLE, Subject="Posts for us")) is None
    [row] = offered(world)
    assert (row["name"], row["address"], row["customer_id"]) == (
        "Ole Brand",
        "ole@grower.example",
        known.customer_id,
    )
    assert offered(world, world.petra) == [row]
    assert offered(world, world.tomas) == offered(world, world.stranger) == []
    [stop] = world.call(world.ilse)("get", "today")["mails"]
    assert (stop["kind"], stop["title"], stop["to"]) == (
        "stranger",
        "Ole Brand",
        "/leads/strangers",
    )
    assert not Received.objects.exists()


def test_one_whom_nobody_knows_is_offered_to_all_who_sell(world: World, known: Contact) -> None:
    came(mail(From="Uma <uma@elsewhere.example>"))
    assert [row["customer_id"] for row in offered(world, world.stranger)] == [None]
    assert world.call(world.joren).status("get", "strangers") == 403
    assert world.call(world.ilse)("get", "today")["mails"] == []


def test_a_domain_that_several_share_tells_nothing(world: World, known: Contact) -> None:
    other = CustomerFactory(owner=world.ilse)
    ContactFactory(customer=other, email="post@grower.example")
    refresh_marks([other.pk])
    came(mail(From=OLE))
    assert [row["customer_id"] for row in offered(world)] == [None]


def test_several_mails_of_one_are_one_offer(world: World, known: Contact) -> None:
    came(mail(From=OLE, Subject="Posts"), 4)
    came(mail(From=OLE, Subject="And wire", Message_ID="<2@grower.example>"), 5)
    [row] = offered(world)
    assert (row["mails"], row["subject"]) == (2, "And wire")
    assert Stranger.objects.get().uids == [4, 5]
    # Who looked before the second one is asked to look again.
    seen = {"version": row["version"] - 1}
    assert world.call(world.ilse).status("post", f"strangers/{row['id']}/lead", seen) == 409


def test_what_a_machine_wrote_leaves_no_trace(world: World, known: Contact) -> None:
    came(mail(From=OLE, List_Id="<news.grower.example>"))
    came(mail(From=OLE, Auto_Submitted="auto-generated", Message_ID="<2@x.example>"), 2)
    assert not Stranger.objects.exists()


def test_whoever_is_let_go_is_not_offered_again_and_nothing_is_known_of_them(
    world: World, known: Contact
) -> None:
    came(mail(From=OLE))
    [row] = offered(world)
    ilse, place = world.call(world.ilse), f"strangers/{row['id']}/go"
    assert ilse.status("post", place, {"version": row["version"] + 1}) == 409
    assert ilse.status("post", place, {"version": row["version"]}) == 204
    came(mail(From=OLE, Message_ID="<2@grower.example>"), 2)
    assert offered(world) == []
    kept = Stranger.objects.get()
    assert (kept.name, kept.address, kept.subject, kept.uids, kept.customer) == (
        *("", "", "", []),
        None,
    )
    assert ilse.status("post", place, {"version": kept.version}) == 404


def test_nobody_takes_a_stranger_of_anothers_customer(world: World, known: Contact) -> None:
    came(mail(From=OLE))
    [row] = offered(world)
    body = {"version": row["version"]}
    tomas = world.call(world.tomas)
    for act in ("lead", "go"):
        assert tomas.status("post", f"strangers/{row['id']}/{act}", body) == 404
    theirs = CustomerFactory(owner=world.tomas)
    ilse = world.call(world.ilse)
    place = f"strangers/{row['id']}/contact"
    assert ilse.status("post", place, {**body, "customer_id": theirs.pk}) == 404
    ilse("post", place, {**body, "customer_id": known.customer_id})
    assert ilse.status("post", place, {**body, "customer_id": known.customer_id}) == 409


def test_a_mail_of_an_open_lead_stands_on_the_lead(world: World) -> None:
    ilse = world.call(world.ilse)
    lead = ilse("post", "leads", {"name": "Ole", "email": "ole@grower.example"})
    came(mail(From=OLE, Subject="Posts"))
    assert not Stranger.objects.exists()
    [note] = ilse("get", f"leads/{lead['id']}")["notes"]
    assert note["text"] == "Posts\nCould you add two rolls?"


def test_what_a_contact_wrote_before_they_were_one_is_fetched(
    world: World, known: Contact, reading: tuple[Boxes, ImapBox]
) -> None:
    boxes, reader = reading
    for number in (1, 2):
        made = mail(From=OLE, Message_ID=f"<{number}@grower.example>", Subject=f"Posts {number}")
        boxes.keep(HOUSE, made.as_bytes())
    now = timezone.now()
    assert looked(reader, lambda: now) == 2
    [row] = offered(world)
    body = {"version": row["version"], "customer_id": known.customer_id}
    made = world.call(world.ilse)("post", f"strangers/{row['id']}/contact", body)
    assert made == {"customer_id": known.customer_id, "lead_id": None}
    assert looked(reader, lambda: now + 2 * EVERY) == 2
    kept = Received.objects.order_by("subject")
    assert [(each.subject, each.contact and each.contact.name) for each in kept] == [
        ("Posts 1", "Ole Brand"),
        ("Posts 2", "Ole Brand"),
    ]
    assert not Stranger.objects.exists()
    assert looked(reader, lambda: now + 4 * EVERY) == 0


def test_what_a_lead_wrote_is_fetched_onto_it(world: World, reading: tuple[Boxes, ImapBox]) -> None:
    boxes, reader = reading
    boxes.keep(HOUSE, mail(From="uma@elsewhere.example", Subject="A fence").as_bytes())
    now = timezone.now()
    looked(reader, lambda: now)
    [row] = offered(world, world.stranger)
    theirs = world.call(world.stranger)
    made = theirs("post", f"strangers/{row['id']}/lead", {"version": row["version"]})
    lead = Lead.objects.get(pk=made["lead_id"])
    assert (lead.name, lead.topic, lead.source, lead.owner) == (
        *("uma@elsewhere.example", "A fence", "mail"),
        world.stranger,
    )
    assert looked(reader, lambda: now + 2 * EVERY) == 1
    [note] = theirs("get", f"leads/{lead.pk}")["notes"]
    assert note["text"].startswith("A fence\n")
    assert not Stranger.objects.exists()


def test_a_mailbox_that_counts_anew_has_nothing_to_fetch(
    world: World, known: Contact, reading: tuple[Boxes, ImapBox]
) -> None:
    boxes, reader = reading
    boxes.keep(HOUSE, mail(From=OLE).as_bytes())
    now = timezone.now()
    looked(reader, lambda: now)
    [row] = offered(world)
    body = {"version": row["version"], "customer_id": known.customer_id}
    world.call(world.ilse)("post", f"strangers/{row['id']}/contact", body)
    Stranger.objects.update(uid_validity=1)
    Mailbox.objects.update(looked_at=None)
    assert looked(reader, lambda: now + 2 * EVERY) == 1
    assert not Stranger.objects.exists()


def test_strangers_take_one_query_however_many(
    world: World, known: Contact, queries_of: Any
) -> None:
    def asked() -> int:
        return int(queries_of(lambda: Caller(world.ilse)("get", "strangers")))

    came(mail(From=OLE))
    few = asked()
    for number in range(2, 8):
        came(mail(From=f"p{number}@grower.example", Message_ID=f"<{number}@x>"), number)
    assert len(offered(world)) == 7
    assert asked() == few


def test_what_nothing_can_keep_does_not_hold_up_what_is_fetched(
    world: World,
    known: Contact,
    reading: tuple[Boxes, ImapBox],
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    boxes, reader = reading
    for number in (1, 2):
        boxes.keep(HOUSE, mail(From=OLE, Message_ID=f"<{number}@grower.example>").as_bytes())
    now = timezone.now()
    looked(reader, lambda: now)
    [row] = offered(world)
    body = {"version": row["version"], "customer_id": known.customer_id}
    world.call(world.ilse)("post", f"strangers/{row['id']}/contact", body)
    kept = keep_once

    def keep(box: Any, raw: bytes, letter: Any, at: Any) -> Any:
        if b"<1@" in raw:
            raise AssertionError("a fault of ours")
        return kept(box, raw, letter, at)

    monkeypatch.setattr("apps.mail.receiving._keep_once", keep)
    assert looked(reader, lambda: now + 2 * EVERY) == 2
    assert [each.mark for each in Received.objects.all()] == ["<2@grower.example>"]
    assert not Stranger.objects.exists()


def test_a_name_of_any_length_is_taken(world: World, known: Contact) -> None:
    came(mail(From=f"{'Ole ' * 60}<ole@grower.example>"))
    came(mail(From=f"x@{'y' * 60}.{'z' * 110}.example", Message_ID="<2@x>"), 2)
    rows = {row["customer_id"]: row for row in offered(world)}
    ilse = world.call(world.ilse)
    ole = rows[known.customer_id]
    body = {"version": ole["version"], "customer_id": known.customer_id}
    assert ilse.status("post", f"strangers/{ole['id']}/contact", body) == 200
    long = rows[None]
    assert ilse.status("post", f"strangers/{long['id']}/lead", {"version": long["version"]}) == 200
