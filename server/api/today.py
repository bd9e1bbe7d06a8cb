"""Today: what is due, and three key figures that open what they sum."""

from datetime import date
from decimal import Decimal

from django.conf import settings
from django.db.models import F
from django.http import HttpRequest
from django.utils import timezone
from django.utils.functional import SimpleLazyObject
from ninja import Router

from api.ahead import ahead_stops
from api.customers.sheet import books_out
from api.diary_stops import follow_up_stops, told_stops
from api.mail_stops import mail_stops
from api.news import reason_of
from api.orders import OrderFilters, filter_orders, orders_of
from api.schemas import Schema
from api.shapes import money, sure_money, today, who
from api.stops import DueStop, StopLine
from apps.buyers.models import NEW, BuyerAnswer
from apps.catalogue.queries import newest_rates
from apps.deals.lacking import lacking
from apps.deals.models import Deal, DealQuerySet
from apps.deals.queries import by_month, deals_of, filter_deals, helped_by, joined
from apps.handover.apart import apart
from apps.handover.models import ANSWERED, OrderChange
from apps.handover.models import REFUSED as NOT_TAKEN
from apps.handover.queries import silent_since
from apps.kept.proving import last_wrong
from apps.leads.queries import filter_leads, leads_of
from apps.ledger.balances import told_otherwise
from apps.ledger.models import Account
from apps.listing import rows_at, rows_of
from apps.orders.models import Order, OrderSignOff, Outlook
from apps.orders.queries import OF_THE_STATE, state_of, worth_of
from apps.people.access import owned
from apps.people.models import ADMIN, CLERK, LEAD, User
from apps.quotes.flows.signing import fingerprint
from apps.quotes.models import Quote, SignOff
from apps.quotes.queries import filter_quotes, quotes_of
from apps.regulars.models import CustomerDay
from apps.words import said

router = Router(tags=["today"])
MOST = 30
#: Of what is not bought any more, so much is told.
MOST_STOPPED = 5


class Figure(Schema):
    """A key figure and the address of what it sums."""

    amount: str
    count: int
    to: str


class TodayOut(Schema):
    """The day. ``days`` of a stop is how many days it is late (negative: still to go)."""

    day: date
    currency: str
    told: list[DueStop]
    follow_ups: list[DueStop]
    lapsing: list[DueStop]
    overdue_deals: list[DueStop]
    lacking: list[DueStop]
    stumbled: list[DueStop]
    trouble: list[DueStop]
    sign_offs: list[DueStop]
    news: list[DueStop]
    stopped: list[DueStop]
    answers: list[DueStop]
    ahead: list[DueStop]
    mails: list[DueStop]
    open_pipeline: Figure
    weighted_this_month: Figure
    orders_under_way: Figure


@router.get("/today", response=TodayOut, operation_id="get_today")
def get_today(request: HttpRequest) -> TodayOut:
    """The start of the day. A constant number of queries."""
    person, on = who(request), today()
    base = settings.BASE_CURRENCY
    pipeline = by_month(deals_of(person).open(), on)
    whole = joined(pipeline.values())
    month = f"{on:%Y-%m}"
    now = pipeline.get(month)
    # Asked for where something is about a deal of somebody else.
    helped = SimpleLazyObject(lambda: set(helped_by(person).values_list("pk", flat=True)))
    return TodayOut(
        day=on,
        currency=base,
        told=told_stops(person, on, helped),
        follow_ups=[*follow_up_stops(person, on, helped), *_leads_due(person, on)],
        lapsing=_lapsing(person, on),
        overdue_deals=_overdue_deals(person, on),
        lacking=_lacking(person, on),
        stumbled=_stumbled(person, on),
        trouble=_trouble(person, on),
        sign_offs=_sign_offs(person, on),
        news=_news(person, on),
        stopped=_stopped(person, on),
        answers=_answers(person, on),
        ahead=ahead_stops(person, on),
        mails=mail_stops(person, on),
        open_pipeline=Figure(amount=sure_money(whole.amount, base), count=whole.count, to="/deals"),
        weighted_this_month=Figure(
            amount=sure_money(now.weighted if now else Decimal(0), base),
            count=now.count if now else 0,
            to=f"/deals?month={month}",
        ),
        orders_under_way=_under_way(person, on),
    )


def _leads_due(person: User, on: date) -> list[DueStop]:
    """Leads whose next step is due."""
    rows = filter_leads(leads_of(person), today=on, due=True).order_by("next_on", "pk")[:MOST]
    return [
        DueStop(
            kind="lead_due",
            title=row.next_step or row.topic or row.title,
            customer=row.title,
            on=row.next_on,
            days=(on - row.next_on).days if row.next_on else 0,
            amount=None,
            currency="",
            detail=row.topic,
            to=f"/leads/{row.pk}",
        )
        for row in rows
    ]


def _sign_offs(person: User, on: date) -> list[DueStop]:
    """What waits for this person's signature; a request that was overtaken by a change does not."""
    if person.role not in (LEAD, ADMIN):
        return []
    waiting = (
        SignOff.objects.filter(
            owned(person, "revision__quote__owner"), answer="", revision__issued_at__isnull=True
        )
        .exclude(asked_by=person)
        .exclude(revision__quote__owner=person)
        .order_by("asked_at")
    )
    shown = SignOff.objects.select_related("revision__quote__customer", "asked_by")
    rows = rows_at(waiting, slice(MOST), shown.prefetch_related("revision__lines"))
    return [*_order_sign_offs(person, on), *_asked_late(person, on)] + [
        DueStop(
            kind="sign_off",
            title=f"{row.revision.quote.number} {row.revision.letter}",
            customer=row.revision.quote.customer.name,
            on=timezone.localdate(row.asked_at),
            days=(on - timezone.localdate(row.asked_at)).days,
            amount=sure_money(row.revision.payable, row.revision.currency),
            currency=row.revision.currency,
            detail=f"{row.asked_by.name}: {row.reason}",
            to=f"/quotes/{row.revision_id}",
        )
        for row in rows
        if row.fingerprint == fingerprint(row.revision)
    ]


def _answers(person: User, on: date) -> list[DueStop]:
    """What the back office said to changes of orders, or changed by itself, and nobody has seen yet."""
    waiting = OrderChange.objects.filter(
        owned(person, "order__owner"), noticed_at=None, state__in=(ANSWERED, NOT_TAKEN)
    )
    shown = OrderChange.objects.select_related("order").only(
        *("answered_at", "answer", "last_error", "reason", "asked_by"),
        *("order__number", "order__customer_name"),
    )
    return (
        _said_by_buyers(person, on)
        + _other_days(person, on)
        + [
            DueStop(
                kind=_kind_of(row),
                title=row.order.number,
                customer=row.order.customer_name,
                on=timezone.localdate(row.answered_at),
                days=(on - timezone.localdate(row.answered_at)).days if row.answered_at else 0,
                amount=None,
                currency="",
                detail=next((each["message"] for each in row.answer if each["message"]), "")
                or row.last_error
                or row.reason,
                to=f"/orders/{row.order_id}",
            )
            for row in rows_at(waiting.order_by("pk"), slice(MOST), shown)
        ]
    )


def _said_by_buyers(person: User, on: date) -> list[DueStop]:
    """What buyers said under a quote's address, and nobody has decided."""
    waiting = BuyerAnswer.objects.filter(owned(person, "link__revision__quote__owner"), state=NEW)
    shown = BuyerAnswer.objects.select_related("link__revision__quote").only(
        *("kind", "at", "payable", "name", "words", "link__revision__letter"),
        *("link__revision__currency", "link__revision__quote__number"),
        "link__revision__quote__customer_name",
    )
    return [
        DueStop(
            kind=f"buyer_{row.kind}",
            title=f"{row.link.revision.quote.number} {row.link.revision.letter}",
            customer=row.link.revision.quote.customer_name,
            on=timezone.localdate(row.at),
            days=(on - timezone.localdate(row.at)).days,
            amount=money(row.payable, row.link.revision.currency),
            currency=row.link.revision.currency,
            detail=f"{row.name}: {row.words}" if row.words else row.name,
            to=f"/quotes/{row.link.revision_id}",
        )
        for row in rows_at(waiting.order_by("pk"), slice(MOST), shown)
    ]


def _other_days(person: User, on: date) -> list[DueStop]:
    """Lines whose day is another now than was promised: later, sooner, or none."""
    rows = Outlook.objects.filter(owned(person, "order_line__order__owner"))
    shown = Outlook.objects.select_related("order_line__order", "order_line__item").only(
        *("leaves_on", "order_line__promised_on", "order_line__text", "order_line__item__code"),
        *("order_line__order__number", "order_line__order__customer_name"),
    )
    return [
        DueStop(
            kind=_moved(row),
            title=row.order_line.order.number,
            state=row.order_line.item.code,
            customer=row.order_line.order.customer_name,
            on=row.leaves_on,
            days=0,
            amount=None,
            currency="",
            detail=row.order_line.text,
            to=f"/orders/{row.order_line.order_id}",
            line=StopLine(
                order=row.order_line.order_id,
                line=row.order_line_id,
                item=row.order_line.item_id,
            ),
        )
        for row in rows_at(rows.order_by("since", "pk"), slice(MOST), shown)
    ]


def _moved(row: Outlook) -> str:
    promised = row.order_line.promised_on
    later = row.leaves_on is None or promised is None or row.leaves_on > promised
    return "slipped" if later else "sooner"


def _kind_of(row: OrderChange) -> str:
    if row.asked_by_id is None:
        return "changed_by_them"
    taken = [each["outcome"] == "taken" for each in row.answer]
    return (
        "change_taken"
        if taken and all(taken)
        else "change_in_part"
        if any(taken)
        else "change_refused"
    )


def _order_sign_offs(person: User, on: date) -> list[DueStop]:
    """Orders of customers on Halt that wait for this person's signature."""
    waiting = (
        OrderSignOff.objects.filter(
            owned(person, "order__owner"), answer="", order__handover_state=""
        )
        .exclude(asked_by=person)
        .exclude(order__owner=person)
        .order_by("asked_at")
    )
    rows = rows_at(waiting, slice(MOST), OrderSignOff.objects.select_related("order", "asked_by"))
    return [
        DueStop(
            kind="sign_off",
            title=row.order.number,
            customer=row.order.customer_name,
            on=timezone.localdate(row.asked_at),
            days=(on - timezone.localdate(row.asked_at)).days,
            amount=sure_money(row.order.payable, row.order.currency),
            currency=row.order.currency,
            detail=f"{row.asked_by.name}: {row.reason}",
            to=f"/orders/{row.order_id}",
        )
        for row in rows
    ]


def _asked_late(person: User, on: date) -> list[DueStop]:
    """Lapsed quotes of the team that somebody asks to order nevertheless."""
    asked = Quote.objects.filter(owned(person), late_asked_at__isnull=False)
    rows = asked.order_by("late_asked_at").select_related("late_asked_by")[:MOST]
    return [
        DueStop(
            kind="ask_late",
            title=f"{row.number} {row.letter}",
            customer=row.customer_name,
            on=timezone.localdate(row.late_asked_at),
            days=(on - timezone.localdate(row.late_asked_at)).days,
            amount=sure_money(row.payable, row.currency),
            currency=row.currency,
            detail=f"{row.late_asked_by.name if row.late_asked_by else ''}: {row.late_reason}",
            to=f"/quotes/{row.revision_id}",
        )
        for row in rows
    ]


#: Of a quote, what its stop tells.
OF_A_QUOTE = (
    *("number", "letter", "customer_name", "valid_until"),
    *("payable", "currency", "revision_id"),
)
#: Of a deal and its stage, what its stop tells.
OF_A_DEAL = ("title", "customer_name", "decision_on", "amount", "lacks", "stage__name")


def _lapsing(person: User, on: date) -> list[DueStop]:
    days = settings.QUOTE_LAPSING_DAYS
    rows = filter_quotes(quotes_of(person), today=on, state="lapsing", lapsing_days=days)
    return [
        DueStop(
            kind="lapsing",
            title=f"{row.number} {row.letter}",
            customer=row.customer_name,
            on=row.valid_until,
            days=(on - (row.valid_until or on)).days,
            amount=sure_money(row.payable, row.currency),
            currency=row.currency,
            detail="",
            to=f"/quotes/{row.revision_id}",
        )
        for row in rows.only(*OF_A_QUOTE).order_by("valid_until", "pk")[:MOST]
    ]


def _overdue_deals(person: User, on: date) -> list[DueStop]:
    overdue = filter_deals(deals_of(person), today=on, month="overdue")
    rows = rows_at(overdue.order_by("decision_on", "pk"), slice(MOST), _deals_told())
    return [
        DueStop(
            kind="overdue_deal",
            title=row.title,
            customer=row.customer_name,
            on=row.decision_on,
            days=(on - row.decision_on).days,
            amount=sure_money(row.amount, settings.BASE_CURRENCY),
            currency=settings.BASE_CURRENCY,
            detail=row.stage.name,
            to=f"/deals/{row.pk}",
        )
        for row in rows
    ]


def _deals_told() -> DealQuerySet:
    return Deal.objects.select_related("stage").only(*OF_A_DEAL)


def _lacking(person: User, on: date) -> list[DueStop]:
    """Deals that lack what their stage asks for, or the reason why they are closed."""
    rows = deals_of(person).filter(lacking(timezone.now())).order_by("decision_on", "pk")
    return [
        DueStop(
            kind=f"lacks_{row.lacks}",
            title=row.title,
            customer=row.customer_name,
            on=row.decision_on,
            days=0,
            amount=sure_money(row.amount, settings.BASE_CURRENCY),
            currency=settings.BASE_CURRENCY,
            detail=row.stage.name,
            to=f"/deals/{row.pk}",
        )
        for row in rows_at(rows, slice(MOST), _deals_told())
    ]


def _trouble(person: User, on: date) -> list[DueStop]:
    """What is not as it should be in the house: no news for long, figures that are not their rows."""
    found: list[tuple[str, date, str]] = []
    silent = silent_since(timezone.now()) if person.role in (CLERK, LEAD, ADMIN) else None
    if silent is not None:
        found.append(("feed", timezone.localdate(silent[0]), said("feed", "", silent[1])))
    if person.role == ADMIN:
        for table, keys in last_wrong().items():
            facts = {"table": table, "keys": keys}
            found.append(("figures", on, said("figures_wrong", "", facts)))
    stops = [
        DueStop(
            kind="trouble",
            title=title,
            customer="",
            on=since,
            days=(on - since).days,
            amount=None,
            currency="",
            detail=words,
            to="/orders/news" if title == "feed" else "/today",
        )
        for title, since, words in found
    ]
    return stops + _accounts(person, on)


def _accounts(person: User, on: date) -> list[DueStop]:
    """Customers of whom the back office says that something else is open than ours come to."""
    if person.role not in (CLERK, LEAD, ADMIN):
        return []
    rows = rows_at(
        told_otherwise(person, timezone.now()),
        slice(MOST_STOPPED),
        Account.objects.select_related("customer").defer("told"),
    )
    return [
        DueStop(
            kind="trouble",
            title="account",
            customer=row.customer.name,
            on=timezone.localdate(row.differs_since),
            days=(on - timezone.localdate(row.differs_since)).days,
            amount=None,
            currency="",
            detail="",
            books=books_out(row),
            to=f"/customers/{row.customer_id}#open-items",
        )
        for row in rows
    ]


def _news(person: User, on: date) -> list[DueStop]:
    """News of the back office that is set apart: one stop for each, the newest first."""
    if person.role not in (CLERK, LEAD, ADMIN):
        return []
    rows = apart(person, timezone.now())[:MOST]
    return [
        DueStop(
            kind="news",
            title=row.kind,
            customer="",
            on=timezone.localdate(row.received_at),
            days=(on - timezone.localdate(row.received_at)).days,
            amount=None,
            currency="",
            detail=reason_of(row).message,
            to="/orders/news",
        )
        for row in rows
    ]


def _stopped(person: User, on: date) -> list[DueStop]:
    """Customers who do not buy an item any more, those who bought it most often first; one stop each."""
    if person.role == CLERK:
        return []
    rows = (
        CustomerDay.objects.filter(owned(person, "whose"), stopped_purchases__gt=0)
        .select_related("customer")
        .only("stopped", "customer__name")
        .order_by("-stopped_purchases", "pk")[:MOST_STOPPED]
    )
    return [
        DueStop(
            kind="stopped",
            title=row.stopped[0]["name"],
            customer=row.customer.name,
            on=date.fromisoformat(row.stopped[0]["last_on"]),
            days=(on - date.fromisoformat(row.stopped[0]["last_on"])).days,
            amount=None,
            currency="",
            detail="",
            to=f"/customers/{row.customer_id}/regulars?show=due",
        )
        for row in rows
    ]


def _stumbled(person: User, on: date) -> list[DueStop]:
    mine = orders_of(person).order_by("pk").values_list("pk", flat=True)
    refused = mine.filter(handover_state__in=("refused", "held"))[:MOST]
    tried = mine.filter(handover_state="waiting", handover__tries__gte=3)[:MOST]
    keys = list(refused.union(tried, all=True))
    told = ("number", "customer_name", "accepted_on", "currency", *OF_THE_STATE)
    shown = Order.objects.only(*told).annotate(why=F("handover__last_error"))
    return [
        DueStop(
            kind="stumbled",
            title=row.number,
            state=state_of(row),
            customer=row.customer_name,
            on=row.accepted_on,
            days=(on - row.accepted_on).days,
            amount=sure_money(row.payable, row.currency),
            currency=row.currency,
            detail=getattr(row, "why"),
            to=f"/orders/{row.pk}",
        )
        for row in rows_of(keys, shown)
    ]


def _under_way(person: User, on: date) -> Figure:
    """Payables of unpaid orders, each converted at the day's rate and rounded once."""
    rows = filter_orders(orders_of(person), OrderFilters(state="way"), on)
    count, total = worth_of(rows, newest_rates(on), on)
    amount = sure_money(total, settings.BASE_CURRENCY)
    return Figure(amount=amount, count=count, to="/orders?state=way")
