"""What a deal lacks: what its stage asks for, or the reason why it is closed. It can be moved without; it is told.

What it is, the database keeps (``apps.deals.kept``).
"""

from datetime import datetime, timedelta

from django.db.models import Q

from apps.deals.models import DECIDER, OPEN, QUOTE

REASON = "reason"
LACKING = (QUOTE, DECIDER, REASON)
#: A reason is asked for so long after the end.
ASKED_FOR = timedelta(days=30)


def lacking(now: datetime) -> Q:
    """The deals that lack something; closed ones of the last weeks."""
    return Q(lacks__in=LACKING) & (Q(outcome=OPEN) | Q(closed_at__gte=now - ASKED_FOR))
