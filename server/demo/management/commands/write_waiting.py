"""``manage.py write_waiting``: orders that wait to be handed over, for measuring."""

from datetime import timedelta
from typing import Any

from django.core.management.base import BaseCommand, CommandParser
from django.db import transaction
from django.utils import timezone

from apps.catalogue.models import Item
from apps.handover.flows import hand_over
from apps.handover.models import Handover
from apps.orders.flows import order_now
from apps.people.models import User
from apps.quotes.drafts import Draft
from apps.quotes.flows.saving import save_draft
from apps.quotes.flows.starting import start_quote
from apps.quotes.pricing.question import DraftLine

#: Nobody takes them before they are let go.
FAR = timedelta(days=365)


class Command(BaseCommand):
    """Writes them for a customer that stands on Clear, with a line each; none is due before it is let go."""

    help = "Write orders that wait to be handed over"

    def add_arguments(self, parser: CommandParser) -> None:
        """``--orders N``."""
        parser.add_argument("--orders", type=int, default=1000)

    def handle(self, *args: Any, **options: Any) -> None:
        """Write them, a hundred in a transaction."""
        ilse = User.objects.get(username="ilse")
        item = Item.objects.get(code="TIE-100")
        left = int(options["orders"])
        while left > 0:
            with transaction.atomic():
                for _ in range(min(left, 100)):
                    self._one(ilse, item)
            left -= 100
        Handover.objects.filter(state="waiting").update(next_try_at=timezone.now() + FAR)

    def _one(self, who: User, item: Item) -> None:
        today, now = timezone.localdate(), timezone.now()
        customer = who.customers.get(name="Stonebeck Farm")
        made = start_quote(who, today=today, customer_id=customer.pk)
        line = DraftLine(
            key="a", item_id=item.pk, quantity=item.minimum_quantity or 100, unit=item.base_unit_id
        )
        draft = Draft(lines=[line], valid_until=made.valid_until)
        saved = save_draft(who, made.pk, made.version, draft, today=today)
        order = order_now(who, saved.pk, saved.version, today=today, now=now, close_deal=False)
        hand_over(who, order.pk, order.version, now=now)
