"""What led to the past: deals, quotes, orders and deliveries behind the paid invoices, and the quotes
that led to nothing.

Written in bulk: a thousand quotes through the flows, each with its document, would take minutes. Each
is priced by the core with the prices of its day, and written down by the functions the flows use.
"""

from collections import Counter
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from datetime import UTC, date, datetime, time, timedelta
from decimal import Decimal
from functools import cache
from random import Random

from django.conf import settings
from django.utils import timezone

from apps.catalogue.queries import rate_on
from apps.deals.models import Deal, Stage
from apps.handover.models import TAKEN, Handover
from apps.ledger.models import Invoice, InvoiceLine
from apps.numbering.models import Series
from apps.orders.carrying import carried, order_of
from apps.orders.models import Acceptance, Delivery, DeliveryLine, Order, OrderLine
from apps.quotes.casefiles import case_behind
from apps.quotes.models import Quote, QuoteLine, Revision
from apps.quotes.pricing.answers import freeze_line, note_answer
from apps.quotes.pricing.question import Question, question_with
from demo.baskets import SEASON, Buyer, Shop
from demo.habits import Basket
from routecore.money import Money
from routecore.totals import PricedDocument

TITLES = {
    "posts": "Posts for the new rows",
    "wire": "Wire and fixings",
    "frost": "Frost protection, spring",
    "netting": "Netting before the hail",
    "drip": "Drip lines",
    "bins": "Bins before the harvest",
    "tools": "Tools for the pruning",
    "substrates": "Substrate and mulch",
}
REASONS = (
    "Bought elsewhere at a lower price",
    "Put off to next season",
    "The bank did not agree",
    "Delivery would have come too late",
    "Took the neighbour's left-over stock",
)
#: Beside a hundred accepted quotes so many others; of ten of them so many were declined in words.
OTHERS = 55
DECLINED_OF_TEN = 6
BATCH = 500
#: No past quote is younger, in days: these weeks are told by ``demo.deals``.
MOST_RECENT = 16


@dataclass(slots=True)
class _Story:
    """A past quote, not stored yet, and what became of it; ``priced`` is the core's answer."""

    buyer: Buyer
    on: date
    group: str
    invoice: Invoice | None
    declined: str = ""
    basket: Basket | None = None
    deal: Deal = field(default_factory=Deal)
    quote: Quote = field(default_factory=Quote)
    revision: Revision = field(default_factory=Revision)
    lines: list[QuoteLine] = field(default_factory=list)
    question: Question | None = None
    priced: PricedDocument | None = None


def make_past(
    invoices: list[Invoice], baskets: Mapping[str, Basket], today: date, random: Random
) -> None:
    """The stories behind these invoices and others without one.

    The invoices are not stored yet; each gets its order and the sums of it. ``bill_past`` writes
    their lines once they are stored. ``baskets`` says what was in some of them, by their number.
    """
    shop = Shop(random, today - timedelta(days=MOST_RECENT))
    stories = sorted(
        _stories(shop, invoices, baskets, random),
        key=lambda story: (story.on, story.buyer.customer.pk),
    )
    for story in stories:
        _tell(shop, story)
    numbers = _numbers("Q", [story.on for story in stories], today)
    for story, number in zip(stories, numbers, strict=True):
        story.quote.number = number
        assert story.question is not None and story.priced is not None
        story.revision.case = case_behind(story.revision, story.question, story.priced)
    _write_quotes(stories)
    _write_orders(stories, today)


def _stories(
    shop: Shop, invoices: list[Invoice], baskets: Mapping[str, Basket], random: Random
) -> Iterator[_Story]:
    customers = list({row.customer_id: row.customer for row in invoices}.values())
    for invoice in invoices:
        on = invoice.on - timedelta(days=random.randrange(16, 40))
        group, basket = random.choice(SEASON[on.month]), baskets.get(invoice.number)
        yield _Story(shop.buyer(invoice.customer), on, group, invoice, basket=basket)
        if basket:
            continue
        if random.randrange(100) < OTHERS:
            buyer = shop.buyer(random.choice(customers))
            reason = random.choice(REASONS) if random.randrange(10) < DECLINED_OF_TEN else ""
            yield _Story(buyer, on, random.choice(SEASON[on.month]), None, reason)


@cache
def day_rate(currency: str, on: date) -> Decimal:
    """The rate to the base currency on a day."""
    return Decimal(1) if currency == settings.BASE_CURRENCY else rate_on(currency, on)


def _closed_on(story: _Story) -> date:
    """Won with the order; lost some weeks after the quote."""
    if story.invoice:
        return story.invoice.on - timedelta(days=12)
    lost = story.on + timedelta(days=12 + story.on.toordinal() * 7 % 25)
    return min(lost, timezone.localdate() - timedelta(days=1))


def _at(day: date) -> datetime:
    return datetime.combine(day, time(9, 30), UTC)


def _tell(shop: Shop, story: _Story) -> None:
    """Make the story's deal and quote, priced as of its day."""
    buyer, customer, on = story.buyer, story.buyer.customer, story.on
    story.deal = Deal(
        title="The usual" if story.basket else TITLES[story.group],
        customer=customer,
        contact=buyer.contact,
        owner=customer.owner,
        decision_on=on + timedelta(days=14),
        closed_at=_at(_closed_on(story)),
    )
    story.quote = Quote(
        customer=customer, deal=story.deal, contact=buyer.contact, owner=customer.owner
    )
    if story.declined:
        story.quote.declined_at = _at(on + timedelta(days=12))
        story.quote.declined_by = customer.owner
        story.quote.decline_reason = story.declined
    story.revision = Revision(
        quote=story.quote,
        letter="A",
        on=on,
        valid_until=on + timedelta(days=settings.QUOTE_VALID_DAYS),
        currency=customer.currency,
        payable_step=customer.payable_step,
        terms_days=customer.terms_days,
        terms_end_of_month=customer.terms_end_of_month,
        terms_more=customer.terms_more,
        buyer=buyer.frozen,
        base_rate=day_rate(customer.currency, on),
        issued_by=customer.owner,
    )
    _price(shop, story)
    worth = Money(story.revision.net, customer.currency)
    rate = day_rate(customer.currency, on)
    story.revision.base_net = worth.converted(rate, settings.BASE_CURRENCY).amount
    story.deal.quoted_amount = story.deal.estimate = story.revision.base_net


def _price(shop: Shop, story: _Story) -> None:
    revision, prices = story.revision, story.buyer.prices
    lines = shop.lines(story.basket) if story.basket else shop.basket(story.buyer, story.group)
    question = question_with(prices, revision, lines)
    story.question, story.priced = question, question.answer()
    note_answer(revision, story.priced, lines)
    for n, (line, result) in enumerate(zip(lines, story.priced.lines, strict=True), start=1):
        assert line.item_id is not None
        row = QuoteLine(
            revision=revision,
            key=line.key,
            position=n,
            item=shop.items[line.item_id],
            text=line.text,
            quantity=line.quantity,
            unit=line.unit,
            discount_percent=line.discount_percent,
        )
        freeze_line(row, result, prices.items[line.item_id].tax_category)
        story.lines.append(row)


def _numbers(letter: str, days: list[date], today: date) -> list[str]:
    """Numbers by year for these days in their order; this year's series goes on behind them."""
    counts: Counter[str] = Counter()
    numbers = []
    for day in days:
        series = f"{letter}-{day:%y}"
        counts[series] += 1
        numbers.append(f"{series}-{counts[series]:04d}")
    series = f"{letter}-{today:%y}"
    Series.objects.create(name=series, last=counts[series])
    return numbers


def _write_quotes(stories: list[_Story]) -> None:
    """Everything of the quotes; marked as issued last, for then nothing of them can change."""
    stages = {stage.outcome: stage for stage in Stage.objects.exclude(outcome="open")}
    for story in stories:
        story.deal.stage = stages["won" if story.invoice else "lost"]
    revisions = [story.revision for story in stories]
    deals = [story.deal for story in stories]
    Deal.objects.bulk_create(deals, batch_size=BATCH)
    for deal in deals:
        deal.created_at = _at(deal.decision_on - timedelta(days=20))
    Deal.objects.bulk_update(deals, ["created_at"], batch_size=BATCH)
    Quote.objects.bulk_create([story.quote for story in stories], batch_size=BATCH)
    Revision.objects.bulk_create(revisions, batch_size=BATCH)
    QuoteLine.objects.bulk_create(
        [row for story in stories for row in story.lines], batch_size=BATCH
    )
    for story in stories:
        story.revision.issued_at = _at(story.on)
    Revision.objects.bulk_update(revisions, ["issued_at"], batch_size=BATCH)


def _write_orders(stories: list[_Story], today: date) -> None:
    """The orders, their handovers and deliveries; the invoices get their order and its sums."""
    sold = [(story, story.invoice) for story in stories if story.invoice]
    sold.sort(key=lambda pair: pair[1].on)
    days = [invoice.on - timedelta(days=12) for _, invoice in sold]
    orders = [
        _order(story, invoice, number)
        for (story, invoice), number in zip(sold, _numbers("O", days, today), strict=True)
    ]
    lines = [
        carried(order, row, row.discount_share or Decimal(0))
        for order, (story, _) in zip(orders, sold, strict=True)
        for row in story.lines
    ]
    deliveries = {
        order.number: Delivery(order=order, number=f"DN-{61000 + n}", on=invoice.on)
        for n, (order, (_, invoice)) in enumerate(zip(orders, sold, strict=True), start=1)
    }
    Order.objects.bulk_create(orders, batch_size=BATCH)
    OrderLine.objects.bulk_create(lines, batch_size=BATCH)
    Acceptance.objects.bulk_create([_whole(order) for order in orders], batch_size=BATCH)
    Handover.objects.bulk_create(
        [_taken(order, f"BO-{41000 + n}") for n, order in enumerate(orders, start=1)],
        batch_size=BATCH,
    )
    Delivery.objects.bulk_create(deliveries.values(), batch_size=BATCH)
    DeliveryLine.objects.bulk_create(
        [
            DeliveryLine(
                delivery=deliveries[line.order.number], order_line=line, quantity=line.quantity
            )
            for line in lines
        ],
        batch_size=BATCH,
    )


def _whole(order: Order) -> Acceptance:
    """The order took all of its offer."""
    return Acceptance(
        order=order,
        revision=order.revision,
        lines_net=order.lines_net,
        discount=order.document_discount,
        charges=[row["amount"] for row in order.charges],
    )


def _order(story: _Story, invoice: Invoice, number: str) -> Order:
    assert story.priced is not None
    accepted = invoice.on - timedelta(days=12)
    order = order_of(story.revision, story.priced.totals, number=number, today=accepted)
    order.requested_on = invoice.on
    order.delivery_address = story.buyer.address
    invoice.order, invoice.net, invoice.gross = order, order.net, order.payable
    return order


def _taken(order: Order, number: str) -> Handover:
    at = _at(order.accepted_on)
    return Handover(
        order=order,
        state=TAKEN,
        payload={},
        tries=1,
        next_try_at=at,
        taken_at=at,
        backoffice_number=number,
    )


def bill_past(invoices: list[Invoice]) -> None:
    """The lines of stored invoices that have an order: all that was ordered and delivered."""
    by_order = {row.order_id: row for row in invoices if row.order_id}
    delivered = dict(DeliveryLine.objects.values_list("order_line_id", "pk"))
    InvoiceLine.objects.bulk_create(
        [
            InvoiceLine(
                invoice=by_order[line.order_id],
                order_line=line,
                delivery_line_id=delivered.get(line.pk),
                text=line.text,
                net=line.net - line.discount_share,
            )
            for line in OrderLine.objects.filter(order_id__in=by_order)
        ],
        batch_size=BATCH,
    )
