"""Orders that repeat, what each is for, and what became of each of their days."""

from django.conf import settings
from django.db import models

from apps.catalogue.models import Item
from apps.columns import positive, quantity_column
from apps.customers.models import Address, Customer
from apps.quotes.models import Quote


class StandingOrder(models.Model):
    """What a customer wants again and again. Nothing is ordered by it: it asks before each of its days.

    ``rule`` is a repetition in RFC 5545's notation (``routecore.repeat``), counted from ``begins``; ``ends``
    None goes on. ``next_on`` is the first of its days that nobody has answered, ``ask_on`` the day on
    which it is asked: ``notice_days`` before; both None where there is none left, or once it has ended.
    """

    customer = models.ForeignKey(Customer, on_delete=models.PROTECT, related_name="standing_orders")
    title = models.CharField(max_length=80)
    rule = models.CharField(max_length=120)
    begins = models.DateField()
    ends = models.DateField(null=True)
    notice_days = models.PositiveSmallIntegerField(default=7)
    buyer_reference = models.CharField(max_length=60, blank=True)
    delivery_address = models.ForeignKey(
        Address, on_delete=models.SET_NULL, null=True, related_name="+"
    )
    next_on = models.DateField(null=True)
    ask_on = models.DateField(null=True)
    made_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+"
    )
    made_at = models.DateTimeField(auto_now_add=True)
    ended_at = models.DateTimeField(null=True)
    version = models.PositiveIntegerField(default=1)

    class Meta:
        constraints = [
            models.CheckConstraint(
                condition=models.Q(ends__isnull=True) | models.Q(ends__gte=models.F("begins")),
                name="standing_order_dates_in_order",
            )
        ]
        indexes = [models.Index(fields=["ask_on"], name="standing_order_asks")]


class StandingLine(models.Model):
    """So much of an item, each time."""

    standing_order = models.ForeignKey(
        StandingOrder, on_delete=models.CASCADE, related_name="lines"
    )
    position = models.PositiveSmallIntegerField()
    item = models.ForeignKey(Item, on_delete=models.PROTECT, related_name="+")
    quantity = quantity_column()
    unit = models.CharField(max_length=3)

    class Meta:
        ordering = ["position"]
        constraints = [
            positive("quantity", "standing_line_quantity_positive"),
            models.UniqueConstraint(
                fields=["standing_order", "position"], name="standing_line_position_once"
            ),
        ]


class StandingTurn(models.Model):
    """What became of a day: the quote that was begun for it, or that it was left out, and why.

    Each day is answered once: two people who answer at a time make one. A day whose draft was thrown away
    (no quote, not left out) is asked again.
    """

    standing_order = models.ForeignKey(
        StandingOrder, on_delete=models.CASCADE, related_name="turns"
    )
    on = models.DateField()
    quote = models.OneToOneField(
        Quote, on_delete=models.SET_NULL, null=True, related_name="standing_turn"
    )
    left_out = models.BooleanField(default=False)
    answered_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+"
    )
    answered_at = models.DateTimeField()
    reason = models.CharField(max_length=200, blank=True)

    class Meta:
        ordering = ["-on"]
        constraints = [
            models.UniqueConstraint(fields=["standing_order", "on"], name="standing_turn_once")
        ]
