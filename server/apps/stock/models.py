"""What lies in the depots, what comes, and who has it already: as the back office tells it.

Nothing here is set by a person of ours. ``apps.stock.intake`` writes it from the back office's changes.
"""

from django.conf import settings
from django.db import models

from apps.catalogue.models import Item
from apps.columns import exact_quantity_column, one_of, positive


class Depot(models.Model):
    """A place that goods leave from. Days of transit are working days, to a buyer at home or abroad.

    ``region`` is the subdivision of ISO 3166-2, without the country, by which its holidays go.
    """

    code = models.CharField(max_length=20, unique=True)
    name = models.CharField(max_length=60)
    country = models.CharField(max_length=2)
    region = models.CharField(max_length=6, blank=True)
    transit_days = models.PositiveSmallIntegerField(default=1)
    transit_days_abroad = models.PositiveSmallIntegerField(default=4)
    change = models.BigIntegerField(default=0)

    class Meta:
        ordering = ["pk"]

    def __str__(self) -> str:
        return self.name


class Level(models.Model):
    """An item in a depot, in its base unit. ``on_hand`` is below zero where more left than was booked in.

    ``lead_days`` is how long it takes to have it again, in working days; None where it cannot be had.
    ``told_at`` is when the back office counted, ``change`` its number for this state.
    """

    item = models.ForeignKey(Item, on_delete=models.PROTECT, related_name="levels")
    depot = models.ForeignKey(Depot, on_delete=models.PROTECT, related_name="levels")
    on_hand = exact_quantity_column(default=0)
    lead_days = models.PositiveSmallIntegerField(null=True)
    minimum = exact_quantity_column(null=True)
    told_at = models.DateTimeField()
    change = models.BigIntegerField(default=0)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["item", "depot"], name="level_once")]


class Receipt(models.Model):
    """Goods that are planned to come in; ``sure`` where the supplier confirmed them."""

    level = models.ForeignKey(Level, on_delete=models.CASCADE, related_name="receipts")
    number = models.CharField(max_length=30)
    on = models.DateField()
    quantity = exact_quantity_column()
    sure = models.BooleanField(default=False)

    class Meta:
        ordering = ["on", "pk"]
        constraints = [
            positive("quantity", "receipt_quantity_positive"),
            models.UniqueConstraint(fields=["level", "number"], name="receipt_once"),
        ]


class Reservation(models.Model):
    """What the back office keeps for an order; ``order_number`` is ours, where it is one of ours."""

    level = models.ForeignKey(Level, on_delete=models.CASCADE, related_name="reservations")
    reference = models.CharField(max_length=30)
    order_number = models.CharField(max_length=20, blank=True)
    quantity = exact_quantity_column()
    by = models.DateField()

    class Meta:
        ordering = ["by", "pk"]
        indexes = [models.Index(fields=["order_number"], name="reservation_by_order")]
        constraints = [positive("quantity", "reservation_positive")]


class Reported(models.Model):
    """An order of ours that the back office has kept an item for: from then on it counts it, not we.

    Also once its reservation is gone: the goods have left, though our order may not have heard of it.
    """

    order_number = models.CharField(max_length=20)
    item = models.ForeignKey(Item, on_delete=models.CASCADE, related_name="+")

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["order_number", "item"], name="reported_once")
        ]


class Substitute(models.Model):
    """An item that can take another's place: so many of its base units for one of the other's."""

    item = models.ForeignKey(Item, on_delete=models.CASCADE, related_name="substitutes")
    instead = models.ForeignKey(Item, on_delete=models.CASCADE, related_name="+")
    factor = exact_quantity_column(default=1)

    class Meta:
        ordering = ["item_id", "pk"]
        constraints = [
            positive("factor", "substitute_factor_positive"),
            models.UniqueConstraint(fields=["item", "instead"], name="substitute_once"),
            models.CheckConstraint(
                condition=~models.Q(item=models.F("instead")), name="substitute_is_another"
            ),
        ]


APART, LET_GO, TAKEN_IN = "apart", "let_go", "taken_in"


class SetAside(models.Model):
    """A change that cannot be taken in, as it came, with the reason in ``facts``.

    ``kind`` and ``ref`` name what it is about, where that can be read. A newer change of the same thing
    settles it.
    """

    kind = models.CharField(max_length=20, blank=True)
    ref = models.CharField(max_length=80, blank=True)
    raw = models.TextField()
    mark = models.CharField(max_length=64, unique=True)
    facts = models.JSONField(default=dict)
    received_at = models.DateTimeField(auto_now_add=True)
    state = models.CharField(max_length=8, default=APART)
    settled_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    settled_at = models.DateTimeField(null=True)
    version = models.PositiveIntegerField(default=1)

    class Meta:
        indexes = [models.Index(fields=["state", "id"], name="aside_by_state")]
        constraints = [one_of("state", (APART, LET_GO, TAKEN_IN), "aside_state_known")]


class ChangeFeed(models.Model):
    """How far the back office's changes have been taken in; ``epoch`` names its count."""

    name = models.CharField(max_length=20, primary_key=True)
    position = models.BigIntegerField(default=0)
    epoch = models.CharField(max_length=40, blank=True)
    last = models.BigIntegerField(default=0)
    read_at = models.DateTimeField(null=True)
    problem = models.CharField(max_length=20, blank=True)
    failing_since = models.DateTimeField(null=True)
    resync_from = models.DateTimeField(null=True)
