"""Planning call-offs, and calling off: a draft for what is due, ordered by whoever looks it through."""

from collections.abc import Iterable, Sequence
from datetime import date, timedelta
from decimal import Decimal
import uuid

from django.db import transaction

from apps.calloffs.days import forget_day
from apps.calloffs.facts import AgreementFacts, agreements_of, facts_of
from apps.calloffs.models import CallOffPlan, PlannedCallOff
from apps.customers.models import Customer
from apps.errors import Invalid, check_version
from apps.journal.flows import record_changes
from apps.people.access import owned, pick, pick_locked, sells
from apps.people.models import User
from apps.prices.models import Agreement
from apps.quotes.flows.saving import put_lines
from apps.quotes.flows.starting import start_quote
from apps.quotes.models import Revision
from apps.quotes.pricing.question import DraftLine
from routecore.agreement import Planned, joined, quantity_for, spread
from routecore.errors import CoreError
from routecore.exact import ZERO
from routecore.money import minor_unit, sum_of
from routecore.repeat import Repetition

MOST_PLANNED = 200
ONE = Decimal(1)


@transaction.atomic
def keep_plan(
    who: User, agreement_id: int, version: int, *, notice_days: int, rows: Sequence[Planned]
) -> Agreement:
    """These planned call-offs in the place of those that were seen; none where there are none.

    ``version`` 0 where nothing was planned yet. Refused where a day lies outside the agreement's or comes twice,
    or where more is planned than was committed.
    """
    sells(who)
    agreement = pick_locked(agreements_of(who), agreement_id, "agreement")
    plan, _ = CallOffPlan.objects.get_or_create(agreement=agreement, defaults={"version": 0})
    check_version(plan.version, version, "agreement")
    _check(agreement, rows)
    before = _told(plan.rows.all())
    plan.rows.all().delete()
    PlannedCallOff.objects.bulk_create(
        PlannedCallOff(plan=plan, on=row.on, quantity=row.quantity) for row in rows
    )
    plan.notice_days, plan.version = notice_days, plan.version + 1
    plan.save()
    forget_day(agreement.pk)
    record_changes(who, "agreement", agreement.pk, {"plan": (before, _told(rows))})
    return agreement


def _told(rows: Iterable[Planned | PlannedCallOff]) -> str:
    return ", ".join(f"{row.on:%Y-%m-%d}: {row.quantity:f}" for row in rows)


def _check(agreement: Agreement, rows: Sequence[Planned]) -> None:
    if len(rows) > MOST_PLANNED:
        raise Invalid("too_many", path="rows", facts={"what": "rows", "most": MOST_PLANNED})
    seen: set[date] = set()
    for n, row in enumerate(rows):
        if not agreement.valid_from <= row.on <= agreement.valid_to:
            raise Invalid("outside_agreement", path=f"rows[{n}].on", facts={"on": row.on})
        if row.on in seen:
            raise Invalid("double_day", path=f"rows[{n}].on", facts={"on": row.on})
        if row.quantity <= 0:
            raise Invalid("not_positive", path=f"rows[{n}].quantity")
        seen.add(row.on)
    committed = agreement.quantity if agreement.amount is None else agreement.amount
    if sum_of(row.quantity for row in rows) > committed:
        raise Invalid("more_than_committed", path="rows", facts={"committed": committed})


def propose_plan(agreement: Agreement, repetition: Repetition, *, today: date) -> list[Planned]:
    """A whole plan: what was called off as it was planned, what is left evenly over the days of a rule to come.

    Stores nothing.
    """
    facts = facts_of([agreement], today)[agreement.pk]
    try:
        days = repetition.days(agreement.valid_from, agreement.valid_to)
        ahead = [day for day in days if day >= today]
        step = (
            minor_unit(agreement.currency) if facts.in_money else _step(agreement, facts.pace.left)
        )
        return joined([*_filled(facts, today), *spread(facts.pace.left, ahead, step)])
    except CoreError as error:
        raise Invalid.of(error) from error


def _filled(facts: AgreementFacts, today: date) -> list[Planned]:
    """What was called off: of each planned day what filled it; what nobody planned, up to yesterday."""
    rows = [
        Planned(on=row.on, quantity=row.quantity - row.open)
        for row in facts.plan
        if row.open < row.quantity
    ]
    more = min(facts.called_off, facts.committed) - sum_of(row.quantity for row in rows)
    if more > 0:
        first = facts.agreement.valid_from
        rows.append(Planned(on=max(first, today - timedelta(days=1)), quantity=more))
    return rows


def _step(agreement: Agreement, left: Decimal) -> Decimal:
    """Whole packs where there are any and they fit, else whole units."""
    pack = agreement.item.pack_multiple
    same_unit = agreement.unit_id == agreement.item.base_unit_id
    return pack if same_unit and pack and pack <= left else ONE


@transaction.atomic
def call_off(
    who: User,
    agreement_id: int,
    *,
    quantity: Decimal | None,
    on: date | None,
    customer_id: int | None,
    today: date,
) -> Revision:
    """A draft with the agreement's item: ``quantity`` of it, or all that is due (of one over an amount: what that
    buys), else what is left; for its customer, or for a member of that group.

    Its price comes by the rules, as every draft's: the agreement's, where enough is left.
    """
    sells(who)
    agreement = pick(agreements_of(who).select_related("item"), agreement_id, "agreement")
    many = _due(agreement, today) if quantity is None else quantity
    if many <= 0:
        raise Invalid("used_up", path="quantity")
    made = start_quote(who, today=today, customer_id=_buyer(who, agreement, customer_id))
    made.requested_on = max(on, today) if on else None
    line = DraftLine(
        key=str(uuid.uuid4()), item_id=agreement.item_id, quantity=many, unit=agreement.unit_id
    )
    put_lines(who, made, [line], today)
    return made


def _due(agreement: Agreement, today: date) -> Decimal:
    facts = facts_of([agreement], today)[agreement.pk]
    asked = [row.open for row in facts.plan if row.state in ("late", "due")]
    many = min(sum_of(asked), facts.pace.left) if asked else facts.pace.left
    if many <= 0 or not facts.in_money:
        return max(many, ZERO)
    return quantity_for(many, agreement.price, agreement.per, step=ONE)


def _buyer(who: User, agreement: Agreement, customer_id: int | None) -> int:
    family = Customer.objects.active().filter(owned(who))
    if customer_id is None and family.filter(pk=agreement.customer_id).exists():
        return agreement.customer_id
    members = family.filter(parent_id=agreement.customer_id)
    if customer_id is None:
        first = members.order_by("pk").first()
        return first.pk if first else agreement.customer_id
    buyer = pick(family, customer_id, "customer")
    if agreement.customer_id not in (buyer.pk, buyer.parent_id):
        raise Invalid("not_in_group", path="customer_id", facts={"customer": buyer.name})
    return buyer.pk
