"""Mailboxes beside the house's own: opened when they are added, sealed, read for those who may see what comes."""

from typing import Any

from django.db import connection
from django.utils import timezone
import pytest

from apps.customers.models import Contact
from apps.mail.imap import ImapBox
from apps.mail.mailboxes import Reader
from apps.mail.models import Mailbox, Received, Stranger
from apps.mail.receiving import EVERY, look_in, look_round
from apps.mail.sealing import CannotOpen, opened, seal
from demo.factories import ContactFactory, CustomerFactory
from standins.mailbox.box import Boxes
from tests.server.conftest import World
from tests.server.letters import HOUSE, mail

pytestmark = pytest.mark.usefixtures("files_aside")
ILSE = "ilse@quillfen.example"


@pytest.fixture
def there(reading: tuple[Boxes, ImapBox], settings: Any) -> Boxes:
    """The stand-in's server is in the settings; the house's own box is not read."""
    boxes, box = reading
    settings.IMAP_SERVERS = [f"127.0.0.1:{box.port}:plain"]
    return boxes


def added(world: World, there: Boxes, who: Any = None, **changes: Any) -> Any:
    server = world.call(who or world.ilse)("get", "mailboxes")["servers"][0]
    body = {"server": server, "name": ILSE, "password": "ilse's", **changes}
    return world.call(who or world.ilse).ask("post", "mailboxes", body)


def test_what_lies_in_a_mailbox_already_stays_unread_and_what_comes_is_read(
    world: World, there: Boxes, maren: Contact
) -> None:
    there.keep(ILSE, mail(Subject="Long ago").as_bytes())
    made = added(world, there).json()
    assert (made["name"], made["shared"], made["mine"], made["fault"]) == (ILSE, False, True, "")
    there.keep(ILSE, mail(Subject="Today", Message_ID="<2@grower.example>").as_bytes())
    reader, now = Reader(), timezone.now()
    assert look_round(reader, lambda: now) == 1
    assert Received.objects.get().subject == "Today"
    # The line stays open, and the next look finds what came since.
    there.keep(ILSE, mail(Subject="Later", Message_ID="<3@grower.example>").as_bytes())
    assert look_round(reader, lambda: now + 2 * EVERY) == 1


def test_no_password_lies_open_in_the_database(world: World, there: Boxes) -> None:
    made = added(world, there).json()
    assert "password" not in made
    with connection.cursor() as cursor:
        cursor.execute("SELECT * FROM mail_mailbox")
        kept = str(cursor.fetchall())
    assert "ilse's" not in kept
    assert opened(Mailbox.objects.get(name=ILSE).sealed) == "ilse's"


def test_what_was_sealed_with_another_key_is_told_not_guessed(
    world: World, there: Boxes, settings: Any
) -> None:
    added(world, there)
    settings.MAILBOX_KEY = "another"
    with pytest.raises(CannotOpen):
        opened(Mailbox.objects.get(name=ILSE).sealed)
    assert look_round(Reader(), timezone.now) == 0
    assert "another key" in Mailbox.objects.get(name=ILSE).fault
    assert seal("x") != seal("x")


def test_a_mailbox_that_does_not_open_is_not_added(world: World, there: Boxes) -> None:
    answer = added(world, there, password="wrong")
    assert (answer.status_code, answer.json()["code"]) == (409, "mailbox_fault")
    assert answer.json()["message"].endswith(
        "it: [AUTHENTICATIONFAILED] Invalid authentication credentials."
    )
    assert not Mailbox.objects.filter(name=ILSE).exists()
    assert added(world, there, server="mail.elsewhere.example:993").status_code == 422
    assert added(world, there).status_code == 201
    assert added(world, there).json()["code"] == "mailbox_there"


def test_the_shared_ones_are_the_administrators(world: World, there: Boxes) -> None:
    assert added(world, there, shared=True).status_code == 403
    made = added(world, there, world.admin, shared=True).json()
    ilse = world.call(world.ilse)
    [row] = ilse("get", "mailboxes")["rows"]
    assert (row["shared"], row["mine"]) == (True, False)
    seen = {"version": row["version"]}
    assert ilse.status("post", f"mailboxes/{made['id']}/retire", seen) == 404
    assert world.call(world.admin).status("post", f"mailboxes/{made['id']}/retire", seen) == 204


def test_ones_own_mailbox_is_nobody_elses_to_see(world: World, there: Boxes) -> None:
    made = added(world, there).json()
    for person in (world.petra, world.admin, world.stranger):
        them = world.call(person)
        assert them("get", "mailboxes")["rows"] == []
        seen = {"version": made["version"]}
        assert them.status("post", f"mailboxes/{made['id']}/retire", seen) == 404
        body = {**seen, "password": "ilse's"}
        assert them.status("post", f"mailboxes/{made['id']}/password", body) == 404
    assert world.call(world.joren).status("get", "mailboxes") == 403


def test_in_a_persons_mailbox_only_their_customers_mail_is_kept(
    world: World, there: Boxes, maren: Contact
) -> None:
    theirs = CustomerFactory(owner=world.stranger)
    ContactFactory(customer=theirs, email="abe@elsewhere.example")
    added(world, there)
    private = mail(From="abe@elsewhere.example", Message_ID="<2@x>", Subject="A private word")
    there.keep(ILSE, private.as_bytes())
    there.keep(ILSE, mail().as_bytes())
    assert look_round(Reader(), timezone.now) == 2
    assert [row.contact for row in Received.objects.all()] == [maren]
    # Who wrote to her is offered to her alone.
    assert Stranger.objects.get().mailbox.owner == world.ilse
    assert len(world.call(world.ilse)("get", "strangers")) == 1
    assert world.call(world.stranger)("get", "strangers") == []
    assert world.call(world.admin)("get", "strangers") == []


def test_a_colleagues_lead_learns_nothing_from_a_persons_mailbox(
    world: World, there: Boxes
) -> None:
    stranger = world.call(world.stranger)
    lead = stranger("post", "leads", {"name": "Uma", "email": "uma@elsewhere.example"})
    added(world, there)
    there.keep(ILSE, mail(From="uma@elsewhere.example").as_bytes())
    assert look_round(Reader(), timezone.now) == 1
    assert stranger("get", f"leads/{lead['id']}")["notes"] == []
    assert len(world.call(world.ilse)("get", "strangers")) == 1


def test_one_that_is_read_no_longer_forgets_its_password(world: World, there: Boxes) -> None:
    made = added(world, there).json()
    ilse, place = world.call(world.ilse), f"mailboxes/{made['id']}"
    assert ilse.status("post", f"{place}/retire", {"version": made["version"] + 1}) == 409
    assert ilse.status("post", f"{place}/retire", {"version": made["version"]}) == 204
    row = Mailbox.objects.get(pk=made["id"])
    assert (row.sealed, ilse("get", "mailboxes")["rows"]) == ("", [])
    assert look_round(Reader(), timezone.now) == 0
    assert added(world, there).json()["id"] == made["id"]


def test_another_password_is_tried_before_it_is_kept(world: World, there: Boxes) -> None:
    made = added(world, there).json()
    ilse, place = world.call(world.ilse), f"mailboxes/{made['id']}/password"
    wrong = {"version": made["version"], "password": "wrong"}
    assert ilse.status("post", place, wrong) == 409
    assert ilse("post", place, {**wrong, "password": "ilse's"})["version"] == made["version"] + 1
    assert ilse.status("post", place, {**wrong, "password": "ilse's"}) == 409


def test_a_line_that_ended_is_made_anew(
    world: World, reading: tuple[Boxes, ImapBox], maren: Contact
) -> None:
    boxes, box = reading
    row = Mailbox.objects.create(name=HOUSE)
    now = timezone.now()
    assert look_in(row, box, lambda: now) == 0
    assert box._line is not None
    box._line.imap.shutdown()
    boxes.keep(HOUSE, mail().as_bytes())
    row.refresh_from_db()
    assert look_in(row, box, lambda: now + 2 * EVERY) == 1
    assert Mailbox.objects.get().fault == ""
