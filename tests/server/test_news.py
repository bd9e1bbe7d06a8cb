"""News of the back office that is wrong, odd, late or rubbish: set apart, seen, and nothing is held up."""

from collections.abc import Callable, Iterator
from datetime import UTC, datetime, timedelta
import hmac
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
import json
from threading import Thread
import time
from typing import Any
import uuid

from django.db import transaction
from django.utils import timezone
from hypothesis import given
from hypothesis import strategies as st
import pytest

from apps.handover import gateway, worker
from apps.handover.flows import NotNow, Taken, TurnedDown, claim_next, settle
from apps.handover.gateway import BackOffice, Page, Silence
from apps.handover.intake import feed, feed_position, note_read, note_silence, take_in_raw
from apps.handover.models import BackOfficeEvent, FeedPosition, Handover
from apps.handover.reading import MOST_RAW, read_news, story_of
from apps.ledger.models import Allocation, Invoice, Payment
from apps.orders.models import Delivery
from apps.told import Unfit, raw_text
from demo.factories import InvoiceFactory
from tests.server.conftest import D, World
from tests.server.office import KEY
from tests.server.test_handover import entry, order, state, story  # noqa: F401 - fixtures


def raw_of(handover: Handover) -> list[dict[str, Any]]:
    """The whole story of an order, as the feed tells it."""
    return [
        {
            "position": item.position,
            "id": str(item.event_id),
            "key": str(item.key),
            "kind": item.kind,
            "occurred_at": item.occurred_at.isoformat(),
            "data": item.data,
        }
        for item in story(handover)
    ]


def with_data(event: dict[str, Any], **changes: object) -> dict[str, Any]:
    return {**event, "data": {**event["data"], **changes}}


RUBBISH: list[object] = [
    *(None, 5, "x", [], {}, {"id": 5}),
    {"id": "no uuid", "key": str(uuid.uuid4())},
]
BROKEN: dict[str, Callable[[dict[str, Any]], object]] = {
    "no moment": lambda e: {k: v for k, v in e.items() if k != "occurred_at"},
    "a moment of year 1": lambda e: {**e, "occurred_at": "0001-01-01T00:00:00+00:00"},
    "a moment past the end": lambda e: {**e, "occurred_at": "9999-12-31T23:59:59-12:00"},
    "a moment of no zone": lambda e: {**e, "occurred_at": "2026-03-02T08:00:00"},
    "an id that is none": lambda e: {**e, "id": 5},
    "a key that is none": lambda e: {**e, "key": None},
    "a kind too long": lambda e: {**e, "kind": "k" * 30},
    "data that is none": lambda e: {**e, "data": None},
    "deep data": lambda e: {**e, "data": json.loads("[" * 200 + "]" * 200)},
}
UNFIT: dict[str, tuple[int, dict[str, object], str]] = {
    "no number": (0, {"number": None}, "unreadable"),
    "a number too long": (1, {"number": "D" * 31}, "unreadable"),
    "a number with a break": (1, {"number": "DN\n1"}, "unreadable"),
    "half a sign": (1, {"number": "\ud800"}, "unreadable"),
    "a quantity of NaN": (1, {"lines": [{"line": 1, "quantity": "NaN"}]}, "unreadable"),
    "a quantity of 1e40": (1, {"lines": [{"line": 1, "quantity": "1e40"}]}, "unreadable"),
    "too much shipped": (1, {"lines": [{"line": 1, "quantity": "200"}]}, "shipped_too_much"),
    "a line that is none": (1, {"lines": [{"line": 9, "quantity": "1"}]}, "unknown_line"),
    "no lines": (1, {"lines": "x"}, "unreadable"),
    "a gross of NaN": (2, {"gross": "NaN"}, "unreadable"),
    "a gross of Arabic digits": (2, {"gross": "١٢"}, "unreadable"),
    "ten times the order": (2, {"gross": "10339.20"}, "invoiced_beyond"),
    "a net beyond the order": (2, {"net": "900.00"}, "invoiced_beyond"),
    "due before its date": (2, {"due_on": "2026-01-01"}, "invoice_odd"),
    "no day": (2, {"on": "someday"}, "unreadable"),
    "paid beyond what is open": (3, {"amount": "99999.00"}, "paid_too_much"),
    "nothing paid": (3, {"amount": "0.00"}, "unreadable"),
    "an amount of letters": (3, {"amount": "abc"}, "unreadable"),
}


def apart() -> list[str]:
    rows = BackOfficeEvent.objects.filter(state="apart").order_by("pk")
    return [row.facts["what"] for row in rows]


def test_rubbish_is_set_apart_once_and_the_rest_goes_on(entry: Handover) -> None:  # noqa: F811
    for rubbish in RUBBISH:
        with transaction.atomic():
            for _ in range(3):
                take_in_raw([rubbish, *raw_of(entry)])
            assert apart() == ["unreadable"], rubbish
            assert (state(entry.order), feed_position()) == ("paid", 4), rubbish
            transaction.set_rollback(True)


@pytest.mark.parametrize("at", range(4))
def test_an_unreadable_event_holds_nothing_up(entry: Handover, at: int) -> None:  # noqa: F811
    for name, broken in BROKEN.items():
        with transaction.atomic():
            events: list[object] = list(raw_of(entry))
            events[at] = broken(raw_of(entry)[at])
            take_in_raw(events)
            take_in_raw(events)
            assert len(apart()) == 1, name
            readable = BackOfficeEvent.objects.filter(state__in=("applied", "waiting"))
            assert readable.count() == 3, name
            transaction.set_rollback(True)


@pytest.mark.parametrize("name", UNFIT)
def test_what_does_not_fit_or_add_up_is_set_apart_with_its_reason(
    entry: Handover,  # noqa: F811
    name: str,
) -> None:
    at, change, what = UNFIT[name]
    events = raw_of(entry)
    events[at] = with_data(events[at], **change)
    take_in_raw(events)
    assert apart() == [what]
    expected = {0: 1, 1: 1, 2: 1, 3: 1}
    expected[at] = 0
    assert Delivery.objects.count() == expected[1]
    assert Invoice.objects.count() == expected[2]
    assert Payment.objects.count() == (expected[3] if expected[2] else 0)


def test_a_payment_never_settles_another_orders_invoice(
    world: World,
    entry: Handover,  # noqa: F811
) -> None:
    InvoiceFactory(customer=world.customer, number="INV-77", gross=D("5000.00"), net=D("4000.00"))
    events = raw_of(entry)
    events[3] = with_data(events[3], invoice="INV-77")
    take_in_raw(events)
    assert apart() == ["other_order"]
    assert not Allocation.objects.exists()


def test_an_invoice_under_a_number_that_is_anothers_is_set_apart_not_dropped(
    world: World,
    entry: Handover,  # noqa: F811
) -> None:
    InvoiceFactory(customer=world.customer, number="INV-1", gross=D("10.00"), net=D("8.00"))
    take_in_raw(raw_of(entry))
    assert apart() == ["known_number", "other_order"]


def test_news_of_an_order_that_is_not_known_is_set_apart(entry: Handover) -> None:  # noqa: F811
    strange = {**raw_of(entry)[0], "key": str(uuid.uuid4()), "id": str(uuid.uuid4())}
    take_in_raw([strange, *raw_of(entry)])
    assert (apart(), state(entry.order)) == (["unknown_order"], "paid")


def test_parts_of_an_order_may_come_to_its_whole_and_no_further(entry: Handover) -> None:  # noqa: F811
    events = raw_of(entry)
    half = {"net": "430.80", "gross": "516.96"}
    lines = [{"line": row["line"], "net": "1.00"} for row in events[2]["data"]["lines"]]
    for n in range(3):
        part = with_data(events[2], number=f"INV-{n}", lines=lines, **half)
        take_in_raw([{**part, "id": str(uuid.uuid4())}])
    assert (Invoice.objects.count(), apart()) == (2, ["invoiced_beyond"])


# ---- positions -------------------------------------------------------------------------------


class Feed:
    """A back office that tells what it is told to tell."""

    def __init__(self, events: list[dict[str, Any]], epoch: str = "one"):
        self.events, self.epoch, self.asked = events, epoch, 0

    def news(self, after: int) -> Page:
        self.asked = after
        later = [event for event in self.events if event["position"] > after]
        last = max((event["position"] for event in self.events), default=0)
        return Page(events=list(later), epoch=self.epoch, last=last)


def read(office: Any, now: datetime) -> int:
    return worker.read_feed(office, lambda: now)


NOW = datetime(2026, 11, 26, 9, tzinfo=UTC)


def test_what_becomes_visible_late_is_found_within_a_minute(entry: Handover) -> None:  # noqa: F811
    events = raw_of(entry)
    late = events.pop(1)
    office = Feed(events)
    read(office, NOW)
    assert feed_position() == 4
    office.events = [*events, late]
    read(office, NOW + timedelta(seconds=30))
    assert not Delivery.objects.exists()
    read(office, NOW + timedelta(seconds=61))
    assert Delivery.objects.count() == 1


def test_a_feed_that_counts_from_its_beginning_again_is_read_from_there(entry: Handover) -> None:  # noqa: F811
    events = raw_of(entry)
    read(Feed(events[:2]), NOW)
    for event in events[2:]:
        event["position"] -= 2
    office = Feed(events[2:], epoch="two")
    for second in range(3):
        read(office, NOW + timedelta(seconds=second))
    assert state(entry.order) == "paid"
    assert feed().epoch == "two"


def test_one_position_astray_does_not_end_the_feed(entry: Handover) -> None:  # noqa: F811
    events = raw_of(entry)
    events[0]["position"] = 9_000_000_000_000_000
    take_in_raw(events[:1])
    events[1]["position"] = "nine"
    events[2]["position"] = 1e300
    take_in_raw(events[1:3])
    assert feed_position() == 0
    take_in_raw(events[3:])
    assert (state(entry.order), feed_position()) == ("paid", 4)


# ---- answers over the line -------------------------------------------------------------------

ANSWER: dict[str, Any] = {}


def signed(method: str, path: str, body: bytes, age: int) -> str:
    """The signature of an answer of so many seconds ago."""
    at = int(time.time()) - age
    text = f"{at}.{method} {path}\n".encode() + body
    return f"t={at},v1={hmac.new(KEY.encode(), text, 'sha256').hexdigest()}"


class Odd(BaseHTTPRequestHandler):
    """Answers as a test says."""

    def do_GET(self) -> None:
        """The feed, or an order taken."""
        body: bytes = ANSWER["body"]
        self.send_response(ANSWER.get("status", 200))
        self.send_header("Content-Length", str(ANSWER.get("length", len(body))))
        self.send_header("Signature", signed(self.command, self.path, body, ANSWER.get("age", 0)))
        self.end_headers()
        pause = ANSWER.get("pause", 0)
        try:
            for part in [body] if not pause else [body[n : n + 1] for n in range(len(body))]:
                self.wfile.write(part)
                self.wfile.flush()
                time.sleep(pause)
        except OSError:
            pass

    do_POST = do_GET

    def log_message(self, format: str, *args: Any) -> None:
        """Silent."""


@pytest.fixture
def odd() -> Iterator[BackOffice]:
    ANSWER.clear()
    server = ThreadingHTTPServer(("127.0.0.1", 0), Odd)
    server.daemon_threads = True
    Thread(target=server.serve_forever, daemon=True).start()
    client = BackOffice(f"http://127.0.0.1:{server.server_address[1]}", "x", 2.0, key=KEY)
    yield client
    client.close()
    server.shutdown()
    server.server_close()


@pytest.mark.parametrize(
    ("answer", "silence"),
    [
        ({"status": 500, "body": b"{}"}, Silence("status", 500)),
        ({"status": 301, "body": b""}, Silence("status", 301)),
        ({"body": b"<html>"}, Silence("unreadable")),
        ({"body": b"[" * 100_000}, Silence("unreadable")),
        ({"body": b'{"events": 5}'}, Silence("unreadable")),
        ({"body": b'{"events": []}', "length": 99}, Silence("away")),
        ({"body": b'{"events": []}', "age": 301}, Silence("unsigned")),
        ({"body": b'{"events": []}', "age": -301}, Silence("unsigned")),
    ],
)
def test_a_feed_that_cannot_be_read_is_silent_with_its_reason(
    db: None, odd: BackOffice, answer: dict[str, Any], silence: Silence
) -> None:
    ANSWER.update(answer)
    assert odd.news(0) == silence
    assert read(odd, NOW) == 0
    assert (feed().problem, feed().failing_since) == (silence.what, NOW)
    ANSWER.clear()
    ANSWER["body"] = b'{"events": []}'
    read(odd, NOW + timedelta(seconds=1))
    assert (feed().problem, feed().failing_since) == ("", None)


def test_an_answer_without_end_is_not_read_to_its_end(
    odd: BackOffice, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(gateway, "MOST_BYTES", 10_000)
    ANSWER["body"] = b" " * 5_000_000
    assert odd.news(0) == Silence("unreadable")
    assert isinstance(odd.send(uuid.uuid4(), {}), NotNow)


def test_an_answer_that_drips_ends_in_time(
    odd: BackOffice, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(gateway, "CALL_SECONDS", 0.3)
    ANSWER.update(body=b" " * 400, pause=0.02)
    begun = time.monotonic()
    assert odd.news(0) == Silence("unreadable")
    assert time.monotonic() - begun < 3


@pytest.mark.parametrize(
    ("body", "status", "outcome"),
    [
        (b'{"number": "BO-1"}', 201, Taken("BO-1")),
        (b'{"number": null}', 201, NotNow),
        (b'{"number": 5}', 201, NotNow),
        (b'{"number": "' + b"B" * 31 + b'"}', 201, NotNow),
        (b"[" * 50_000, 201, NotNow),
        (b'{"message": "No such item."}', 422, TurnedDown("No such item.")),
        (b'{"message": 5}', 422, TurnedDown),
        (b"<html>", 502, NotNow),
    ],
)
def test_an_answer_to_an_order_is_believed_only_where_it_can_be_read(
    odd: BackOffice, body: bytes, status: int, outcome: object
) -> None:
    ANSWER.update(body=body, status=status)
    found = odd.send(uuid.uuid4(), {})
    assert isinstance(found, outcome) if isinstance(outcome, type) else found == outcome


def test_a_worker_whose_lease_ran_out_settles_nothing(entry: Handover) -> None:  # noqa: F811
    first = claim_next(timezone.now())
    second = claim_next(timezone.now() + timedelta(minutes=10))
    assert first and second and (first.tries, second.tries) == (1, 2)
    settle(entry.pk, TurnedDown("No."), now=NOW, tries=first.tries)
    entry.refresh_from_db()
    assert entry.state == "under_way"
    settle(entry.pk, Taken("BO-1"), now=NOW, tries=second.tries)
    entry.refresh_from_db()
    assert (entry.state, entry.backoffice_number) == ("taken", "BO-1")


# ---- any event at all ------------------------------------------------------------------------

ANYTHING = st.recursive(
    st.none() | st.booleans() | st.integers() | st.floats() | st.text(max_size=8),
    lambda part: (
        st.lists(part, max_size=3) | st.dictionaries(st.text(max_size=8), part, max_size=3)
    ),
    max_leaves=8,
)
FIELDS = st.sampled_from(["number", "on", "due_on", "net", "gross", "lines", "amount", "invoice"])


@given(
    raw=ANYTHING
    | st.dictionaries(
        st.sampled_from(["position", "id", "key", "kind", "occurred_at", "data"]), ANYTHING
    )
)
def test_reading_anything_ends_in_news_or_in_a_reason(raw: Any) -> None:
    try:
        read_news(raw)
    except Unfit as reason:
        assert reason.facts["what"] == "unreadable"
    assert raw_text(raw, MOST_RAW).isascii()


@given(
    kind=st.sampled_from(["taken", "released", "held", "shipped", "invoiced", "paid", "x"]),
    data=st.dictionaries(FIELDS, ANYTHING),
)
def test_reading_any_story_ends_in_one_or_in_a_reason(kind: str, data: dict[str, Any]) -> None:
    try:
        story_of(kind, data)
    except Unfit as reason:
        assert reason.facts["what"] in ("unreadable", "unknown_kind")


# ---- what people do with it ------------------------------------------------------------------


def test_what_waits_for_another_is_applied_again_when_that_has_come(
    world: World,
    entry: Handover,  # noqa: F811
) -> None:
    events = raw_of(entry)
    wrong = with_data(events[2], gross="10339.20")
    take_in_raw([events[0], events[1], wrong, events[3]])
    office = world.call(world.joren)
    [row] = office("get", "news")["rows"]
    assert (row["kind"], row["order"], row["state"]) == ("invoiced", entry.order.number, "apart")
    assert "1033.92" in row["reason"]["message"]
    assert json.loads(row["raw"])["data"]["gross"] == "10339.20"
    refused = office.ask("post", f"news/{row['id']}/let-go", {"version": 1, "reason": " "})
    assert refused.status_code == 422
    body = {"version": 1, "reason": "Billed anew as INV-1"}
    assert office.status("post", f"news/{row['id']}/let-go", body) == 204
    take_in_raw([{**events[2], "id": str(uuid.uuid4())}])
    assert state(entry.order) == "paid"
    assert office("get", "news")["rows"] == []


def test_an_event_that_came_before_its_order_is_tried_again(
    world: World,
    entry: Handover,  # noqa: F811
) -> None:
    key = entry.key
    Handover.objects.filter(pk=entry.pk).update(key=uuid.uuid4())
    take_in_raw(raw_of(entry)[:1])
    Handover.objects.filter(pk=entry.pk).update(key=key)
    office = world.call(world.joren)
    [row] = office("get", "news")["rows"]
    assert row["order"] == entry.order.number
    assert office.status("post", f"news/{row['id']}/again", {"version": 7}) == 409
    assert office.status("post", f"news/{row['id']}/again", {"version": 1}) == 204
    assert state(entry.order) == "taken"


def test_news_set_apart_is_for_those_who_fulfil_and_a_lead_sees_the_teams(
    world: World,
    entry: Handover,  # noqa: F811
) -> None:
    events = raw_of(entry)
    take_in_raw([None, with_data(events[0], number=None)])
    seen = {
        name: len(world.call(getattr(world, name))("get", "news")["rows"])
        for name in ("joren", "admin", "petra", "stranger")
    }
    assert seen == {"joren": 2, "admin": 2, "petra": 1, "stranger": 0}
    assert world.call(world.ilse).status("get", "news") == 403
    row = BackOfficeEvent.objects.get(facts__field="event")
    body = {"version": 1, "reason": "x"}
    assert world.call(world.petra).status("post", f"news/{row.pk}/let-go", body) == 404


def test_the_back_office_finds_it_on_today_and_it_is_in_the_health(
    world: World,
    entry: Handover,  # noqa: F811
) -> None:
    take_in_raw([with_data(raw_of(entry)[1], lines=[{"line": 1, "quantity": "200"}])])
    today = world.call(world.joren)("get", "today")
    assert [(stop["kind"], stop["to"]) for stop in today["news"]] == [("news", "/orders/news")]
    assert (today["follow_ups"], today["sign_offs"]) == ([], [])
    assert world.call(world.ilse)("get", "today")["news"] == []


@pytest.mark.parametrize(
    ("what", "words"),
    [("away", "does not answer"), ("unreadable", "cannot be read"), ("status", "(answer 503)")],
)
def test_news_that_is_missing_for_long_is_told(world: World, what: str, words: str) -> None:
    now = timezone.now()
    note_silence(what, 503, now - timedelta(minutes=9))
    assert world.call(world.joren)("get", "today")["trouble"] == []
    FeedPosition.objects.update(failing_since=now - timedelta(minutes=11))
    (stop,) = world.call(world.joren)("get", "today")["trouble"]
    assert (stop["title"], stop["to"]) == ("feed", "/orders/news")
    assert words in stop["detail"]
    assert world.call(world.ilse)("get", "today")["trouble"] == []
    note_read(now)
    assert world.call(world.joren)("get", "today")["trouble"] == []
