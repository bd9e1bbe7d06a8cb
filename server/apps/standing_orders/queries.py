"""Standing orders as they are read: whose they are, what waits for an answer, what became of each day."""

from datetime import date

from django.db.models import Exists, OuterRef, Q, QuerySet

from apps.orders.models import Order
from apps.people.access import owned
from apps.people.models import User
from apps.standing_orders.models import StandingOrder, StandingTurn

#: Where a turn stands: no draft is there (any more), a draft or an offer is, an order is, nothing was wanted.
OPEN, BEGUN, ORDERED, LEFT_OUT = "open", "begun", "ordered", "left_out"


def standing_orders_of(who: User) -> QuerySet[StandingOrder]:
    """Those of the customers that a person may see."""
    return StandingOrder.objects.filter(owned(who, "customer__owner"))


def waiting(who: User, on: date) -> QuerySet[StandingOrder]:
    """Those that ask for an answer on a day, the most urgent first."""
    return (
        standing_orders_of(who)
        .filter(ask_on__lte=on)
        .select_related("customer")
        .order_by("next_on", "pk")
    )


def begun(who: User) -> QuerySet[StandingTurn]:
    """Days whose draft lies there, not ordered and not offered; or was thrown away."""
    ordered = Order.objects.filter(revision__quote=OuterRef("quote"))
    offered = Q(quote__revisions__issued_at__isnull=False)
    return (
        StandingTurn.objects.filter(
            owned(who, "standing_order__customer__owner"),
            left_out=False,
            standing_order__ended_at__isnull=True,
        )
        .exclude(offered)
        .exclude(Exists(ordered))
        .select_related("standing_order__customer")
        .order_by("on", "pk")
    )


def state_of(turn: StandingTurn, order: Order | None) -> str:
    """Where a day stands."""
    if turn.left_out:
        return LEFT_OUT
    if order is not None:
        return ORDERED
    return OPEN if turn.quote_id is None else BEGUN
