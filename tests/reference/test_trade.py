"""Worked values of the trade. No published source: common practice, the arithmetic from memory."""

from decimal import Decimal

from routecore.money import round_amount
from routecore.pricing import DiscountRule, Tier
from routecore.totals import NextBreak
from tests.core.build import D, book, entry, item, line, price


def test_all_units_break_of_ninety_against_a_hundred() -> None:
    prices = book(entry("10.00"), entry("8.50", from_quantity=D(100)))
    document = price([line(item(), "90")], prices)
    [step] = document.next_breaks
    assert isinstance(step, NextBreak)
    assert (document.totals.net, step.new_net, step.cheaper_overall) == (
        D("900.00"),
        D("850.00"),
        True,
    )


def test_a_base_quantity_other_than_one() -> None:
    """132 at 15.24 per 12 are 167.64.

    Source: EN 16931 example "tc434-example8" of the CEN test suite, line net of its first line.
    """
    prices = book(entry("15.24", per=D(12)))
    assert price([line(item(), "132")], prices).lines[0].net == D("167.64")


def test_payable_rounding_stands_as_its_own_line() -> None:
    """336.90 with a rounding of 0.01 is 336.91: the payable is gross plus rounding (BR-CO-16).

    Source: XRechnung test suite, case 01.17a; here the other way, 0.01 below a step of 0.05.
    """
    totals = price([line(item(), "1")], book(entry("280.76")), step="0.05").totals
    assert (totals.gross, totals.payable_rounding, totals.payable) == (
        D("336.91"),
        D("-0.01"),
        D("336.90"),
    )


def test_half_a_cent_goes_away_from_zero() -> None:
    assert round_amount(Decimal("26.645"), "EUR") == Decimal("26.65")


def test_a_chain_of_20_10_5_is_one_discount_of_31_6() -> None:
    """Trade discount chain; common practice, no source."""
    rules = [DiscountRule(id=p, tiers=(Tier(start=D(0), percent=D(p)),)) for p in ("20", "10", "5")]
    document = price([line(item(), "1")], book(entry("1000"), rules=rules))
    assert document.totals.net == D("684.00")


def test_15000_less_20_15_10_is_9180() -> None:
    """Textbook chain, from memory; the arithmetic was recomputed."""
    rules = [
        DiscountRule(id=p, tiers=(Tier(start=D(0), percent=D(p)),)) for p in ("20", "15", "10")
    ]
    document = price([line(item(), "1")], book(entry("15000"), rules=rules))
    assert document.totals.net == D("9180.00")


def test_graduated_break_250_cost_2300() -> None:
    """First 100 at 10.00, the next 100 at 9.00, the rest at 8.00; common practice, no source."""
    tiers = (Tier(start=D(100), percent=D(10)), Tier(start=D(200), percent=D(20)))
    rules = [DiscountRule(id="G", graduated=True, tiers=tiers)]
    document = price([line(item(), "250")], book(entry("10.00"), rules=rules))
    assert document.totals.net == D("2300.00")
