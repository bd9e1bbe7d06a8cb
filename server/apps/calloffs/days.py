"""Making the days of agreements anew, some at a time: by the worker, between its rounds."""

from datetime import date, timedelta

from django.db.models import F, Q

from apps.calloffs.facts import AgreementFacts, agreements_of, facts_among, facts_of
from apps.calloffs.models import AgreementDay
from apps.people.models import User
from apps.prices.models import Agreement

BATCH = 50
#: So many are told at a time.
MOST = 30
RUNNING = ("coming", "behind", "even", "ahead")
FIELDS = ("on", "state", "misses", "due_on", "tell_on", "judged", "of_version")


def renew(today: date, *, most: int = BATCH) -> int:
    """Make some of the days that do not hold any more; how many. A constant number of queries."""
    old = Q(day__isnull=True) | Q(day__on__isnull=True)
    other = ~Q(day__called_off=F("day__judged")) | ~Q(day__of_version=F("version"))
    gone_by = Q(day__on__lt=today, day__state__in=RUNNING)
    rows = list(Agreement.objects.filter(old | other | gone_by).order_by("pk")[:most])
    if rows:
        _make(rows, today)
    return len(rows)


def _make(rows: list[Agreement], today: date) -> None:
    made = [_day(facts, today) for facts in facts_of(rows, today).values()]
    AgreementDay.objects.bulk_create(made, update_conflicts=True, update_fields=list(FIELDS))


def _day(facts: AgreementFacts, today: date) -> AgreementDay:
    due = facts.due
    return AgreementDay(
        agreement=facts.agreement,
        on=today,
        state=facts.pace.state,
        misses=facts.pace.misses,
        due_on=due.on if due else None,
        tell_on=due.on - timedelta(days=facts.notice_days) if due else None,
        judged=facts.agreement.called_off_base,  # type: ignore[attr-defined]
        of_version=facts.agreement.version,
    )


def forget_day(agreement: int) -> None:
    """What was planned has changed: its day is to be made anew."""
    AgreementDay.objects.filter(agreement_id=agreement).update(on=None)


def told(who: User, on: date) -> list[AgreementFacts]:
    """Agreements that ask for something: a call-off is due, or less will be called off than was committed.

    Found by their kept days, judged anew, the most urgent first. Three queries.
    """
    asks = Q(day__tell_on__lte=on) | Q(day__misses=True)
    rows = agreements_of(who).filter(asks, valid_from__lte=on, valid_to__gte=on)
    facts = facts_among(rows.order_by("day__due_on", "valid_to", "pk"), on, MOST)
    return [each for each in facts.values() if each.asked or each.pace.misses]
