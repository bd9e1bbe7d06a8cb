"""Which candidate gives the price: agreements, customer prices, other currencies; and why not others."""

from datetime import date

import pytest

from routecore.errors import InvalidInput
from routecore.pricing import (
    Agreement,
    Customer,
    CustomerPrice,
    PriceBook,
    PriceEntry,
    PriceList,
    Rate,
)
from routecore.totals import PricedLine
from tests.core.build import DAY, D, book, entry, item, line, price

FARM = Customer(id="FARM", parents=("GROUP", "HOLDING"), tier="trade")


def agreed(customer: str, value: str, currency: str = "EUR", **given: object) -> CustomerPrice:
    made = entry(value, **{"discountable": False, **given})
    return CustomerPrice(customer=customer, currency=currency, entry=made)


def agreement(value: str, remaining: str, name: str = "FA", **given: object) -> Agreement:
    currency = str(given.pop("currency", "EUR"))
    customer = str(given.pop("customer", "FARM"))
    made: PriceEntry = entry(value, **{"discountable": False, **given})
    return Agreement(
        id=name, customer=customer, currency=currency, remaining=D(remaining), entry=made
    )


def only(prices: PriceBook, quantity: str = "10", **given: object) -> PricedLine:
    [priced] = price([line(item(factors={"BX": D(12)}), quantity, **given)], prices).lines
    return priced


def reasons(priced: PricedLine) -> list[tuple[str, str]]:
    return [(row.source, row.reason) for row in priced.passed_over]


def test_the_customers_own_price_comes_before_its_parents_and_the_list() -> None:
    prices = [
        agreed("HOLDING", "7"),
        agreed("GROUP", "8"),
        agreed("FARM", "9"),
        agreed("OTHER", "1"),
    ]
    assert only(book(entry("10"), customer=FARM, customer_prices=prices)).price == D(9)
    assert only(book(entry("10"), customer=FARM, customer_prices=prices[:2])).price == D(8)


def test_a_customer_price_that_does_not_hold_lets_the_next_one_speak() -> None:
    prices = [
        agreed("FARM", "8", from_quantity=D(50)),
        agreed("FARM", "9", valid_to=date(2026, 3, 1)),
    ]
    found = only(book(entry("10"), customer=FARM, customer_prices=prices))
    assert found.price == D(10)
    assert reasons(found) == [("customer_price:FARM", "below"), ("customer_price:FARM", "expired")]


def test_an_agreement_with_enough_left_comes_first() -> None:
    found = only(
        book(
            entry("10"),
            customer=FARM,
            agreements=[agreement("6", "10")],
            customer_prices=[agreed("FARM", "9")],
        )
    )
    assert (found.source, found.price, found.split) == ("agreement:FA", D(6), None)


def test_where_less_is_left_the_line_goes_on_and_proposes_to_split() -> None:
    found = only(book(entry("10"), customer=FARM, agreements=[agreement("6", "7")]))
    assert (found.source, found.price) == ("price_list:base", D(10))
    assert found.split is not None
    assert (found.split.agreement, found.split.covered, found.split.rest) == ("FA", D(7), D(3))
    assert found.passed_over[0].reason == "not_enough"


def test_the_covered_part_is_in_whole_packs() -> None:
    prices = book(entry("10"), customer=FARM, agreements=[agreement("6", "40")])
    [found] = price([line(item(pack_multiple=D(12)), "60")], prices).lines
    assert found.split is not None
    assert (found.split.covered, found.split.rest) == (D(36), D(24))


def test_an_agreement_is_drawn_down_by_the_counted_lines_in_order() -> None:
    prices = book(entry("10"), customer=FARM, agreements=[agreement("6", "25")])
    goods = item()
    lines = [
        line(goods, "20", id="option", kind="optional"),
        line(goods, "20", id="a"),
        line(goods, "20", id="b"),
    ]
    sources = {row.id: row.source for row in price(lines, prices).lines}
    assert sources == {
        "a": "agreement:FA",
        "b": "price_list:base",
        "option": "price_list:base",
    }


def test_an_agreement_in_another_unit_covers_by_conversion() -> None:
    prices = book(entry("10"), customer=FARM, agreements=[agreement("60", "2", unit="BX")])
    assert only(prices, "24").net == D("120.00")
    assert only(prices, "25").source == "price_list:base"


def test_another_customers_agreement_does_not_serve() -> None:
    prices = book(entry("10"), customer=FARM, agreements=[agreement("6", "99", customer="OTHER")])
    assert only(prices).price == D(10)


def test_another_currency_serves_at_the_latest_dated_rate_and_says_so() -> None:
    rates = [
        Rate(currency="GBP", to="EUR", rate=D("1.10"), on=date(2026, 1, 1)),
        Rate(currency="GBP", to="EUR", rate=D("1.20"), on=DAY),
        Rate(currency="GBP", to="EUR", rate=D("9"), on=date(2026, 3, 3)),
    ]
    prices = book(
        entry("10"), customer=FARM, customer_prices=[agreed("FARM", "5", "GBP")], rates=rates
    )
    found = only(prices)
    assert found.price == D(6)
    assert (found.steps[-1].code, found.steps[-1].rate, found.steps[-1].day) == (
        "converted",
        D("1.20"),
        DAY,
    )


def test_without_a_rate_another_currency_is_passed_over() -> None:
    found = only(book(entry("10"), customer=FARM, customer_prices=[agreed("FARM", "5", "GBP")]))
    assert reasons(found) == [("customer_price:FARM", "other_currency")]


def test_a_rate_is_not_turned_round() -> None:
    rates = [Rate(currency="EUR", to="GBP", rate=D("0.8"), on=DAY)]
    prices = book(
        entry("10"), customer=FARM, customer_prices=[agreed("FARM", "5", "GBP")], rates=rates
    )
    assert only(prices).price == D(10)


@pytest.mark.parametrize("remaining", ["-1", "-0.01"])
def test_less_than_nothing_cannot_be_left(remaining: str) -> None:
    with pytest.raises(InvalidInput, match="negative"):
        agreement("6", remaining)


def test_an_agreement_from_a_quantity_on_does_not_serve_below_it() -> None:
    prices = book(
        entry("10"), customer=FARM, agreements=[agreement("5", "500", from_quantity=D(50))]
    )
    below = only(prices, "20")
    assert (below.source, below.price) == ("price_list:base", D(10))
    [passed] = [row for row in below.passed_over if row.source == "agreement:FA"]
    assert (passed.reason, passed.from_quantity) == ("below", D(50))
    assert only(prices, "50").source == "agreement:FA"


def test_prices_in_the_documents_currency_come_before_converted_ones() -> None:
    prices = [agreed("FARM", "1", "GBP"), agreed("FARM", "9")]
    rates = [Rate(currency="GBP", to="EUR", rate=D("1.2"), on=DAY)]
    for rows in (prices, prices[::-1]):
        assert only(book(customer=FARM, customer_prices=rows, rates=rates)).price == D(9)


def test_an_entry_that_was_passed_over_shows_what_it_would_have_given() -> None:
    lists = {
        "base": PriceList(
            id="base", currency="EUR", entries=(entry("10"), entry("9", from_quantity=D(50)))
        ),
        "trade": PriceList(
            id="trade", currency="EUR", derives_from="base", factor=D("0.9"), round_to=D("0.01")
        ),
    }
    found = only(PriceBook(lists=lists, customer=Customer(price_list="trade")))
    [passed] = [row for row in found.passed_over if row.reason == "below"]
    assert passed.price == D("8.10")


def test_the_base_list_may_derive_from_the_customers_own() -> None:
    lists = {
        "x": PriceList(id="x", currency="EUR", entries=(entry("7"),)),
        "base": PriceList(id="base", currency="EUR", derives_from="x", factor=D(2)),
    }
    assert only(PriceBook(lists=lists, customer=Customer(price_list="x"))).price == D(7)
    assert only(PriceBook(lists=lists)).price == D(14)


def test_a_price_beyond_fifteen_digits_is_refused() -> None:
    huge = D("999999999999999")
    lists = {
        "base": PriceList(id="base", currency="EUR", entries=(entry("999999999999999"),)),
        "trade": PriceList(id="trade", currency="EUR", derives_from="base", factor=huge),
    }
    with pytest.raises(InvalidInput, match="too_large"):
        only(PriceBook(lists=lists, customer=Customer(price_list="trade")))
