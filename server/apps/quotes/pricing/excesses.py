"""What of a quote goes beyond a person's limits: while it is made, and when the buyer takes options."""

from collections.abc import Sequence
from datetime import date
from decimal import Decimal

from django.conf import settings

from apps.catalogue.queries import rate_on
from apps.customers.standing import over_credit
from apps.people.models import User
from apps.prices.queries import limits_of
from apps.quotes.models import QuoteLine, Revision
from apps.quotes.pricing.question import Question
from routecore.money import Money
from routecore.totals import (
    Excess,
    PricedDocument,
    Taken,
    Totals,
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


def excesses_when_taken(
    who: User,
    revision: Revision,
    chosen: Sequence[QuoteLine],
    shares: Sequence[Decimal],
    totals: Totals,
    today: date,
) -> tuple[Excess, ...]:
    """The limits that an order of the chosen lines exceeds, and the quote as it was issued did not."""
    limits = limits_of(who.role)
    costs = {line["id"]: line.get("cost") for line in revision.priced["lines"]}
    taken = [
        Taken(
            id=row.key,
            group=row.item.group.code if row.item else "",
            net=row.net or Decimal(0),
            share=share,
            cost=None if costs.get(row.key) is None else Decimal(costs[row.key]),
        )
        for row, share in zip(chosen, shares, strict=True)
    ]
    over = None
    if limits.credit is not None:
        over = _over_credit(revision, totals.payable, today)
    found = exceeded_when_taken(
        taken,
        limits,
        discount=totals.document_discount,
        percent=revision.discount_percent,
        over_credit=over,
    )
    return worse(found, [_stored(row) for row in revision.priced["excesses"]])


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
