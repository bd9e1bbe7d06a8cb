"""What the back office is said to have told about the demo's past orders.

Brought in through the same intake as its real news. What is at work still, the stand-in takes over with its
books (``demo.books``) and tells on; the others' story is told to its end here.
"""

from datetime import datetime, timedelta
from decimal import Decimal
from uuid import uuid4

from apps.customers.payment import payment_of
from apps.handover.flows import Taken, TurnedDown, settle
from apps.handover.intake import take_in
from apps.handover.models import UNDER_WAY, Handover
from apps.handover.reading import News
from apps.orders.models import Order, OrderLine
from routecore.casefile.words import plain
from routecore.money import minor_digits

REASON = "The delivery address lies outside the carrier's districts."


def tell_story(entry: Handover, reached: str, then: datetime) -> None:
    """Bring an order that was just handed over as far as ``reached``.

    One of ``taken``, ``held``, ``refused``, ``part_shipped``, ``shipped``, ``invoiced``,
    ``part_paid``, ``paid``.
    """
    Handover.objects.filter(pk=entry.pk).update(state=UNDER_WAY, tries=1)
    number = f"BO-{47000 + entry.pk}"
    if reached == "refused":
        settle(entry.pk, TurnedDown(REASON), now=then)
        return
    settle(entry.pk, Taken(number), now=then)
    take_in(
        News(
            position=0,
            event_id=uuid4(),
            key=entry.key,
            kind=kind,
            occurred_at=then + timedelta(days=days),
            data=data,
        )
        for kind, days, data in _events(entry.order, reached, number, then)
    )


Event = tuple[str, int, dict[str, object]]


def _events(order: Order, reached: str, number: str, then: datetime) -> list[Event]:
    """Kind, days after ``then``, and what is told."""
    found: list[Event] = [("taken", 0, {"number": number})]
    if reached == "held":
        return [*found, ("held", 1, {"number": number, "reason": "Credit: being looked at"})]
    if reached == "taken":
        return found
    lines = list(order.lines.select_related("item"))
    found.append(_shipped(order, lines, then, whole=reached != "part_shipped"))
    if reached in ("part_shipped", "shipped"):
        return found
    found.append(_invoiced(order, lines, then))
    if reached == "invoiced":
        return found
    return [*found, _paid(order, then, whole=reached != "part_paid")]


def _money(value: Decimal, order: Order) -> str:
    return plain(value, minor_digits(order.currency)) or "0"


def _invoice_number(order: Order) -> str:
    return f"INV-D{9000 + order.pk}"


def _shipped(order: Order, lines: list[OrderLine], then: datetime, *, whole: bool) -> Event:
    goods = [row for row in lines if row.item.kind != "service"]
    told: dict[str, object] = {
        "number": f"DN-D{7000 + order.pk}",
        "on": (then + timedelta(days=2)).date().isoformat(),
        "lines": [
            {"line": row.position, "quantity": str(row.quantity)}
            for row in (goods if whole else goods[:1])
        ],
    }
    return "shipped", 2, told


def _invoiced(order: Order, lines: list[OrderLine], then: datetime) -> Event:
    on = (then + timedelta(days=3)).date()
    told: dict[str, object] = {
        "number": _invoice_number(order),
        "on": on.isoformat(),
        "due_on": payment_of(order).last_due(on).isoformat(),
        "net": _money(order.net, order),
        "gross": _money(order.payable, order),
        "lines": [
            {"line": row.position, "net": _money(row.net - row.discount_share, order)}
            for row in lines
        ],
    }
    return "invoiced", 3, told


def _paid(order: Order, then: datetime, *, whole: bool) -> Event:
    amount = order.payable if whole else (order.payable / 2).quantize(Decimal("0.01"))
    after = 3 + (order.terms_days if whole else 25)
    told: dict[str, object] = {
        "number": f"PAY-D{4900 + order.pk}",
        "invoice": _invoice_number(order),
        "on": (then + timedelta(days=after)).date().isoformat(),
        "amount": _money(amount, order),
    }
    return "paid", after, told
