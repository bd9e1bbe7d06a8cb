"""Who sees and changes what: a rep their own, a lead the team's, the back office what it fulfils."""

from typing import Any

import pytest

from apps.people.models import User
from apps.quotes.models import Revision
from tests.server.conftest import Caller, World, accepting, as_seen

READS = ["deals/{deal}", "customers/{customer}", "revisions/{revision}", "revisions/{revision}/pdf"]


def path_of(path: str, world: World, revision: Revision) -> str:
    return path.format(deal=world.deal.pk, customer=world.customer.pk, revision=revision.pk)


@pytest.mark.parametrize("path", READS)
@pytest.mark.parametrize(
    ("person", "status"),
    [("ilse", 200), ("petra", 200), ("admin", 200), ("tomas", 404), ("stranger", 404)],
)
def test_records_are_seen_by_their_owner_the_lead_and_the_administrator(
    world: World, drafted: Revision, path: str, person: str, status: int
) -> None:
    caller = world.call(getattr(world, person))
    assert caller.status("get", path_of(path, world, drafted)) == status


@pytest.mark.parametrize(("path", "status"), list(zip(READS, [403, 200, 403, 403], strict=True)))
def test_the_back_office_sees_customers_and_no_deals_or_quotes(
    world: World, drafted: Revision, path: str, status: int
) -> None:
    assert world.call(world.joren).status("get", path_of(path, world, drafted)) == status


@pytest.mark.parametrize(
    "path", ["deals", "quotes", "customers", "orders", "timetable", "today", "go"]
)
def test_lists_hold_nothing_of_another_team(world: World, drafted: Revision, path: str) -> None:
    answer = world.call(world.stranger).ask("get", path, words="Hazelmoor")
    assert answer.status_code == 200
    assert b"Hazelmoor" not in answer.content


def writes(world: World, revision: Revision) -> list[tuple[str, str, dict[str, Any]]]:
    day = revision.valid_until.isoformat()
    seen = as_seen(revision)
    return [
        ("patch", f"deals/{world.deal.pk}", {"version": 1, "title": "Mine now"}),
        ("post", "deals", {"title": "New", "decision_on": day, "customer_id": world.customer.pk}),
        ("post", "activities", {"kind": "note", "text": "x", "deal_id": world.deal.pk}),
        ("post", "quotes", {"deal_id": world.deal.pk}),
        ("post", "quotes", {"customer_id": world.customer.pk}),
        ("put", f"revisions/{revision.pk}", {"version": 2, "lines": [], "valid_until": day}),
        ("post", f"revisions/{revision.pk}/issue", seen),
        ("delete", f"revisions/{revision.pk}?version=2", {}),
        ("post", f"quotes/{revision.quote_id}/revise", {}),
        ("post", "orders", accepting(revision)),
        ("post", f"revisions/{revision.pk}/order-now", {**seen, "close_deal": False}),
        ("post", "order-plan", {"sources": accepting(revision)["sources"]}),
        ("post", f"quotes/{revision.quote_id}/close-rest", {"reason": "Enough"}),
        ("post", f"quotes/{revision.quote_id}/ask-late", {"reason": "They were away"}),
        ("post", f"customers/{world.customer.pk}/contacts", {"name": "Nobody"}),
        (
            "post",
            f"customers/{world.customer.pk}/addresses",
            {"kind": "delivery", "street": "1 Lane", "town": "Town", "country": "QF"},
        ),
    ]


@pytest.mark.parametrize(
    ("person", "statuses"), [("tomas", {404}), ("stranger", {404}), ("joren", {403, 404})]
)
def test_nobody_writes_another_persons_records(
    world: World, drafted: Revision, person: str, statuses: set[int], snapshot: Any
) -> None:
    who: User = getattr(world, person)
    before = snapshot()
    for method, path, body in writes(world, drafted):
        assert world.call(who).status(method, path, body) in statuses, (method, path)
    assert snapshot() == before


def test_a_lead_gives_a_deal_to_somebody_of_the_team_only(world: World) -> None:
    lead = world.call(world.petra)
    path = f"deals/{world.deal.pk}"
    assert lead.status("patch", path, {"version": 1, "owner_id": world.stranger.pk}) == 404
    assert (
        lead("patch", path, {"version": 1, "owner_id": world.tomas.pk})["owner_id"]
        == world.tomas.pk
    )
    own = world.call(world.tomas)
    assert own.status("patch", path, {"version": 2, "owner_id": world.ilse.pk}) == 403


def test_without_a_session_everything_is_401(world: World, drafted: Revision) -> None:
    nobody = Caller(None)
    for method, path, body in writes(world, drafted):
        assert nobody.status(method, path, body) == 401
    for path in ("deals", "today", "items", "orders", "forecast", f"deals/{world.deal.pk}"):
        assert nobody.status("get", path) == 401
    assert nobody.status("get", "session") == 204


def test_a_write_without_its_token_is_refused_in_the_one_form(world: World) -> None:
    caller = Caller(world.ilse, csrf=True)
    refused = caller.ask("post", "quotes", {"deal_id": world.deal.pk})
    assert (refused.status_code, refused.json()["code"]) == (403, "csrf")


def test_signing_in_and_out(world: World) -> None:
    world.ilse.set_password("a-good-password")
    world.ilse.save()
    caller = Caller(None)
    wrong = caller.ask("post", "session", {"username": "ilse", "password": "wrong"})
    assert (wrong.status_code, wrong.json()["path"]) == (403, "password")
    me = caller("post", "session", {"username": "ilse", "password": "a-good-password"})
    assert (me["name"], me["role"]) == (world.ilse.name, "rep")
    assert caller.status("delete", "session") == 204
    assert caller.status("get", "deals") == 401


def test_each_person_reads_numbers_and_days_in_their_own_way(world: World, as_ilse: Caller) -> None:
    assert as_ilse("get", "session")["format"] == "house"
    assert as_ilse("patch", "session", {"format": "comma"})["format"] == "comma"
    assert as_ilse("get", "session")["format"] == "comma"
    assert world.call(world.tomas)("get", "session")["format"] == "house"
    assert as_ilse.status("patch", "session", {"format": "roman"}) == 422
    assert Caller(None).status("patch", "session", {"format": "comma"}) == 401
