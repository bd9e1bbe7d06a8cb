"""A quote's address for its buyer, and what the buyer said there."""

from django.conf import settings
from django.db import models

from apps.columns import amount_column, one_of
from apps.orders.models import Order
from apps.quotes.models import Revision

ACCEPTS, ASKS = "accepts", "asks"
NEW, TAKEN, DECLINED = "new", "taken", "declined"


class BuyerLink(models.Model):
    """An address under which one issued revision is read; of its token only the hash is kept.

    Another one for the revision takes the place of the one before. ``quantities``: whether the buyer may change them.
    """

    revision = models.ForeignKey(Revision, on_delete=models.CASCADE, related_name="links")
    token_hash = models.CharField(max_length=64, unique=True)
    quantities = models.BooleanField(default=False)
    made_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+"
    )
    made_at = models.DateTimeField()
    revoked_at = models.DateTimeField(null=True)
    opened = models.PositiveIntegerField(default=0)
    opened_first = models.DateTimeField(null=True)
    opened_last = models.DateTimeField(null=True)
    live_revision = models.GeneratedField(
        expression=models.Case(models.When(revoked_at=None, then=models.F("revision"))),
        output_field=models.BigIntegerField(null=True),
        db_persist=True,
    )

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["live_revision"], name="buyer_link_one_lives")
        ]


class BuyerAnswer(models.Model):
    """What the buyer said: yes, to these lines and this total, or what should be otherwise.

    ``lines`` are key and quantity, as text; ``mark`` is of the plan that was seen. ``order`` is what became of a yes.
    """

    link = models.ForeignKey(BuyerLink, on_delete=models.PROTECT, related_name="answers")
    kind = models.CharField(max_length=7)
    name = models.CharField(max_length=80)
    reference = models.CharField(max_length=60, blank=True)
    words = models.CharField(max_length=1000, blank=True)
    lines = models.JSONField(default=list)
    mark = models.CharField(max_length=64, blank=True)
    payable = amount_column(null=True)
    at = models.DateTimeField()
    address = models.CharField(max_length=45)
    state = models.CharField(max_length=8, default=NEW)
    decided_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    decided_at = models.DateTimeField(null=True)
    reply = models.CharField(max_length=500, blank=True)
    order = models.ForeignKey(Order, on_delete=models.PROTECT, null=True, related_name="+")
    open_link = models.GeneratedField(
        expression=models.Case(models.When(state=NEW, kind=ACCEPTS, then=models.F("link"))),
        output_field=models.BigIntegerField(null=True),
        db_persist=True,
    )

    class Meta:
        indexes = [models.Index(fields=["state"], name="buyer_answer_new")]
        constraints = [
            one_of("kind", (ACCEPTS, ASKS), "buyer_answer_kind_known"),
            one_of("state", (NEW, TAKEN, DECLINED), "buyer_answer_state_known"),
            models.UniqueConstraint(fields=["open_link"], name="buyer_accepts_once"),
        ]
