"""Backwards from a target, for a revision as it stands; nothing is changed."""

from collections.abc import Sequence
from decimal import Decimal
from typing import Any

from apps.errors import Invalid
from apps.people.models import User
from apps.prices.queries import limits_of
from apps.quotes.models import Revision
from apps.quotes.pricing.question import Question, draft_lines, question_of
from apps.quotes.pricing.sight import excesses_for
from routecore.casefile.words import plain
from routecore.errors import CoreError
from routecore.money import minor_digits
from routecore.totals import Excess, solve_document, solve_line


def solve_revision(
    who: User, revision: Revision, target: str, value: Decimal, line: str
) -> dict[str, Any]:
    """The discount that reaches a target; raises ``Invalid`` with what stands in the way."""
    if target.endswith(("margin", "margin_percent")) and not who.sees_margin:
        raise Invalid("not_for_role", path="target")
    rows = draft_lines(revision.lines.all())
    question = question_of(revision, revision.quote.customer, rows)
    digits = minor_digits(revision.currency)
    try:
        if target in LINE_TARGETS:
            return _solve_line(who, question, target, value, line, digits)
        whole = solve_document(
            question.terms,
            question.book,
            question.lines,
            question.taxes,
            target=target,
            value=value,
            limits=limits_of(who.role),
        )
    except CoreError as error:
        what = "margin" if error.code == "out_of_range" else "any"
        raise Invalid(error.code, path="value", facts={"what": what, **error.facts}) from error
    return {
        "amount": plain(whole.amount, digits),
        "percent": plain(whole.percent),
        "reached": plain(whole.reached, 1 if target == "margin_percent" else digits),
        "exact": whole.exact,
        "blocked": excesses_for(who, _blocked(whole.blocked)),
    }


#: The targets of one line, as the core names them.
LINE_TARGETS = {"price": "price", "line_net": "net", "line_margin": "margin"}


def _solve_line(
    who: User, question: Question, target: str, value: Decimal, line: str, digits: int
) -> dict[str, Any]:
    name = LINE_TARGETS[target]
    one = solve_line(
        question.terms,
        question.book,
        question.lines,
        question.taxes,
        line,
        price=value if name == "price" else None,
        net=value if name == "net" else None,
        margin=value if name == "margin" else None,
        limits=limits_of(who.role),
    )
    return {
        "amount": plain(one.amount, digits),
        "percent": plain(one.percent),
        "reached": plain(one.margin_percent, 1) if name == "margin" else plain(one.net, digits),
        "exact": one.exact,
        "blocked": excesses_for(who, _blocked(one.blocked)),
    }


def _blocked(excesses: Sequence[Excess]) -> list[dict[str, str | None]]:
    return [
        {"code": e.code, "line": e.line, "found": plain(e.found), "limit": plain(e.limit)}
        for e in excesses
    ]
