from decimal import Decimal

from routecore.totals import NextBreak
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
