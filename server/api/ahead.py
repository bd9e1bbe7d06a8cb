"""What Today tells of days that were agreed: standing orders that ask, call-offs that are due, commitments missed."""

from datetime import date

from api.agreement_rows import told_of
from api.stops import DueStop
from apps.calloffs.days import told
from apps.calloffs.facts import AgreementFacts
from apps.people.models import User
from apps.standing_orders.models import StandingOrder
from apps.standing_orders.queries import begun, waiting

MOST = 30


def ahead_stops(who: User, on: date) -> list[DueStop]:
    """Standing orders first, then agreements; each the most urgent first. Five queries."""
    return [*_asking(who, on), *_begun(who, on), *(_agreement(each, on) for each in told(who, on))]


def _asking(who: User, on: date) -> list[DueStop]:
    rows = waiting(who, on).only("title", "next_on", "customer__name")[:MOST]
    return [_standing("standing_asks", row, row.next_on or on, on) for row in rows]


def _begun(who: User, on: date) -> list[DueStop]:
    found = []
    told = ("on", "quote", "standing_order__title", "standing_order__customer__name")
    for turn in begun(who).only(*told)[:MOST]:
        kind = "standing_begun" if turn.quote_id else "standing_asks"
        found.append(_standing(kind, turn.standing_order, turn.on, on))
    return found


def _standing(kind: str, row: StandingOrder, day: date, on: date) -> DueStop:
    return DueStop(
        kind=kind,
        title=row.title,
        customer=row.customer.name,
        on=day,
        days=(on - day).days,
        amount=None,
        currency="",
        detail="",
        to=f"/standing-orders/{row.pk}",
    )


def _agreement(facts: AgreementFacts, on: date) -> DueStop:
    row, due = facts.agreement, facts.due
    asked = due if facts.asked else None
    unit = row.currency if facts.in_money else row.unit.name
    return DueStop(
        kind="call_off_due" if asked else "commitment_missed",
        title=row.number,
        customer=row.customer.name,
        on=asked.on if asked else row.valid_to,
        days=(on - (asked.on if asked else row.valid_to)).days,
        amount=told_of(facts, asked.open if asked else facts.pace.left),
        currency=unit,
        detail=row.item.name,
        to=f"/agreements/{row.pk}",
    )
