"""Limits decided on exact values; what the rules give for this line in this document."""

from typing import Any

from hypothesis import given
from hypothesis import strategies as st
import pytest

from routecore.pricing import Agreement, Customer, DiscountRule, PriceBook, Tier
from routecore.totals import Excess, Limits, Line, Taken, exceeded, exceeded_when_taken, worse
from tests.core.build import D, book, entry, item, line, price

POST = item(cost=D(8), group="posts")


def found(lines: list[Line], limits: Limits, prices: PriceBook, **given: Any) -> list[Excess]:
    return list(exceeded(price(lines, prices, **given), lines, limits))


@given(cents=st.integers(1, 20_000), percent=st.integers(1, 99))
def test_a_discount_of_exactly_the_limit_is_within_it(cents: int, percent: int) -> None:
    """Whatever the cents round to: 3 % of 50.50 is 1.52, and that is 3.01 % of it."""
    prices = book(entry(str(D(cents) / 100)))
    limits = Limits(line_percent=D(percent), document_percent=D(percent))
    typed = [line(POST, "1", discount_percent=D(percent))]
    assert found(typed, limits, prices) == []
    assert found([line(POST, "1")], limits, prices, percent=str(percent)) == []
    assert found([line(POST, "1")], limits, prices, percent=str(percent), on="gross") == []


@given(cents=st.integers(1, 20_000), percent=st.integers(1, 99))
def test_a_discount_beyond_the_limit_is_beyond_it_however_it_rounds(
    cents: int, percent: int
) -> None:
    prices = book(entry(str(D(cents) / 100)))
    limits = Limits(line_percent=D(percent), document_percent=D(percent))
    more = D(percent) + D("0.0001")
    [excess] = found([line(POST, "1", discount_percent=more)], limits, prices)
    assert (excess.code, excess.found) == ("line_discount", more)
    [excess] = found([line(POST, "1")], limits, prices, percent=str(more))
    assert (excess.code, excess.found) == ("document_discount", more)


def test_an_amount_is_measured_against_what_it_is_taken_on() -> None:
    prices, limits = book(entry("50.50")), Limits(document_percent=D(3))
    [excess] = found([line(POST, "1")], limits, prices, amount="1.52")
    assert excess.found == D("3.01")
    assert found([line(POST, "1")], limits, prices, amount="1.51") == []
    assert found([line(POST, "1")], limits, prices, amount="1.81", on="gross") == []  # of 60.60


def test_a_margin_just_below_the_floor_is_below_it() -> None:
    prices = book(entry("9.995"))  # 19.96 %
    [excess] = found([line(POST, "10")], Limits(margin_floor=D(20)), prices)
    assert (excess.code, excess.found, excess.limit) == ("margin_floor", D("19.96"), D(20))


def test_what_is_shown_differs_from_the_limit_by_as_many_decimals_as_it_takes() -> None:
    goods = item(cost=D("8.0001"), group="posts")
    [excess] = found([line(goods, "10000")], Limits(margin_floor=D(20)), book(entry("10")))
    assert excess.found == D("19.9990")


def test_a_line_that_is_given_away_does_not_pass_a_floor() -> None:
    lines = [line(POST, "10", discount_percent=D(100))]
    assert found(lines, Limits(margin_floor=D(20)), book(entry("10"))) == [
        Excess(code="free_line", line="1", found=None, limit=D(20))
    ]


def test_a_line_of_unknown_cost_does_not_pass_a_floor_unseen() -> None:
    lines = [line(item(group="posts"), "10")]
    assert found(lines, Limits(margin_floor=D(20)), book(entry("10"))) == [
        Excess(code="unknown_cost", line="1", found=None, limit=D(20))
    ]
    assert found(lines, Limits(), book(entry("10"))) == []


@pytest.mark.parametrize("kind", ["optional", "alternative"])
def test_what_a_buyer_may_take_is_judged_as_if_it_were_taken(kind: str) -> None:
    """An option at 11 keeps 27 % as it stands, and 19 % under the 10 % off the whole."""
    lines = [line(item("B", cost=D(1)), "10"), line(POST, "1", id="2", kind=kind)]
    prices = book(entry("11"), entry("10", code="B"))
    limits = Limits(margin_floor=D(20))
    assert found(lines, limits, prices) == []
    for off in ({"percent": "10"}, {"amount": "12"}):
        [excess] = found(lines, limits, prices, **off)
        assert (excess.code, excess.line) == ("margin_floor", "2")
        assert excess.found is not None and D(18) < excess.found < D(20)


def test_credit_is_a_limit_of_a_role() -> None:
    lines, prices = [line(POST, "1")], book(entry("10"))
    document = price(lines, prices)
    limits = Limits(credit=D(500))
    assert exceeded(document, lines, limits, over_credit=D("500.00")) == ()
    assert exceeded(document, lines, limits, over_credit=None) == ()
    assert exceeded(document, lines, Limits(), over_credit=D(9999)) == ()
    assert exceeded(document, lines, limits, over_credit=D("500.01")) == (
        Excess(code="credit", line="", found=D("500.01"), limit=D(500)),
    )


# ---- what the rules give, beside a typed price -----------------------------------------------


def group_rule(percent: str = "10", start: str = "100") -> DiscountRule:
    tiers = (Tier(start=D(start), percent=D(percent)),)
    return DiscountRule(id="R", tiers=tiers, group="posts", over="group")


def test_a_typed_line_is_measured_as_if_its_price_were_not_typed() -> None:
    lines = [line(POST, "60"), line(POST, "60", id="2", price=D(9))]
    document = price(lines, book(entry("10"), rules=[group_rule()]))
    assert [row.by_rules for row in document.lines] == [D("600.00"), D("540.00")]


def test_a_typed_option_is_measured_once() -> None:
    lines = [line(POST, "60", kind="optional", price=D(9))]
    [row] = price(lines, book(entry("10"), rules=[group_rule()])).lines
    assert row.by_rules == D("600.00")


def test_without_its_price_a_line_may_take_what_a_later_line_has_of_an_agreement() -> None:
    """The later line then falls back to the list, where the group rule touches and measures it."""
    agreement = Agreement(
        id="FA",
        customer="FARM",
        currency="EUR",
        remaining=D(60),
        entry=entry("5", discountable=True),
    )
    goods = item(group="posts")
    prices = book(
        entry("10"),
        customer=Customer(id="FARM"),
        agreements=[agreement],
        rules=[DiscountRule(id="R", tiers=(Tier(start=D(900), percent=D(10)),), measure="amount", over="group")],
    )  # fmt: skip
    lines = [line(goods, "60", price=D(9)), line(goods, "60", id="2")]
    document = price(lines, prices)
    assert document.lines[1].source == "agreement:FA"
    # Untyped: 60 × 5 and 60 × 10 make 900, so 10 % come off 300.
    assert document.lines[0].by_rules == D("270.00")
    plain = price([line(goods, "60"), lines[1]], prices)
    assert plain.lines[0].net == D("270.00")


def test_the_reps_own_discount_is_taken_off_what_is_measured_here() -> None:
    lines = [line(POST, "60"), line(POST, "60", id="2", price=D("8.55"))]
    prices = book(entry("10"), rules=[group_rule()])
    assert found(lines, Limits(line_percent=D(5)), prices) == []  # 5 % off 540
    [excess] = found(lines, Limits(line_percent=D("4.99")), prices)
    assert excess.found == D("5.00")


def taken(key: str, net: str, *, share: str = "0", cost: str | None = "50") -> Taken:
    known = None if cost is None else D(cost)
    return Taken(id=key, group="posts", net=D(net), share=D(share), cost=known)


def test_a_cheaper_alternative_makes_the_same_discount_weigh_more() -> None:
    """100 off 1,000 is a tenth; off the 400 of the alternative it is a quarter."""
    limits = Limits(document_percent=D(10))
    dear = exceeded_when_taken([taken("a", "1000")], limits, discount=D(100), percent=None)
    cheap = exceeded_when_taken([taken("b", "400")], limits, discount=D(100), percent=None)
    assert (dear, [row.found for row in cheap]) == ((), [D(25)])
    assert exceeded_when_taken([taken("b", "400")], limits, discount=D(40), percent=D(10)) == ()


def test_what_is_taken_is_judged_after_its_share_of_the_discount() -> None:
    limits = Limits(margin_floor=D(20))

    def codes(*lines: Taken) -> list[str]:
        return [row.code for row in exceeded_when_taken(lines, limits, discount=D(0), percent=None)]

    assert codes(taken("a", "62.50")) == []
    assert codes(taken("a", "62.50", share="0.01")) == ["margin_floor"]
    assert codes(taken("a", "10", share="10")) == ["free_line"]
    assert codes(taken("a", "10", cost=None)) == ["unknown_cost"]


def test_credit_is_judged_with_what_is_taken() -> None:
    limits = Limits(credit=D(500))
    within = exceeded_when_taken([], limits, discount=D(0), percent=None, over_credit=D(500))
    beyond = exceeded_when_taken([], limits, discount=D(0), percent=None, over_credit=D("500.01"))
    assert (within, [row.code for row in beyond]) == ((), ["credit"])


def test_only_what_is_new_or_has_grown_is_worse() -> None:
    def row(code: str, found: str | None) -> Excess:
        return Excess(code=code, line="", found=found and D(found), limit=D(0))  # type: ignore[arg-type]

    known = [row("margin_floor", "10"), row("credit", "100"), row("unknown_cost", None)]
    same = [row("margin_floor", "10"), row("credit", "90"), row("unknown_cost", None)]
    assert worse(same, known) == ()
    grown = [row("margin_floor", "9.9"), row("credit", "100.01"), row("free_line", None)]
    assert list(worse(grown, known)) == grown


@given(nets=st.lists(st.integers(1, 50_000), min_size=1, max_size=5), percent=st.integers(1, 60))
def test_taking_everything_as_it_was_offered_is_judged_as_the_quote_was(
    nets: list[int], percent: int
) -> None:
    typed = [line(POST, "1", id=f"l{n}", price=D(net) / 100) for n, net in enumerate(nets)]
    limits = Limits(document_percent=D(20), margin_floor=D(20))
    document = price(typed, book(entry("10")), percent=str(percent))
    whole = exceeded(document, typed, limits)
    lines = [
        Taken(
            id=each.id,
            group="posts",
            net=each.net or D(0),
            share=each.document_discount_share,
            cost=each.cost,
        )
        for each in document.lines
    ]
    discount = document.totals.document_discount
    assert exceeded_when_taken(lines, limits, discount=discount, percent=D(percent)) == whole
