"""Whatever is sent to any endpoint is answered with a clear 4xx in the one form, never a 500."""

from collections.abc import Callable
from datetime import date
import json
from typing import Any

import jsonschema_rs
import pytest

from apps.quotes.models import Revision
from tests.server.conftest import Caller, World
from tests.server.document import DOCUMENT
from tests.server.test_quotes import body_of

JUNK: list[Any] = [
    None, True, -1, 0, 1.5, 10**30, "", "x" * 5000, "NaN", "1e400", "-5", "\ud800", "\x00", [], [1], {}, {"a": 1},
    "2026-02-30", "0001-01-01", "<b>", "'; DROP TABLE deals_deal; --",
]  # fmt: skip
DEFINED = {"components": DOCUMENT["components"]}
OPERATIONS = [
    (method, path, operation)
    for path, methods in DOCUMENT["paths"].items()
    for method, operation in methods.items()
]


def bodies(operation: dict[str, Any]) -> list[Any]:
    """Junk instead of the body, and in every field of it, one at a time: all that the document allows, and one that
    it refuses. What a shape refuses is answered in one place, whatever it was."""
    content = operation.get("requestBody", {}).get("content", {})
    if "application/json" not in content:  # nothing, or a file: what is sent is none
        return [None, *JUNK[:6]]
    name = content["application/json"]["schema"]["$ref"].rsplit("/", 1)[1]
    fields = DOCUMENT["components"]["schemas"][name]["properties"]
    good = {"version": 1, "title": "t", "text": "t", "kind": "note", "close_deal": False}
    good |= {"decision_on": "2027-01-01", "valid_until": "2027-01-01", "lines": [], "name": "n"}
    good = {key: value for key, value in good.items() if key in fields}
    allows = jsonschema_rs.validator_for(
        {"$ref": f"#/components/schemas/{name}", **DEFINED}
    ).is_valid
    found: list[Any] = [*JUNK]
    for n, field in enumerate(fields):
        junks = [{**good, field: junk} for junk in JUNK[n % len(JUNK) :] + JUNK[: n % len(JUNK)]]
        refused = [body for body in junks if not allowed(body, allows)]
        found += [body for body in junks if body not in refused] + refused[:1]
    return found


def allowed(body: dict[str, Any], by_document: Callable[[Any], bool]) -> bool:
    """Half of a character is not the document's to judge."""
    return "\\ud800" in json.dumps(body) or by_document(body)


@pytest.mark.parametrize(
    ("method", "path", "operation"),
    OPERATIONS,
    ids=[f"{method} {path}" for method, path, _ in OPERATIONS],
)
def test_junk_is_refused_in_the_one_form(
    world: World, drafted: Revision, method: str, path: str, operation: dict[str, Any]
) -> None:
    ids = {
        "deal_id": world.deal.pk,
        "customer_id": world.customer.pk,
        "revision_id": drafted.pk,
        "quote_id": drafted.quote_id,
        "kind": "csv",
    }
    parameters = operation.get("parameters", [])
    known = {p["name"]: ids.get(p["name"], 1) for p in parameters if p["in"] == "path"}
    caller = world.call(world.ilse)
    targets = [path.format(**known)]
    targets += [
        path.format(**{**known, name: junk})
        for name in known
        for junk in ("0", "-1", "x", "9" * 40, "1.5", "%00", "999999")
    ]
    asked = [(target, body, {}) for target in targets[:1] for body in bodies(operation)]
    asked += [(target, bodies(operation)[-1], {}) for target in targets[1:]]
    asked += [
        (targets[0], None, {p["name"]: junk})
        for p in parameters
        if p["in"] == "query"
        for junk in ("x" * 5000, "-1", "NaN", "9" * 40, "\x00", "'", "%")
    ]
    for target, body, query in asked:
        answer = caller.ask(method, target.removeprefix("/api/"), body, **query)
        if path == "/api/health":
            assert answer.status_code == 503  # nothing runs beside this test
            continue
        assert answer.status_code < 500, (target, body, query, answer.content)
        if answer.status_code >= 400 and method != "get":
            fault = answer.json()
            assert fault["code"] and fault["message"], fault


def test_an_oversized_body_is_refused(world: World, as_ilse: Caller, drafted: Revision) -> None:
    body = body_of(drafted, message="x" * 2_100_000)
    assert as_ilse.status("put", f"revisions/{drafted.pk}", body) == 413


def test_more_lines_than_a_quote_holds_are_refused(
    world: World, as_ilse: Caller, drafted: Revision
) -> None:
    line = {"item_id": world.post.pk, "quantity": "1", "unit": "H87"}
    body = body_of(drafted, lines=[{"key": f"k{n}", **line} for n in range(501)])
    assert as_ilse.status("put", f"revisions/{drafted.pk}", body) == 422


@pytest.mark.parametrize(
    ("change", "path"),
    [
        ({"quantity": "0"}, "lines.0.quantity"),
        ({"quantity": "-4"}, "lines.0.quantity"),
        ({"quantity": "1e9"}, "lines.0.quantity"),
        ({"quantity": "1.1234567"}, "lines.0.quantity"),
        ({"discount_percent": "101"}, "lines.0.discount_percent"),
        ({"unit": "KGM"}, "lines[0].unit"),
        ({"item_id": 999_999}, "lines[0].item_id"),
        ({"key": "no spaces here"}, "lines.0.key"),
    ],
)
def test_a_faulty_line_is_named_and_nothing_is_saved(
    as_ilse: Caller, drafted: Revision, change: dict[str, Any], path: str, snapshot: Any
) -> None:
    body = body_of(drafted)
    body["lines"][0] |= change
    before = snapshot()
    refused = as_ilse.ask("put", f"revisions/{drafted.pk}", body)
    assert (refused.status_code, refused.json()["path"]) == (422, path)
    assert snapshot() == before


def test_two_lines_with_one_key_are_refused(as_ilse: Caller, drafted: Revision) -> None:
    body = body_of(drafted)
    body["lines"].append(dict(body["lines"][0]))
    assert as_ilse.status("put", f"revisions/{drafted.pk}", body) == 422


@pytest.mark.parametrize("field", ["valid_until", "discount"])
def test_terms_that_cannot_be_are_refused(
    world: World, as_ilse: Caller, drafted: Revision, field: str
) -> None:
    change: dict[str, Any] = {
        "valid_until": {"valid_until": date(2020, 1, 1).isoformat()},
        "discount": {"discount_percent": "3", "discount_amount": "5"},
    }[field]
    assert as_ilse.status("put", f"revisions/{drafted.pk}", body_of(drafted, **change)) == 422


@pytest.mark.parametrize("path", ["quotes/import", "prices/import/list-prices"])
def test_a_form_without_its_boundary_is_refused(world: World, path: str) -> None:
    client = world.call(world.admin).client
    answer = client.generic("POST", f"/api/{path}", "{}", content_type="multipart/form-data")
    assert (answer.status_code, answer.json()["code"]) == (400, "unreadable")


def test_an_address_that_is_none_answers_404_in_the_one_form(as_ilse: Caller) -> None:
    answer = as_ilse.ask("get", "no/such/thing")
    assert (answer.status_code, answer.json()["code"]) == (404, "not_found")
