"""A parent and its members, as the parent's page shows them."""

from datetime import date

from django.conf import settings

from api.schemas import Schema
from api.shapes import Verdict, money, sure_money
from api.standing import standings_now
from apps.customers.models import Customer
from apps.customers.standing import members_of
from apps.people.access import read_for_fulfilment
from apps.people.models import User
from routecore.money import sum_of


class MemberOut(Schema):
    """One of a group, in the base currency; ``limit`` is its own."""

    id: int
    name: str
    head: bool
    verdict: Verdict
    balance: str
    overdue: str
    exposure: str
    limit: str | None


class GroupOut(Schema):
    """Those of a group whom a person may see, and what all of them come to.

    ``others`` is how many more there are, of other people.
    """

    members: list[MemberOut]
    others: int
    count: int
    balance: str
    overdue: str
    exposure: str


def group_out(person: User, head: Customer, on: date) -> GroupOut | None:
    """The group that a customer is the parent of; None where it is none. A constant number of queries."""
    if head.parent_id is not None:
        return None
    rows = members_of(head)
    if not rows:
        return None
    base = settings.BASE_CURRENCY
    found = standings_now(rows, on)
    own = Customer.objects.filter(read_for_fulfilment(person), pk__in=found)
    seen = set(own.values_list("pk", flat=True))
    every = found.values()
    return GroupOut(
        members=[
            MemberOut(
                id=row.pk,
                name=row.name,
                head=row.pk == head.pk,
                verdict=found[row.pk].verdict,
                balance=sure_money(found[row.pk].ageing.balance, base),
                overdue=sure_money(found[row.pk].ageing.overdue, base),
                exposure=sure_money(found[row.pk].exposure, base),
                limit=None if row.pk == head.pk else money(row.credit_limit, base),
            )
            for row in sorted(rows, key=lambda row: row.pk != head.pk)
            if row.pk in seen
        ],
        others=len(rows) - len(seen),
        count=len(rows),
        balance=sure_money(sum_of(each.ageing.balance for each in every), base),
        overdue=sure_money(sum_of(each.ageing.overdue for each in every), base),
        exposure=sure_money(sum_of(each.exposure for each in every), base),
    )
