"""What moved in the deals between two snapshots, or from one until now."""

from collections.abc import Iterable
from datetime import datetime

from django.conf import settings
from django.db.models import Q

from apps.deals.models import OPEN, Deal
from apps.forecast.models import Seen, Snapshot
from apps.forecast.seen import View, at, day_of
from apps.people.access import owned
from apps.people.models import User
from routecore import forecast
from routecore.forecast import Moved, Window, moved

#: What is read of a deal, as it stood then and as it stands now.
READ = ("amount", "probability", "decision_on", "outcome", "owner_id", "confidence")
Row = tuple[int, forecast.Seen]


def moved_between(
    view: View, since: Snapshot, until: Snapshot | None, window: Window, now: datetime
) -> Moved:
    """What moved in what is to be decided within the window; without ``until``, until now. Four queries."""
    before = _seen(view, at(since.at) & view.of_seen & _open_in(window))
    if until is None:
        after = _live(view, view.of_deals & _open_in(window))
        gone = _live(view, Q(pk__among=sorted(before.keys() - after.keys())))
    else:
        after = _seen(view, at(until.at) & view.of_seen & _open_in(window))
        gone = _seen(view, at(until.at) & Q(deal_id__among=sorted(before.keys() - after.keys())))
    come = _seen(view, at(since.at) & Q(deal_id__among=sorted(after.keys() - before.keys())))
    return moved(
        forecast.Snapshot(on=day_of(since.at), deals={**before, **come}),
        forecast.Snapshot(on=day_of(until.at if until else now), deals={**after, **gone}),
        window,
        settings.BASE_CURRENCY,
    )


def names_of(who: User, deals: Iterable[int]) -> dict[int, tuple[str, str]]:
    """Title and customer of those deals that this person may see. One query."""
    rows = Deal.objects.filter(owned(who), pk__among=sorted(deals)).order_by()
    return {
        key: (title, name) for key, title, name in rows.values_list("pk", "title", "customer_name")
    }


def _open_in(window: Window) -> Q:
    return Q(outcome=OPEN, decision_on__range=(window.first, window.last))


def _seen(view: View, condition: Q) -> dict[int, forecast.Seen]:
    rows = Seen.objects.filter(condition).order_by().values_list("deal_id", *READ)
    return {key: _told(view, *row) for key, *row in rows}


def _live(view: View, condition: Q) -> dict[int, forecast.Seen]:
    rows = Deal.objects.filter(condition).order_by().values_list("pk", *READ)
    return {key: _told(view, *row) for key, *row in rows}


def _told(view: View, *row: object) -> forecast.Seen:
    amount, probability, decision, outcome, owner, confidence = row
    return forecast.Seen(
        amount=amount,  # type: ignore[arg-type]
        probability_percent=probability,  # type: ignore[arg-type]
        decision=decision,  # type: ignore[arg-type]
        state=outcome,  # type: ignore[arg-type]
        counts=view.counts(owner, confidence),  # type: ignore[arg-type]
    )
