"""What is planned of a framework agreement, and where it stands on a day."""

from django.db import models

from apps.columns import exact_quantity_column, one_of, positive, quantity_column
from apps.prices.models import Agreement

STATES = ("coming", "behind", "even", "ahead", "used", "over")


class CallOffPlan(models.Model):
    """The days on which an agreement is to be called off; ``notice_days`` before each it is told."""

    agreement = models.OneToOneField(Agreement, on_delete=models.CASCADE, related_name="plan")
    notice_days = models.PositiveSmallIntegerField(default=7)
    version = models.PositiveIntegerField(default=1)


class PlannedCallOff(models.Model):
    """So much by a day; in what the agreement commits to: its unit, or its currency."""

    plan = models.ForeignKey(CallOffPlan, on_delete=models.CASCADE, related_name="rows")
    on = models.DateField()
    quantity = quantity_column()

    class Meta:
        ordering = ["on"]
        constraints = [
            positive("quantity", "planned_call_off_positive"),
            models.UniqueConstraint(fields=["plan", "on"], name="planned_call_off_once"),
        ]


class AgreementDay(models.Model):
    """Where an agreement stands, for Today and lists. ``apps.calloffs.days`` alone writes it.

    ``on`` is the day it was made for; None where it is to be made anew. ``called_off`` (base units) is kept by
    the database as ``apps.calloffs.kept`` declares it, ``judged`` what it was when it was judged: where they
    differ it is to be made anew as well, and where the agreement has another ``of_version``. ``misses`` where less
    will be called off than was committed. ``due_on`` is the first planned call-off that is not filled,
    ``tell_on`` the day from which that is told.
    """

    agreement = models.OneToOneField(Agreement, on_delete=models.CASCADE, related_name="day")
    on = models.DateField(null=True)
    state = models.CharField(max_length=6)
    misses = models.BooleanField(default=False)
    due_on = models.DateField(null=True)
    tell_on = models.DateField(null=True)
    called_off = exact_quantity_column(default=0, editable=False)
    judged = exact_quantity_column(default=0)
    of_version = models.PositiveIntegerField(default=0)

    class Meta:
        indexes = [
            models.Index(fields=["on"], name="agreement_day_on"),
            models.Index(fields=["tell_on"], name="agreement_day_tells"),
            models.Index(fields=["state"], name="agreement_day_state"),
            models.Index(fields=["misses"], name="agreement_day_misses"),
        ]
        constraints = [one_of("state", STATES, "agreement_day_state_known")]
