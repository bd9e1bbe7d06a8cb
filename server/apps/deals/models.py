"""Deals and the stages they pass."""

from decimal import Decimal

from django.conf import settings
from django.db import models
from django.db.models.functions import Coalesce

from apps.catalogue.models import Item
from apps.columns import amount_column, one_of, percent_column, quantity_column, sorting
from apps.customers.models import Contact, Customer

SURE, LIKELY, STRETCH = "sure", "likely", "stretch"
OPEN, WON, LOST, PARKED = "open", "won", "lost", "parked"
QUOTED_STAGE = "quoted"
#: What a stage asks of the deals that stand in it: an issued quote, a person who decides, or nothing.
QUOTE, DECIDER = "quote", "decider"


class Stage(models.Model):
    """A stage of the pipeline, its default probability, and what it asks of its deals.

    A retired stage is entered no more; the deals that stand on it stay until they are moved.
    """

    code = models.CharField(max_length=12, unique=True)
    name = models.CharField(max_length=30)
    position = models.PositiveSmallIntegerField(unique=True)
    probability_percent = percent_column()
    outcome = models.CharField(max_length=6, default=OPEN)
    asks = models.CharField(max_length=8, blank=True)
    retired = models.BooleanField(default=False)

    class Meta:
        ordering = ["position"]
        constraints = [
            one_of("outcome", (OPEN, WON, LOST, PARKED), "stage_outcome_known"),
            one_of("asks", ("", QUOTE, DECIDER), "stage_asks_known"),
            models.CheckConstraint(
                condition=models.Q(probability_percent__gte=0)
                & models.Q(probability_percent__lte=100),
                name="stage_probability_in_range",
            ),
        ]


class Reason(models.Model):
    """Why deals are won, lost or parked: a list that the house keeps. A retired one is chosen no more."""

    outcome = models.CharField(max_length=6)
    name = models.CharField(max_length=60)
    position = models.PositiveSmallIntegerField(default=0)
    retired = models.BooleanField(default=False)

    class Meta:
        ordering = ["outcome", "position", "pk"]
        constraints = [
            one_of("outcome", (WON, LOST, PARKED), "reason_outcome_known"),
            models.UniqueConstraint(fields=["outcome", "name"], name="reason_once"),
        ]


class DealQuerySet(models.QuerySet["Deal"]):
    """Deals by what became of them."""

    def open(self) -> "DealQuerySet":
        """Deals that are neither won nor lost nor parked."""
        return self.filter(outcome=OPEN)


class Deal(models.Model):
    """A sale in the making. Amounts are in the base currency.

    ``amount`` is the current quote's net, else the estimate. ``rivals`` are named by the rep; ``reason``, ``reason_note``
    and, for a lost one, ``lost_to`` say why it is closed. From ``probability`` (the deal's own,
    else its stage's) on, what is kept by the database, as ``apps.deals.kept`` declares it.
    """

    title = models.CharField(max_length=120)
    customer = models.ForeignKey(Customer, on_delete=models.PROTECT, related_name="deals")
    contact = models.ForeignKey(Contact, on_delete=models.SET_NULL, null=True)
    owner = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="deals"
    )
    stage = models.ForeignKey(Stage, on_delete=models.PROTECT, related_name="deals")
    estimate = amount_column(default=Decimal(0))
    quoted_amount = amount_column(null=True)
    decision_on = models.DateField()
    own_probability_percent = percent_column(null=True)
    probability_reason = models.CharField(max_length=200, blank=True)
    confidence = models.CharField(max_length=8, default=LIKELY)
    created_at = models.DateTimeField(auto_now_add=True)
    closed_at = models.DateTimeField(null=True)
    needs = models.CharField(max_length=1000, blank=True)
    rivals = models.CharField(max_length=200, blank=True)
    reason = models.ForeignKey(Reason, on_delete=models.PROTECT, null=True, related_name="deals")
    reason_note = models.CharField(max_length=200, blank=True)
    lost_to = models.CharField(max_length=80, blank=True)
    version = models.PositiveIntegerField(default=1)
    amount = models.GeneratedField(
        expression=Coalesce("quoted_amount", "estimate"),
        output_field=amount_column(),
        db_persist=True,
    )
    probability = percent_column(default=0, editable=False)
    outcome = models.CharField(max_length=6, default=OPEN, editable=False)
    lacks = models.CharField(max_length=8, default="", editable=False)
    customer_name = models.CharField(max_length=120, default="", editable=False)
    owner_name = models.CharField(max_length=150, default="", editable=False)
    stage_position = models.PositiveSmallIntegerField(default=0, editable=False)

    objects = DealQuerySet.as_manager()

    class Meta:
        indexes = [
            models.Index(fields=["owner", "decision_on"]),
            models.Index(
                fields=[
                    *("outcome", "owner", "decision_on", "stage"),
                    *("confidence", "probability", "amount"),
                ],
                name="deal_for_the_forecast",
            ),
            # Of all days, with the amount: those above one are found on the way.
            models.Index(fields=["decision_on", "id", "owner", "amount"], name="deal_by_day"),
            # What is open lies at the end of all days: a list of it begins there, and narrows on the way.
            models.Index(
                fields=["outcome", "decision_on", "id", "owner", "confidence", "amount"],
                name="deal_by_outcome_and_day",
            ),
            models.Index(fields=["outcome", "closed_at", "owner", "amount"], name="deal_by_end"),
            models.Index(
                fields=["lacks", "owner", "decision_on", "outcome", "closed_at"],
                name="deal_by_what_it_lacks",
            ),
            *(
                sorting(column, f"deal_by_{column}")
                for column in (
                    *("amount", "customer_name", "title"),
                    *("owner_name", "stage_position", "probability"),
                )
            ),
        ]
        constraints = [
            one_of("confidence", (SURE, LIKELY, STRETCH), "deal_confidence_known"),
            models.CheckConstraint(
                condition=models.Q(estimate__gte=0), name="deal_estimate_not_negative"
            ),
            models.CheckConstraint(
                condition=models.Q(own_probability_percent__isnull=True)
                | models.Q(own_probability_percent__range=(0, 100)),
                name="deal_probability_in_range",
            ),
        ]


class Helper(models.Model):
    """Somebody of a deal's team beside its owner: reads it, notes what was done, adds files. ``part``: what they do."""

    deal = models.ForeignKey(Deal, on_delete=models.CASCADE, related_name="helpers")
    person = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="helps"
    )
    part = models.CharField(max_length=60, blank=True)

    class Meta:
        ordering = ["deal_id", "pk"]
        constraints = [models.UniqueConstraint(fields=["deal", "person"], name="helper_once")]


class Interest(models.Model):
    """An item that a deal may be about, before there is a quote: ``net`` in the base currency, as the price rules had
    it on ``priced_on``."""

    deal = models.ForeignKey(Deal, on_delete=models.CASCADE, related_name="interests")
    position = models.PositiveSmallIntegerField()
    item = models.ForeignKey(Item, on_delete=models.PROTECT, related_name="+")
    quantity = quantity_column()
    unit = models.CharField(max_length=3)
    net = amount_column()
    priced_on = models.DateField()

    class Meta:
        ordering = ["deal_id", "position"]
        constraints = [
            models.CheckConstraint(
                condition=models.Q(quantity__gt=0), name="interest_quantity_positive"
            )
        ]
