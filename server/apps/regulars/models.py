"""Where a customer stands on a day, and what is due: made anew at night and after news, for lists."""

from django.db import models

from apps.columns import one_of
from apps.customers.models import Customer

#: What is asked of a person's customers, and the name of its index.
ASKED = {
    "verdict": "verdict",
    "at_limit": "limit",
    "overdue": "overdue",
    "due": "due",
    "stopped_purchases": "stopped",
}


class CustomerDay(models.Model):
    """What lists of customers are narrowed by. ``apps.regulars.days`` alone writes it.

    ``on`` is the day it was made for; None where it is to be made anew. ``due`` is how many items are due
    or late; ``stopped`` those that are not bought any more: item,
    name, last day, how often it was bought, those bought most often first; ``stopped_purchases`` is how often
    the first of them was. ``whose_id`` is the customer's owner, kept by the database as ``apps.regulars.kept``
    declares it, so that what is asked of one's own customers reads no others. What a page shows of a
    customer's standing is computed at that moment, not read here.
    """

    customer = models.OneToOneField(Customer, on_delete=models.CASCADE, related_name="day")
    on = models.DateField(null=True)
    verdict = models.CharField(max_length=7)
    at_limit = models.BooleanField(default=False)
    overdue = models.BooleanField(default=False)
    due = models.PositiveSmallIntegerField(default=0)
    stopped_purchases = models.PositiveIntegerField(default=0)
    stopped = models.JSONField(default=list)
    whose_id = models.PositiveBigIntegerField(default=0, editable=False)

    class Meta:
        indexes = [
            models.Index(fields=["on"], name="customer_day_on"),
            *(
                models.Index(fields=[column, "whose_id", "customer"], name=f"customer_day_{name}")
                for column, name in ASKED.items()
            ),
        ]
        constraints = [
            one_of("verdict", ("clear", "caution", "halt"), "customer_day_verdict_known")
        ]
