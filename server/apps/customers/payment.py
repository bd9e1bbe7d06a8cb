"""Payment terms as customers, quotes and orders keep them, as the core's values.

Days and the end of a month have columns of their own. What goes beyond (a fixed day, instalments, an
early payment) is JSON beside them, ``terms_more``, in the shape that ``more_of`` makes.
"""

from collections.abc import Sequence
from decimal import Decimal
from typing import Any, Protocol

from apps.errors import Invalid
from routecore.casefile.words import plain
from routecore.dates import Terms
from routecore.errors import CoreError
from routecore.payment import EarlyPayment, Part, PaymentTerms

More = dict[str, Any]
MOST_INSTALMENTS = 12


class HasTerms(Protocol):
    """A row with payment terms."""

    terms_days: int
    terms_end_of_month: str
    terms_more: More


def payment_of(row: HasTerms) -> PaymentTerms:
    """A row's payment terms; raises ``InvalidInput`` for ones that cannot be."""
    more = row.terms_more
    fixed_day, early = more.get("fixed_day"), more.get("early")
    terms = (
        Terms(fixed_day=fixed_day)
        if fixed_day
        else Terms(days=row.terms_days, end_of_month=row.terms_end_of_month)
    )
    return PaymentTerms(
        terms=terms,
        instalments=tuple(
            Part(percent=Decimal(part["percent"]), terms=Terms(days=part["days"]))
            for part in more.get("instalments", ())
        ),
        early=EarlyPayment(percent=Decimal(early["percent"]), days=early["days"])
        if early
        else None,
    )


def more_of(
    *,
    fixed_day: int | None = None,
    early: tuple[Decimal, int] | None = None,
    instalments: Sequence[tuple[Decimal, int]] = (),
) -> More:
    """What is kept of terms beyond days and month; nothing for what is not given."""
    more: More = {}
    if fixed_day:
        more["fixed_day"] = fixed_day
    if early:
        more["early"] = {"percent": plain(early[0]), "days": early[1]}
    if instalments:
        more["instalments"] = [
            {"percent": plain(percent), "days": days} for percent, days in instalments
        ]
    return more


def check_terms(row: HasTerms) -> None:
    """Refuse terms that cannot be, with the place."""
    try:
        payment = payment_of(row)
    except CoreError as error:
        raise Invalid.of(error, path=f"terms_more.{error.path}") from error
    early, first = payment.early, row.terms_days
    if payment.instalments:
        first = min(part.terms.days for part in payment.instalments)
    fixed = payment.terms.fixed_day is not None and not payment.instalments
    if early and not fixed and early.days >= first and not row.terms_end_of_month:
        raise Invalid("not_early", path="terms_more.early.days", facts={"days": first})
