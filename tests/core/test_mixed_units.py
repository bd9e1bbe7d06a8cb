"""Quantities in mixed units: exact in base units, compared by multiplying, divided once and last."""

from decimal import Decimal

import pytest

from routecore.pricing import Agreement, Customer, DiscountRule, Tier
from routecore.totals import PricedDocument
from tests.core.build import D, book, entry, item, line, price

FARM = Customer(id="FARM")


def boxed(box: str, **given: object) -> object:
    return item(factors={"BX": D(box)}, **given)


def agreement(value: str, remaining: str, **given: object) -> Agreement:
    made = entry(value, **{"discountable": False, **given})
    return Agreement(id="FA", customer="FARM", currency="EUR", remaining=D(remaining), entry=made)


def rule(start: str, percent: str = "10", **given: object) -> DiscountRule:
    tiers = (Tier(start=D(start), percent=D(percent)),)
    return DiscountRule(id="R", tiers=tiers, **given)  # type: ignore[arg-type]


@pytest.mark.parametrize("box", ["3", "6", "7", "9", "12", "0.7"])
def test_an_agreement_in_boxes_is_used_up_to_the_last_piece(box: str) -> None:
    prices = book(entry("10"), customer=FARM, agreements=[agreement("30", "20", unit="BX")])
    goods = boxed(box)
    pieces = D(20) * D(box)
    lines = [
        line(goods, str(pieces * D("0.35"))),
        line(goods, str(pieces * D("0.65")), id="2"),  # exactly what is left
        line(goods, "1", id="3"),
    ]
    sources = [row.source for row in price(lines, prices).lines]
    assert sources == ["agreement:FA", "agreement:FA", "price_list:base"]


def test_seven_and_five_pieces_are_two_boxes_of_six() -> None:
    prices = book(entry("10"), customer=FARM, agreements=[agreement("30", "2", unit="BX")])
    document = price([line(boxed("6"), "7"), line(boxed("6"), "5", id="2")], prices)
    assert [(row.source, row.net) for row in document.lines] == [
        ("agreement:FA", D("35.00")),
        ("agreement:FA", D("25.00")),
    ]


@pytest.mark.parametrize(
    ("box", "each", "per", "quantity", "net"),
    [
        ("12", "2.70", "1", "31", "6.98"),  # 6.975
        ("48", "16.98", "1", "52", "18.40"),  # 18.395
        ("7", "0.35", "1", "0.7", "0.04"),  # 0.035
        ("3", "1", "1", "0.015", "0.01"),  # 0.005
    ],
)
def test_no_cent_is_lost_by_dividing_first(
    box: str, each: str, per: str, quantity: str, net: str
) -> None:
    prices = book(entry(each, unit="BX", per=D(per)))
    assert price([line(boxed(box), quantity)], prices).lines[0].net == D(net)


def test_three_lines_of_four_pieces_are_one_box_of_twelve() -> None:
    prices = book(entry("10"), rules=[rule("1", unit="BX", over="group")])
    goods = boxed("12")
    lines = [line(goods, "4", id=name) for name in "abc"]
    assert price(lines, prices).totals.lines_net == D("108.00")


def test_a_group_counts_boxes_of_different_items_together() -> None:
    prices = book(entry("10"), entry("10", code="B"), rules=[rule("1", unit="BX", over="group")])
    lines = [line(boxed("3"), "1"), line(item("B", factors={"BX": D(6)}), "4", id="2")]
    assert price(lines, prices).totals.lines_net == D("45.00")  # 1/3 and 4/6 of a box


def breaks(document: PricedDocument) -> list[tuple[str, Decimal]]:
    return [(step.rule, step.quantity) for step in document.next_breaks]


def test_the_least_quantity_that_reaches_a_tier_in_boxes() -> None:
    prices = book(entry("10"), rules=[rule("5", unit="BX")])
    assert breaks(price([line(boxed("12"), "37")], prices)) == [("R", D(60))]


@pytest.mark.parametrize(
    ("box", "pack", "quantity", "least"),
    [
        ("7", "24", "24", "48"),  # in boxes of 7 and packs of 24, only each 24th box is whole packs
        ("6", "5", "5", "17.5"),  # 105 pieces: 21 packs of 5, the first past 100
    ],
)
def test_a_break_needs_a_quantity_that_can_be_typed(
    box: str, pack: str, quantity: str, least: str
) -> None:
    prices = book(entry("10"), rules=[rule("100" if box == "6" else "200")])
    goods = item(factors={"BX": D(box)}, pack_multiple=D(pack))
    [step] = price([line(goods, quantity, unit="BX")], prices).next_breaks
    assert step.quantity == D(least)


def test_across_units_the_greatest_from_is_compared_in_base_units() -> None:
    prices = book(
        entry("9", from_quantity=D(20)),
        entry("96", unit="BX", from_quantity=D(2)),  # from 24 pieces, 8 each
    )
    goods = item(factors={"BX": D(12), "PF": D(48)})
    [row] = price([line(goods, "1", unit="PF")], prices).lines
    assert (row.price, row.net) == (D(96), D("384.00"))
