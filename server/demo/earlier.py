"""How the demo's deals stood earlier: the snapshots of two and a half years, deals that were lost before a quote,
what people committed to."""

from collections.abc import Iterator
from dataclasses import dataclass, field
from datetime import date, datetime, time, timedelta
from decimal import Decimal
from random import Random

from django.db.models import Min
from django.utils import timezone

from apps.customers.models import Customer
from apps.deals.models import OPEN, WON, Deal, Reason, Stage
from apps.forecast.models import STILL, Seen, Snapshot, Word
from apps.forecast.snapshots import keep_snapshot, take_tonight
from apps.people.models import User
from demo.past import TITLES
from routecore.dates import months_from

#: Nights that are kept.
NIGHTS = 912
#: Deals that were lost before anything was quoted: by how far they came, how many.
EARLY = {"spotted": 150, "talking": 80, "shaping": 40}
#: Where a deal that came to a quote was seen first, in hundred: many regular buyers just ask for one.
FIRST_SEEN = {
    WON: {"spotted": 9, "talking": 26, "shaping": 62},
    "": {"spotted": 8, "talking": 28, "shaping": 60},
}
ORDER = ("spotted", "talking", "shaping", "quoted", "deciding")
SAYS = (Decimal(90), Decimal(80), Decimal(60), Decimal(35))
BATCH = 1_000
#: The night's hour by the house's clock.
NIGHT = time(0, 5)


@dataclass(slots=True)
class State:
    """How a deal stands from a day on."""

    on: date
    stage: str
    amount: Decimal
    decision: date
    own: Decimal | None = None


@dataclass(slots=True)
class Past:
    """What is written down, all at once."""

    stages: dict[str, Stage]
    first: date
    today: date
    rows: list[Seen] = field(default_factory=list)


def make_earlier(today: date, now: datetime, seed: int) -> None:
    """Everything, for deals as they are now; from the random numbers of its own."""
    random = Random(seed)
    early = _lose_early(today, random)
    _say_why(today, random)
    stages = {stage.code: stage for stage in Stage.objects.all()}
    past = Past(stages=stages, first=today - timedelta(days=NIGHTS), today=today)
    deals = Deal.objects.select_related("stage").order_by("pk")
    for deal in deals.exclude(outcome=OPEN):
        _stand(
            past, deal, list(_closed(deal, early.get(deal.pk, ""), random)), _day(deal.closed_at)
        )
    for n, deal in enumerate(deals.filter(outcome=OPEN)):
        _stand(past, deal, list(_open(deal, n, today)), None)
    nights = (today - timedelta(days=back) for back in range(NIGHTS, 0, -1))
    Snapshot.objects.bulk_create(
        (Snapshot(at=_night(day), night=day) for day in nights), batch_size=BATCH
    )
    Seen.objects.bulk_create(past.rows, batch_size=BATCH)
    _begin()
    keep_snapshot(User.objects.get(username="petra"), "Before the growers' fair", now)
    take_tonight(lambda: now + timedelta(milliseconds=1))
    _words(today, random)


def _begin() -> None:
    """A deal is as old as what was seen of it first."""
    seen = dict(Seen.objects.order_by().values_list("deal").annotate(Min("since")))
    deals = [deal for deal in Deal.objects.filter(pk__in=seen) if deal.created_at > seen[deal.pk]]
    for deal in deals:
        deal.created_at = seen[deal.pk]
    Deal.objects.bulk_update(deals, ["created_at"], batch_size=500)


def _say_why(today: date, random: Random) -> None:
    """Why earlier deals were won or lost; of those of today it is not said yet."""
    reasons: dict[str, list[int]] = {}
    for key, outcome in Reason.objects.values_list("pk", "outcome"):
        reasons.setdefault(outcome, []).append(key)
    rivals = ("Fieldline", "Ostermann Netze", "the cooperative", "")
    deals = list(
        Deal.objects.exclude(outcome=OPEN).filter(closed_at__lt=_noon(today - timedelta(days=1)))
    )
    for deal in deals:
        deal.reason_id = random.choice(reasons[deal.outcome])
        deal.lost_to = random.choice(rivals) if deal.outcome == "lost" else ""
    Deal.objects.bulk_update(deals, ["reason", "lost_to"], batch_size=BATCH)


def _lose_early(today: date, random: Random) -> dict[int, str]:
    """Deals without a quote; how far each came."""
    lost = Stage.objects.get(outcome="lost")
    customers = list(Customer.objects.select_related("owner").order_by("pk"))
    made, came = [], []
    for code, many in EARLY.items():
        for _ in range(many):
            closed = today - timedelta(days=random.randrange(20, NIGHTS - 120))
            customer = random.choice(customers)
            made.append(
                Deal(
                    title=random.choice(list(TITLES.values())),
                    customer=customer,
                    owner=customer.owner,
                    stage=lost,
                    estimate=Decimal(100 * random.randrange(8, 240)),
                    decision_on=closed + timedelta(days=random.randrange(0, 50)),
                    closed_at=_noon(closed),
                )
            )
            came.append(code)
    Deal.objects.bulk_create(made, batch_size=BATCH)
    return {deal.pk: code for deal, code in zip(made, came, strict=True)}


def _closed(deal: Deal, code: str, random: Random) -> Iterator[State]:
    """What a deal that is closed went through, day by day; ``code`` is how far it came without a quote."""
    end = _day(deal.closed_at)
    if code:
        yield from _before_quote(deal, code, end - timedelta(days=random.randrange(5, 30)), random)
        return
    quoted = deal.decision_on - timedelta(days=14)
    shares, draw = FIRST_SEEN[WON if deal.outcome == WON else ""], random.randrange(100)
    begun = next((stage for stage in shares if draw < shares[stage]), "")
    if begun:
        yield from _before_quote(deal, begun, quoted, random, until="shaping")
    says = random.choice(SAYS) if random.randrange(8) == 0 else None
    yield State(quoted, "quoted", deal.amount, deal.decision_on, says)
    if random.randrange(3):
        step = quoted + timedelta(days=random.randrange(1, 10))
        if step < end:
            yield State(step, "deciding", deal.amount, max(deal.decision_on, step), says)


def _before_quote(
    deal: Deal, begun: str, end: date, random: Random, until: str = ""
) -> Iterator[State]:
    """From the stage in which it was seen first; its day and its amount are guesses."""
    last = until or begun
    stages = (
        ORDER[ORDER.index(begun) : ORDER.index(last) + 1]
        if until
        else ORDER[: ORDER.index(begun) + 1]
    )
    days = sorted(random.randrange(8, 34) * n for n in range(1, len(stages) + 1))[::-1]
    for back, stage in zip(days, stages, strict=True):
        on = end - timedelta(days=back)
        guess = (deal.amount * random.randrange(75, 140) / 100).quantize(Decimal(100))
        decision = max(on, deal.decision_on + timedelta(days=random.randrange(-35, 12)))
        yield State(on, stage, max(guess, Decimal(100)), decision)


def _open(deal: Deal, n: int, today: date) -> Iterator[State]:
    """What moved in an open deal: each fifth is new, slipped, grew, came a stage on, or stayed as it was."""
    now = deal.stage.code
    before = ORDER[max(0, ORDER.index(now) - 1)]
    own = deal.own_probability_percent
    long_ago = today - timedelta(days=24 + n * 13 % 60)
    if n % 5 == 0 and deal.quoted_amount is None:
        yield State(today - timedelta(days=3), now, deal.amount, deal.decision_on, own)
        return
    yield State(long_ago, before, deal.amount, max(deal.decision_on, long_ago), own)
    mid = today - timedelta(days=18)
    match n % 5 if n % 5 else 4:
        case 1:
            early = max(deal.decision_on - timedelta(days=24), today)
            yield State(mid, now, deal.amount, early, own)
        case 2:
            less = (deal.amount * Decimal("0.8")).quantize(Decimal(100))
            yield State(mid, now, less, deal.decision_on, own)
        case 3:
            yield State(mid, before, deal.amount, deal.decision_on, own)
        case _:
            yield State(mid, now, deal.amount, deal.decision_on, own)
            return
    yield State(today - timedelta(days=4), now, deal.amount, deal.decision_on, own)


def _stand(past: Past, deal: Deal, states: list[State], closed: date | None) -> None:
    """A deal's rows: each from the night after its day; two of one day are the later one."""
    if closed and closed < past.first:
        return
    by_night: dict[date, State] = {}
    for state in sorted(states, key=lambda each: each.on):
        night = max(state.on + timedelta(days=1), past.first)
        if night < past.today and (closed is None or night <= closed):
            by_night[night] = state
    nights = sorted(by_night)
    if not nights:
        return
    end = closed + timedelta(days=1) if closed and closed + timedelta(days=1) < past.today else None
    for night, after in zip(nights, [*nights[1:], end], strict=True):
        past.rows.append(_seen(past, deal, by_night[night], night, after))
    if end:
        past.rows.append(
            Seen(
                deal=deal, since=_night(end), owner_id=deal.owner_id, stage=deal.stage,
                outcome=deal.outcome, amount=deal.amount, probability=deal.probability,
                decision_on=deal.decision_on, confidence=deal.confidence,
            )
        )  # fmt: skip


def _seen(past: Past, deal: Deal, state: State, night: date, after: date | None) -> Seen:
    stage = past.stages[state.stage]
    return Seen(
        deal=deal,
        since=_night(night),
        until=_night(after) if after else STILL,
        owner_id=deal.owner_id,
        stage=stage,
        outcome=OPEN,
        amount=state.amount,
        probability=stage.probability_percent if state.own is None else state.own,
        own=state.own is not None,
        decision_on=state.decision,
        confidence=deal.confidence,
    )


def _words(today: date, random: Random) -> None:
    """What each rep committed to in the last year, as the month began, and for this month and the next."""
    petra = User.objects.get(username="petra")
    months = months_from(today.replace(day=1) - timedelta(days=360), 14)
    made = []
    for rep in User.objects.filter(username__in=("ilse", "tomas", "amara")).order_by("pk"):
        for month in months:
            begun = min(_noon(month) - timedelta(days=1), timezone.now() - timedelta(hours=2))
            amount = Decimal(500 * random.randrange(14, 36))
            made.append(Word(owner=rep, month=month, amount=amount, who=rep, at=begun))
    made.append(
        Word(
            owner=User.objects.get(username="tomas"), month=months[-1], judged=True, amount=Decimal(24000), who=petra,
            reason="Two of his deals hang on the same bank", at=timezone.now() - timedelta(hours=1),
        )
    )  # fmt: skip
    Word.objects.bulk_create(made)


def _day(moment: datetime | None) -> date:
    assert moment is not None
    return timezone.localdate(moment)


def _noon(day: date) -> datetime:
    return timezone.make_aware(datetime.combine(day, time(12)))


def _night(day: date) -> datetime:
    return timezone.make_aware(datetime.combine(day, NIGHT))
