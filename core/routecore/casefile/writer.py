"""From a priced document to JSON: amounts as strings, the trail in plain words."""

from collections.abc import Mapping
from decimal import ROUND_HALF_UP, Decimal

from routecore.money import minor_digits
from routecore.pricing import PassedOver, Split, Step
from routecore.totals import NextBreak, PricedDocument, PricedLine, Problem, Totals

Json = dict[str, object]
SIX_DECIMALS = Decimal("0.000001")


def plain(value: Decimal | None, least_digits: int = 0) -> str | None:
    """A decimal without exponent or needless zeros, with at least so many decimals.

    >>> plain(Decimal("41.5"), 2), plain(Decimal("1E+2")), plain(Decimal("0.384500"), 2)
    ('41.50', '100', '0.3845')
    """
    if value is None:
        return None
    text = f"{value:f}"
    whole, _, digits = text.partition(".")
    digits = digits.rstrip("0").ljust(least_digits, "0")
    return f"{whole}.{digits}" if digits else whole


def result_of(
    document: PricedDocument, tax_reasons: Mapping[str, str] | None = None, *, in_words: bool = True
) -> Json:
    """The result in the case format; a category without tax gives its reason.

    ``in_words`` false leaves out the trails in words, for those who write their own.
    """
    digits = minor_digits(document.currency)
    return {
        "lines": [_line(line, digits, in_words) for line in document.lines],
        "totals": _totals(document.totals, digits, tax_reasons or {}),
        "next_breaks": [_next_break(step, digits) for step in document.next_breaks],
        "problems": [_problem(problem) for problem in document.problems],
    }


def _line(line: PricedLine, digits: int, in_words: bool) -> Json:
    shown: Json = {
        "id": line.id,
        "price": plain(line.price, digits),
        "per": plain(line.per),
        "unit": line.unit,
        "source": line.source or None,
        "amount": plain(line.amount, digits),
        "discount": plain(line.discount, digits),
        "net": plain(line.net, digits),
        "counted": line.counted,
        "by_rules": plain(line.by_rules, digits),
        "document_discount_share": plain(line.document_discount_share, digits),
        "cost": plain(line.cost, digits),
        "margin": plain(line.margin, digits),
        "margin_percent": plain(line.margin_percent, 1),
        "split": _split(line.split),
    }
    if in_words:
        shown["trail"] = [
            *(describe_step(step, digits) for step in line.steps),
            *(describe_passed(passed, digits) for passed in line.passed_over),
        ]
    return shown


def _split(split: Split | None) -> Json | None:
    if split is None:
        return None
    return {
        "agreement": split.agreement,
        "covered": plain(split.covered),
        "rest": plain(split.rest),
    }


def _totals(totals: Totals, digits: int, reasons: Mapping[str, str]) -> Json:
    amounts = {
        name: plain(getattr(totals, name), digits)
        for name in ("lines_net", "document_discount", "charges", "net")
    }
    return {
        **amounts,
        "tax": [
            {
                "category": row.category,
                "name": row.name,
                "percent": plain(row.percent),
                "base": plain(row.base, digits),
                "amount": plain(row.amount, digits),
                **({"reason": reasons.get(row.category, "")} if not row.name else {}),
            }
            for row in totals.tax
        ],
        "charge_rows": [
            {
                "name": row.name,
                "amount": plain(row.amount, digits),
                "tax_category": row.tax_category,
            }
            for row in totals.charge_rows
        ],
        "tax_total": plain(totals.tax_total, digits),
        "gross": plain(totals.gross, digits),
        "payable_rounding": plain(totals.payable_rounding, digits),
        "payable": plain(totals.payable, digits),
        "cost": plain(totals.cost, digits),
        "margin": plain(totals.margin, digits),
        "margin_percent": plain(totals.margin_percent, 1),
    }


def _next_break(step: NextBreak, digits: int) -> Json:
    return {
        "line": step.line,
        "rule": step.rule,
        "add": plain(step.add),
        "quantity": plain(step.quantity),
        "unit": step.unit,
        "new_net": plain(step.new_net, digits),
        "saves": plain(step.saves, digits),
        "cheaper_overall": step.cheaper_overall,
    }


def _problem(problem: Problem) -> Json:
    facts = {name: plain(value) for name, value in problem.facts.items()}
    return {"line": problem.line or None, "code": problem.code, **facts}


def describe_step(step: Step, digits: int) -> str:
    """One step in words.

    >>> describe_step(Step(code="typed", value=Decimal(9), per=Decimal(1), unit="H87"), 2)
    'typed 9.00 per 1 H87'
    """
    if step.code == "needs_price":
        return "no price holds"
    if step.code in ("line_discount", "rule"):
        name = "line discount" if step.code == "line_discount" else step.source
        percent = f" {plain(step.percent)} %" if step.percent is not None else ""
        return f"{name}{percent} takes off {plain(_cut(step.value), digits)}"
    words = {"typed": "typed", "derived": f"{step.source} derives", "converted": "converted"}
    since = f", from {plain(step.from_quantity)}" if step.from_quantity else ""
    rate = f", {step.currency} at {plain(step.rate)} of {step.day}" if step.rate else ""
    name = words.get(step.code, step.source)
    return f"{name} {plain(step.value, digits)} per {plain(step.per)} {step.unit}{since}{rate}"


def _cut(value: Decimal | None) -> Decimal | None:
    """An unrounded amount, to the six decimals that a trail shows."""
    return None if value is None else value.quantize(SIX_DECIMALS, ROUND_HALF_UP)


REASONS = {
    "not_yet_valid": "not valid before {day}",
    "expired": "expired on {day}",
    "below": "below {start} {unit}{currency}",
    "not_enough": "only {start} {unit} left",
    "other_currency": "in {currency}, and no rate is given",
    "replaced": "replaced by the typed price",
    "no_entry": "has no entry for the item",
    "not_measurable": "cannot measure the line",
    "net_price": "leaves a net price alone",
    "not_greatest": "another takes off more",
    "not_exclusive": "an exclusive rule stands alone",
}


def describe_passed(passed: PassedOver, digits: int) -> str:
    """One passed-over candidate or rule in words.

    >>> describe_passed(PassedOver(source="price_list:base", reason="no_entry"), 2)
    'passed over price_list:base: has no entry for the item'
    """
    words = REASONS[passed.reason].format(
        day=passed.day,
        start=plain(passed.from_quantity),
        unit=passed.unit,
        currency=passed.currency,
    )
    price = f" at {plain(passed.price, digits)}" if passed.price is not None else ""
    return f"passed over {passed.source}{price}: {words.strip()}"
