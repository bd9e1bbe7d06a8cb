"""Where framework agreements stand: called off, delivered, invoiced, left; the pace; the plan."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from typing import Any

from django.db.models import F, Q, QuerySet, Sum
from django.db.models.functions import Coalesce

from apps.calloffs.models import PlannedCallOff
from apps.catalogue.models import ItemUnit
from apps.customers.models import Customer
from apps.ledger.models import InvoiceLine
from apps.orders.models import DeliveryLine, OrderLine
from apps.people.access import owned
from apps.people.models import User
from apps.prices.models import Agreement
from apps.prices.queries import with_remaining
from routecore.agreement import Pace, Planned, PlannedState, Point, against_plan, curve_of, pace_of
from routecore.exact import EXACT, ZERO, nearest
from routecore.money import sum_of

ONE = Decimal(1)
MILLIONTH = Decimal("0.000001")
#: What is told of a plan is told so many days before, where it says nothing itself.
NOTICE_DAYS = 7


@dataclass(frozen=True, slots=True, kw_only=True)
class AgreementFacts:
    """Where an agreement stands on a day.

    ``committed``, ``called_off`` and the plan are in ``unit``: the agreement's, or its currency where an amount was
    committed (``in_money``).
    """

    agreement: Agreement
    committed: Decimal
    called_off: Decimal
    in_money: bool
    pace: Pace
    plan: tuple[PlannedState, ...]
    notice_days: int
    plan_version: int

    @property
    def due(self) -> PlannedState | None:
        """The first planned call-off that is not filled."""
        return next((row for row in self.plan if row.open), None)

    @property
    def asked(self) -> bool:
        """Whether one is due or late while the agreement runs."""
        return self.due is not None and self.due.state in ("due", "late") and self.runs

    @property
    def runs(self) -> bool:
        """Whether it is under way and something is left of it."""
        return self.pace.state in ("behind", "even", "ahead")


def agreements_of(who: User) -> QuerySet[Agreement]:
    """Those of one's customers and of their parents, whose prices count for them."""
    parents = Customer.objects.filter(owned(who), parent__isnull=False).values("parent")
    return Agreement.objects.filter(owned(who, "customer__owner") | Q(customer__in=parents))


def running_agreements(who: User, customer_id: int | None, on: date) -> list[Agreement]:
    """Those of a customer, then of the parent, whose days a day lies in; none for somebody else's. Two queries."""
    customer = Customer.objects.filter(owned(who), pk=customer_id or 0).first()
    if customer is None:
        return []
    family = [customer.pk, *([customer.parent_id] if customer.parent_id else ())]
    rows = Agreement.objects.filter(customer__in=family, valid_from__lte=on, valid_to__gte=on)
    return sorted(rows.order_by("valid_to", "pk"), key=lambda row: row.customer_id != customer.pk)


def facts_of(rows: Iterable[Agreement], on: date) -> dict[int, AgreementFacts]:
    """Where each stands, by key. Three queries at most."""
    return facts_among(Agreement.objects.filter(pk__in=[row.pk for row in rows]), on)


def facts_among(
    rows: QuerySet[Agreement], on: date, most: int | None = None
) -> dict[int, AgreementFacts]:
    """As ``facts_of``, of the first of some agreements, in their order."""
    counted = with_remaining(rows).select_related("item", "unit", "customer", "plan")
    known = list(counted[:most])
    keys = [row.pk for row in known]
    plans: dict[int, list[Planned]] = {}
    for each in PlannedCallOff.objects.filter(plan__agreement__in=keys).values(
        "plan__agreement", "on", "quantity"
    ):
        planned = Planned(on=each["on"], quantity=each["quantity"])
        plans.setdefault(each["plan__agreement"], []).append(planned)
    amounts = _amounts([row.pk for row in known if row.amount is not None])
    return {row.pk: _facts(row, plans.get(row.pk, []), amounts, on) for row in known}


def _facts(
    row: Agreement, plan: Sequence[Planned], amounts: Mapping[int, Decimal], on: date
) -> AgreementFacts:
    in_money = row.amount is not None
    called: Decimal = row.called_off  # type: ignore[attr-defined]
    called = amounts.get(row.pk, ZERO) if in_money else called
    committed = row.amount if row.amount is not None else row.quantity
    header = getattr(row, "plan", None)
    notice = header.notice_days if header else NOTICE_DAYS
    return AgreementFacts(
        agreement=row,
        committed=committed,
        called_off=called,
        in_money=in_money,
        pace=pace_of(committed, called, row.valid_from, row.valid_to, on, plan=plan),
        plan=against_plan(plan, called, on, notice_days=notice),
        notice_days=notice,
        plan_version=header.version if header else 0,
    )


def _amounts(agreements: Sequence[int]) -> dict[int, Decimal]:
    """What was called off of agreements over an amount, net of discounts."""
    if not agreements:
        return {}
    rows = OrderLine.objects.filter(agreement__in=agreements, called_off__isnull=False)
    sums = rows.values("agreement").annotate(amount=Sum(F("net") - F("discount_share")))
    return {row["agreement"]: row["amount"] for row in sums.order_by("agreement")}


@dataclass(frozen=True, slots=True, kw_only=True)
class CallOff:
    """An order line against an agreement; quantities in the agreement's unit, ``amount`` net."""

    line: OrderLine
    quantity: Decimal
    delivered: Decimal
    invoiced: Decimal
    amount: Decimal


@dataclass(frozen=True, slots=True, kw_only=True)
class Course:
    """How an agreement went: its call-offs, newest first, their sums, and curves of what was planned,
    called off and delivered."""

    rows: tuple[CallOff, ...]
    delivered: Decimal
    invoiced: Decimal
    planned_curve: tuple[Point, ...]
    called_curve: tuple[Point, ...]
    delivered_curve: tuple[Point, ...]


def course_of(facts: AgreementFacts) -> Course:
    """Everything that was ordered against it. Five queries, whatever it holds."""
    row = facts.agreement
    factor = _factor(row)
    lines = list(
        OrderLine.objects.filter(agreement=row)
        .select_related("order", "quote_line__revision__quote")
        .order_by("-order__accepted_on", "-pk")
    )
    left = _by_line(DeliveryLine.objects.filter(order_line__in=lines), "delivery__on")
    billed = _by_line(
        InvoiceLine.objects.filter(order_line__in=lines, invoice__kind="invoice"),
        "invoice__on",
        # Who does not tell a quantity bills the delivery as it left.
        Coalesce("quantity", "delivery_line__quantity"),
    )
    found = [_call_off(line, left, billed, factor) for line in lines]
    return Course(
        rows=tuple(found),
        delivered=sum_of(each.delivered for each in found),
        invoiced=sum_of(each.invoiced for each in found),
        planned_curve=_curve(facts, [(each.on, each.quantity) for each in facts.plan]),
        called_curve=_curve(
            facts,
            [(e.line.order.accepted_on, e.amount if facts.in_money else e.quantity) for e in found],
        ),
        delivered_curve=_curve(facts, _delivered(facts, lines, left, factor)),
    )


def _factor(row: Agreement) -> Decimal:
    """How many base units one of the agreement's units has."""
    own = ItemUnit.objects.filter(item=row.item_id, unit=row.unit_id).values_list(
        "factor", flat=True
    )
    return own.first() or ONE


Moved = dict[int, list[tuple[date, Decimal]]]


def _by_line(rows: QuerySet[Any], day: str, quantity: str | Coalesce = "quantity") -> Moved:
    found: Moved = {}
    for line, on, many in rows.values_list("order_line", day, quantity):
        if many is not None:
            found.setdefault(line, []).append((on, many))
    return found


def _share(line: OrderLine, quantity: Decimal, factor: Decimal) -> Decimal:
    """So much of a line, in the agreement's unit; nothing of one that was cancelled."""
    if not line.called_off or not line.quantity:
        return ZERO
    whole = EXACT.multiply(quantity, line.called_off)
    return nearest(whole, EXACT.multiply(line.quantity, factor), MILLIONTH)


def _call_off(line: OrderLine, left: Moved, billed: Moved, factor: Decimal) -> CallOff:
    def moved(rows: Moved) -> Decimal:
        return _share(line, sum_of(many for _, many in rows.get(line.pk, ())), factor)

    return CallOff(
        line=line,
        quantity=_share(line, line.quantity, factor),
        delivered=moved(left),
        invoiced=moved(billed),
        amount=line.net - line.discount_share if line.called_off else ZERO,
    )


def _delivered(
    facts: AgreementFacts, lines: Sequence[OrderLine], left: Moved, factor: Decimal
) -> list[tuple[date, Decimal]]:
    found = []
    for line in lines:
        for on, quantity in left.get(line.pk, ()):
            share = _share(line, quantity, factor)
            if facts.in_money and line.quantity:
                net = line.net - line.discount_share
                share = nearest(EXACT.multiply(net, quantity), line.quantity, MILLIONTH)
            found.append((on, share))
    return found


def _curve(facts: AgreementFacts, moved: Sequence[tuple[date, Decimal]]) -> tuple[Point, ...]:
    row = facts.agreement
    steps = [Planned(on=on, quantity=quantity) for on, quantity in moved]
    return curve_of(steps, facts.committed, row.valid_from, row.valid_to)
