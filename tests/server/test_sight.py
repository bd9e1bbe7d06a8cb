"""Who may not see what things cost learns it by no way: not by an excess, a target, a history, a file."""

from typing import Any

import pytest

from apps.people.models import User
from apps.prices.flows import save_record
from apps.prices.models import CustomerPrice, Limit
from apps.quotes.models import Revision
from demo.factories import CustomerFactory
from tests.server.conftest import Caller, D, World
from tests.server.test_quotes import body_of

COSTS = ("cost", "margin", "margin_percent", "margin_floor")


def leaves(part: Any, path: str = "") -> list[tuple[str, Any]]:
    """Every value of an answer with its path."""
    if isinstance(part, dict):
        return [leaf for key, value in part.items() for leaf in leaves(value, f"{path}.{key}")]
    if isinstance(part, list):
        return [leaf for n, value in enumerate(part) for leaf in leaves(value, f"{path}.{n}")]
    return [(path, part)]


@pytest.fixture
def floor(world: World) -> None:
    """A floor that a low price crosses, for reps."""
    Limit.objects.create(role="rep", margin_floor=D(12), line_percent=D(90))


@pytest.fixture
def cheap(world: World, drafted: Revision, floor: None) -> dict[str, Any]:
    """The draft with a price of a cent on its first line."""
    body = body_of(drafted)
    body["lines"][0] |= {"price": "0.5", "price_reason": "x", "discount_percent": None}
    return body


def owner(world: World, revision: Revision, *, sees: bool) -> Caller:
    world.ilse.may_see_margin = sees
    world.ilse.save()
    return world.call(world.ilse)


def test_an_excess_of_the_floor_is_told_without_figures(
    world: World, drafted: Revision, cheap: dict[str, Any]
) -> None:
    path = f"revisions/{drafted.pk}"
    saved = owner(world, drafted, sees=False)("put", path, cheap)
    told = {"code": "under_floor", "line": "a", "found": None, "limit": None}
    assert told in saved["excesses"]
    shown = owner(world, drafted, sees=False)("get", path)
    assert told in shown["excesses"]
    assert shown["margin_floor"] is None
    seen = owner(world, drafted, sees=True)("get", path)["excesses"]
    assert next(row for row in seen if row["code"] == "margin_floor")["found"] is not None


@pytest.mark.parametrize("target", ["net", "payable", "line_net", "price"])
def test_solving_blocks_without_figures(
    world: World, drafted: Revision, floor: None, target: str
) -> None:
    body = {"target": target, "value": "5", "line": "a" if target in ("line_net", "price") else ""}
    path = f"revisions/{drafted.pk}/solve"
    blocked = owner(world, drafted, sees=False)("post", path, body)["blocked"]
    assert {"under_floor"} == {row["code"] for row in blocked if row["found"] is None}
    assert not any(row["code"] in ("margin_floor", "free_line") for row in blocked)
    seen = owner(world, drafted, sees=True)("post", path, body)["blocked"]
    assert any(row["code"] == "margin_floor" for row in seen)


def test_no_answer_holds_a_cost_without_the_right(
    world: World, drafted: Revision, cheap: dict[str, Any]
) -> None:
    path = f"revisions/{drafted.pk}"
    for sees in (False, True):
        caller = owner(world, drafted, sees=sees)
        caller("put", path, cheap | {"version": Revision.objects.get(pk=drafted.pk).version})
        shown = caller("get", path)
        answers = [
            *(shown, caller("post", f"{path}/price", {**cheap, "trails": ["a", "b"]})),
            *(caller("get", name) for name in ("quotes", "today", "deals", "forecast")),
            caller("get", f"quotes/{drafted.quote_id}/history"),
            caller("get", "prices/check", customer=world.customer.pk, item=world.post.pk),
        ]
        told = [
            (at, value)
            for answer in answers
            for at, value in leaves(answer)
            if at.rpartition(".")[2] in COSTS and value not in (None, "", "none")
        ]
        assert bool(told) is sees, told


@pytest.mark.parametrize("name", ["items", "limits"])
def test_the_history_of_what_a_rep_may_not_read_is_empty(world: World, name: str) -> None:
    if name == "items":
        save_record(world.admin, name, {"cost": "22"}, pk=world.post.pk)
    else:
        save_record(world.admin, name, {"role": "lead", "margin_floor": "7"})
    path = f"prices/history/{name}"
    assert world.call(world.admin)("get", path)
    for person in (world.ilse, world.petra):
        assert world.call(person)("get", path) == []
    assert world.call(world.joren).status("get", path) == 403


def test_prices_agreed_with_anothers_customer_are_not_read(world: World) -> None:
    parent = CustomerFactory(name="Marrow Group", owner=world.stranger)
    theirs = CustomerFactory(name="Foreign Fruit", owner=world.stranger)
    world.customer.parent = parent
    world.customer.save()
    for customer in (world.customer, parent, theirs):
        CustomerPrice.objects.create(
            customer=customer, item=world.post, unit_id="H87", currency="EUR", price=D(30)
        )
    row = theirs.prices.get()
    save_record(world.admin, "customer_prices", {"price": "29"}, pk=row.pk, version=1)

    def customers(person: User, **query: str) -> set[str]:
        found = world.call(person)("get", "prices/records/customer_prices", **query)["rows"]
        return {each["said"]["customer"] for each in found}

    assert customers(world.ilse) == customers(world.petra) != customers(world.admin)
    assert {name.partition(" ")[2] or name for name in customers(world.ilse)}
    assert not any("Foreign" in name for name in customers(world.ilse))
    assert any("Marrow" in name for name in customers(world.ilse))
    assert customers(world.ilse, words="Foreign") == set()
    for file in ("csv", "xlsx"):
        told = world.call(world.ilse).ask("get", f"prices/files/customer_prices.{file}")
        assert b"Foreign" not in told.content
    assert world.call(world.ilse)("get", "prices/history/customer_prices") == []
    assert world.call(world.admin)("get", "prices/history/customer_prices")
