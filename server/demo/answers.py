"""What came back lately in the demo: a buyer's yes at the quote's address, and a day that does not hold any more."""

from datetime import date, datetime, timedelta

from apps.buyers.flows import make_link, plan_of, say_yes, usual_choice
from apps.orders.altering import by_answer
from apps.orders.models import Order
from apps.quotes.models import Revision
from apps.quotes.seen import Seen
from routecore.casefile.words import plain
from routecore.money import minor_digits


def make_answers(today: date, now: datetime) -> None:
    """Lotte Farr says yes to the hail net; the net of the walled garden was promised before its receipt slipped."""
    net = Revision.objects.get(quote__deal__title="Hail net for the old orchard")
    _says_yes(net, "Lotte Farr", "QH-118", today, now)
    _was_promised("Hail net, the walled garden", today + timedelta(days=1))


def _says_yes(revision: Revision, name: str, reference: str, today: date, now: datetime) -> None:
    rep = revision.quote.owner
    link, _ = make_link(rep, revision.pk, quantities=False, today=today, now=now)
    choice = usual_choice(revision)
    plan = plan_of(link, choice, today=today)
    payable = plain(plan.totals.payable, minor_digits(revision.currency)) or ""
    say_yes(
        link,
        choice,
        name=name,
        reference=reference,
        seen=Seen(mark=plan.mark, payable=payable),
        address="192.0.2.17",
        today=today,
        now=now - timedelta(minutes=40),
    )


def _was_promised(deal: str, day: date) -> None:
    """The day that was promised when it was ordered: the receipt it rides on came sooner then."""
    day += timedelta(days=max(0, 7 - day.weekday()) if day.weekday() > 4 else 0)
    order = Order.objects.get(revision__quote__deal__title=deal)
    with by_answer():
        order.lines.update(promised_on=day, arrives_on=day + timedelta(days=1))
