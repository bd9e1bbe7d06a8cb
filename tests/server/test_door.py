"""Who comes in, how often they may try, and what is let in with them."""

from concurrent.futures import ThreadPoolExecutor
from datetime import timedelta
import gzip
from threading import Event, Thread
from time import monotonic, sleep
from typing import Any

from django.contrib.sessions.models import Session
from django.core.management import call_command
from django.db import DatabaseError, OperationalError, connection, transaction
from django.test import Client, override_settings
from django.utils import timezone
import pytest

from apps.door import entering
from apps.errors import Busy
from apps.journal.models import AuditLine
from apps.people.models import User, Visit
from apps.turns import Turns
from tests.server.conftest import Caller, World

PASSWORD = "a-good-pass-phrase"


@pytest.fixture
def ilse(world: World) -> User:
    """Ilse with a password."""
    world.ilse.set_password(PASSWORD)
    world.ilse.save()
    return world.ilse


def try_in(name: str, password: str, address: str = "198.51.100.7", **more: object) -> Any:
    caller = Client(raise_request_exception=False, REMOTE_ADDR=address)
    body = {"username": name, "password": password, **more}
    return caller.post("/api/session", body, content_type="application/json")


def test_after_five_wrong_passwords_the_right_one_waits_too_and_then_opens(ilse: User) -> None:
    for _ in range(entering.OF_A_PAIR):
        assert try_in("ilse", "wrong").status_code == 403
    held = try_in("ilse", PASSWORD)
    assert (held.status_code, held.json()["code"]) == (429, "wait")
    assert 1 <= held.json()["facts"]["seconds"] <= 6
    assert AuditLine.objects.filter(what="sign_in_held", name="ilse").count() == 1
    later = timezone.now() + timedelta(seconds=6)
    request: Any = None
    found = entering.enter(request, "ilse", PASSWORD, CALLER, now=later)
    assert found == ilse


CALLER = entering.Caller(address="198.51.100.7", agent="a browser")


def fail(name: str, address: str, times: int) -> None:
    AuditLine.objects.bulk_create(
        AuditLine(what="sign_in_failed", name=name, address=address) for _ in range(times)
    )


def test_somebody_elses_guesses_shut_nobody_out_of_their_own_place(ilse: User) -> None:
    assert try_in("ilse", PASSWORD).status_code == 200
    for n in range(entering.OF_A_NAME + 5):
        fail("ilse", f"203.0.113.{n % 200}", 1)
    assert try_in("ilse", PASSWORD, "192.0.2.9").status_code == 429
    assert try_in("ilse", PASSWORD).status_code == 200


def test_an_address_that_tries_many_names_waits_with_every_one(ilse: User) -> None:
    for n in range(entering.OF_AN_ADDRESS):
        fail(f"name{n}", "203.0.113.5", 1)
    assert try_in("ilse", PASSWORD, "203.0.113.5").status_code == 429
    assert try_in("ilse", PASSWORD, "203.0.113.6").status_code == 200


def test_what_has_to_wait_is_not_looked_at(ilse: User, monkeypatch: pytest.MonkeyPatch) -> None:
    fail("ilse", "198.51.100.7", 9)
    monkeypatch.setattr(entering, "authenticate", lambda *a, **k: pytest.fail("looked at"))
    assert try_in("ilse", PASSWORD).status_code == 429


@pytest.mark.django_db(transaction=True)
def test_passwords_are_worked_on_one_at_a_time(ilse: User, monkeypatch: pytest.MonkeyPatch) -> None:
    at_once, most = 0, 0
    plain = entering.authenticate

    def slow(*args: Any, **more: Any) -> Any:
        nonlocal at_once, most
        at_once += 1
        most = max(most, at_once)
        try:
            return plain(*args, **more)
        finally:
            at_once -= 1

    monkeypatch.setattr(entering, "authenticate", slow)

    def one(n: int) -> int:
        try:
            return int(try_in("ilse", "wrong", f"203.0.113.{n}").status_code)
        finally:
            connection.close()

    with ThreadPoolExecutor(8) as pool:
        answers = list(pool.map(one, range(12)))
    assert set(answers) <= {403, 503}
    assert 403 in answers
    assert most == 1


def test_few_wait_for_their_turn_and_others_are_told_at_once() -> None:
    turns = Turns("door_busy", at_a_time=1, waiting=2, seconds=3.0)
    go_on, told = Event(), []

    def one() -> None:
        begun = monotonic()
        try:
            with turns.taken():
                go_on.wait(5)
                told.append(("served", 0.0))
        except Busy:
            told.append(("busy", monotonic() - begun))

    threads = [Thread(target=one) for _ in range(8)]
    for thread in threads:
        thread.start()
    while len(told) < 5:
        sleep(0.01)
    assert all(what == "busy" and seconds < 1 for what, seconds in told)
    go_on.set()
    for thread in threads:
        thread.join()
    assert [what for what, _ in told].count("served") == 3


def test_every_try_leaves_a_line_that_stays(ilse: User) -> None:
    try_in("ilse\n\u202eadmin", "wrong")
    try_in("Ilse", "wrong")
    try_in("ilse", PASSWORD)
    lines = list(AuditLine.objects.order_by("pk").values_list("what", "name", "address"))
    at = "198.51.100.7"
    assert lines == [
        ("sign_in_failed", "ilse admin", at),
        ("sign_in_failed", "ilse", at),
        ("signed_in", "ilse", at),
    ]
    for act in (AuditLine.objects.all().delete, lambda: AuditLine.objects.update(name="x")):
        with pytest.raises(DatabaseError, match="only grows"), transaction.atomic():
            act()


def test_a_visit_ends_after_twelve_hours_without_a_key_or_thirty_days_by_choice(
    ilse: User,
) -> None:
    for stay, hours in ((False, 12), (True, 30 * 24)):
        Session.objects.all().delete()
        assert try_in("ilse", PASSWORD, stay=stay).status_code == 200
        left = Session.objects.get().expire_date - timezone.now()
        assert timedelta(hours=hours - 1) < left <= timedelta(hours=hours)


def test_a_page_that_nobody_touches_keeps_no_visit_open(ilse: User) -> None:
    caller = Client()
    body = {"username": "ilse", "password": PASSWORD}
    caller.post("/api/session", body, content_type="application/json")
    session = caller.session
    session["seen"] = timezone.now().timestamp() - 3600
    session.save()
    Session.objects.update(expire_date=timezone.now() + timedelta(minutes=5))
    caller.get("/api/today", headers={"X-Vivid-Idle": "1"})
    assert Session.objects.get().expire_date < timezone.now() + timedelta(minutes=6)
    caller.get("/api/today")
    assert Session.objects.get().expire_date > timezone.now() + timedelta(hours=11)
    assert timezone.now() - Visit.objects.get().seen < timedelta(minutes=1)


def test_a_person_sees_and_ends_their_other_visits(ilse: User) -> None:
    first, second, third = Client(), Client(HTTP_USER_AGENT="a phone"), Client()
    body = {"username": "ilse", "password": PASSWORD}
    for caller in (first, second, third):
        caller.post("/api/session", body, content_type="application/json")
    shown = first.get("/api/session/visits").json()
    assert [row["this"] for row in shown].count(True) == 1
    phone = next(row for row in shown if row["agent"] == "a phone")
    assert first.delete(f"/api/session/visits/{phone['id']}").status_code == 204
    assert (second.get("/api/deals").status_code, third.get("/api/deals").status_code) == (401, 200)
    assert first.delete("/api/session/visits").status_code == 204
    assert third.get("/api/deals").status_code == 401
    assert first.get("/api/deals").status_code == 200
    stranger = Visit.objects.create(
        user=User.objects.get(username="petra"), key="x", address="", since=NOW, seen=NOW
    )
    assert first.delete(f"/api/session/visits/{stranger.pk}").status_code == 404


NOW = timezone.now()


def test_a_new_password_is_long_unusual_and_ends_the_other_visits(ilse: User) -> None:
    first, other = Client(), Client()
    body = {"username": "ilse", "password": PASSWORD}
    for caller in (first, other):
        caller.post("/api/session", body, content_type="application/json")

    def change(old: str, new: str) -> Any:
        body = {"old": old, "new": new}
        return first.post("/api/session/password", body, content_type="application/json")

    for new, reason in (
        ("elevenchars", "password_too_short"),
        ("qwerty123456", "password_too_common"),
    ):
        refused = change(PASSWORD, new)
        assert (refused.status_code, refused.json()["path"]) == (422, "new")
        assert refused.json()["facts"]["what"] == reason
    assert change("wrong", "another-good-phrase").status_code == 403
    ilse.refresh_from_db()
    assert ilse.check_password(PASSWORD)
    assert change(PASSWORD, "another-good-phrase").status_code == 204
    assert first.get("/api/deals").status_code == 200
    assert other.get("/api/deals").status_code == 401
    assert [row["this"] for row in first.get("/api/session/visits").json()] == [True]


def test_signing_out_clears_what_the_browser_kept(ilse: User) -> None:
    caller = Client()
    body = {"username": "ilse", "password": PASSWORD}
    caller.post("/api/session", body, content_type="application/json")
    gone = caller.delete("/api/session")
    assert gone.headers["Clear-Site-Data"] == '"cache"'
    assert not Visit.objects.exists()


@pytest.mark.parametrize("kind", ["text/plain", "application/x-www-form-urlencoded", "text/json"])
@pytest.mark.parametrize("path", ["session", "quotes", "deals"])
def test_only_json_writes(ilse: User, kind: str, path: str) -> None:
    caller = Client()
    caller.force_login(ilse)
    body = '{"username": "ilse", "password": "' + PASSWORD + '"}'
    refused = caller.post(f"/api/{path}", body, content_type=kind)
    assert (refused.status_code, refused.json()["code"]) == (415, "not_json")


def strict(person: User | None = None) -> tuple[Client, str]:
    caller = Client(enforce_csrf_checks=True)
    if person:
        caller.force_login(person)
    caller.get("/")
    return caller, caller.cookies["vivid_csrf"].value


@pytest.mark.parametrize(
    ("headers", "status"),
    [
        ({}, 200),
        ({"Origin": "http://testserver"}, 200),
        ({"Sec-Fetch-Site": "same-origin"}, 200),
        ({"Origin": "http://evil.example"}, 403),
        ({"Origin": "null"}, 403),
        ({"Sec-Fetch-Site": "cross-site"}, 403),
        ({"Sec-Fetch-Site": "same-site"}, 403),
    ],
)
def test_a_foreign_page_signs_nobody_in(ilse: User, headers: dict[str, str], status: int) -> None:
    caller, token = strict()
    body = {"username": "ilse", "password": PASSWORD}
    headers = {"X-CSRFToken": token, **headers}
    answer = caller.post("/api/session", body, content_type="application/json", headers=headers)
    assert answer.status_code == status


def test_signing_in_needs_the_token_as_well(ilse: User) -> None:
    caller, _ = strict()
    body = {"username": "ilse", "password": PASSWORD}
    for headers in ({}, {"X-CSRFToken": "0" * 64}):
        answer = caller.post("/api/session", body, content_type="application/json", headers=headers)
        assert (answer.status_code, answer.json()["code"]) == (403, "csrf")


def test_a_strangers_file_is_refused_before_it_is_read(world: World) -> None:
    caller, token = strict()
    body = b"--x\r\n" + b"0" * 3_000_000
    for path in ("session", "quotes/import", "prices/import/entries"):
        answer = caller.generic(
            "POST",
            f"/api/{path}",
            body,
            content_type="multipart/form-data; boundary=x",
            headers={"X-CSRFToken": token},
        )
        assert answer.status_code == 401


def test_more_than_is_taken_is_refused_before_it_is_read(world: World) -> None:
    caller = Caller(world.ilse)
    answer = caller.client.generic("POST", "/api/quotes", b"1" * 2_000_001, "application/json")
    assert (answer.status_code, answer.json()["code"]) == (413, "too_big")
    upload = "multipart/form-data; boundary=x"
    answer = caller.client.generic("POST", "/api/quotes/import", b"1" * 5_100_001, upload)
    assert (answer.status_code, answer.json()["code"]) == (413, "too_big")


@pytest.mark.parametrize("path", ["/", "/api/today", "/api/nowhere", "/quotes/5"])
def test_every_answer_has_the_headers(world: World, path: str) -> None:
    answer = world.call(world.ilse).client.get(path)
    for name in ("Content-Security-Policy", "X-Frame-Options", "Permissions-Policy"):
        assert answer.headers[name]
    assert "frame-ancestors 'none'" in answer.headers["Content-Security-Policy"]
    assert answer.headers["X-Content-Type-Options"] == "nosniff"
    kept = answer.headers.get("Cache-Control", "")
    assert "no-store" in kept


def test_a_host_that_is_not_ours_is_refused(world: World) -> None:
    for path in ("/", "/api/session", "/static/index.html"):
        assert Client().get(path, headers={"Host": "evil.example"}).status_code == 400


@override_settings(
    SECURE_SSL_REDIRECT=True,
    SECURE_HSTS_SECONDS=31_536_000,
    SECURE_HSTS_INCLUDE_SUBDOMAINS=True,
    SECURE_HSTS_PRELOAD=True,
    SESSION_COOKIE_SECURE=True,
    CSRF_COOKIE_SECURE=True,
)
def test_with_tls_the_deployment_check_is_clean(db: None, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.delenv("DJANGO_ALLOW_ASYNC_UNSAFE")
    call_command("check", "--deploy", "--fail-level", "WARNING")
    assert Client().get("/").status_code == 301
    assert "max-age=31536000" in Client().get("/", secure=True).headers["Strict-Transport-Security"]


def test_refusals_and_files_leave_a_line(world: World) -> None:
    own, clerk = world.call(world.ilse), world.call(world.joren)
    assert clerk.status("get", "deals") == 403
    assert own.status("get", "deals.csv", words="frost") == 200
    assert own.status("get", "deals") == 200
    lines = AuditLine.objects.order_by("pk").values_list("what", "who__username", "detail")
    assert list(lines) == [
        ("refused", "joren", "get /api/deals"),
        ("exported", "ilse", "get /api/deals.csv?words=frost"),
    ]


def test_long_answers_travel_compressed_and_files_as_they_are(world: World) -> None:
    caller = world.call(world.ilse)
    plain = caller.client.get("/api/prices/kinds")
    packed = caller.client.get("/api/prices/kinds", headers={"Accept-Encoding": "gzip"})
    assert packed.headers["Content-Encoding"] == "gzip"
    assert gzip.decompress(packed.content) == plain.content
    assert len(packed.content) < len(plain.content) / 2
    for path in ("/api/session", "/api/customers.csv", "/api/customers.xlsx"):
        answer = caller.client.get(path, headers={"Accept-Encoding": "gzip"})
        assert "Content-Encoding" not in answer.headers, path


@pytest.mark.parametrize(
    ("number", "code"), [(2002, "away"), (2006, "away"), (2013, "away"), (1205, "busy")]
)
@pytest.mark.parametrize("place", ["session", "person", "audit"])
def test_a_database_that_is_away_before_an_operation_is_reached_is_told_in_the_one_form(
    world: World, monkeypatch: pytest.MonkeyPatch, number: int, code: str, place: str
) -> None:
    caller = world.call(world.ilse)

    def gone(*_: object, **__: object) -> None:
        raise OperationalError(number, "gone")

    targets = {
        "session": "django.contrib.sessions.backends.db.SessionStore.load",
        "person": "django.contrib.auth.middleware.get_user",
        "audit": "config.once.OnceMiddleware.__call__",
    }
    monkeypatch.setattr(targets[place], gone)
    answer = caller.ask("post", "quotes", {"customer_id": world.customer.pk})
    assert answer.status_code == 503
    assert answer.json()["code"] == code
    assert answer.json()["message"]


def test_what_breaks_otherwise_is_told_in_the_one_form(
    world: World, monkeypatch: pytest.MonkeyPatch
) -> None:
    def broken(*_: object) -> None:
        raise RuntimeError("a fault of ours")

    monkeypatch.setattr("config.once.OnceMiddleware.__call__", broken)
    answer = world.call(world.ilse).ask("get", "customers")
    assert (answer.status_code, answer.json()["code"]) == (500, "unexpected")
    assert "fault of ours" not in answer.content.decode()
