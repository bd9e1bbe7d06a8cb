"""A small world for the server's tests: a team, a catalogue, a customer, a deal, a quote."""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
import json
from pathlib import Path
import socket
import time
from typing import Any

from django.conf import settings
from django.contrib.auth import BACKEND_SESSION_KEY, HASH_SESSION_KEY, SESSION_KEY
from django.contrib.sessions.backends.db import SessionStore
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.test import Client
from django.utils import timezone
import pytest
from pytest_django.plugin import DjangoDbBlocker

from apps.catalogue.models import Item, Unit
from apps.customers.models import Contact, Customer
from apps.deals.models import Deal
from apps.handover.worker import go_round
from apps.mail.flows import settle
from apps.mail.imap import ImapBox
from apps.mail.models import SENT, UNDER_WAY, Message
from apps.mail.transport import Outcome
from apps.people.models import ADMIN, CLERK, LEAD, User
from apps.quotes.drafts import Draft
from apps.quotes.flows.issuing import issue_revision
from apps.quotes.flows.saving import save_draft
from apps.quotes.flows.starting import start_quote
from apps.quotes.models import Revision
from apps.quotes.pricing.question import DraftLine
from apps.quotes.quick import forget
from apps.quotes.seen import mark_of
from demo.deals import STAGES
from demo.factories import (
    AddressFactory,
    ContactFactory,
    CustomerFactory,
    DealFactory,
    ItemFactory,
    ItemUnitFactory,
    PriceEntryFactory,
    StageFactory,
    TeamFactory,
    UnitFactory,
    UserFactory,
)
from standins.mailbox.box import Boxes
from standins.mailbox.imap import imap_server
from tests.server.again import Again
from tests.server.letters import HOUSE
from tests.server.office import Office

D = Decimal


def signed_in(client: Client, person: User) -> None:
    """What a sign-in leaves behind, without the sign-in: a session, and its key in a cookie."""
    session = SessionStore()
    session[SESSION_KEY] = str(person.pk)
    session[BACKEND_SESSION_KEY] = settings.AUTHENTICATION_BACKENDS[-1]
    session[HASH_SESSION_KEY] = person.get_session_auth_hash()
    session.save(must_create=True)
    client.cookies[settings.SESSION_COOKIE_NAME] = session.session_key


class Caller:
    """A signed-in person's way to the API: JSON in, JSON out."""

    def __init__(self, person: User | None, *, csrf: bool = False):
        self.client = Client(enforce_csrf_checks=csrf, raise_request_exception=False)
        if person:
            signed_in(self.client, person)

    def __call__(self, method: str, path: str, body: object = None, **query: object) -> Any:
        return self.ask(method, path, body, **query).json()

    def ask(self, method: str, path: str, body: object = None, **query: object) -> Any:
        """The whole response."""
        return self.client.generic(
            method.upper(),
            f"/api/{path}",
            json.dumps(body) if body is not None else "",
            content_type="application/json",
            query_params={key: str(value) for key, value in query.items()} or None,
        )

    def send(self, path: str, name: str, body: bytes, *, keep: bool = True) -> Any:
        """What came of a file: the result of its last line, or the refusal."""
        answer = self.client.post(
            f"/api/{path}?keep={str(keep).lower()}", {"file": SimpleUploadedFile(name, body)}
        )
        if not answer.streaming:
            return answer.json()
        last = json.loads(b"".join(answer.streaming_content).splitlines()[-1])
        return last.get("result") or last["fault"]

    def status(self, method: str, path: str, body: object = None, **query: object) -> int:
        """Only the status."""
        return int(self.ask(method, path, body, **query).status_code)


def as_seen(shown: Any, **more: object) -> dict[str, object]:
    """What an act on a quote or an order sends along: its version, and what was seen of it."""
    if isinstance(shown, Revision):
        mark, payable = mark_of(shown), shown.priced["totals"]["payable"]
        return {"version": shown.version, "seen": {"mark": mark, "payable": payable}, **more}
    payable = shown["priced"]["totals"]["payable"] if "priced" in shown else shown["payable"]
    seen = {"mark": shown["mark"], "payable": payable}
    return {"version": shown["version"], "seen": seen, **more}


def accepting(shown: Any, take: Sequence[str] = (), **more: object) -> dict[str, Any]:
    """What writing an order of a whole offer sends along."""
    given = as_seen(shown)
    revision = shown.pk if isinstance(shown, Revision) else shown["id"]
    source = {"revision_id": revision, "version": given["version"], "take": list(take)}
    return {"sources": [source], "seen": given["seen"], "close_deal": False, **more}


@dataclass
class World:
    """The people and records that tests start from."""

    ilse: User
    tomas: User
    petra: User
    joren: User
    admin: User
    stranger: User
    post: Item
    wire: Item
    customer: Customer
    deal: Deal
    today: date

    def call(self, person: User) -> Caller:
        """This person's way to the API."""
        return Caller(person)


@pytest.fixture(autouse=True)
def _prices_are_read_anew() -> None:
    """What one test kept in memory is not another's."""
    forget()


@pytest.fixture(scope="session")
def _begun(django_db_setup: None, django_db_blocker: DjangoDbBlocker) -> None:
    """What fixtures put back is made before any test, as the application makes it."""
    with django_db_blocker.unblock():
        again.ready()


@pytest.fixture
def world(_begun: None, db: None) -> World:
    """Two reps and their lead in one team, a rep of another team, goods, and Ilse's customer."""
    world: World = again("world")
    return world


def make_world() -> World:
    """The same, where there was nothing."""
    team, other = TeamFactory(name="Orchard patch"), TeamFactory(name="Elsewhere")
    for position, (code, name, probability, outcome) in enumerate(STAGES, start=1):
        StageFactory(
            code=code,
            name=name,
            position=position,
            probability_percent=D(probability),
            outcome=outcome,
        )
    ilse = UserFactory(username="ilse", first_name="Ilse", team=team)
    post = ItemFactory(code="POST-25", name="Chestnut post", cost=D("21.10"))
    PriceEntryFactory(item=post, price=D("41.50"))
    PriceEntryFactory(item=post, price=D("37.00"), from_quantity=D(100))
    metre, roll = UnitFactory(code="MTR", name="metre"), UnitFactory(code="RL", name="roll")
    wire = ItemFactory(
        code="WIRE-2", name="Galvanised wire", base_unit=metre, sales_unit=roll, cost=D("0.19")
    )
    ItemUnitFactory(item=wire, unit=roll, factor=D(100))
    PriceEntryFactory(item=wire, price=D("0.38"))
    customer = CustomerFactory(name="Hazelmoor Orchards", owner=ilse, number="C-1")
    contact = ContactFactory(customer=customer)
    AddressFactory(customer=customer)
    return World(
        ilse=ilse,
        tomas=UserFactory(username="tomas", team=team, may_see_margin=False),
        petra=UserFactory(username="petra", team=team, role=LEAD),
        joren=UserFactory(username="joren", team=team, role=CLERK),
        admin=UserFactory(username="admin", team=None, role=ADMIN),
        stranger=UserFactory(username="stranger", team=other, role=LEAD),
        post=post,
        wire=wire,
        customer=customer,
        deal=DealFactory(
            title="New frost line", customer=customer, contact=contact, estimate=D("5000.00")
        ),
        today=timezone.localdate(),
    )


@pytest.fixture
def roll_unit(world: World) -> Unit:
    """The roll."""
    return Unit.objects.get(code="RL")


def draft(world: World, *, percent: str | None = None, posts: str = "20") -> Draft:
    """The example of the rules: posts less 5 %, wire by the roll less 12.5 %."""
    return Draft(
        lines=[
            DraftLine(
                key="a",
                item_id=world.post.pk,
                quantity=D(posts),
                unit="H87",
                discount_percent=D(5),
            ),
            DraftLine(
                key="b",
                item_id=world.wire.pk,
                quantity=D(3),
                unit="RL",
                discount_percent=D("12.5"),
            ),
        ],
        valid_until=world.today + timezone.timedelta(days=30),
        discount_percent=D(percent) if percent else None,
    )


@pytest.fixture
def drafted(world: World) -> Revision:
    """A draft with two lines, from the deal."""
    made: Revision = again("drafted")
    return made


def make_drafted(world: World) -> Revision:
    """The same, where there was none."""
    made = start_quote(world.ilse, today=world.today, deal_id=world.deal.pk)
    return save_draft(
        world.ilse, made.pk, made.version, draft(world, percent="3"), today=world.today
    )


@pytest.fixture
def issued(world: World, drafted: Revision) -> Revision:
    """The same, issued as revision A; it is drawn anew where a test changed the draft before."""
    if Revision.objects.get(pk=drafted.pk).version != drafted.version:
        return make_issued(world, drafted)
    made: Revision = again("issued")
    return made


def make_issued(world: World, drafted: Revision) -> Revision:
    """The same, where it was not."""
    return issue_revision(
        world.ilse, drafted.pk, drafted.version, today=world.today, now=timezone.now()
    )


again = Again(world=make_world, drafted=make_drafted, issued=make_issued)


@pytest.fixture
def office(tmp_path: Path, request: pytest.FixtureRequest) -> Iterator[Office]:
    """The back-office stand-in, running; it tells of its goods where a test is marked so."""
    running = Office(tmp_path)
    running.start()
    if not request.node.get_closest_marker("goods"):
        running.without_goods()
    yield running
    running.kill()
    running.client.close()


@pytest.fixture
def as_ilse(world: World) -> Caller:
    """Ilse at the API."""
    return Caller(world.ilse)


@pytest.fixture
def queries_of(django_assert_max_num_queries: Any) -> Callable[[Callable[[], object]], int]:
    """How many queries an act takes."""

    def count(act: Callable[[], object]) -> int:
        with django_assert_max_num_queries(1000) as captured:
            act()
        return len(captured)

    return count


@pytest.fixture
def snapshot(db: None) -> Callable[[], dict[str, object]]:
    """The content of every table but sessions, sign-in times and the audit, before and after."""

    def take() -> dict[str, object]:
        with connection.cursor() as cursor:
            tables = sorted(
                name
                for name in connection.introspection.table_names(cursor)
                if name not in ("django_session", "people_user", "journal_auditline")
            )
            cursor.execute("CHECKSUM TABLE " + ", ".join(f"`{name}`" for name in tables))
            return dict(cursor.fetchall())

    return take


@pytest.fixture
def made(world: World, issued: Revision) -> Any:
    """An order of the whole offer, as its rep sees it: 20 posts and 3 rolls, 888.25 less 3 %."""
    return world.call(world.ilse)("post", "orders", accepting(issued))


@pytest.fixture
def with_them(world: World, office: Office, made: Any) -> Any:
    """The same, handed over and taken."""
    ilse = world.call(world.ilse)
    ilse("post", f"orders/{made['id']}/handover", as_seen(made))
    go_round(office.client, "test", timezone.now)
    return ilse("get", f"orders/{made['id']}")


@pytest.fixture
def files_aside(tmp_path: Path, settings: Any) -> None:
    """Contents of files that go with the test."""
    settings.FILES = tmp_path / "files"


@pytest.fixture
def maren(world: World) -> Contact:
    """Ilse's customer's contact, with an address."""
    contact = Contact.objects.get(customer=world.customer)
    contact.name, contact.email = "Maren Holt", "Maren.Holt@grower.example"
    contact.save()
    return contact


@pytest.fixture
def sent(world: World, issued: Revision, maren: Contact) -> Message:
    """The quote, sent to her."""
    body = {
        "kind": "quote",
        "record": issued.pk,
        "to": [{"name": maren.name, "address": maren.email}],
        "subject": "Your quote",
        "body": "Dear Maren,\nhere it is.",
    }
    made = world.call(world.ilse)("post", "mails", body)
    Message.objects.filter(pk=made["id"]).update(state=UNDER_WAY)
    return settle(made["id"], Outcome(state=SENT), now=timezone.now())


@pytest.fixture
def reading(tmp_path: Path) -> Iterator[tuple[Boxes, ImapBox]]:
    """The stand-in's boxes, and the house's read over IMAP."""
    boxes = Boxes(tmp_path / "mailbox")
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    running = imap_server(boxes, port, HOUSE, "a password", {"ilse@quillfen.example": "ilse's"})
    for _ in range(200):
        with socket.socket() as line:
            if line.connect_ex(("127.0.0.1", port)) == 0:
                break
        time.sleep(0.1)
    yield boxes, ImapBox(host="127.0.0.1", port=port, user=HOUSE, password="a password")
    running.terminate()
    running.wait()
