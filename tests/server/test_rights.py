"""Every operation declares who may call it; who may not is refused before anything is read."""

from collections.abc import Iterator
import re
from typing import Any

from ninja import Router
import pytest

from api.access import ALL, AREAS, COSTS, KEEP, OPEN, SELL, area_of, guard, table
from apps.handover.flows import hand_over
from apps.orders.flows import write_order
from apps.people.models import LEAD, ROLES
from apps.quotes.models import Revision
from config.paths import ROOT
from demo.factories import UserFactory
from tests.server.conftest import Caller, World
from tests.server.document import DOCUMENT

PEOPLE = dict(zip(ROLES, ("tomas", "petra", "joren", "admin"), strict=True))


def operations() -> Iterator[tuple[str, str, str, dict[str, Any]]]:
    """Method, path, name and description of every operation of the document."""
    for path, methods in DOCUMENT["paths"].items():
        for method, described in methods.items():
            yield method, path, described["operationId"], described


def test_every_operation_is_declared_and_nothing_else() -> None:
    named = [name for area in AREAS for name in area.operations]
    assert sorted(named) == sorted(name for _, _, name, _ in operations())


def test_an_undeclared_operation_keeps_the_application_from_starting() -> None:
    router = Router()
    router.add_api_operation("/spare", ["GET"], lambda request: None, operation_id="spare")
    with pytest.raises(LookupError, match="spare declares no access"):
        guard([router])
    with pytest.raises(LookupError, match="declared, but no operation: sign_in"):
        guard([])


@pytest.mark.parametrize("role", ROLES)
def test_each_role_passes_the_doors_that_are_its_own_and_no_other(world: World, role: str) -> None:
    caller = world.call(getattr(world, PEOPLE[role]))
    wrong = []
    for method, path, name, _ in operations():
        if name in ("sign_in", "sign_out"):
            continue
        answer = caller.ask(method, re.sub(r"\{\w+\}", "999999", path.removeprefix("/api/")), {})
        text = b"" if answer.streaming else answer.content
        refused = answer.status_code == 403 and b"not_for_role" in text
        roles = area_of(name).roles or ALL
        if refused is (role in roles):
            wrong.append((method, path, answer.status_code))
    assert wrong == []


def test_without_a_session_only_the_open_ones_answer(world: World) -> None:
    nobody = Caller(None)
    for method, path, name, _ in operations():
        status = nobody.status(method, re.sub(r"\{\w+\}", "999999", path.removeprefix("/api/")), {})
        assert (status != 401) is (area_of(name).roles == OPEN), (method, path, status)


def fields_of(schema: dict[str, Any], seen: frozenset[str] = frozenset()) -> Iterator[str]:
    """The names of all fields in a schema, with those it refers to."""
    if "$ref" in schema:
        name = schema["$ref"].rpartition("/")[2]
        if name not in seen:
            yield from fields_of(DOCUMENT["components"]["schemas"][name], seen | {name})
        return
    for name, part in schema.get("properties", {}).items():
        yield name
        yield from fields_of(part, seen)
    for key in ("items", "additionalProperties"):
        if isinstance(schema.get(key), dict):
            yield from fields_of(schema[key], seen)
    for part in (*schema.get("anyOf", ()), *schema.get("allOf", ()), *schema.get("oneOf", ())):
        yield from fields_of(part, seen)


def test_an_answer_with_costs_in_it_is_declared_as_one() -> None:
    undeclared = [
        name
        for _, _, name, described in operations()
        for answer in described["responses"].values()
        for content in answer.get("content", {}).values()
        if set(fields_of(content["schema"])) & set(COSTS) and not area_of(name).costs
    ]
    assert undeclared == []


def test_the_readme_has_the_table_that_the_declarations_print() -> None:
    assert table() in (ROOT / "README.md").read_text()


def test_the_back_office_sees_a_customer_without_offers_and_talk(
    world: World, issued: Revision
) -> None:
    world.call(world.ilse)("post", "activities", {"kind": "note", "text": "x", "deal_id": 0})
    path = f"customers/{world.customer.pk}"
    own, office = (world.call(p)("get", path) for p in (world.ilse, world.joren))
    told, read = (world.call(p)("get", f"{path}/documents") for p in (world.ilse, world.joren))
    assert [d["kind"] for d in told["rows"]] == ["quote"]
    assert own["deals"]
    assert (read["rows"], office["deals"], office["activities"]) == ([], [], [])
    assert own["activities"]


def test_a_lead_sends_only_the_teams_handovers_again(world: World, issued: Revision) -> None:
    from django.utils import timezone

    order = write_order(
        *(world.ilse, issued.pk, issued.version),
        today=world.today,
        now=timezone.now(),
        close_deal=False,
    )
    entry = hand_over(world.ilse, order.pk, order.version, now=timezone.now())
    path, body = f"handovers/{entry.pk}/again", {"version": entry.version}
    other = UserFactory(username="elsewhere", team=world.stranger.team, role=LEAD)
    assert world.call(other).status("post", path, body) == 404
    entry.refresh_from_db()
    assert entry.version == body["version"]
    assert world.call(world.petra).status("post", path, body) == 200


def test_the_document_of_the_interface_is_not_told_to_strangers(world: World) -> None:
    assert Caller(None).status("get", "openapi.json") in (401, 404)
    assert SELL < ALL and KEEP < SELL
