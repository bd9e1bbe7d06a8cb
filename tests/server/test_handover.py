"""The outbox and the feed: exactly once, whatever fails, and in whatever order news comes."""

from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from decimal import Decimal
from itertools import permutations
from pathlib import Path
from threading import Barrier, Thread
from typing import Any
import uuid

from django.db import connection
from django.utils import timezone
import httpx
import pytest

from apps.handover.flows import LEASE, NotNow, Taken, TurnedDown, claim_next, hand_over, settle
from apps.handover.gateway import BackOffice, Silence
from apps.handover.intake import feed_position, take_in
from apps.handover.masters import telling
from apps.handover.models import BackOfficeEvent, Handover
from apps.handover.reading import News
from apps.handover.worker import drain, go_round
from apps.ledger.models import Allocation, Invoice
from apps.orders.flows import write_order
from apps.orders.models import Delivery, Order
from apps.orders.queries import state_of
from apps.quotes.models import Revision
from tests.server.conftest import World
from tests.server.office import KEY, Office

ROOT = Path(__file__).resolve().parents[2]


@pytest.fixture
def order(world: World, issued: Revision) -> Order:
    return write_order(
        world.ilse,
        issued.pk,
        issued.version,
        today=world.today,
        now=timezone.now(),
        close_deal=True,
    )


@pytest.fixture
def entry(world: World, order: Order) -> Handover:
    return hand_over(world.ilse, order.pk, order.version, now=timezone.now())


def at(moment: datetime) -> Callable[[], datetime]:
    return lambda: moment


def state(order: Order) -> str:
    return state_of(Order.objects.get(pk=order.pk))


def test_the_order_arrives_and_its_number_comes_back(office: Office, entry: Handover) -> None:
    go_round(office.client, "test", timezone.now)
    entry.refresh_from_db()
    assert (entry.state, entry.backoffice_number) == ("taken", "BO-48201")
    assert entry.payload["order_number"] in office.page()


def test_each_step_comes_back_by_itself(office: Office, entry: Handover) -> None:
    go_round(office.client, "test", timezone.now)
    seen = []
    for _ in range(3):
        office.press("step", number="BO-48201")
        go_round(office.client, "test", timezone.now)
        seen.append(state(entry.order))
    assert seen == ["shipped", "invoiced", "paid"]
    invoice = Invoice.objects.get(order=entry.order)
    assert (invoice.gross, invoice.net) == (Decimal("1033.92"), Decimal("861.60"))
    assert Allocation.objects.get().amount == invoice.gross


def test_while_the_office_is_away_the_order_waits_with_growing_pauses(
    office: Office, entry: Handover
) -> None:
    office.kill()
    now = timezone.now()
    pauses = []
    for _ in range(4):
        assert drain(office.client, at(now)) == 1
        entry.refresh_from_db()
        assert entry.state == "waiting"
        pauses.append((entry.next_try_at - now).total_seconds())
        now = entry.next_try_at
    assert pauses == [1, 2, 4, 8]
    office.start()
    drain(office.client, at(now))
    entry.refresh_from_db()
    assert (entry.state, office.page().count(entry.payload["order_number"])) == ("taken", 1)


def test_an_answer_that_got_lost_does_not_double_the_order(office: Office, entry: Handover) -> None:
    claimed = claim_next(timezone.now())
    assert claimed is not None
    office.client.send(
        claimed.key, claimed.payload, telling
    )  # it arrived; the worker dies before settling
    later = timezone.now() + LEASE + timedelta(seconds=1)
    drain(office.client, lambda: later)
    entry.refresh_from_db()
    assert (entry.state, entry.backoffice_number) == ("taken", "BO-48201")
    assert office.page().count(entry.payload["order_number"]) == 1


def test_another_order_under_the_same_key_is_refused(office: Office, entry: Handover) -> None:
    office.client.send(entry.key, entry.payload, telling)
    changed = office.client.send(entry.key, {**entry.payload, "payable": "1.00"}, telling)
    assert isinstance(changed, TurnedDown)


@pytest.mark.parametrize(("mood", "outcome"), [("busy", NotNow), ("strict", TurnedDown)])
def test_refused_and_try_again_are_told_apart(
    office: Office, entry: Handover, mood: str, outcome: type
) -> None:
    office.press(f"mood-{mood}")
    assert isinstance(office.client.send(entry.key, entry.payload, telling), outcome)


def test_a_wrong_token_is_not_let_in(office: Office) -> None:
    stranger = BackOffice(f"http://127.0.0.1:{office.port}", "wrong", 2.0, key=KEY)
    assert isinstance(stranger.send(uuid.uuid4(), {"order_number": "O-1"}), NotNow)
    assert stranger.news(0) == Silence("status", 401)
    stranger.close()


def test_a_hold_and_its_release_come_back(office: Office, entry: Handover) -> None:
    go_round(office.client, "test", timezone.now)
    office.press("hold", number="BO-48201")
    go_round(office.client, "test", timezone.now)
    assert state(entry.order) == "held"
    office.press("release", number="BO-48201")
    go_round(office.client, "test", timezone.now)
    assert state(entry.order) == "taken"


def test_a_late_answer_changes_nothing(entry: Handover) -> None:
    claim_next(timezone.now())
    settle(entry.pk, Taken("BO-1"), now=timezone.now())
    settle(entry.pk, NotNow("late"), now=timezone.now())
    entry.refresh_from_db()
    assert (entry.state, entry.backoffice_number) == ("taken", "BO-1")


# ---- the feed -----------------------------------------------------------------------------


def story(entry: Handover) -> list[News]:
    start = datetime(2026, 3, 2, 8, tzinfo=UTC)
    lines = entry.payload["lines"]
    told: list[tuple[str, dict[str, Any]]] = [
        ("taken", {"number": "BO-1"}),
        (
            "shipped",
            {
                "number": "DN-1",
                "on": "2026-03-03",
                "lines": [{"line": row["line"], "quantity": row["quantity"]} for row in lines],
            },
        ),
        (
            "invoiced",
            {
                "number": "INV-1",
                "on": "2026-03-04",
                "due_on": "2026-04-03",
                "net": "861.60",
                "gross": "1033.92",
                "lines": [{"line": row["line"], "net": row["net"]} for row in lines],
            },
        ),
        ("paid", {"number": "PAY-1", "invoice": "INV-1", "on": "2026-03-20", "amount": "1033.92"}),
    ]
    return [
        News(
            position=n + 1,
            event_id=uuid.uuid5(entry.key, kind),
            key=entry.key,
            kind=kind,
            occurred_at=start + timedelta(days=n),
            data=data,
        )
        for n, (kind, data) in enumerate(told)
    ]


def facts() -> tuple[int, int, int]:
    return Delivery.objects.count(), Invoice.objects.count(), Allocation.objects.count()


@pytest.mark.parametrize("order_of", list(permutations(range(4))))
def test_news_is_taken_in_once_each_whatever_its_order(
    entry: Handover, order_of: tuple[int, ...]
) -> None:
    news = story(entry)
    for n in (*order_of, *order_of):
        take_in([news[n]])
    assert facts() == (1, 1, 1)
    assert state(entry.order) == "paid"
    assert feed_position() == 4


def test_news_that_cannot_be_read_is_kept_and_holds_nothing_up(entry: Handover) -> None:
    news = story(entry)
    broken = News(
        position=9,
        event_id=uuid.uuid4(),
        key=entry.key,
        kind="shipped",
        occurred_at=news[0].occurred_at,
        data={"number": "DN-9", "on": "someday"},
    )
    double = News(
        position=10,
        event_id=uuid.uuid4(),
        key=entry.key,
        kind="invoiced",
        occurred_at=news[2].occurred_at,
        data=news[2].data,
    )
    take_in([broken, *news, double])
    assert facts() == (1, 1, 1)
    found = BackOfficeEvent.objects.filter(state="apart").order_by("pk")
    assert [row.facts["what"] for row in found] == ["unreadable", "known_number"]


# ---- several at a time --------------------------------------------------------------------


def at_once(acts: list[Any]) -> list[Any]:
    """Run every act in its own thread at the same moment; results or exceptions."""
    gate = Barrier(len(acts))
    results: list[Any] = [None] * len(acts)

    def run(n: int) -> None:
        try:
            gate.wait()
            results[n] = acts[n]()
        except Exception as error:
            results[n] = error
        finally:
            connection.close()

    threads = [Thread(target=run, args=(n,)) for n in range(len(acts))]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return results


@pytest.fixture
def committed(transactional_db: None) -> None:
    """Rows that other threads see."""


def test_two_people_accepting_at_once_make_one_order(
    committed: None, world: World, issued: Revision
) -> None:
    def act() -> Order:
        return write_order(
            world.ilse,
            issued.pk,
            issued.version,
            today=world.today,
            now=timezone.now(),
            close_deal=True,
        )

    results = at_once([act] * 4)
    assert sum(isinstance(result, Order) for result in results) == 1
    assert Order.objects.count() == 1


def test_several_workers_take_each_entry_once(
    committed: None, world: World, issued: Revision, order: Order, tmp_path: Path
) -> None:
    payload = {"order_number": "x"}
    first = hand_over(world.ilse, order.pk, order.version, now=timezone.now())
    assert first.payload != payload
    results = at_once([lambda: claim_next(timezone.now())] * 4)
    assert [r.pk for r in results if isinstance(r, Handover)] == [first.pk]


# ---- the stand-in's own door ---------------------------------------------------------------


def test_the_page_is_for_those_who_know_the_password(office: Office) -> None:
    url = f"http://127.0.0.1:{office.port}"
    assert "Password" in httpx.get(url).text
    assert "wrong" in httpx.post(f"{url}/sign-in", data={"password": "x"}).headers["location"]
    for cookies in ({}, {"office": "x"}):
        pressed = httpx.post(f"{url}/page/mood-busy", data={}, cookies=cookies)
        assert pressed.status_code == 403
    assert "by hand" in office.page()
    without = httpx.post(f"{url}/page/mood-busy", data={"token": "x"}, cookies=office.cookies)
    assert without.status_code == 403
    foreign = {"Origin": "http://evil.example"}
    for path in ("sign-in", "page/mood-busy"):
        assert httpx.post(f"{url}/{path}", data={}, headers=foreign).status_code == 403


def test_it_answers_under_its_own_name_and_in_no_frame(office: Office) -> None:
    url = f"http://127.0.0.1:{office.port}"
    assert httpx.get(url, headers={"Host": "evil.example"}).status_code == 400
    headers = httpx.get(url).headers
    assert headers["x-frame-options"] == "DENY"
    assert "frame-ancestors 'none'" in headers["content-security-policy"]


@pytest.mark.parametrize(
    ("field", "value"),
    [
        *(("customer", "x"), ("terms", "x"), ("terms", {"days": "5"}), ("lines", [1])),
        *(("payable", "NaN"), ("payable", 5), ("net", "1e9"), ("currency", "EURO")),
        *(("order_number", "a\nb"), ("terms", {"days": 5, "more": 1})),
        ("lines", [{"line": 1, "item": "a", "kind": "goods", "quantity": "x", "net": "1"}]),
    ],
)
def test_an_order_that_could_break_it_is_refused(
    office: Office, entry: Handover, field: str, value: object
) -> None:
    refused = office.client.send(uuid.uuid4(), {**entry.payload, field: value})
    assert isinstance(refused, TurnedDown)
    office.press("pace-itself")
    go_round(office.client, "test", timezone.now)
    assert entry.payload["order_number"] in office.page()
