"""Of several quotes of a deal, the one that its amount follows."""

from django.db import transaction

from apps.deals.flows import follow_quote
from apps.deals.models import Deal
from apps.errors import Refused, check_version
from apps.people.access import owned, pick, pick_locked, sells
from apps.people.models import User
from apps.quotes.models import Quote, Revision


@transaction.atomic
def choose_quote(who: User, deal_id: int, version: int, quote_id: int) -> Deal:
    """It is the current one from now on, also when another is issued; its last issued revision is the deal's amount."""
    sells(who)
    deal = pick_locked(Deal.objects.filter(owned(who)), deal_id, "deal")
    check_version(deal.version, version, "deal")
    quote = pick(Quote.objects.filter(deal=deal), quote_id, "quote")
    issued = Revision.objects.filter(quote=quote, issued_at__isnull=False).order_by("-pk").first()
    if issued is None or issued.base_net is None:
        raise Refused("not_issued_yet")
    Quote.objects.filter(deal=deal, chosen=True).exclude(pk=quote.pk).update(chosen=False)
    Quote.objects.filter(pk=quote.pk).update(chosen=True)
    follow_quote(who, deal.pk, issued.base_net, f"quote {quote.number} chosen")
    return deal


def is_followed(quote: Quote) -> bool:
    """Whether the deal's amount follows this quote: no other one was chosen. One query."""
    others = Quote.objects.filter(deal=quote.deal_id, chosen=True).exclude(pk=quote.pk)
    return not others.exists()
