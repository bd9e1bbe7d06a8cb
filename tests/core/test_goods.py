"""A deal's amounts are shared out over what it is about, and nothing is lost."""

from decimal import Decimal

from hypothesis import given
from hypothesis import strategies as st

from routecore.forecast import UNSAID, Cell, DealGoods, by_goods, shares_of

D = Decimal
cents = st.decimals(min_value=0, max_value=10**8, places=2)
deals = st.builds(
    DealGoods,
    amount=cents,
    weighted=cents,
    nets=st.dictionaries(st.sampled_from(("1", "2", "3", "4")), st.decimals(-100, 10**6, places=2)),
)


def test_a_discount_of_the_whole_is_shared_as_the_lines_are() -> None:
    deal = DealGoods(
        amount=D("861.60"), weighted=D("430.80"), nets={"7": D("788.50"), "2": D("99.75")}
    )
    found = shares_of(deal, "EUR")
    assert found == {"2": Cell(1, D("96.76"), D("48.38")), "7": Cell(1, D("764.84"), D("382.42"))}


def test_a_deal_that_says_nothing_of_items_stands_apart() -> None:
    deal = DealGoods(amount=D(500), weighted=D(50), nets={"2": D(0), "3": D(-4)})
    assert shares_of(deal, "EUR") == {UNSAID: Cell(1, D(500), D(50))}


@given(rows=st.lists(deals, max_size=6))
def test_the_groups_add_up_to_the_deals_whatever_their_order(rows: list[DealGoods]) -> None:
    found = by_goods(shares_of(deal, "EUR") for deal in rows)
    assert sum(cell.amount for cell in found.values()) == sum(deal.amount for deal in rows)
    assert sum(cell.weighted for cell in found.values()) == sum(deal.weighted for deal in rows)
    assert by_goods(shares_of(deal, "EUR") for deal in reversed(rows)) == found
