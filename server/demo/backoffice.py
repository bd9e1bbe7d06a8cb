"""What the back office is said to have told about the demo's past orders.

Brought in through the same intake as its real news. These orders are not in the stand-in's own
storage: their story is told to its end here.
"""

from datetime import datetime, timedelta
from decimal import Decimal
from uuid import uuid4

from apps.customers.payment import payment_of
from apps.handover.flows import Taken, TurnedDown, settle
from apps.handover.intake import take_in
from apps.handover.models import UNDER_WAY, Handover
from apps.handover.reading import News
from apps.orders.models import Order
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


def _events(
    order: Order, reached: str, number: str, then: datetime
) -> list[tuple[str, int, dict[str, object]]]:
    def money(value: Decimal) -> str:
        return plain(value, minor_digits(order.currency)) or "0"

    found: list[tuple[str, int, dict[str, object]]] = [("taken", 0, {"number": number})]
    if reached == "held":
        return [*found, ("held", 1, {"number": number, "reason": "Credit: being looked at"})]
    if reached == "taken":
        return found
    lines = list(order.lines.select_related("item"))
    goods = [row for row in lines if row.item.kind != "service"]
    shipped = goods[:1] if reached == "part_shipped" else goods
    found.append(
        (
            "shipped",
            2,
            {
                "number": f"DN-D{7000 + order.pk}",
                "on": (then + timedelta(days=2)).date().isoformat(),
                "lines": [{"line": r.position, "quantity": str(r.quantity)} for r in shipped],
            },
        )
    )
    if reached in ("part_shipped", "shipped"):
        return found
    invoiced = (then + timedelta(days=3)).date()
    due = payment_of(order).last_due(invoiced)
    invoice = f"INV-D{9000 + order.pk}"
    found.append(
        (
            "invoiced",
            3,
            {
                "number": invoice,
                "on": invoiced.isoformat(),
                "due_on": due.isoformat(),
                "net": money(order.net),
                "gross": money(order.payable),
                "lines": [
                    {"line": row.position, "net": money(row.net - row.discount_share)}
                    for row in lines
                ],
            },
        )
    )
    if reached == "invoiced":
        return found
    part = (order.payable / 2).quantize(Decimal("0.01")) if reached == "part_paid" else None
    paid_after = 3 + (order.terms_days if part is None else 25)
    found.append(
        (
            "paid",
            paid_after,
            {
                "number": f"PAY-D{4900 + order.pk}",
                "invoice": invoice,
                "on": (then + timedelta(days=paid_after)).date().isoformat(),
                "amount": money(part or order.payable),
            },
        )
    )
    return found
