"""What a deal may come to before there is a quote: items and quantities, priced as a quote would be."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from django.conf import settings
from django.db import transaction

from apps.catalogue.queries import rate_on
from apps.deals.models import Deal, Interest
from apps.errors import Invalid, check_version
from apps.journal.flows import record_changes
from apps.people.access import owned, pick_locked, sells
from apps.people.models import User
from apps.quotes.models import Quote, Revision
from apps.quotes.pricing.question import DraftLine, question_of
from routecore.casefile.words import plain
from routecore.money import Money

MOST = 50


@dataclass(frozen=True, slots=True, kw_only=True)
class Wanted:
    """So much of an item, in one of its units."""

    item_id: int
    quantity: Decimal
    unit: str


@transaction.atomic
def set_interest(
    who: User, deal_id: int, version: int, rows: Sequence[Wanted], *, today: date
) -> Deal:
    """These are the deal's lines of interest now, and their net of today, in the base currency, its estimate.

    Without a row the estimate stays as it is. An item without a price for this customer is refused.
    """
    sells(who)
    deals = Deal.objects.filter(owned(who)).select_related("customer", "customer__price_list")
    deal = pick_locked(deals, deal_id, "deal")
    check_version(deal.version, version, "deal")
    if len(rows) > MOST:
        raise Invalid("too_many", path="rows", facts={"what": "lines", "most": MOST})
    nets = _priced(deal, rows, today) if rows else []
    deal.interests.all().delete()
    Interest.objects.bulk_create(
        Interest(
            deal=deal,
            position=n,
            item_id=row.item_id,
            quantity=row.quantity,
            unit=row.unit,
            net=net,
            priced_on=today,
        )
        for n, (row, net) in enumerate(zip(rows, nets, strict=True), start=1)
    )
    before = deal.estimate
    if rows:
        deal.estimate = sum(nets, Decimal(0))
    deal.version += 1
    deal.save()
    told = {"estimate": (plain(before), plain(deal.estimate))}
    record_changes(who, "deal", deal.pk, told, "lines of interest")
    return deal


def _priced(deal: Deal, rows: Sequence[Wanted], today: date) -> list[Decimal]:
    """Each line's net after its own discounts, in the base currency at today's rate."""
    customer = deal.customer
    draft = Revision(
        quote=Quote(customer=customer),
        on=today,
        valid_until=today,
        currency=customer.currency,
        payable_step=customer.payable_step,
    )
    lines = [
        DraftLine(key=str(n), item_id=row.item_id, quantity=row.quantity, unit=row.unit)
        for n, row in enumerate(rows)
    ]
    try:
        priced = question_of(draft, customer, lines).answer()
    except Invalid as error:
        error.path = error.path.replace("lines[", "rows[")
        raise
    rate, base = rate_on(customer.currency, today), settings.BASE_CURRENCY
    found = []
    for n, line in enumerate(priced.lines):
        if line.net is None:
            raise Invalid("needs_price", path=f"rows[{n}].item_id")
        found.append(Money(line.net, customer.currency).converted(rate, base).amount)
    return found


def drafted(deal: Deal) -> list[DraftLine]:
    """The deal's lines of interest as the first lines of its quote."""
    return [
        DraftLine(
            key=f"interest-{row.pk}", item_id=row.item_id, quantity=row.quantity, unit=row.unit
        )
        for row in deal.interests.all()
    ]
