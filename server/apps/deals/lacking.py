"""What a deal lacks: what its stage asks for, or the reason why it is closed. It can be moved without; it is told."""

from datetime import datetime, timedelta

from django.db.models import Q

from apps.deals.models import DECIDER, LOST, OPEN, PARKED, QUOTE, Deal, Stage

REASON = "reason"
#: A reason is asked for so long after the end.
ASKED_FOR = timedelta(days=30)


def lacks(deal: Deal) -> list[str]:
    """``quote``, ``decider``, ``reason``, as far as they are missing; its stage is read already."""
    stage, found = deal.stage, []
    if stage.outcome == OPEN and stage.asks == QUOTE and deal.quoted_amount is None:
        found.append(QUOTE)
    if stage.outcome == OPEN and stage.asks == DECIDER and deal.contact_id is None:
        found.append(DECIDER)
    if stage.outcome in (LOST, PARKED) and deal.reason_id is None:
        found.append(REASON)
    return found


def lacking(now: datetime) -> list[Q]:
    """The deals that lack something, closed ones of the last weeks: one condition for each way to, as an index finds
    it. One query."""
    asking: dict[str, list[int]] = {QUOTE: [], DECIDER: []}
    for key, asks in Stage.objects.filter(outcome=OPEN).exclude(asks="").values_list("pk", "asks"):
        asking[asks].append(key)
    return [
        Q(outcome=OPEN, stage_id__in=asking[QUOTE], quoted_amount=None),
        Q(outcome=OPEN, stage_id__in=asking[DECIDER], contact=None),
        Q(outcome__in=(LOST, PARKED), closed_at__gte=now - ASKED_FOR, reason=None),
    ]
