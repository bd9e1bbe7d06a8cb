"""The demo's pipeline: about 25 deals, with quotes, orders and a day's work."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from decimal import Decimal

from django.utils import timezone

from apps.catalogue.models import Item
from apps.customers.models import Customer
from apps.deals.flows import change_deal
from apps.deals.models import Deal, Reason, Stage
from apps.diary.flows import Noted, add_activity
from apps.handover.clearing import answer_order_sign_off, ask_order_sign_off, halts_of
from apps.handover.flows import hand_over
from apps.orders.flows import write_order
from apps.orders.models import Order, OrderSignOff
from apps.orders.offers import Want
from apps.orders.resting import ask_late
from apps.people.models import ADMIN, User
from apps.quotes.casefiles import keep_revision
from apps.quotes.drafts import Draft
from apps.quotes.flows.issuing import issue_revision
from apps.quotes.flows.saving import save_draft
from apps.quotes.flows.signing import answer_sign_off, ask_sign_off
from apps.quotes.flows.starting import revise, start_quote
from apps.quotes.models import Revision
from apps.quotes.pricing.question import DraftLine
from demo.backoffice import tell_story
from demo.factories import DealFactory, StageFactory

#: code, name, probability, outcome
STAGES = [
    ("spotted", "Spotted", 10, "open"),
    ("talking", "Talking", 25, "open"),
    ("shaping", "Shaping", 40, "open"),
    ("quoted", "Quoted", 55, "open"),
    ("deciding", "Deciding", 75, "open"),
    ("won", "Won", 100, "won"),
    ("lost", "Lost", 0, "lost"),
    ("parked", "Parked", 0, "parked"),
]
#: customer, title, stage, estimate, days to the decision, confidence
DEALS = [
    ("Hazelmoor Orchards", "New frost line, north field", "shaping", "15000", 3, "sure"),
    ("Stonebeck Farm", "Posts and wire for 6 ha", "shaping", "48000", 6, "sure"),
    ("Kettlewick Nursery", "Replace the drip lines", "shaping", "21000", -9, "likely"),
    ("Quince House Estate", "Hail net for the old orchard", "shaping", "7000", 22, "sure"),
    ("Corvale Berries", "Fleece and clips for spring", "talking", "9000", -4, "likely"),
    ("Two Elms Fruit", "Bins for the new store", "spotted", "14000", 55, "stretch"),
    ("Marrow Vale Growers", "Members' winter order", "talking", "44000", 61, "stretch"),
    ("Abbotsmere Cherries", "Rain covers, two rows", "shaping", "16000", 30, "likely"),
    ("Stonebeck Farm", "Filter station for the well", "deciding", "5400", 10, "likely"),
    ("Hazelmoor Orchards", "Harvest crates", "spotted", "3200", 75, "likely"),
    ("Brackenby Soft Fruit", "Coir blocks, yearly", "spotted", "8000", 4, "stretch"),
    ("Saltmarsh Vineyards", "End posts, east slope", "shaping", "38000", 17, "likely"),
    ("Dunmere Estate", "Drip irrigation, 11 ha", "deciding", "73000", 23, "likely"),
    ("Wren Nurseries", "Secateurs and saws for all sites", "deciding", "11000", 9, "sure"),
    ("Fellgate Orchards", "Wire and anchors, 4 ha", "shaping", "52000", 15, "likely"),
    ("Ottoline Fruit", "Bird net", "shaping", "12000", 29, "stretch"),
    ("Wren Nurseries", "Perlite, quarterly", "talking", "9600", 35, "likely"),
    ("Sable Farm", "Trellis for the new block", "talking", "27000", 8, "likely"),
    ("Penhallow Cider", "Orchard bins", "talking", "16000", 21, "stretch"),
    ("Bright Acre Trust", "Trial plot irrigation", "shaping", "35000", 14, "likely"),
    ("Tarn & Daughters", "Frost candles, stock up", "shaping", "18000", 7, "likely"),
    ("Lindqvist Bär AG", "Hail net, three fields", "spotted", "31000", 82, "stretch"),
    ("Nettlecombe Hops", "Poles and wire, first order", "spotted", "22000", 15, "stretch"),
    ("Penhallow Cider", "Drip line repair kit", "deciding", "1900", 1, "sure"),
    ("Brackenby Soft Fruit", "Fleece for the tunnels", "shaping", "6100", 48, "likely"),
]


#: What a stage asks for; why deals are closed.
ASKS = {"quoted": "quote", "deciding": "decider"}
REASONS = {
    "won": ("Price", "Delivery in time", "Knows us", "The trial went well"),
    "lost": (
        "Price",
        "Delivery too late",
        "Bought elsewhere",
        "No money for it",
        "Nothing heard any more",
    ),
    "parked": ("Next season", "Waits for a grant", "The person has left"),
}


def make_stages() -> None:
    """The pipeline's stages, and the reasons why deals are closed."""
    Reason.objects.bulk_create(
        Reason(outcome=outcome, name=name, position=n)
        for outcome, names in REASONS.items()
        for n, name in enumerate(names)
    )
    for position, (code, name, probability, outcome) in enumerate(STAGES, start=1):
        StageFactory(
            code=code,
            name=name,
            position=position,
            probability_percent=Decimal(probability),
            outcome=outcome,
            asks=ASKS.get(code, ""),
        )


def make_deals(customers: dict[str, Customer], today: date, now: datetime) -> None:
    """Deals and the live documents; through the same flows that the screens use."""
    stages = {stage.code: stage for stage in Stage.objects.all()}
    for name, title, stage, estimate, days, confidence in DEALS:
        customer = customers[name]
        DealFactory(
            title=title,
            customer=customer,
            contact=customer.contacts.first(),
            stage=stages[stage],
            estimate=Decimal(estimate),
            decision_on=today + timedelta(days=days),
            confidence=confidence,
        )
    _quotes(today, now)
    _orders(today, now)
    _ordered_in_part(today, now)
    _diary(today)
    _closed(now)
    _cases()


def _deal(title: str) -> Deal:
    return Deal.objects.select_related("owner", "customer").get(title=title)


def quote_for(
    title: str, lines: list[tuple[str, str, str, str | None]], today: date, *, percent: str = "",
    days: int = 30, message: str = "",
) -> Revision:  # fmt: skip
    """A draft for a deal; lines are (item code, quantity, unit, discount percent)."""
    deal = _deal(title)
    revision = start_quote(deal.owner, today=today, deal_id=deal.pk)
    return save_draft(
        deal.owner,
        revision.pk,
        revision.version,
        draft_of(lines, today, percent=percent, days=days, message=message),
        today=today,
    )


def draft_of(
    lines: list[tuple[str, str, str, str | None]], today: date, *, percent: str = "",
    days: int = 30, message: str = "", kinds: Mapping[str, str] | None = None,
) -> Draft:  # fmt: skip
    """What the desk would save for these lines; ``kinds`` by item code, where a line is an
    alternative to the one above it, or an option."""
    ids = dict(Item.objects.values_list("code", "pk"))
    kind_of = kinds or {}
    return Draft(
        lines=[
            DraftLine(
                key=f"demo-{code}",
                item_id=ids[code],
                quantity=Decimal(quantity),
                unit=unit,
                discount_percent=Decimal(off) if off else None,
                kind=kind_of.get(code, "normal"),
                alternative_to=f"demo-{above}" if kind_of.get(code) == "alternative" else "",
            )
            for above, (code, quantity, unit, off) in zip(
                ["", *(line[0] for line in lines)], lines, strict=False
            )
        ],
        valid_until=today + timedelta(days=days),
        discount_percent=Decimal(percent) if percent else None,
        message=message,
    )


def _issue(revision: Revision, today: date, now: datetime, follow_up: int = 7) -> Revision:
    if revision.priced["excesses"]:
        asked = ask_sign_off(
            revision.quote.owner, revision.pk, "Needed to win the order", today=today, now=now
        )
        lead = User.objects.get(username="petra")
        answer_sign_off(
            lead, asked.pk, granted=True, comment="Once, for this one.", today=today, now=now
        )
    return issue_revision(
        revision.quote.owner,
        revision.pk,
        revision.version,
        today=today,
        now=now,
        follow_up_on=today + timedelta(days=follow_up),
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class PastOrder:
    """An order of the demo; ``reached`` is how far it came (see ``demo.backoffice``)."""

    customer: str
    title: str
    lines: list[tuple[str, str, str, str | None]]
    days: int
    reached: str


ORDERS = [
    PastOrder(
        customer="Stonebeck Farm",
        title="Bark for the young trees",
        lines=[("SUB-BAR", "480", "BG", None)],
        days=1,
        reached="ready",
    ),
    PastOrder(
        customer="Kettlewick Nursery",
        title="Stakes for the whips",
        lines=[("POS-250", "40", "H87", None)],
        days=2,
        reached="asked",
    ),
    PastOrder(
        customer="Quince House Estate",
        title="Crates before the harvest",
        lines=[("BIN-CRA", "500", "H87", None), ("BIN-300", "24", "H87", "2")],
        days=88,
        reached="paid",
    ),
    PastOrder(
        customer="Two Elms Fruit",
        title="Wire, the first half of the agreement",
        lines=[("WIR-025", "70", "RL", None)],
        days=64,
        reached="paid",
    ),
    PastOrder(
        customer="Marrow Vale Growers",
        title="Posts for the members",
        lines=[("POS-200", "960", "H87", None), ("WIR-025", "80", "RL", "2")],
        days=37,
        reached="part_paid",
    ),
    PastOrder(
        customer="Two Elms Fruit",
        title="Frost candles, twelve pallets",
        lines=[("FRO-420", "2160", "H87", "3"), ("FRO-FAN", "2", "H87", None)],
        days=6,
        reached="part_shipped",
    ),
    PastOrder(
        customer="Quince House Estate",
        title="Hail net, the walled garden",
        lines=[("NET-730", "18", "RL", None)],
        days=4,
        reached="taken",
    ),
    PastOrder(
        customer="Bright Acre Trust",
        title="Hail net over the trials",
        lines=[("NET-730", "22", "RL", None)],
        days=2,
        reached="taken",
    ),
    PastOrder(
        customer="Sable Farm",
        title="Crates for the harvest store",
        lines=[("BIN-CRA", "600", "H87", None)],
        days=9,
        reached="shipped",
    ),
    PastOrder(
        customer="Saltmarsh Vineyards",
        title="Anchors for the replant",
        lines=[("ANC-110", "240", "H87", "3"), ("WIR-025", "30", "RL", None)],
        days=15,
        reached="held",
    ),
    PastOrder(
        customer="Abbotsmere Cherries",
        title="Net clips and fleece",
        lines=[("NET-FLE", "4", "RL", None), ("NET-CLI", "6", "BG", None)],
        days=3,
        reached="refused",
    ),
    PastOrder(
        customer="Fellgate Orchards",
        title="Start-up of the new station",
        lines=[("SRV-STA", "1", "E48", None), ("DRI-REG", "12", "H87", None)],
        days=4,
        reached="ready",
    ),
]

FROST_LINE: list[tuple[str, str, str, str | None]] = [
    ("FRO-420", "720", "H87", "4"),
    ("POS-250", "90", "H87", None),
    ("WIR-025", "12", "RL", "2"),
    ("ANC-110", "48", "H87", None),
    ("NET-730", "6", "RL", "5"),
    ("NET-740", "6", "RL", "5"),
    ("DRI-016", "2400", "MTR", "7.5"),
    ("DRI-F40", "1", "H87", None),
    ("TIE-100", "8", "BX", None),
    ("SRV-DAY", "2", "DAY", None),
    ("SRV-SUR", "1", "E48", "10"),
    ("SRV-STA", "1", "E48", None),
]
FIRST_OFFER = [line for line in FROST_LINE[:9] if line[0] != "NET-740"]
#: The crystal net would do instead of the black one; the start-up visit can be had beside.
FROST_KINDS = {"NET-740": "alternative", "SRV-STA": "optional"}


#: Quotes that are out: deal, lines (item, quantity, unit, percent), percent off the whole, days since the
#: issue, days from it until somebody asks.
OUT = (
    (
        "Posts and wire for 6 ha",
        [("POS-250", "1800", "H87", None), ("POS-300", "160", "H87", "3"),
         ("WIR-031", "240", "RL", None), ("FIX-TEN", "200", "H87", None)],
        "1.5", 26, 24,
    ),
    (
        "Hail net for the old orchard",
        [("NET-730", "14", "RL", None), ("NET-CLI", "20", "BG", None), ("SRV-DAY", "1", "DAY", None)],
        "", 2, 7,
    ),
    (
        "Drip irrigation, 11 ha",
        [("DRI-016", "96000", "MTR", "2"), ("DRI-VAL", "240", "H87", None),
         ("DRI-F40", "4", "H87", None), ("MAN-6", "12", "H87", None), ("SRV-DAY", "9", "DAY", None)],
        "3", 12, 12,
    ),
    (
        "Secateurs and saws for all sites",
        [("TOO-SEC", "180", "H87", "5"), ("TOO-SAW", "144", "H87", None), ("TOO-LOP", "24", "H87", None)],
        "", 5, 7,
    ),
)  # fmt: skip


def _quotes(today: date, now: datetime) -> None:
    """Drafts, issued quotes, one about to lapse, one with two revisions."""
    _with_two_revisions(today, now)
    for title, lines, percent, days, follow_up in OUT:
        ago = timedelta(days=days)
        drafted = quote_for(title, lines, today - ago, percent=percent)
        _issue(drafted, today - ago, now - ago, follow_up=follow_up)
    _quotes_beside(today, now)
    quote_for("Frost candles, stock up", [("FRO-420", "1800", "H87", None)], today)
    quote_for("Bird net", [("NET-BIR", "60", "RL", None), ("NET-CLI", "12", "BG", None)], today)


#: Quotes without a deal: customer, lines, what is offered beside, days since the issue.
BESIDE: tuple[tuple[str, list[tuple[str, str, str, str | None]], dict[str, str], int], ...] = (
    (
        "Quince House Estate",
        [("NET-730", "4", "RL", None), ("NET-740", "4", "RL", None), ("NET-CLI", "6", "BG", None),
         ("SRV-DAY", "1", "DAY", None)],
        {"NET-740": "alternative", "SRV-DAY": "optional"}, 1,
    ),
    ("Stonebeck Farm", [("TOO-SEC", "12", "H87", None), ("TOO-SAW", "6", "H87", None)], {}, 34),
)  # fmt: skip


def _quotes_beside(today: date, now: datetime) -> None:
    """One with an alternative and an option; one that lapsed, and is asked to be ordered late."""
    for name, lines, kinds, days in BESIDE:
        customer = Customer.objects.get(name=name)
        ago = timedelta(days=days)
        made = start_quote(customer.owner, today=today - ago, customer_id=customer.pk)
        draft = draft_of(lines, today - ago, kinds=kinds)
        saved = save_draft(customer.owner, made.pk, made.version, draft, today=today - ago)
        issued = _issue(saved, today - ago, now - ago)
    reason = "Edda was at the fair; she wants them as they were offered."
    ask_late(issued.quote.owner, issued.quote_id, reason=reason, today=today, now=now)


def _ordered_in_part(today: date, now: datetime) -> None:
    """A part of what was offered; the rest is open."""
    revision = _deal("Secateurs and saws for all sites").quotes.get().revisions.get()
    write_order(
        revision.quote.owner,
        revision.pk,
        revision.version,
        today=today,
        now=now,
        close_deal=False,
        requested_on=today + timedelta(days=12),
        wants=[
            Want(key="demo-TOO-SEC", quantity=Decimal(60)),
            Want(key="demo-TOO-SAW"),
        ],
    )


def _with_two_revisions(today: date, now: datetime) -> None:
    ago = timedelta(days=6)
    drafted = quote_for("New frost line, north field", FIRST_OFFER, today - ago)
    first = _issue(drafted, today - ago, now - ago, follow_up=6)
    rep = first.quote.owner
    second = revise(rep, first.quote_id, today=today)
    draft = draft_of(FROST_LINE, today, percent="2", days=24, kinds=FROST_KINDS)
    save_draft(rep, second.pk, second.version, draft, today=today)


def order_for(
    title: str, lines: list[tuple[str, str, str, str | None]], today: date, now: datetime, *,
    close: bool,
) -> Order:  # fmt: skip
    """A quote issued and accepted on the same day."""
    revision = _issue(quote_for(title, lines, today), today, now)
    return write_order(
        revision.quote.owner,
        revision.pk,
        revision.version,
        today=today,
        now=now,
        close_deal=close,
        requested_on=today + timedelta(days=20),
    )


def _orders(today: date, now: datetime) -> None:
    """One order waits to be handed over, others are under way, held, refused or paid."""
    stage = Stage.objects.get(code="deciding")
    customers = {row.name: row for row in Customer.objects.all()}
    for row in ORDERS:
        customer = customers[row.customer]
        day = today - timedelta(days=row.days)
        DealFactory(
            title=row.title,
            customer=customer,
            contact=customer.contacts.first(),
            stage=stage,
            estimate=Decimal(3000),
            decision_on=day,
            confidence="sure",
        )
        then = now - timedelta(days=row.days)
        order = order_for(row.title, row.lines, day, then, close=True)
        if row.reached == "asked":
            _ask(order, "They are settling the old one this week, and need the stakes now.", then)
        elif row.reached != "ready":
            _clear(order, then)
            tell_story(hand_over(order.owner, order.pk, order.version, now=then), row.reached, then)


def _ask(order: Order, reason: str, then: datetime) -> OrderSignOff:
    return ask_order_sign_off(
        order.owner, order.pk, reason, today=timezone.localdate(then), now=then
    )


def _clear(order: Order, then: datetime) -> None:
    """The lead signed it off, where the customer stood on Halt."""
    if not halts_of(order, timezone.localdate(then), then):
        return
    asked = _ask(order, "The rest follows once the harvest is sold; they have always paid.", then)
    lead = User.objects.get(username="petra")
    answer_order_sign_off(lead, asked.pk, granted=True, comment="Go on.", now=then)


#: What was said and is to do: the deal, what kind, the words, days until it is due.
NOTED = (
    ("New frost line, north field", "visit",
     "Walked the north field with Maren. Wants candles before the first frost.", None),
    ("New frost line, north field", "note",
     "Jory pays late when the season is slow; agree the terms first.", None),
    ("Replace the drip lines", "call", "Piers waits for the trial results.", None),
    ("Replace the drip lines", "follow_up", "Ask Piers for the trial results", -2),
    ("Drip irrigation, 11 ha", "follow_up", "Call Rafe about the phasing", 0),
    ("Trellis for the new block", "follow_up", "Send Ines the drawing of the end posts", 0),
    ("Members' winter order", "follow_up", "Collect the members' lists", 5),
    ("Posts and wire for 6 ha", "call", "Edda compares with last year's price.", None),
)  # fmt: skip
#: Visits: the deal, the words, days until it is, at which hour.
VISITS = (
    ("New frost line, north field", "Measure the north field with Maren", 1, time(9, 30)),
    ("Posts and wire for 6 ha", "Look at the end posts", 2, time(14, 0)),
)


def _diary(today: date) -> None:
    for title, kind, text, days in NOTED:
        deal = _deal(title)
        due = today + timedelta(days=days) if days is not None else None
        add_activity(deal.owner, Noted(kind=kind, text=text, deal_id=deal.pk, due_on=due))
    for title, text, days, starts in VISITS:
        deal = _deal(title)
        due = today + timedelta(days=days)
        noted = Noted(
            kind="follow_up",
            text=text,
            deal_id=deal.pk,
            due_on=due,
            starts=starts,
            minutes=90,
            visit=True,
        )
        add_activity(deal.owner, noted)


def _cases() -> None:
    """Three quotes are kept as cases: what a change of prices must not move unseen."""
    admin = User.objects.get(role=ADMIN)
    for title, name in (
        ("Posts and wire for 6 ha", "Posts by the pallet, trade customer"),
        ("Drip irrigation, 11 ha", "Drip line at the top tier"),
        ("Hail net for the old orchard", "Net, clips and a day's work"),
    ):
        quote = _deal(title).quotes.get()
        keep_revision(admin, quote.revisions.order_by("-pk")[0].pk, name)


def _closed(now: datetime) -> None:
    """A lost and a parked deal."""
    for title, stage in (("Drip line repair kit", "lost"), ("Perlite, quarterly", "parked")):
        deal = _deal(title)
        change_deal(deal.owner, deal.pk, deal.version, now=now, stage=stage)
