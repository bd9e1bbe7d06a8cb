"""Whatever decimal context the caller has set, every public function gives the same."""

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from datetime import date, timedelta
from decimal import ROUND_UP, Context, Decimal, Inexact, Rounded, localcontext
import json
from pathlib import Path
from typing import Any

import pytest

from routecore import (
    checks,
    dates,
    exact,
    money,
    ordering,
    payment,
    pricing,
    promise,
    quantity,
    reading,
    standing,
    totals,
)
from routecore.agreement import pace_of
from routecore.casefile import differences, load_case, price_case, read_case
from routecore.casefile.export import case_from
from routecore.casefile.words import plain
from routecore.forecast import (
    Cell,
    DealGroup,
    ForecastDeal,
    forecast_deals,
    forecast_groups,
    month_of,
    weigh,
)
from routecore.regulars import Purchase, changed_percent, habit_of
from routecore.standing import (
    Account,
    Group,
    Invoiced,
    OpenItem,
    Paid,
    age_open_items,
    days_to_pay,
    exposure_of,
    group_of,
    judge_standing,
    settle_account,
)
from routecore.totals.draft import margin_percent
from routecore.totals.tax import tax_rows
from tests.core.build import DAY, VAT, D, book, entry, item, line

CASE = (Path(__file__).parent / "cases" / "orchard.json").read_text()
#: Three digits, always up, and an error for every digit that is lost.
HOSTILE = Context(prec=3, rounding=ROUND_UP, Emin=-9, Emax=9, traps=[Inexact, Rounded])


@contextmanager
def hostile() -> Iterator[None]:
    with localcontext(HOSTILE):
        yield


GOODS = item(factors={"BX": D("12.345")}, cost=D("3.3333"), pack_multiple=D("0.123"))
PRICES = book(
    entry("41.512345"),
    entry("39.99", from_quantity=D("1234.5")),
    rules=[
        pricing.DiscountRule(
            id="R",
            over="group",
            graduated=True,
            tiers=(
                pricing.Tier(start=D("12.345"), percent=D("3.3333")),
                pricing.Tier(start=D("12345.678"), percent=D("7.7777")),
            ),
        )
    ],
)
LINES = [line(GOODS, "123.456"), line(GOODS, "98.7654", id="2", price=D("40.0001"))]
TERMS = totals.DocumentTerms(
    on=DAY,
    currency="EUR",
    payable_step=D("0.05"),
    discount=totals.DocumentDiscount(percent=D("3.3333"), on="gross"),
    charges=(totals.Charge(name="Freight", amount=D("1234.56")),),
)
AGEING = [OpenItem(due=DAY, open_amount=D("12345.67")), OpenItem(due=DAY, open_amount=D("-98.765"))]


def priced() -> totals.PricedDocument:
    return totals.price_document(TERMS, PRICES, LINES, VAT)


PLAN = promise.Stock(
    on_hand=D("1234.567"),
    receipts=(promise.Receipt(on=DAY + timedelta(days=9), quantity=D("9876.543")),),
    commitments=tuple(
        promise.Commitment(line=str(n), quantity=D("1111.111"), by=DAY + timedelta(days=n))
        for n in (1, 2)
    ),
)


def grouped() -> Group:
    return group_of(D("12345.67"), [D("9876.54"), D("0.01")], ())


def settled() -> Account:
    bills = [Invoiced(number="A", amount=D("12345.67"), on=DAY)]
    parts = {"A": D("1234.56")}
    return settle_account(
        bills, [Paid(number="P", amount=D("2345.67"), on=DAY, shares=parts)], "EUR"
    )


def aged() -> Any:
    return age_open_items(AGEING, date(2026, 5, 1))


THIRDS = payment.PaymentTerms(
    instalments=(
        payment.Part(percent=D("33.3333"), terms=dates.Terms(days=10)),
        payment.Part(percent=D("66.6667"), terms=dates.Terms(fixed_day=10)),
    ),
    early=payment.EarlyPayment(percent=D("2.2222"), days=5),
)

ACTS: dict[str, Callable[[], object]] = {
    "pace_of": lambda: pace_of(D("12345.67"), D("1234.5678"), DAY, DAY + timedelta(days=99), DAY + timedelta(days=33)),
    "open_dues": lambda: payment.open_dues([payment.Due(DAY, D("12345.67")), payment.Due(DAY, D("0.01"))], D("1234.56")),
    "early_offer": lambda: payment.early_offer(D("12345.67"), "EUR", [(DAY, D("1.01"))], invoiced=DAY, early=payment.EarlyPayment(percent=D("2.2222"), days=5), on=DAY),
    "round_amount": lambda: money.round_amount(D("123456.785"), "EUR"),
    "round_to_step": lambda: money.round_to_step(D("123456.785"), D("0.05")),
    "percent_of": lambda: money.percent_of(D("123456.78"), D("3.3333")),
    "split_amount": lambda: money.split_amount(D("12345.67"), [D("1.23456"), D("7.7")], "EUR"),
    "sum_of": lambda: money.sum_of([D("123456.78"), D("0.001")]),
    "minor_unit": lambda: money.minor_unit("EUR"),
    "Money": lambda: (money.Money(D("12345.67"), "EUR") + money.Money(D("0.01"), "EUR")).converted(D("1.23456"), "GBP"),
    "Ratio": lambda: exact.Ratio(D("12345.67"), D("7.77777")).plus(D("1.2345"), D("3.3333")).rounded(D("0.01")),
    "Ratio.reaches": lambda: exact.Ratio(D("12345.67"), D("3")).reaches(D("4115.2233")),
    "least_whole": lambda: exact.least_whole(D("12345.67"), D("0.0012345")),
    "units_of": lambda: (exact.units_of(D("12345.67"), 2), exact.amount_of(1234567, 2)),
    "convert": lambda: quantity.Units(base="H87", factors={"BX": D("7.7777")}).convert(D("12345.6"), "H87", "BX"),
    "check_quantity": lambda: quantity.check_quantity(D("12345.678"), unit_factor=D("1.2345"), minimum=D("0.12345"), multiple=D("3.3333")),
    "typeable": lambda: quantity.typeable(D("7.7777"), D("123.456"), D("0.12345")).holding(exact.Ratio(D("12345.6"))),
    "find_price": lambda: pricing.find_price(PRICES, GOODS, D("12345.67"), "BX", on=DAY, currency="EUR"),
    "price_document": priced,
    "price_alone": lambda: totals.price_alone(TERMS, PRICES, LINES[0]),
    "total_parts": lambda: totals.total_parts([totals.Part(terms=TERMS, nets=((D("12345.67"), "standard"), (D("0.01"), "standard")))], VAT),
    "net_of_part": lambda: ordering.net_of_part(ordering.Offered(quantity=D("123.456"), net=D("12345.67")), D("7.7777"), "EUR", ordering.TakenUp(quantity=D("1.2345"), net=D("99.99"))),
    "terms_of_part": lambda: ordering.terms_of_part(TERMS, D("12345.67"), D("1234.56"), ordering.Given(lines_net=D("0.01")), last=False),
    "is_left": lambda: ordering.is_left(D("12345.678"), D("12345.677")),
    "solve_document": lambda: totals.solve_document(TERMS, PRICES, LINES, VAT, target="payable", value=D("9876.55")),
    "solve_line": lambda: totals.solve_line(TERMS, PRICES, LINES, VAT, "1", margin=D("33.3333")),
    "exceeded": lambda: totals.exceeded(priced(), LINES, totals.Limits(line_percent=D("0.0001"), margin_floor=D("99.9999"))),
    "exceeded_when_taken": lambda: totals.exceeded_when_taken([totals.Taken(id="1", group="g", net=D("12345.67"), share=D("0.01"), cost=D("9876.54"))], totals.Limits(document_percent=D("0.0001"), margin_floor=D("99.9999")), discount=D("1234.57"), percent=None),
    "worse": lambda: totals.worse(totals.exceeded(priced(), LINES, totals.Limits(margin_floor=D("99.9999"))), []),
    "margin_percent": lambda: margin_percent(D("123456.78"), D("98765.43")),
    "tax": lambda: tax_rows({"standard": [1234567]}, {"standard": (totals.TaxComponent(name="VAT", percent=D("19.9999")),)}, digits=2, rounding="line"),
    "age_open_items": lambda: (aged().balance, aged().overdue, aged().invoices, aged().credits),
    "days_to_pay": lambda: days_to_pay([(D("12345.67"), 31), (D("98765.43"), 47)]),
    "exposure_of": lambda: exposure_of(aged(), D("12345.67"), D("0.01")),
    "judge_standing": lambda: judge_standing(aged(), limit=D("12345.67"), this_document=D("0.01")),
    "group_of": lambda: (grouped(), grouped().available, judge_standing(aged(), limit=None, group=grouped(), this_document=D("0.01"))),
    "settle_account": lambda: (settled(), settled().balance),
    "habit_of": lambda: habit_of([Purchase(on=DAY, quantity=D(n), net=D("98765.43")) for n in ("1234.567", "98.7654")], DAY, pack=D("0.123")),
    "changed_percent": lambda: changed_percent(D("1234.567"), D("1299.999")),
    "periods_of": lambda: (promise.periods_of(PLAN, DAY), PLAN.free_now),
    "riders_of": lambda: promise.riders_of(PLAN, DAY),
    "answer_of": lambda: promise.answer_of(PLAN, D("22345.678"), DAY, promise.Rules(lead_days=3)),
    "proposals": lambda: promise.proposals(PLAN, D("22345.678"), DAY, promise.Rules(lead_days=3, step=D("0.123"))),
    "held_dates": lambda: promise.held_dates(PLAN, DAY),
    "what_moves": lambda: promise.what_moves(PLAN, DAY, giver="1", taker="2"),
    "weigh": lambda: weigh(D("123456.78"), D("33.33"), "EUR"),
    "Cell.joined": lambda: Cell().joined(Cell(1, D("12345.67"), D("1234.56"))).joined(Cell(1, D("0.01"), D("0.01"))),
    "forecast_groups": lambda: forecast_groups([DealGroup(month="2026-11", stage="s", rep="r", confidence="sure", cell=Cell(1, D("123456.78"), D("1234.56")))] * 2),
    "month_of": lambda: month_of(DAY, DAY),
    "forecast_deals": lambda: forecast_deals([ForecastDeal(amount=D("123456.78"), probability_percent=D("33.33"), decision=DAY, stage="s", rep="r")] * 2, today=DAY, currency="EUR"),
    "judge_margin": lambda: checks.judge_margin(D("19.9999"), D("20.0001")),
    "schedule": lambda: THIRDS.schedule(D("12345.67"), "EUR", DAY),
    "early": lambda: THIRDS.early_yearly_rate(DAY),
    "settle": lambda: payment.settle(D("12345.67"), "EUR", [(DAY, D("12000.01"))], invoiced=DAY, early=THIRDS.early),
    "read_number": lambda: reading.read_number("1.234.567,891"),
    "read_rows": lambda: reading.read_rows("POST-25\t12.345,678\t41,512"),
    "price_case": lambda: price_case(load_case(CASE)),
    "export": lambda: case_from(TERMS, PRICES, LINES, VAT),
    "differences": lambda: list(differences({"totals": {"net": "1.00"}}, price_case(json.loads(CASE)))),
    "plain": lambda: plain(D("123456.780000")),
    "read_case": lambda: read_case(load_case(CASE)).price(),
}  # fmt: skip


@pytest.mark.parametrize("act", ACTS.values(), ids=ACTS.keys())
def test_the_callers_decimal_context_changes_nothing(act: Callable[[], object]) -> None:
    expected = act()
    with hostile():
        found = act()
    assert found == expected


def test_what_is_built_in_a_hostile_context_is_the_same() -> None:
    """Rules, tiers and terms compute when they are made."""
    with hostile():
        tier = pricing.Tier(start=D("12345.678"), percent=D("3.33333"))
    assert tier.fraction == Decimal("0.0333333")


def test_every_public_name_of_the_core_is_among_them() -> None:
    """A function added to the public names comes with its line here."""
    public = {
        name
        for module in (money, totals, pricing, reading, promise, standing)
        for name in getattr(module, "__all__", ())
        if callable(getattr(module, name)) and not isinstance(getattr(module, name), type)
    }
    kept = {"TaxTable", "in_own_context", "minor_digits", "split_units", "readings_of", "style_of"}
    assert public - kept <= set(ACTS)
