"""Discount rules: whom and what they touch, what they measure, what they give, which stands."""

from datetime import date
from decimal import Decimal
from typing import Any

from hypothesis import given
from hypothesis import strategies as st
import pytest

from routecore.errors import InvalidInput
from routecore.pricing import Customer, CustomerPrice, DiscountRule, Item, Tier
from routecore.totals import Line, PricedDocument
from tests.core.build import D, book, entry, item, line, price

FARM = Customer(id="FARM", parents=("GROUP",), tier="trade")
POST = item(group="posts", weight_kg=D("8.4"), factors={"PF": D(60)})
STAKE = item("STAKE", group="posts", weight_kg=D(2))
WIRE = item("WIRE", group="wire")
PRICES = (entry("10"), entry("5", code="STAKE"), entry("1", code="WIRE"))


def rule(*tiers: tuple[str, str], name: str = "R", **given: Any) -> DiscountRule:
    """Tiers are (from, percent) unless ``gives`` says otherwise."""
    kind = given.pop("gives", "percent")
    return DiscountRule(
        id=name, tiers=tuple(Tier(start=D(start), **{kind: D(v)}) for start, v in tiers), **given
    )


def priced(lines: list[Line], *rules: DiscountRule, **given: Any) -> PricedDocument:
    return price(lines, book(*PRICES, customer=FARM, rules=rules, **given))


def net(lines: list[Line], *rules: DiscountRule, **given: Any) -> Decimal | None:
    return priced(lines, *rules, **given).lines[0].net


def reasons(document: PricedDocument) -> list[str]:
    return [row.reason for row in document.lines[0].passed_over if row.source.startswith("rule:")]


@pytest.mark.parametrize(
    ("whom", "applies"),
    [
        ({}, True),
        ({"customer": "FARM"}, True),
        ({"customer": "GROUP"}, True),
        ({"customer": "OTHER"}, False),
        ({"customer_tier": "trade"}, True),
        ({"customer_tier": "retail"}, False),
    ],
)
def test_a_rule_is_for_a_customer_its_members_a_tier_or_all(
    whom: dict[str, str], applies: bool
) -> None:
    assert net([line(POST, "10")], rule(("0", "10"), **whom)) == D(90 if applies else 100)


@pytest.mark.parametrize(
    ("what", "applies"),
    [({}, True), ({"item": "POST"}, True), ({"item": "WIRE"}, False), ({"group": "posts"}, True),
     ({"group": "wire"}, False)],
)  # fmt: skip
def test_a_rule_is_on_an_item_a_group_or_all(what: dict[str, str], applies: bool) -> None:
    assert net([line(POST, "10")], rule(("0", "10"), **what)) == D(90 if applies else 100)


@pytest.mark.parametrize(
    ("first", "last", "reason"),
    [(None, date(2026, 3, 1), "expired"), (date(2026, 3, 3), None, "not_yet_valid")],
)
def test_a_rule_holds_on_its_days_only(first: date | None, last: date | None, reason: str) -> None:
    document = priced([line(POST, "10")], rule(("0", "10"), valid_from=first, valid_to=last))
    assert (document.lines[0].net, reasons(document)) == (D("100.00"), [reason])


@pytest.mark.parametrize(
    ("given", "start", "applies"),
    [
        ({"measure": "quantity"}, "120", True),
        ({"measure": "quantity"}, "121", False),
        ({"measure": "quantity", "unit": "PF"}, "2", True),
        ({"measure": "amount"}, "1200", True),
        ({"measure": "amount"}, "1200.01", False),
        ({"measure": "weight"}, "1008", True),
        ({"measure": "weight"}, "1009", False),
    ],
)
def test_what_is_measured_and_from_is_inclusive(
    given: dict[str, str], start: str, applies: bool
) -> None:
    assert net([line(POST, "120")], rule((start, "10"), **given)) == D(1080 if applies else 1200)


def test_the_measure_is_taken_before_any_discount() -> None:
    first, second = rule(("0", "50"), name="A"), rule(("1000", "10"), name="B", measure="amount")
    assert net([line(POST, "100")], first, second) == D("450.00")


def test_what_has_no_weight_cannot_be_measured() -> None:
    document = priced([line(WIRE, "10")], rule(("0", "10"), measure="weight"))
    assert reasons(document) == ["not_measurable"]


def two(kind: str = "normal") -> list[Line]:
    return [line(POST, "60"), line(STAKE, "50", id="2", kind=kind), line(WIRE, "100", id="3")]


@pytest.mark.parametrize(
    ("over", "start", "applies"),
    [("line", "61", False), ("group", "110", True), ("group", "111", False), ("document", "210", True),
     ("document", "211", False)],
)  # fmt: skip
def test_over_what_the_measure_adds_up(over: str, start: str, applies: bool) -> None:
    found = net(two(), rule((start, "10"), group="posts", over=over))
    assert found == D(540 if applies else 600)


def test_only_counted_lines_add_up() -> None:
    assert net(two("optional"), rule(("110", "10"), group="posts", over="group")) == D("600.00")


def test_an_alternative_is_measured_as_if_it_were_counted_too() -> None:
    document = priced(two("alternative"), rule(("110", "10"), group="posts", over="group"))
    assert [row.net for row in document.lines[:2]] == [D("600.00"), D("225.00")]


@pytest.mark.parametrize(
    ("gives", "value", "expected"),
    [("percent", "10", "1080.00"), ("per_unit", "0.25", "1170.00"), ("per_line", "15", "1185.00")],
)
def test_a_tier_gives_a_percent_an_amount_per_unit_or_per_line(
    gives: str, value: str, expected: str
) -> None:
    assert net([line(POST, "120")], rule(("100", value), gives=gives)) == D(expected)


def test_per_unit_counts_in_the_rules_own_unit() -> None:
    assert net([line(POST, "120")], rule(("1", "30"), gives="per_unit", unit="PF")) == D("1140.00")


def test_all_units_or_only_the_part_above() -> None:
    tiers = (("100", "10"), ("200", "20"))
    assert net([line(POST, "250")], rule(*tiers)) == D("2000.00")
    assert net([line(POST, "250")], rule(*tiers, graduated=True)) == D("2300.00")


def test_graduated_over_several_lines_is_shared_by_measure() -> None:
    lines = [line(POST, "150"), line(STAKE, "50", id="2")]
    document = priced(lines, rule(("100", "10"), over="group", group="posts", graduated=True))
    # 100 of the 200 lie above: half of 10 %
    assert [row.net for row in document.lines] == [D("1425.00"), D("237.50")]


CHAIN = [rule(("0", p), name=f"R{p}") for p in ("20", "10", "5")]


@pytest.mark.parametrize(
    ("policy", "expected"), [("chain", "68.40"), ("add", "65.00"), ("best", "80.00")]
)
def test_several_discounts_by_policy(policy: str, expected: str) -> None:
    assert net([line(POST, "10")], *CHAIN, policy=policy) == D(expected)


def test_the_greatest_exclusive_rule_stands_alone() -> None:
    alone = [
        rule(("0", "8"), name="E8", exclusive=True),
        rule(("0", "12"), name="E12", exclusive=True),
    ]
    document = priced([line(POST, "10")], *CHAIN, *alone)
    assert document.lines[0].net == D("88.00")
    assert sorted(set(reasons(document))) == ["not_exclusive", "not_greatest"]


def test_an_exclusive_rule_that_is_not_reached_excludes_nothing() -> None:
    far = rule(("999", "50"), name="FAR", exclusive=True)
    document = priced([line(POST, "10")], CHAIN[0], far)
    assert (document.lines[0].net, reasons(document)) == (D("80.00"), ["below"])


def test_a_typed_line_discount_comes_last_on_what_is_left() -> None:
    assert net([line(POST, "10", discount_percent=D(50))], CHAIN[0]) == D("40.00")


def test_net_prices_are_left_alone_unless_they_say_discountable() -> None:
    def own(discountable: bool) -> Decimal | None:
        row = CustomerPrice(
            customer="FARM", currency="EUR", entry=entry("9", discountable=discountable)
        )
        return net([line(POST, "10")], CHAIN[0], customer_prices=[row])

    assert (own(False), own(True)) == (D("90.00"), D("72.00"))
    assert net([line(POST, "10", price=D(9))], CHAIN[0]) == D("90.00")


def test_the_total_discount_never_exceeds_the_amount() -> None:
    greedy = [rule(("0", "999"), name=n, gives="per_line") for n in "AB"]
    assert net([line(POST, "10")], *greedy, policy="add") == D("0.00")


def test_what_the_rules_give_is_known_beside_a_typed_price() -> None:
    [found] = priced([line(POST, "10", price=D(7))], CHAIN[0]).lines
    assert (found.net, found.by_rules) == (D("70.00"), D("80.00"))


def test_the_trail_names_each_rule_and_what_it_took() -> None:
    steps = priced([line(POST, "10")], *CHAIN).lines[0].steps
    assert [(s.source, s.percent, s.value) for s in steps if s.code == "rule"] == [
        ("rule:R20", D(20), D(20)),
        ("rule:R10", D(10), D(8)),
        ("rule:R5", D(5), D("3.6")),
    ]


@pytest.mark.parametrize(
    ("tiers", "given", "code"),
    [
        ((), {}, "no_tiers"),
        ((("10", "1"), ("10", "2")), {}, "out_of_order"),
        ((("10", "1"), ("5", "2")), {}, "out_of_order"),
        ((("1", "101"),), {}, "out_of_range"),
        ((("1", "-1"),), {}, "negative"),
        ((("1", "5"),), {"graduated": True, "gives": "per_line"}, "graduated_per_line"),
        ((("1", "5"),), {"measure": "colour"}, "unknown_choice"),
        ((("1", "5"),), {"over": "year"}, "unknown_choice"),
        ((("1", "5"),), {"valid_from": date(2026, 2, 1), "valid_to": date(2026, 1, 1)}, "ends_before_start"),
    ],
)  # fmt: skip
def test_a_rule_that_cannot_be_is_refused(
    tiers: tuple[tuple[str, str], ...], given: dict[str, Any], code: str
) -> None:
    with pytest.raises(InvalidInput, match=code):
        rule(*tiers, **given)


# ---- next breaks of rules -----------------------------------------------------------------


def breaks(document: PricedDocument) -> list[tuple[str, str, Decimal, Decimal, Decimal]]:
    return [(b.line, b.rule, b.add, b.saves, b.new_net) for b in document.next_breaks]


def test_the_next_tier_of_a_quantity_rule() -> None:
    document = priced([line(POST, "90")], rule(("100", "10")))
    assert breaks(document) == [("1", "R", D(10), D("90.00"), D("900.00"))]


def test_only_the_next_tier_is_shown() -> None:
    document = priced([line(POST, "90")], rule(("100", "10"), ("200", "20")))
    assert [b.quantity for b in document.next_breaks] == [D(100)]


def test_a_tier_over_the_group_is_reached_by_any_of_its_lines_and_moves_them_all() -> None:
    document = priced(two(), rule(("120", "10"), group="posts", over="group"))
    assert breaks(document) == [
        ("2", "R", D(10), D("25.00"), D("910.00")),
        ("1", "R", D(10), D("60.00"), D("955.00")),  # 70 × 10 + 50 × 5, less 10 %, and the wire
    ]


def test_an_amount_is_reached_although_the_price_falls_on_the_way() -> None:
    prices = book(
        entry("10"),
        entry("8", from_quantity=D(100)),
        customer=FARM,
        rules=[rule(("900", "10"), measure="amount")],
    )
    steps = {b.rule: b for b in price([line(POST, "80")], prices).next_breaks}
    assert steps["R"].quantity == D(90)  # 90 × 10; from 100 on it would take 113
    short = {b.rule: b for b in price([line(POST, "80")], book(
        entry("10"), entry("8", from_quantity=D(85)), customer=FARM,
        rules=[rule(("900", "10"), measure="amount")])).next_breaks}  # fmt: skip
    assert short["R"].quantity == D(113)


rows = st.lists(
    st.tuples(st.sampled_from([POST, STAKE, WIRE]), st.integers(1, 200), st.integers(0, 1)),
    min_size=1,
    max_size=6,
)
any_rule = st.builds(
    lambda n, low, gap, one, more, measure, over, group, graduated, exclusive: rule(
        (str(low), str(one)),
        (str(low + gap), str(one + more)),
        name=f"R{n}",
        measure=measure,
        over=over,
        group=group,
        graduated=graduated,
        exclusive=exclusive,
    ),
    st.integers(0, 10**6),
    st.integers(0, 300),
    st.integers(1, 300),
    st.integers(0, 30),
    st.integers(0, 30),
    st.sampled_from(["quantity", "amount", "weight"]),
    st.sampled_from(["line", "group", "document"]),
    st.sampled_from([None, "posts", "wire"]),
    st.booleans(),
    st.booleans(),
)
rule_sets = st.lists(any_rule, max_size=4, unique_by=lambda r: r.id)
policies = st.sampled_from(["chain", "add", "best"])


def lines_of(given: list[tuple[Item, int, int]]) -> list[Line]:
    return [
        line(goods, str(n), id=str(k), kind="optional" if option else "normal")
        for k, (goods, n, option) in enumerate(given)
    ]


@given(given=rows, rules=rule_sets, policy=policies)
def test_no_line_goes_below_nothing_and_steps_add_up(
    given: list[tuple[Item, int, int]], rules: list[DiscountRule], policy: str
) -> None:
    for row in priced(lines_of(given), *rules, policy=policy).lines:
        assert row.net is not None and row.amount is not None
        assert D(0) <= row.net <= row.amount
        taken = sum((s.value or D(0) for s in row.steps if s.code == "rule"), D(0))
        assert abs(row.amount - taken - row.net) <= D("0.01")


@given(given=rows, rules=rule_sets, policy=policies)
def test_every_next_break_is_what_the_larger_order_would_really_cost(
    given: list[tuple[Item, int, int]], rules: list[DiscountRule], policy: str
) -> None:
    lines = lines_of(given)
    document = priced(lines, *rules, policy=policy)
    for step in document.next_breaks:
        larger = [
            Line(id=row.id, item=row.item, quantity=step.quantity, unit=row.unit)
            if row.id == step.line
            else row
            for row in lines
        ]
        again = priced(larger, *rules, policy=policy)
        assert step.new_net == again.totals.net
        assert step.cheaper_overall == (again.totals.net < document.totals.net)


@given(given=rows, rules=rule_sets, policy=policies, seed=st.randoms(use_true_random=False))
def test_the_order_of_lines_does_not_matter(
    given: list[tuple[Item, int, int]], rules: list[DiscountRule], policy: str, seed: Any
) -> None:
    lines = lines_of(given)
    one = {row.id: row.net for row in priced(lines, *rules, policy=policy).lines}
    seed.shuffle(lines)
    assert {row.id: row.net for row in priced(lines, *rules, policy=policy).lines} == one
