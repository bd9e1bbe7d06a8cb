"""Lines of interest make a deal's estimate; the open deals by what they are about."""

from decimal import Decimal
from typing import Any

import pytest

from apps.catalogue.models import ExchangeRate
from apps.customers.models import Customer
from apps.deals.models import Deal, Interest
from apps.journal.models import Change
from apps.quotes.models import Revision
from demo.factories import (
    CustomerFactory,
    DealFactory,
    ItemFactory,
    ItemGroupFactory,
    PriceEntryFactory,
    PriceListFactory,
)
from tests.server.conftest import Caller, World

D = Decimal


@pytest.fixture
def as_petra(world: World) -> Caller:
    return world.call(world.petra)


def wanted(world: World, quantity: object = "20") -> list[dict[str, Any]]:
    """Twenty posts at 41.50, three rolls of wire at 38."""
    return [
        {"item_id": world.post.pk, "quantity": quantity, "unit": world.post.base_unit_id},
        {"item_id": world.wire.pk, "quantity": "3", "unit": "RL"},
    ]


def put(caller: Caller, deal: Deal, rows: list[dict[str, Any]], version: int | None = None) -> Any:
    body = {"version": version or Deal.objects.get(pk=deal.pk).version, "rows": rows}
    return caller.ask("put", f"deals/{deal.pk}/interest", body)


def test_the_estimate_is_what_the_items_come_to_by_the_rules_of_today(
    world: World, as_ilse: Caller
) -> None:
    told = put(as_ilse, world.deal, wanted(world)).json()
    assert [(row["code"], row["net"]) for row in told["interest"]] == [
        ("POST-25", "830.00"),
        ("WIRE-2", "114.00"),
    ]
    assert (told["estimate"], told["amount"]) == ("944.00", "944.00")
    # From a hundred on a post is 37: the price list's tier, as in a quote.
    assert put(as_ilse, world.deal, wanted(world, "100")).json()["estimate"] == "3814.00"
    change = Change.objects.filter(what="deal", field="estimate").latest("pk")
    assert (change.before, change.after, change.reason) == ("944", "3814", "lines of interest")
    # Priced again after the rules moved.
    world.post.prices.update(price=D("40.00"))
    assert put(as_ilse, world.deal, wanted(world)).json()["estimate"] == "914.00"
    # Without a line the rep's estimate stays.
    empty = put(as_ilse, world.deal, []).json()
    assert (empty["interest"], empty["estimate"]) == ([], "914.00")


def test_a_quote_of_the_deal_begins_with_them(world: World, as_ilse: Caller) -> None:
    put(as_ilse, world.deal, wanted(world))
    made = as_ilse("post", "quotes", {"deal_id": world.deal.pk})
    shown = as_ilse("get", f"revisions/{made['id']}")
    assert [(row["item"]["id"], row["quantity"], row["unit"]) for row in shown["lines"]] == [
        (world.post.pk, "20", world.post.base_unit_id),
        (world.wire.pk, "3", "RL"),
    ]
    assert shown["priced"]["totals"]["net"] == "944.00"


def test_in_another_currency_the_estimate_is_in_the_house_s(world: World, as_ilse: Caller) -> None:
    francs = PriceListFactory(code="francs", name="Francs", currency="CHF")
    PriceEntryFactory(item=world.post, price_list=francs, price=D("40.00"))
    ExchangeRate.objects.create(currency="CHF", on=world.today, rate=D("1.05"))
    Customer.objects.update(currency="CHF", price_list=francs)
    told = put(as_ilse, world.deal, wanted(world)[:1]).json()
    assert (told["interest"][0]["net"], told["estimate"]) == ("840.00", "840.00")


def test_what_has_no_price_or_is_not_ones_own_changes_nothing(
    world: World, as_ilse: Caller
) -> None:
    unpriced = ItemFactory(code="NEW-1", name="Not priced yet")
    rows = [
        *wanted(world),
        {"item_id": unpriced.pk, "quantity": "1", "unit": unpriced.base_unit_id},
    ]
    refused = put(as_ilse, world.deal, rows)
    assert (refused.status_code, refused.json()["path"]) == (422, "rows[2].item_id")
    foreign = put(as_ilse, world.deal, [{**wanted(world)[0], "unit": "RL"}])
    assert foreign.status_code == 422 and foreign.json()["path"].startswith("rows[0]")
    assert put(as_ilse, world.deal, wanted(world), version=99).status_code == 409
    assert put(world.call(world.tomas), world.deal, wanted(world)).status_code == 404
    assert put(world.call(world.joren), world.deal, wanted(world)).status_code == 403
    assert put(as_ilse, world.deal, [{**wanted(world)[0], "quantity": "0"}]).status_code == 422
    assert not Interest.objects.exists() and Deal.objects.get().estimate == D(5000)


def cut(caller: Caller, by: str, **more: object) -> Any:
    return caller("get", "forecast/cuts", by=by, **more)


def test_every_cut_adds_up_to_the_same_total(
    world: World, as_petra: Caller, issued: Revision
) -> None:
    group = ItemGroupFactory(code="wires", name="Wire")
    world.wire.group = group
    world.wire.save()
    other = CustomerFactory(owner=world.tomas)
    said = DealFactory(customer=other, estimate=D(400), owner=world.tomas)
    DealFactory(customer=other, estimate=D(77), owner=world.tomas, confidence="stretch")
    put(as_petra, said, wanted(world, "1"))
    total = as_petra("get", "forecast")["total"]
    for by in ("goods", "customer", "confidence", "team"):
        cells = cut(as_petra, by)["cells"]
        for field in ("amount", "weighted"):
            assert sum(D(row[field]) for row in cells) == D(total[field]), by
    goods = {row["name"]: row for row in cut(as_petra, "goods")["cells"]}
    assert (goods["Wire"]["count"], goods[""]["amount"]) == (2, "77.00")
    # Of the quote: 99.75 of 888.25 less 3 %; of the list: three rolls.
    parts = cut(as_petra, "goods", group=group.pk)["parts"]
    assert {row["id"]: row["amount"] for row in parts} == {
        world.deal.pk: "96.76",
        said.pk: "114.00",
    }
    assert sum(D(row["weighted"]) for row in parts) == D(goods["Wire"]["weighted"])
    unsaid = cut(as_petra, "goods", group="none")["parts"]
    assert [row["amount"] for row in unsaid] == ["77.00"]
    for row in cut(as_petra, "customer")["cells"]:
        listed = as_petra("get", "deals", customer=row["key"])
        assert listed["sums"]["weighted"] == row["weighted"]


def test_a_chosen_quote_says_what_its_deal_is_about(
    world: World, as_ilse: Caller, issued: Revision
) -> None:
    from tests.server.test_choosing import another

    group = ItemGroupFactory(code="wires", name="Wire")
    world.wire.group = group
    world.wire.save()
    another(world, "4000")
    before = cut(as_ilse, "goods", group=group.pk)["parts"][0]["amount"]
    path, version = f"deals/{world.deal.pk}/current-quote", Deal.objects.get().version
    as_ilse("post", path, {"version": version, "quote_id": issued.quote_id})
    after = cut(as_ilse, "goods", group=group.pk)["parts"][0]["amount"]
    assert (before, after) == (f"{D(before):.2f}", "96.76") and before != after


def test_a_closed_deal_and_somebody_else_s_are_in_no_cut(world: World, as_ilse: Caller) -> None:
    DealFactory(customer=CustomerFactory(owner=world.tomas), owner=world.tomas, estimate=D(9))
    as_ilse("patch", f"deals/{world.deal.pk}", {"version": 1, "stage": "lost"})
    for by in ("goods", "customer", "confidence"):
        assert cut(as_ilse, by)["cells"] == []
    assert world.call(world.joren).status("get", "forecast/cuts") == 403
    assert as_ilse.status("get", "forecast/cuts", by="colour") == 422
