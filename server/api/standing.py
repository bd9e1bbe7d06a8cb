"""A customer's standing as the browser shows it."""

from collections.abc import Iterable
from datetime import date
from decimal import Decimal
from typing import Literal

from django.conf import settings
from django.utils import timezone

from api.schemas import Schema
from api.shapes import Verdict, money, sure_money
from apps.customers.models import Customer
from apps.customers.standing import standings
from apps.handover.queries import figures_age_hours
from routecore.standing import Standing


class ReasonOut(Schema):
    """One reason for the verdict, and the figure behind it."""

    code: str
    verdict: Verdict
    amount: str | None
    days: int | None
    of: Literal["", "group", "parent"]


class GroupLimit(Schema):
    """What a group owes together, and what is left of its limit now and after this document."""

    exposure: str
    limit: str | None
    available: str | None
    after: str | None


class StandingOut(Schema):
    """The verdict and its figures, in the base currency.

    ``exposure`` is ``open_invoices``, ``credits`` (below nothing; with money on account), what is delivered and
    ``not_invoiced``, and orders that are ``not_delivered``.
    """

    verdict: Verdict
    reasons: list[ReasonOut]
    currency: str
    buckets: dict[str, str]
    credits: str
    overdue: str
    balance: str
    open_invoices: str
    not_invoiced: str
    not_delivered: str
    exposure: str
    limit: str | None
    available: str | None
    after: str | None
    oldest_days: int
    group: GroupLimit | None


class WeightOut(Schema):
    """What a quote weighs in the customer's standing, and what is left of the limit after it: the customer's own or the
    group's, whichever is less; in the base currency and, at the rate that the quote has, in its own."""

    currency: str
    payable: str
    rate: str
    base_currency: str
    base_payable: str
    base_left: str | None
    left: str | None


def standing_now(customer: Customer, today: date, extra: Decimal = Decimal(0)) -> StandingOut:
    """Where a customer stands, with one more document of so much in the base currency."""
    return standing_out(standings_now([customer], today, extra)[customer.pk])


def standings_now(
    customers: Iterable[Customer], today: date, extra: Decimal = Decimal(0)
) -> dict[int, Standing]:
    """Where customers stand, by figures as old as the back office's last answer."""
    age = figures_age_hours(timezone.now())
    return standings(customers, today, this_document=extra, age_hours=age)


def reasons_out(standing: Standing) -> list[ReasonOut]:
    """Every reason that applies, amounts as text."""
    base = settings.BASE_CURRENCY
    return [
        ReasonOut(
            code=r.code, verdict=r.verdict, amount=money(r.amount, base), days=r.days, of=r.of
        )
        for r in standing.reasons
    ]


def standing_out(standing: Standing) -> StandingOut:
    """The core's verdict, amounts as text."""
    base = settings.BASE_CURRENCY
    ageing = standing.ageing
    return StandingOut(
        verdict=standing.verdict,
        reasons=reasons_out(standing),
        currency=base,
        buckets={name: sure_money(value, base) for name, value in ageing.buckets.items()},
        credits=sure_money(ageing.credits, base),
        overdue=sure_money(ageing.overdue, base),
        balance=sure_money(ageing.balance, base),
        open_invoices=sure_money(ageing.invoices, base),
        not_invoiced=sure_money(standing.not_invoiced, base),
        not_delivered=sure_money(standing.not_delivered, base),
        exposure=sure_money(standing.exposure, base),
        limit=money(standing.limit, base),
        available=money(standing.available, base),
        after=money(standing.after, base),
        oldest_days=ageing.oldest_days,
        group=_group(standing),
    )


def _group(standing: Standing) -> GroupLimit | None:
    if standing.group is None:
        return None
    base = settings.BASE_CURRENCY
    return GroupLimit(
        exposure=sure_money(standing.group.exposure, base),
        limit=money(standing.group.limit, base),
        available=money(standing.group.available, base),
        after=money(standing.group_after, base),
    )
