"""Kept cases: what must not move, run against the house's prices and against a proposed change."""

from datetime import timedelta
import json
from typing import Any

import pytest

from apps.prices.models import KeptCase
from apps.quotes.models import Revision
from tests.server.conftest import Caller, D, World
from tests.server.test_prices import RULE


@pytest.fixture
def admin(world: World, drafted: Revision) -> Caller:
    """The administrator, with one quote kept as a case."""
    caller = world.call(world.admin)
    assert caller.status("post", f"revisions/{drafted.pk}/keep", {"name": "Spring fence"}) == 201
    return caller


def run(caller: Caller) -> Any:
    """What a run of all cases found."""
    answer = caller.ask("post", "prices/cases/run")
    return json.loads(b"".join(answer.streaming_content).splitlines()[-1])["result"]


def test_a_kept_case_holds_while_nothing_changes(admin: Caller) -> None:
    [row] = admin("get", "prices/cases")["rows"]
    assert (row["name"], row["lines"], row["net"]) == ("Spring fence", 2, "861.60")
    assert run(admin) == {"cases": 1, "newest": row["id"], "runs": []}


def test_a_changed_price_shows_where_the_case_moves(admin: Caller, world: World) -> None:
    world.wire.prices.update(price=D("0.40"))
    [found] = run(admin)["runs"]
    where = {row["where"]: (row["expected"], row["found"]) for row in found["differences"]}
    assert where["Line 2, WIRE-2: price"] == ("0.38", "0.40")
    assert where["net"][0] == "861.60"
    assert (
        admin("post", f"prices/cases/{found['case_id']}/expect?version=1")["net"] == where["net"][1]
    )
    assert run(admin)["runs"] == []


def test_a_proposed_change_shows_the_cases_that_would_move(admin: Caller, snapshot: Any) -> None:
    before = snapshot()
    found = admin("post", "prices/records/rules/preview", {"values": RULE})
    assert (found["kept_cases"], found["open_quotes"]) == (1, 1)
    [moved] = found["cases_moved"]
    assert (moved["name"], moved["before"], moved["after"]) == ("Spring fence", "861.60", "815.62")
    assert snapshot() == before


def test_a_change_that_begins_later_moves_from_then_on(admin: Caller, world: World) -> None:
    later = {**RULE, "valid_from": (world.today + timedelta(days=30)).isoformat()}
    path = "prices/records/rules/preview"
    assert admin("post", path, {"values": later})["cases_moved"] == []
    assert len(admin("post", path, {"values": later}, on=later["valid_from"])["cases_moved"]) == 1


def test_a_quote_that_drifted_is_not_blamed_on_the_change(admin: Caller, world: World) -> None:
    world.wire.prices.update(price=D("0.40"))
    other = {**RULE, "customer": "", "item": "", "group": "", "tiers": "from 900000: 5 %"}
    found = admin("post", "prices/records/rules/preview", {"values": other})
    assert (found["moved"], found["cases_moved"]) == ([], [])


def test_a_case_file_is_kept_whole_or_not_at_all(admin: Caller, drafted: Revision) -> None:
    case = admin("get", f"revisions/{drafted.pk}/case")
    path, name = "prices/cases", "cases.json"
    assert len(admin.send(path, name, json.dumps([case, case]).encode())) == 2
    bad = {**case, "lines": [{**case["lines"][0], "quantity": "1e400"}]}
    refused = admin.send(path, name, json.dumps([case, bad]).encode())
    assert refused["path"] == "[1]" and "lines[0].quantity" in refused["message"]
    unknown = {**case, "customer": {**case["customer"], "id": "C-404"}}
    assert (
        admin.send(path, name, json.dumps(unknown).encode())["facts"]["fault"]["code"] == "unknown"
    )
    assert admin.send(path, name, b"\xff")["code"] == "unreadable"
    assert admin.send(path, name, b"[" * 100_000)["code"] == "unreadable"
    assert KeptCase.objects.count() == 3


def test_only_an_administrator_keeps_cases(as_ilse: Caller, drafted: Revision) -> None:
    assert as_ilse.status("get", "prices/cases") == 403
    assert as_ilse.status("post", "prices/cases/run") == 403
    assert as_ilse.status("post", f"revisions/{drafted.pk}/keep", {"name": "x"}) == 403


def test_a_case_can_go(admin: Caller) -> None:
    [row] = admin("get", "prices/cases")["rows"]
    assert admin.status("delete", f"prices/cases/{row['id']}?version={row['version']}") == 204
    assert run(admin)["cases"] == 0


def test_taking_a_price_away_is_looked_at_first(admin: Caller, world: World, snapshot: Any) -> None:
    before = snapshot()
    price = world.wire.prices.get()
    found = admin(
        "post", "prices/records/entries/preview", {"values": {}}, record=price.pk, gone=True
    )
    [moved] = found["cases_moved"]
    assert moved["before"] != moved["after"]
    assert snapshot() == before


@pytest.mark.parametrize(
    "expect",
    [{"lines": 1, "totals": 2}, {"lines": [1], "totals": {}}, {"lines": [], "totals": {"net": 5}}],
)
def test_what_is_expected_has_the_form_of_an_answer(
    world: World, drafted: Revision, expect: dict[str, Any]
) -> None:
    admin = world.call(world.admin)
    case = json.loads(admin.ask("get", f"revisions/{drafted.pk}/case").content)
    refused = admin.send("prices/cases", "x.json", json.dumps({**case, "expect": expect}).encode())
    assert refused["code"] == "in_case", refused
    assert admin("get", "prices/cases")["count"] == 0
    assert admin.status("get", "prices/cases") == 200


@pytest.mark.parametrize("body", [b'{"note": "\\ud800"}', b"[" * 100_000, b"9" * 6000, b"\xff"])
def test_a_file_of_rubbish_is_refused_in_the_one_form(world: World, body: bytes) -> None:
    told = world.call(world.admin).send("prices/cases", "x.json", body)
    assert told["code"] in ("unreadable", "in_case")
