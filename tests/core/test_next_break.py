"""The next break: the least quantity with better terms, what it saves, what the whole then costs."""

from dataclasses import replace
from decimal import Decimal
from typing import Any

import pytest

from routecore.pricing import (
    Agreement,
    Customer,
    CustomerPrice,
    DiscountRule,
    PriceBook,
    PriceEntry,
    PriceList,
    Tier,
)
from routecore.totals import Charge, Line, NextBreak, PricedDocument, TaxComponent
from tests.core.build import D, book, entry, item, line, price

PRICES = book(entry("10"), entry("8.50", from_quantity=D(100)))


def only_break(quantity: str, **given: object) -> NextBreak:
    [step] = price([line(item(**given), quantity)], PRICES).next_breaks
    return step


def test_ninety_pieces_cost_more_than_a_hundred() -> None:
    step = only_break("90")
    assert (step.add, step.new_net, step.cheaper_overall) == (D(10), D("850.00"), True)
    assert step.saves == D("135.00")


def test_far_from_the_break_the_larger_order_costs_more() -> None:
    assert only_break("50").cheaper_overall is False


def test_the_next_tier_is_reached_in_whole_packs() -> None:
    assert only_break("60", pack_multiple=D(24)).add == D(60)


def test_in_another_unit_the_break_is_reached_in_that_unit() -> None:
    [step] = price([line(item(factors={"BX": D(12)}), "5", unit="BX")], PRICES).next_breaks
    assert (step.add, step.unit) == (D(4), "BX")


def test_no_break_where_the_last_tier_is_reached() -> None:
    assert price([line(item(), "100")], PRICES).next_breaks == ()


def test_no_break_for_a_typed_price() -> None:
    assert price([line(item(), "90", price=D(9))], PRICES).next_breaks == ()


def test_a_dearer_tier_is_no_break() -> None:
    prices = book(entry("10"), entry("12", from_quantity=D(100)))
    assert price([line(item(), "90")], prices).next_breaks == ()


def test_the_document_discount_counts_in_the_new_net() -> None:
    [step] = price([line(item(), "90")], PRICES, percent="10").next_breaks
    assert step.new_net == Decimal("765.00")


def test_the_greatest_gain_comes_first() -> None:
    prices = book(
        entry("10"),
        entry("8.50", from_quantity=D(100)),
        entry("5", code="B"),
        entry("4.9", code="B", from_quantity=D(100)),
    )
    steps = price([line(item("B"), "90", id="b"), line(item(), "90", id="a")], prices).next_breaks
    assert [step.line for step in steps] == ["a", "b"]


# ---- true under all that holds at the larger quantity ----------------------------------------

FARM = Customer(id="FARM")


def percents(*rows: tuple[str, str]) -> tuple[Tier, ...]:
    return tuple(Tier(start=D(start), percent=D(percent)) for start, percent in rows)


def rule(*rows: tuple[str, str], name: str = "R", **given: Any) -> DiscountRule:
    return DiscountRule(id=name, tiers=percents(*rows), **given)


def shown(document: PricedDocument) -> list[tuple[str, Decimal, Decimal]]:
    return [(step.rule, step.quantity, step.saves) for step in document.next_breaks]


def test_a_net_price_ahead_that_costs_more_than_the_discounted_one_is_no_break() -> None:
    prices = book(
        entry("10"),
        entry("9.50", from_quantity=D(100), discountable=False),
        rules=[rule(("0", "10"))],
    )
    assert price([line(item(), "20")], prices).next_breaks == ()


def test_a_tier_that_never_comes_is_not_promised() -> None:
    prices = book(
        entry("10"),
        entry("9.50", from_quantity=D(100), discountable=False),
        rules=[rule(("100", "10"))],
    )
    assert shown(price([line(item(), "20")], prices)) == [("price_list:base", D(100), D("10.00"))]


def test_a_group_rule_that_only_the_larger_quantity_touches_is_priced() -> None:
    prices = book(
        entry("10", discountable=False),
        entry("9", from_quantity=D(100)),
        rules=[rule(("1", "5"), over="group")],
    )
    [step] = price([line(item(), "20")], prices).next_breaks[:1]
    assert (step.rule, step.quantity, step.new_net) == ("price_list:base", D(100), D("855.00"))


def test_a_customer_price_ahead_is_a_break_of_the_list_price() -> None:
    own = CustomerPrice(
        customer="FARM",
        currency="EUR",
        entry=entry("5", from_quantity=D(50), discountable=False),
    )
    prices = book(entry("10"), customer=FARM, customer_prices=[own])
    [step] = price([line(item(), "45")], prices).next_breaks
    assert (step.rule, step.add, step.cheaper_overall) == ("customer_price:FARM", D(5), True)


def two_lists(trade: list[PriceEntry], base: list[PriceEntry]) -> PriceBook:
    return PriceBook(
        lists={
            "trade": PriceList(id="trade", currency="EUR", entries=tuple(trade)),
            "base": PriceList(id="base", currency="EUR", entries=tuple(base)),
        },
        customer=Customer(id="FARM", price_list="trade"),
    )


def test_the_customers_list_ahead_is_a_break_of_the_base_list() -> None:
    prices = two_lists([entry("9", from_quantity=D(100))], [entry("10")])
    assert shown(price([line(item(), "20")], prices)) == [("price_list:trade", D(100), D("20.00"))]


def test_a_break_behind_another_source_is_not_shown() -> None:
    prices = two_lists(
        [entry("9", from_quantity=D(100))], [entry("10"), entry("7", from_quantity=D(200))]
    )
    assert shown(price([line(item(), "20")], prices)) == [("price_list:trade", D(100), D("20.00"))]


def test_an_entry_in_the_lines_own_unit_is_a_break_of_a_converted_one() -> None:
    goods = item(factors={"BX": D(12)})
    prices = book(entry("10"), entry("96", unit="BX", from_quantity=D(5)))
    assert shown(price([line(goods, "2", unit="BX")], prices)) == [
        ("price_list:base", D(5), D("48.00"))
    ]


def test_beyond_a_dearer_price_the_better_one_is_found() -> None:
    prices = book(entry("10"), entry("12", from_quantity=D(50)), entry("8", from_quantity=D(80)))
    assert shown(price([line(item(), "20")], prices)) == [("price_list:base", D(80), D("40.00"))]


def cheap_agreement(percent: str) -> PriceBook:
    made = Agreement(
        id="FA",
        customer="FARM",
        currency="EUR",
        remaining=D(100),
        entry=entry("1", discountable=True),
    )
    reached = rule(("500", percent), measure="amount")
    return book(entry("10"), customer=FARM, agreements=[made], rules=[reached])


def test_an_amount_that_jumps_at_a_higher_price_is_met_there() -> None:
    """101 × 10 is past 500, long before 500 × 1 would be."""
    document = price([line(item(), "50")], cheap_agreement("95"))
    assert shown(document) == [("R", D(101), D("25.00"))]


def test_a_tier_that_a_higher_price_eats_up_gains_nothing() -> None:
    assert price([line(item(), "50")], cheap_agreement("10")).next_breaks == ()


def test_an_amount_is_reached_across_many_falling_prices() -> None:
    rows = [("0", "10"), ("16", "9"), ("21", "8.55"), ("26", "7.70"), ("30", "6.78"), ("31", "5.97"), ("36", "5.43")]  # fmt: skip
    entries = [entry(value, from_quantity=D(start)) for start, value in rows]
    prices = book(*entries, rules=[rule(("226", "5"), measure="amount")])
    steps = {name: quantity for name, quantity, _ in shown(price([line(item(), "9")], prices))}
    assert steps["R"] == D(42)


@pytest.mark.parametrize(
    ("tiers", "policy", "other"),
    [
        ([("0", "5"), ("100", "5")], "chain", None),
        ([("0", "5"), ("100", "0")], "chain", None),
        ([("100", "5")], "best", "20"),
    ],
)
def test_a_graduated_tier_that_gives_no_more_is_no_break(
    tiers: list[tuple[str, str]], policy: str, other: str | None
) -> None:
    rules = [rule(*tiers, graduated=True)]
    if other:
        rules.append(rule(("0", other), name="OTHER"))
    document = price([line(item(), "20")], book(entry("10"), rules=rules, policy=policy))
    assert document.next_breaks == ()


def test_beyond_a_graduated_tier_that_gives_no_more_the_next_is_shown() -> None:
    prices = book(entry("10"), rules=[rule(("0", "5"), ("50", "5"), ("80", "9"), graduated=True)])
    assert shown(price([line(item(), "20")], prices)) == [("R", D(80), D("0"))]


def test_a_pack_that_jumps_over_a_tier_is_at_the_tier_where_it_lands() -> None:
    prices = book(entry("10"), rules=[rule(("110", "5"), ("150", "20"))])
    [step] = price([line(item(pack_multiple=D(100)), "100")], prices).next_breaks
    assert (step.quantity, step.saves, step.new_net) == (D(200), D("200.00"), D("1600.00"))


def test_a_rule_that_another_outdoes_at_its_tier_is_no_break() -> None:
    rules = [rule(("50", "5"), name="SMALL"), rule(("0", "10"), name="LARGE")]
    prices = book(entry("10"), rules=rules, policy="best")
    assert price([line(item(), "20")], prices).next_breaks == ()


def test_a_price_and_a_rule_at_one_quantity_say_what_both_come_to() -> None:
    prices = book(entry("10"), entry("9", from_quantity=D(100)), rules=[rule(("100", "10"))])
    assert shown(price([line(item(), "50")], prices)) == [
        ("price_list:base", D(100), D("95.00")),
        ("R", D(100), D("95.00")),
    ]


@pytest.mark.parametrize("rounding", ["document", "line"])
@pytest.mark.parametrize("on", ["net", "gross"])
def test_the_new_net_is_what_the_larger_document_comes_to(rounding: str, on: str) -> None:
    """Under a discount on the whole, charges, a graduated group rule and an agreement that runs out."""
    goods = [item(n, group="g", tax_category="low" if n == "B" else "standard") for n in "ABC"]
    taxes = {
        "standard": (TaxComponent(name="VAT", percent=D(19)),),
        "low": (TaxComponent(name="VAT", percent=D(7)),),
    }
    prices = book(
        *(entry("9.97", code=n) for n in "ABC"),
        *(entry("9.03", code=n, from_quantity=D(40)) for n in "ABC"),
        customer=FARM,
        agreements=[
            Agreement(
                id="FA", customer="FARM", currency="EUR", remaining=D(60),
                entry=entry("8.11", code="A", discountable=True),
            )
        ],
        rules=[
            rule(("10", "1"), ("90", "3"), name="G", group="g", over="group", graduated=True),
            rule(("5", "1"), ("30", "2"), name="L"),
        ],
    )  # fmt: skip
    wanted = [("A", "21"), ("B", "13"), ("A", "33"), ("C", "7"), ("A", "5")]
    lines = [line(goods["ABC".index(n)], q, id=str(k)) for k, (n, q) in enumerate(wanted)]
    given: dict[str, Any] = {
        "percent": "4",
        "on": on,
        "tax_rounding": rounding,
        "taxes": taxes,
        "charges": (Charge(name="Freight", percent=D(3)),),
    }
    document = price(lines, prices, **given)
    assert len(document.next_breaks) >= 6
    for step in document.next_breaks:
        larger = [
            replace(row, quantity=step.quantity) if row.id == step.line else row for row in lines
        ]
        again = price(larger, prices, **given)
        assert step.new_net == again.totals.net, step


def test_what_a_very_large_document_is_not_searched_for_is_counted(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    monkeypatch.setattr("routecore.totals.breaks.MOST_WORK", 10)
    graduated = rule(("10", "1"), over="group", graduated=True)
    prices = book(entry("10"), entry("9", from_quantity=D(50)), rules=[graduated])
    lines = [line(item(), "20", id=str(n)) for n in range(8)]
    document = price(lines, prices)
    assert len(document.next_breaks) + document.breaks_left_out == 8
    assert document.breaks_left_out > 0


def lines_of_one_agreement(count: int) -> tuple[list[Line], PriceBook]:
    """So many lines that draw from one agreement, and a rule that adds up their amounts."""
    made = Agreement(
        id="FA",
        customer="FARM",
        currency="EUR",
        remaining=D(30 * count),
        entry=entry("9", discountable=True),
    )
    reached = rule(("5", "1"), (str(300 * count), "3"), measure="amount", over="group")
    prices = book(entry("10"), customer=FARM, agreements=[made], rules=[reached])
    return [line(item(), str(7 + n % 5), id=str(n)) for n in range(count)], prices


def test_a_line_that_takes_an_agreement_from_later_ones_moves_the_rule_over_them() -> None:
    """Against every quantity: the least that brings the rule to its next tier."""
    lines, prices = lines_of_one_agreement(4)
    document = price(lines, prices)
    assert document.breaks_left_out == 0
    for step in document.next_breaks:
        place = int(step.line)

        def rate_at(quantity: Decimal, place: int = place) -> Decimal | None:
            larger = list(lines)
            larger[place] = replace(lines[place], quantity=quantity)
            rows = price(larger, prices).lines
            rates = {s.percent for s in rows[place].steps if s.code == "rule"}
            return max(rates, default=None)  # type: ignore[type-var]

        assert rate_at(step.quantity) == D(3)
        below = range(int(lines[place].quantity) + 1, int(step.quantity))
        assert all(rate_at(D(q)) == D(1) for q in below)


def test_what_many_lines_of_one_agreement_move_is_followed_for_a_while_then_counted() -> None:
    lines, prices = lines_of_one_agreement(80)
    document = price(lines, prices)
    assert document.breaks_left_out > 0
    for step in document.next_breaks[:5]:
        larger = [replace(r, quantity=step.quantity) if r.id == step.line else r for r in lines]
        assert price(larger, prices).totals.net == step.new_net
