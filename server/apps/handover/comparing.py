"""Both sides compared: orders, lines, quantities, amounts. On demand and by night; each difference with what to do.

Compared is what the back office tells of its orders against our rows, once all its news has been read: what is on
its way is no difference. Orders that are done for good on both sides need not be told.
"""

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from decimal import Decimal
import re
from typing import Any

from django.db import transaction
from django.db.models import Q, Sum

from apps.handover.gateway import BackOffice, Silence
from apps.handover.intake import feed
from apps.handover.models import (
    EXPECTANT,
    HELD,
    TAKEN,
    BackOfficeEvent,
    Comparison,
    Difference,
    Handover,
)
from apps.ledger.models import INVOICE, InvoiceLine
from apps.orders.models import DeliveryLine, Order, OrderLine, ReturnLine
from apps.people.access import fulfils
from apps.people.models import User
from apps.told import Unfit, read_decimal, read_mapping, read_text
from routecore.casefile.words import plain
from routecore.money import minor_digits

LEASE = timedelta(minutes=2)
KEPT_FOR = timedelta(days=60)
NIGHTLY = timedelta(hours=20)
NIGHT_HOURS = range(2, 5)
MOST_DIFFERENCES = 1_000
MOST_LINES = 1_000
NUMBER = re.compile(r"\d{1,13}(\.\d{1,6})?", re.ASCII)
#: What an order or a line differs in. ``missing_here``: they have it, we do not.
KINDS = (
    *("missing_here", "missing_there", "payable", "currency"),
    *("line_missing_here", "line_missing_there", "quantity", "shipped", "billed", "returned"),
)
Clock = Callable[[], datetime]


@dataclass(frozen=True, slots=True, kw_only=True)
class Standing:
    """A line as one side has it: quantities in the line's unit, what was billed net."""

    quantity: Decimal = Decimal(0)
    shipped: Decimal = Decimal(0)
    billed: Decimal = Decimal(0)
    returned: Decimal = Decimal(0)


@dataclass(frozen=True, slots=True, kw_only=True)
class Theirs:
    """An order as the back office tells it."""

    number: str
    currency: str
    payable: Decimal
    lines: Mapping[int, Standing]


@transaction.atomic
def ask_comparison(who: User | None, now: datetime) -> Comparison:
    """Have both sides compared; one that is asked for already is the one."""
    if who is not None:
        fulfils(who)
    open_one = Comparison.objects.select_for_update().filter(finished_at=None).first()
    return open_one or Comparison.objects.create(asked_at=now, asked_by=who)


def is_due(now: datetime) -> bool:
    """Whether the night's comparison was not asked for yet."""
    last = Comparison.objects.values_list("asked_at", flat=True).first()
    return last is None or now - last > NIGHTLY


def compare_some(office: BackOffice, clock: Clock) -> int:
    """Go on with the comparison that is asked for, a page of orders at a time; how many were compared."""
    run = _claim(clock())
    if run is None:
        return 0
    page = office.standings(run.position)
    if isinstance(page, Silence):
        return _finish(run, clock(), problem=page.what)
    if not run.position and not _heard_all(office):
        Comparison.objects.filter(pk=run.pk).update(leased_until=clock() + timedelta(seconds=2))
        return 0
    told = [_read(row) for row in page.events]
    _compare(run, told)
    run.orders += len(told)
    run.last = page.last or 0
    run.position = max(page.next or 0, run.position + 1)
    run.leased_until = None
    run.save()
    if not page.events or run.position >= run.last:
        _finish(run, clock())
    return len(told)


@transaction.atomic
def _claim(now: datetime) -> Comparison | None:
    free = Q(leased_until=None) | Q(leased_until__lt=now)
    rows = Comparison.objects.select_for_update(skip_locked=True)
    run = rows.filter(free, finished_at=None).order_by("pk").first()
    if run is not None:
        run.leased_until = now + LEASE
        run.save(update_fields=["leased_until"])
    return run


def _heard_all(office: BackOffice) -> bool:
    """Whether all news was read and applied: what is on its way would look like a difference."""
    page = office.news(feed().position)
    unread = isinstance(page, Silence) or bool(page.events)
    return not unread and not BackOfficeEvent.objects.filter(state=EXPECTANT).exists()


def _read(raw: object) -> Theirs | None:
    """An order as told; None for what cannot be read, which then differs."""
    try:
        data = raw if isinstance(raw, dict) else {}
        rows = data.get("lines")
        lines = rows[:MOST_LINES] if isinstance(rows, list) else []
        return Theirs(
            number=read_text(data, "order_number", 20),
            currency=read_text(data, "currency", 3),
            payable=read_decimal(data, "payable", NUMBER),
            lines={_line(row): _standing(row) for row in lines},
        )
    except Unfit:
        return None


def _line(row: object) -> int:
    line = row.get("line") if isinstance(row, dict) else None
    if type(line) is not int:
        raise Unfit("unreadable", field="line")
    return line


def _standing(row: Any) -> Standing:
    data = read_mapping({"row": row}, "row")
    names = ("quantity", "shipped", "billed", "returned")
    return Standing(**{name: read_decimal(data, name, NUMBER) for name in names})


def _compare(run: Comparison, told: Iterable[Theirs | None]) -> None:
    theirs = {row.number: row for row in told if row is not None}
    ours = {row.number: row for row in Order.objects.filter(number__in=theirs)}
    keys = [order.pk for order in ours.values()]
    Handover.objects.filter(order__in=keys).update(compared=run.pk)
    standings = _ours(keys)
    found = []
    for number, row in theirs.items():
        order = ours.get(number)
        if order is None:
            found.append(
                Difference(
                    order_number=number,
                    what="missing_here",
                    theirs=_money(row.payable, row.currency),
                )
            )
            continue
        differing = _of_order(order, row, standings.get(order.pk, {}))
        _count(run, order, row, differs=bool(differing))
        found += differing
    for each in found:
        each.comparison = run
    room = MOST_DIFFERENCES - run.differences.count()
    Difference.objects.bulk_create(found[: max(room, 0)])


def _of_order(order: Order, theirs: Theirs, ours: Mapping[int, Standing]) -> list[Difference]:
    def differs(what: str, mine: str, other: str, line: int | None = None) -> Difference:
        return Difference(
            order=order, order_number=order.number, line=line, what=what, ours=mine, theirs=other
        )

    found = []
    if order.currency != theirs.currency:
        found.append(differs("currency", order.currency, theirs.currency))
    elif order.payable != theirs.payable and order.cancelled_at is None:
        amounts = (_money(order.payable, order.currency), _money(theirs.payable, order.currency))
        found.append(differs("payable", *amounts))
    for line in sorted({*ours, *theirs.lines}):
        mine, other = ours.get(line), theirs.lines.get(line)
        if other is None:
            if mine is not None and mine.quantity:
                found.append(differs("line_missing_there", plain(mine.quantity) or "", "", line))
        elif mine is None:
            found.append(differs("line_missing_here", "", plain(other.quantity) or "", line))
        else:
            found += [
                differs(name, plain(a) or "0", plain(b) or "0", line)
                for name in ("quantity", "shipped", "billed", "returned")
                if (a := getattr(mine, name)) != (b := getattr(other, name))
            ]
    return found


def _money(amount: Decimal, currency: str) -> str:
    return plain(amount, minor_digits(currency)) or ""


def _ours(keys: Sequence[int]) -> dict[int, dict[int, Standing]]:
    """By order and line, how it stands with us. Four queries."""
    lines = OrderLine.objects.filter(order__in=keys).values_list(
        "pk", "order_id", "position", "quantity"
    )
    mine = {"order_line__order__in": keys}
    shipped = _sums(
        DeliveryLine.objects.filter(**mine).values_list("order_line").annotate(Sum("quantity"))
    )
    back = _sums(
        ReturnLine.objects.filter(**mine).values_list("order_line").annotate(Sum("quantity"))
    )
    bills = InvoiceLine.objects.filter(invoice__kind=INVOICE, **mine)
    billed = _sums(bills.values_list("order_line").annotate(Sum("net")))
    none = Decimal(0)
    found: dict[int, dict[int, Standing]] = {}
    for pk, order, position, quantity in lines:
        found.setdefault(order, {})[position] = Standing(
            quantity=quantity,
            shipped=shipped.get(pk, none),
            billed=billed.get(pk, none),
            returned=back.get(pk, none),
        )
    return found


def _sums(rows: Iterable[tuple[int, Decimal]]) -> dict[int, Decimal]:
    return dict(rows)


def _count(run: Comparison, order: Order, theirs: Theirs, *, differs: bool) -> None:
    """Into the day's row: orders, both sums by currency, how many differ."""
    day = order.accepted_on.isoformat()
    row = next((r for r in run.days if (r["day"], r["currency"]) == (day, order.currency)), None)
    if row is None:
        row = {
            "day": day,
            "currency": order.currency,
            "orders": 0,
            "ours": "0",
            "theirs": "0",
            "differing": 0,
        }
        run.days.append(row)
    mine = Decimal(0) if order.cancelled_at else order.payable
    row["orders"] += 1
    row["differing"] += int(differs)
    row["ours"] = _money(Decimal(row["ours"]) + mine, order.currency)
    row["theirs"] = _money(Decimal(row["theirs"]) + theirs.payable, order.currency)


def _finish(run: Comparison, now: datetime, *, problem: str = "") -> int:
    """The end: what we say they have, and was not told, is missing there."""
    if not problem:
        _missing_there(run)
    run.days.sort(key=lambda row: (row["day"], row["currency"]), reverse=True)
    run.finished_at, run.problem, run.leased_until = now, problem, None
    run.save()
    Comparison.objects.filter(asked_at__lt=now - KEPT_FOR).delete()
    return 0


def _missing_there(run: Comparison) -> None:
    """Orders at work that the back office has by our books, and did not tell."""
    rows = Order.objects.filter(
        handover_state__in=(TAKEN, HELD),
        billed=False,
        cancelled_at=None,
        handover__taken_at__lt=run.asked_at,
    ).exclude(handover__compared=run.pk)
    Difference.objects.bulk_create(
        Difference(
            comparison=run,
            order=order,
            order_number=order.number,
            what="missing_there",
            ours=_money(order.payable, order.currency),
        )
        for order in rows.order_by("pk")[:MOST_DIFFERENCES]
    )
