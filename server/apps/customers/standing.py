"""Where customers stand: from what they owe and what is ahead, as the areas above tell it.

Invoices and orders refer to customers, not the other way round: the ledger and the orders name here who
tells what a customer owes (``OWED``) and what is still to be delivered or billed (``AHEAD``), in ``claims.py``
of each.
"""

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date
from decimal import Decimal
from typing import NamedTuple

from django.conf import settings
from django.db.models import Q, QuerySet

from apps.catalogue.queries import rates_on
from apps.customers.models import Customer
from routecore.money import round_amount
from routecore.standing import (
    Ageing,
    Group,
    OpenItem,
    Standing,
    age_open_items,
    exposure_of,
    group_of,
    judge_standing,
)


@dataclass(frozen=True, slots=True, kw_only=True)
class Owed:
    """An open amount in its own currency; credits and money on account are negative.

    What is due on no day of its own counts as of today.
    """

    customer: int
    currency: str
    amount: Decimal
    due: date | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Ahead:
    """What an order still weighs in a customer's exposure, gross, in its own currency."""

    customer: int
    currency: str
    not_delivered: Decimal
    not_invoiced: Decimal


OWED: list[Callable[[Iterable[int]], Iterable[Owed]]] = []
AHEAD: list[Callable[[Iterable[int]], Iterable[Ahead]]] = []


def standings(
    customers: Iterable[Customer],
    today: date,
    *,
    this_document: Decimal = Decimal(0),
    age_hours: int = 0,
) -> dict[int, Standing]:
    """The standing of each customer in the base currency, at the day's rates, and within its group.

    A constant number of queries, however many customers. ``this_document`` is the payable of the
    quote at hand, in the base currency; ``age_hours`` is how old the back office's figures are.
    """
    asked = {row.pk: row for row in customers}
    families = _families(asked.values())
    figures = _figures({row.pk for rows in families.values() for row in rows} | set(asked), today)
    groups = {
        head: _group(head, rows, figures, age_hours)
        for head, rows in families.items()
        if len(rows) > 1
    }
    return {
        pk: _judge(
            row,
            figures[pk],
            age_hours=age_hours,
            this_document=this_document,
            group=groups.get(row.parent_id or pk),
        )
        for pk, row in asked.items()
    }


class _Kin(NamedTuple):
    """What a standing reads of somebody of a group."""

    pk: int
    parent_id: int | None
    credit_limit: Decimal | None
    held: bool


@dataclass(slots=True)
class _Figures:
    """What a customer owes and what is ahead, in the base currency."""

    items: list[OpenItem] = field(default_factory=list)
    not_invoiced: Decimal = Decimal(0)
    not_delivered: Decimal = Decimal(0)
    ageing: Ageing | None = None

    @property
    def aged(self) -> Ageing:
        """The ageing, once all items are there."""
        assert self.ageing is not None
        return self.ageing

    @property
    def exposure(self) -> Decimal:
        """What they weigh together."""
        return exposure_of(self.aged, self.not_invoiced, self.not_delivered)


def _figures(customers: Iterable[int], today: date) -> dict[int, _Figures]:
    """As the ledger and the orders tell it."""
    found = {pk: _Figures() for pk in customers}
    owed = [row for tell in OWED for row in tell(found)]
    ahead = [row for tell in AHEAD for row in tell(found)]
    rates = rates_on(today, {row.currency for row in owed} | {row.currency for row in ahead})
    for each in owed:
        amount = _base(each.amount, rates[each.currency])
        item = OpenItem(due=each.due or today, open_amount=amount)
        found[each.customer].items.append(item)
    for order in ahead:
        own, rate = found[order.customer], rates[order.currency]
        own.not_invoiced += _base(order.not_invoiced, rate)
        own.not_delivered += _base(order.not_delivered, rate)
    for own in found.values():
        own.ageing = age_open_items(own.items, today)
    return found


def _judge(
    row: Customer | _Kin,
    figures: _Figures,
    *,
    age_hours: int,
    this_document: Decimal = Decimal(0),
    group: Group | None = None,
) -> Standing:
    """The limit of a parent with members is the group's, not its own beside it."""
    heads = group is not None and row.parent_id is None
    if group is not None and heads:
        group = replace(group, halts=())  # they are its own already
    return judge_standing(
        figures.aged,
        limit=None if heads else row.credit_limit,
        not_invoiced=figures.not_invoiced,
        not_delivered=figures.not_delivered,
        this_document=this_document,
        held=row.held,
        age_hours=age_hours,
        tolerance_days=settings.STANDING_TOLERANCE_DAYS,
        group=group,
    )


def _of_families(heads: Iterable[int]) -> QuerySet[Customer]:
    """Parents and their members, by name."""
    return Customer.objects.filter(Q(pk__among=heads) | Q(parent__among=heads)).order_by("name")


def _families(customers: Iterable[Customer]) -> dict[int, list[_Kin]]:
    """By parent, the parent and its members; a customer alone is a family of one. One query."""
    heads = {row.parent_id or row.pk for row in customers}
    found: dict[int, list[_Kin]] = {head: [] for head in heads}
    for row in map(_Kin._make, _of_families(heads).values_list(*_Kin._fields)):
        found[row.parent_id or row.pk].append(row)
    return found


def _group(
    head: int, rows: Sequence[_Kin], figures: Mapping[int, _Figures], age_hours: int
) -> Group:
    """What the parent and its members owe together; the parent's limit and halts are the group's."""
    parent = next((row for row in rows if row.pk == head), None)
    halts = () if parent is None else _judge(parent, figures[head], age_hours=age_hours).reasons
    return group_of(
        parent.credit_limit if parent else None,
        [figures[row.pk].exposure for row in rows],
        [each for each in halts if each.code not in OF_A_LIMIT],
    )


#: What a parent's limit says is told of the group as a whole.
OF_A_LIMIT = ("over_limit", "near_limit", "no_limit")


def members_of(customer: Customer) -> list[Customer]:
    """A group's parent and members, by name; nothing for a customer alone. One query."""
    rows = list(_of_families([customer.parent_id or customer.pk]))
    return rows if len(rows) > 1 else []


def over_credit(customer: Customer, today: date, this_document: Decimal) -> Decimal | None:
    """How far the exposure lies over a limit with one more document, the customer's own or the
    group's, in the base currency; None without a limit."""
    found = standings([customer], today, this_document=this_document)[customer.pk]
    left = [after for after in (found.after, found.group_after) if after is not None]
    return max(-min(left), Decimal(0)) if left else None


def _base(amount: Decimal, rate: Decimal) -> Decimal:
    return round_amount(amount * rate, settings.BASE_CURRENCY)
