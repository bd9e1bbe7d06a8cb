"""``manage.py write_waiting``: orders that wait to be handed over, for measuring."""

from datetime import timedelta
from itertools import product
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db import transaction
from django.utils import timezone

from apps.catalogue.models import Item
from apps.customers.models import Customer
from apps.errors import FlowError
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
    """Writes them for customers that stand on Clear, with a line each; none is due before it is let go.

    Customers and items take turns, so that no order is dearer to write than the one before.
    """

    help = "Write orders that wait to be handed over"

    def add_arguments(self, parser: CommandParser) -> None:
        """``--orders N``."""
        parser.add_argument("--orders", type=int, default=1000)

    def handle(self, *args: Any, **options: Any) -> None:
        """Write them, a hundred in a transaction."""
        ilse = User.objects.get(username="ilse")
        ilse.customers.update(credit_limit=None)
        goods = Item.objects.filter(kind="goods", active=True, pack_multiple=None)
        pairs = list(product(ilse.customers.order_by("pk"), goods.order_by("pk")[:23]))
        left, turn = int(options["orders"]), 0
        while left > 0:
            with transaction.atomic():
                for _ in range(min(left, 100)):
                    turn = self._next(ilse, pairs, turn)
            left -= 100
        Handover.objects.filter(state="waiting").update(next_try_at=timezone.now() + FAR)

    def _next(self, who: User, pairs: list[tuple[Customer, Item]], turn: int) -> int:
        """An order of the next pair that one can be written for; those that it cannot are left out for good."""
        while pairs:
            # A step that shares no factor with their number leads through all of them.
            at = turn * 7 % len(pairs)
            try:
                with transaction.atomic():
                    self._one(who, *pairs[at])
            except FlowError:
                del pairs[at]
            else:
                return turn + 1
        raise CommandError("No customer of the demo stands on Clear.")

    def _one(self, who: User, customer: Customer, item: Item) -> None:
        today, now = timezone.localdate(), timezone.now()
        made = start_quote(who, today=today, customer_id=customer.pk)
        line = DraftLine(
            key="a", item_id=item.pk, quantity=item.minimum_quantity or 100, unit=item.base_unit_id
        )
        draft = Draft(lines=[line], valid_until=made.valid_until)
        saved = save_draft(who, made.pk, made.version, draft, today=today)
        order = order_now(who, saved.pk, saved.version, today=today, now=now, close_deal=False)
        hand_over(who, order.pk, order.version, now=now)
