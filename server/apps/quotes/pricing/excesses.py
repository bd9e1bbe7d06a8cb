"""What of a quote goes beyond a person's limits: while it is made, and when the buyer takes options."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from django.conf import settings

from apps.catalogue.queries import rate_on
from apps.customers.standing import over_credit
from apps.people.models import User
from apps.prices.queries import limits_of
from apps.quotes.models import QuoteLine, Revision
from apps.quotes.pricing.question import Question
from routecore.casefile.words import plain
from routecore.exact import EXACT, nearest
from routecore.money import Money, minor_unit
from routecore.totals import (
    Excess,
    PricedDocument,
    Taken,
    exceeded,
    exceeded_when_taken,
    worse,
)


def excesses_of(
    who: User, revision: Revision, question: Question, priced: PricedDocument
) -> tuple[Excess, ...]:
    """Every limit of this person that the quote exceeds, as of its day."""
    limits = limits_of(who.role)
    over = None
    if limits.credit is not None:
        over = _over_credit(revision, priced.totals.payable, revision.on)
    return exceeded(priced, question.lines, limits, over_credit=over)


@dataclass(frozen=True, slots=True, kw_only=True)
class Line:
    """A quote line, or a part of it, that is ordered: at this net, with its share of the discount."""

    row: QuoteLine
    quantity: Decimal
    net: Decimal
    share: Decimal


def excesses_when_taken(
    who: User,
    revision: Revision,
    lines: Sequence[Line],
    *,
    discount: Decimal,
    payable: Decimal,
    today: date,
) -> tuple[Excess, ...]:
    """The limits that an order of these lines exceeds, and the quote as it was issued did not."""
    limits = limits_of(who.role)
    costs = {line["id"]: line.get("cost") for line in revision.priced["lines"]}
    taken = [
        Taken(
            id=line.row.key,
            group=line.row.item.group.code if line.row.item else "",
            net=line.net,
            share=line.share,
            cost=_cost(line, costs.get(line.row.key), revision.currency),
        )
        for line in lines
    ]
    over = None
    if limits.credit is not None:
        over = _over_credit(revision, payable, today)
    found = exceeded_when_taken(
        taken,
        limits,
        discount=discount,
        percent=revision.discount_percent,
        over_credit=over,
    )
    return worse(found, stored_excesses(revision))


def _cost(line: Line, offered: str | None, currency: str) -> Decimal | None:
    """What so much of the line costs, of the cost of all that was offered."""
    if offered is None or not line.row.quantity:
        return None
    whole = EXACT.multiply(Decimal(offered), line.quantity)
    return nearest(whole, line.row.quantity, minor_unit(currency))


def stored_excesses(revision: Revision) -> list[Excess]:
    """The limits that the quote exceeded as it was issued: somebody signed them off."""
    return [_stored(row) for row in revision.priced["excesses"]]


def kept_excess(row: Excess) -> dict[str, str | None]:
    """An excess as a revision or an acceptance keeps it."""
    return {
        "code": row.code,
        "line": row.line,
        "found": plain(row.found),
        "limit": plain(row.limit),
    }


def _stored(row: dict[str, str | None]) -> Excess:
    found = row["found"]
    return Excess(
        code=row["code"] or "",
        line=row["line"] or "",
        found=None if found is None else Decimal(found),
        limit=Decimal(row["limit"] or 0),
    )


def _over_credit(revision: Revision, payable: Decimal, on: date) -> Decimal | None:
    """How far so much more would take the customer over its credit limit, in the base currency."""
    money = Money(payable, revision.currency)
    base = money.converted(rate_on(revision.currency, on), settings.BASE_CURRENCY).amount
    return over_credit(revision.quote.customer, on, base)
