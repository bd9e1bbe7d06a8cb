from datetime import date
from decimal import Decimal

from hypothesis import given
from hypothesis import strategies as st
import pytest

from routecore.errors import InvalidInput, NotAvailable
from routecore.pricing import Customer, Found, Offer, PriceBook, PriceList, find_price
from tests.core.build import DAY, D, book, entry, item, line, price


def search(prices: PriceBook, quantity: str = "1", unit: str = "H87", **given: object) -> Found:
    goods = item(factors={"BX": D(12)}, **given)
    return find_price(prices, goods, D(quantity), unit, on=DAY, currency="EUR")


def found(prices: PriceBook, quantity: str = "1", unit: str = "H87", **given: object) -> Offer:
    offer = search(prices, quantity, unit, **given).offer
    assert offer is not None
    return offer


@pytest.mark.parametrize(("quantity", "price"), [("99.5", "10"), ("100", "8.50"), ("600", "8.10")])
def test_the_greatest_from_that_the_quantity_reaches_wins(quantity: str, price: str) -> None:
    prices = book(
        entry("10"), entry("8.50", from_quantity=D(100)), entry("8.10", from_quantity=D(600))
    )
    assert found(prices, quantity).price == D(price)


def test_the_lines_own_unit_comes_before_a_converted_one() -> None:
    prices = book(entry("10"), entry("9", from_quantity=D(12)), entry("115", unit="BX"))
    assert found(prices, "2", "BX").price == D(115)
    assert found(prices, "24").price == D(9)


def test_of_two_entries_the_later_valid_from_wins() -> None:
    prices = book(
        entry("10", valid_from=date(2025, 1, 1)), entry("11", valid_from=date(2026, 1, 1))
    )
    assert found(prices).price == D(11)


def test_both_days_of_a_validity_are_inclusive() -> None:
    assert found(book(entry("10", valid_from=DAY, valid_to=DAY))).price == D(10)


def test_what_was_passed_over_says_why() -> None:
    prices = book(
        entry("10"),
        entry("7", valid_from=date(2026, 3, 3)),
        entry("8", valid_to=date(2026, 3, 1)),
        entry("9", from_quantity=D(5)),
    )
    assert [(p.reason, p.price) for p in search(prices).passed_over] == [
        ("below", D(9)),
        ("not_yet_valid", D(7)),
        ("expired", D(8)),
    ]


def lists(*rows: PriceList, start: str) -> PriceBook:
    return PriceBook(lists={row.id: row for row in rows}, customer=Customer(price_list=start))


def test_a_derived_list_falls_back_by_its_factor_and_rounds_to_its_step() -> None:
    base = PriceList(id="base", currency="EUR", entries=(entry("41.50"),))
    trade = PriceList(
        id="trade", currency="EUR", derives_from="base", factor=D("0.93"), round_to=D("0.05")
    )
    answer = found(lists(base, trade, start="trade"))
    assert answer.price == D("38.60")  # 38.595
    assert [step.code for step in answer.steps] == ["list_price", "derived"]


def test_a_lists_own_entry_comes_before_the_one_it_derives_from() -> None:
    base = PriceList(id="base", currency="EUR", entries=(entry("41.50"),))
    trade = PriceList(
        id="trade", currency="EUR", derives_from="base", factor=D("0.9"), entries=(entry("40"),)
    )
    assert found(lists(base, trade, start="trade")).source == "price_list:trade"


def test_the_base_list_serves_where_the_customers_list_is_silent() -> None:
    base = PriceList(id="base", currency="EUR", entries=(entry("41.50"),))
    other = PriceList(id="other", currency="EUR")
    answer = search(lists(base, other, start="other"))
    assert answer.offer is not None
    assert (answer.offer.source, answer.offer.price) == ("price_list:base", D("41.50"))
    assert answer.passed_over[0].reason == "no_entry"


def test_another_currencys_list_does_not_serve() -> None:
    prices = lists(PriceList(id="base", currency="GBP", entries=(entry("41.50"),)), start="base")
    answer = search(prices)
    assert answer.offer is None
    assert [(p.reason, p.currency) for p in answer.passed_over] == [("other_currency", "GBP")]


def test_a_circle_of_derived_lists_is_refused() -> None:
    one = PriceList(id="one", currency="EUR", derives_from="two")
    two = PriceList(id="two", currency="EUR", derives_from="one")
    with pytest.raises(InvalidInput, match="circular_list"):
        lists(one, two, start="one")


def test_an_unknown_list_is_refused() -> None:
    with pytest.raises(NotAvailable, match="unknown_list"):
        lists(PriceList(id="base", currency="EUR"), start="trade")


@given(
    tiers=st.dictionaries(
        st.integers(2, 500), st.decimals("0.01", "99.99", places=2), min_size=1, max_size=5
    ),
    small=st.integers(1, 600),
    more=st.integers(0, 600),
)
def test_under_falling_breaks_more_never_has_a_higher_unit_price(
    tiers: dict[int, Decimal], small: int, more: int
) -> None:
    falling = sorted(tiers.values(), reverse=True)
    prices = book(
        entry("100"),
        *(
            entry(str(value), from_quantity=D(start))
            for start, value in zip(sorted(tiers), falling, strict=True)
        ),
    )
    assert found(prices, str(small + more)).price <= found(prices, str(small)).price


def test_one_item_cannot_be_two_things_in_a_document() -> None:
    lines = [line(item(), "1"), line(item(weight_kg=D(1)), "1", id="2")]
    with pytest.raises(InvalidInput, match="item_differs"):
        price(lines, book(entry("10")))
