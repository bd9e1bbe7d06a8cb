"""An offer ordered in parts: every part at the offered terms, and all of them adding up to what was offered."""

from dataclasses import replace
from decimal import Decimal

from hypothesis import given
from hypothesis import strategies as st
import pytest

from routecore.errors import InvalidInput
from routecore.ordering import Given, Offered, TakenUp, is_left, net_of_part, terms_of_part
from routecore.totals import (
    Charge,
    DocumentDiscount,
    DocumentTerms,
    Part,
    TaxComponent,
    total_parts,
)
from tests.core.build import DAY, VAT, D

TAXES = {**VAT, "reduced": (TaxComponent(name="VAT", percent=D(10)),)}

NONE = TakenUp()
TERMS = DocumentTerms(on=DAY, currency="EUR")


def nets_of(offered: Offered, parts: list[Decimal], currency: str = "EUR") -> list[Decimal]:
    """The nets of parts that are ordered one after another."""
    found, before = [], NONE
    for quantity in parts:
        net = net_of_part(offered, quantity, currency, before)
        before = TakenUp(quantity=before.quantity + quantity, net=before.net + net)
        found.append(net)
    return found


def test_thirds_of_ten_add_up_to_ten() -> None:
    thirds = nets_of(Offered(quantity=D(3), net=D("10.00")), [D(1)] * 3)
    assert (thirds, sum(thirds)) == ([D("3.33"), D("3.34"), D("3.33")], D("10.00"))


def test_the_whole_line_has_the_offered_net() -> None:
    assert net_of_part(Offered(quantity=D(20), net=D("788.50")), D(20), "EUR") == D("788.50")


def test_more_than_was_offered_costs_as_much_for_a_piece() -> None:
    offered = Offered(quantity=D(20), net=D("788.50"))
    assert net_of_part(offered, D(24), "EUR") == D("946.20")
    after = TakenUp(quantity=D(20), net=D("788.50"))
    assert net_of_part(offered, D(4), "EUR", after) == D("157.70")


def test_a_part_is_whole_in_a_currency_without_minor_unit() -> None:
    assert nets_of(Offered(quantity=D(3), net=D(1000)), [D(1), D(2)], "JPY") == [D(333), D(667)]


def test_a_part_after_one_that_was_given_back_is_never_below_nothing() -> None:
    offered = Offered(quantity=D(1000), net=D("0.01"))
    assert net_of_part(offered, D(1), "EUR", TakenUp(quantity=D(400), net=D("0.01"))) == D("0.00")


@pytest.mark.parametrize("quantity", [D(0), D(-1)])
def test_nothing_cannot_be_ordered(quantity: Decimal) -> None:
    with pytest.raises(InvalidInput) as refused:
        net_of_part(Offered(quantity=D(3), net=D(10)), quantity, "EUR")
    assert refused.value.code == "not_positive"


def test_an_offer_of_nothing_cannot_be_made() -> None:
    with pytest.raises(InvalidInput):
        Offered(quantity=D(0), net=D(10))


amounts = st.decimals(min_value=0, max_value=10**7, places=2)
quantities = st.lists(
    st.decimals(min_value=D("0.001"), max_value=10**5, places=3), min_size=1, max_size=8
)


@given(net=amounts, parts=quantities)
def test_the_parts_of_a_line_add_up_to_its_net(net: Decimal, parts: list[Decimal]) -> None:
    nets = nets_of(Offered(quantity=sum(parts, D(0)), net=net), parts)
    assert sum(nets) == net
    assert all(part >= 0 for part in nets)


@given(net=amounts, parts=quantities)
def test_a_part_lies_within_a_cent_of_its_proportion(net: Decimal, parts: list[Decimal]) -> None:
    whole = sum(parts, D(0))
    for quantity, part in zip(parts, nets_of(Offered(quantity=whole, net=net), parts), strict=True):
        assert abs(part * whole - net * quantity) <= D("0.01") * whole


def test_what_is_left_is_what_was_not_ordered() -> None:
    assert is_left(D(100), D("99.999999"))
    assert not is_left(D(100), D(100))


def walk(terms: DocumentTerms, parts: list[Decimal]) -> list[DocumentTerms]:
    """The terms of orders of these nets, one after another, the last of them the rest."""
    whole, given, found = sum(parts, D(0)), Given(), []
    for n, net in enumerate(parts):
        made = terms_of_part(terms, whole, net, given, last=n == len(parts) - 1)
        totals, (part,) = total_parts([Part(terms=made, nets=((net, "standard"),))], VAT)
        off = made.discount.amount if made.discount and made.discount.amount is not None else D(0)
        charges = tuple(row.amount for row in part.charges)
        before = given.charges or tuple(D(0) for _ in charges)
        given = Given(
            lines_net=given.lines_net + net,
            discount=given.discount + min(off, totals.lines_net),
            charges=tuple(a + b for a, b in zip(before, charges, strict=True)),
        )
        found.append(made)
    return found


def test_a_discount_and_a_freight_are_given_in_proportion_and_whole_with_the_last_part() -> None:
    terms = replace(
        TERMS,
        discount=DocumentDiscount(amount=D("10.00")),
        charges=(Charge(name="Freight", amount=D("20.00")),),
    )
    made = walk(terms, [D("100.00"), D("100.00"), D("100.00")])
    assert [part.discount.amount for part in made if part.discount] == [
        D("3.33"),
        D("3.34"),
        D("3.33"),
    ]
    assert [part.charges[0].amount for part in made] == [D("6.67"), D("6.66"), D("6.67")]


def test_with_the_last_part_all_is_given_though_a_cheaper_alternative_was_taken() -> None:
    terms = replace(TERMS, charges=(Charge(name="Freight", amount=D("20.00")),))
    made = terms_of_part(terms, D("300.00"), D("80.00"), Given(), last=True)
    assert made.charges[0].amount == D("20.00")


def test_a_percent_of_all_parts_is_that_percent_of_the_whole() -> None:
    terms = replace(TERMS, discount=DocumentDiscount(percent=D(3)))
    made = walk(terms, [D("10.10")] * 3)
    # 3 % of 30.30 is 0.909; each part alone would round 0.303 to 0.30, together 0.90
    assert [part.discount.amount for part in made if part.discount] == [
        D("0.30"),
        D("0.31"),
        D("0.30"),
    ]


def test_a_percent_on_the_gross_stays_one() -> None:
    terms = replace(TERMS, discount=DocumentDiscount(percent=D(2), on="gross"))
    made = terms_of_part(terms, D(300), D(100), Given(), last=False)
    assert made.discount == terms.discount


@given(
    amount=amounts,
    parts=st.lists(st.decimals(min_value=1, max_value=10**5, places=2), min_size=1, max_size=6),
)
def test_the_parts_of_a_charge_add_up_to_it(amount: Decimal, parts: list[Decimal]) -> None:
    terms = replace(TERMS, charges=(Charge(name="Freight", amount=amount),))
    assert sum(part.charges[0].amount or D(0) for part in walk(terms, parts)) == amount


def part(net: str, category: str = "standard", **terms: object) -> Part:
    return Part(terms=replace(TERMS, **terms), nets=((D(net), category),))  # type: ignore[arg-type]


def test_one_part_has_the_sums_of_a_document() -> None:
    nets = ((D("788.50"), "standard"), (D("99.75"), "standard"))
    terms = replace(TERMS, discount=DocumentDiscount(percent=D(3)), payable_step=D("0.05"))
    totals, (only,) = total_parts([Part(terms=terms, nets=nets)], VAT)
    assert (totals.lines_net, totals.document_discount, totals.net) == (
        D("888.25"),
        D("26.65"),
        D("861.60"),
    )
    assert (totals.gross, totals.payable, totals.payable_rounding) == (
        D("1033.92"),
        D("1033.90"),
        D("-0.02"),
    )
    assert sum(only.shares) == D("26.65")


def test_two_offers_in_one_order_keep_their_own_discounts_and_are_taxed_together() -> None:
    first = part("100.02", discount=DocumentDiscount(percent=D(10)))
    second = part("50.02", charges=(Charge(name="Freight", amount=D("5.00")),))
    totals, parts = total_parts([first, second], VAT)
    assert [each.discount for each in parts] == [D("10.00"), D("0.00")]
    assert (totals.document_discount, totals.charges) == (D("10.00"), D("5.00"))
    # 90.02 + 55.02 = 145.04, of which 20 % is 29.008: taxed apart it would be 18.00 and 11.00
    assert (totals.net, totals.tax_total, totals.payable) == (D("145.04"), D("29.01"), D("174.05"))


@pytest.mark.parametrize(
    "other", [{"currency": "CHF"}, {"payable_step": D("0.05")}, {"tax_rounding": "line"}]
)
def test_offers_that_are_summed_otherwise_do_not_join(other: dict[str, object]) -> None:
    with pytest.raises(InvalidInput) as refused:
        total_parts([part("1.00"), part("1.00", **other)], VAT)
    assert refused.value.code == "terms_differ"


def test_no_offer_makes_no_order() -> None:
    with pytest.raises(InvalidInput):
        total_parts([], VAT)


@given(
    nets=st.lists(
        st.tuples(amounts, st.sampled_from(["standard", "reduced"])), min_size=2, max_size=6
    ),
    cut=st.integers(min_value=1, max_value=5),
)
def test_joining_adds_up_and_obeys_the_sums_of_the_norm(
    nets: list[tuple[Decimal, str]], cut: int
) -> None:
    """EN 16931 BR-CO-13 and BR-CO-15: net is lines less discounts plus charges, gross is net plus tax."""
    some, rest = tuple(nets[:cut]), tuple(nets[cut:])
    parts = [Part(terms=TERMS, nets=each) for each in (some, rest) if each]
    totals, shares = total_parts(parts, TAXES)
    assert totals.net == totals.lines_net - totals.document_discount + totals.charges
    assert totals.gross == totals.net + totals.tax_total
    assert totals.lines_net == sum((net for net, _ in nets), D(0))
    alone, _ = total_parts([Part(terms=TERMS, nets=tuple(nets))], TAXES)
    assert (alone.net, alone.tax_total) == (totals.net, totals.tax_total)
    assert sum(len(each.shares) for each in shares) == len(nets)
