"""What deals are about, by item group: as their current quote says, else as the rep's list of interest."""

from collections.abc import Iterable
from decimal import Decimal

from django.conf import settings
from django.db.models import Sum

from apps.deals.models import DealQuerySet, Interest
from apps.deals.queries import weighted
from apps.quotes.models import QuoteLine, Revision
from routecore.forecast import Cell, DealGoods, shares_of

Nets = dict[int, dict[str, Decimal]]


def goods_of(rows: DealQuerySet) -> dict[int, dict[str, Cell]]:
    """By deal, its parts by item group (its key as text; empty where nothing is said). Four queries."""
    weighed = rows.order_by().annotate(weight=weighted())
    deals = list(weighed.values_list("pk", "amount", "weight", "quoted_amount"))
    nets = _quoted(key for key, _, _, quoted in deals if quoted is not None)
    nets.update(_wanted(key for key, _, _, quoted in deals if quoted is None))
    return {
        key: shares_of(
            DealGoods(amount=amount, weighted=weight, nets=nets.get(key, {})),
            settings.BASE_CURRENCY,
        )
        for key, amount, weight, _ in deals
    }


def _quoted(deals: Iterable[int]) -> Nets:
    """Nets of the issued revision that counts: the chosen quote's last one, else the last of all."""
    issued = Revision.objects.filter(quote__deal__among=list(deals), issued_at__isnull=False)
    ordered = issued.order_by("quote__chosen", "issued_at", "pk").values_list("quote__deal", "pk")
    # The last one of a deal stays: a chosen quote's before others, and of these the newest.
    counts = dict(ordered)
    of_deal = {revision: deal for deal, revision in counts.items()}
    lines = QuoteLine.objects.filter(revision__among=list(of_deal), kind="normal").order_by()
    found: Nets = {}
    for revision, group, net in lines.values_list("revision", "item__group").annotate(Sum("net")):
        if net is not None:
            found.setdefault(of_deal[revision], {})[str(group)] = net
    return found


def _wanted(deals: Iterable[int]) -> Nets:
    rows = Interest.objects.filter(deal__among=list(deals)).order_by()
    found: Nets = {}
    for deal, group, net in rows.values_list("deal", "item__group").annotate(Sum("net")):
        found.setdefault(deal, {})[str(group)] = net
    return found
