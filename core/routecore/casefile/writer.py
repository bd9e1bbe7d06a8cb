"""From a priced document to JSON: amounts as strings, the trail in plain words."""

from collections.abc import Mapping

from routecore.casefile.words import describe_passed, describe_step, plain
from routecore.money import minor_digits
from routecore.pricing import Split
from routecore.totals import NextBreak, PricedDocument, PricedLine, Problem, Totals

Json = dict[str, object]
#: The facts of problems that are amounts.
AMOUNTS = ("wanted", "reached")


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
        "next_breaks_left_out": document.breaks_left_out,
        "problems": [_problem(problem, digits) for problem in document.problems],
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


def _problem(problem: Problem, digits: int) -> Json:
    facts = {
        name: value if isinstance(value, str) else plain(value, digits if name in AMOUNTS else 0)
        for name, value in problem.facts.items()
    }
    return {"line": problem.line or None, "code": problem.code, **facts}
