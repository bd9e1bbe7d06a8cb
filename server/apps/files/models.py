"""Files beside records. Their content lies in the files' folder under its digest, outside what the web server serves."""

from django.conf import settings
from django.db import models

from apps.customers.models import Customer
from apps.deals.models import Deal
from apps.diary.models import Activity
from apps.orders.models import Order
from apps.quotes.models import Revision

PLACES = ("customer", "deal", "revision", "order", "activity")


def _in_one_place() -> models.Q:
    """A file belongs to one record."""
    found = models.Q(pk__in=[])
    for place in PLACES:
        found |= models.Q(**{f"{other}__isnull": other != place for other in PLACES})
    return found


class KeptFile(models.Model):
    """A file of one record; with a ``line_key``, of a line of its quote.

    ``with_paper``: the buyer gets it too. A file of an issued revision stays as it is. ``removed_at`` is when it was
    taken away; its content stays, so that this can be taken back.
    """

    name = models.CharField(max_length=120)
    media_type = models.CharField(max_length=80)
    size = models.PositiveIntegerField()
    digest = models.CharField(max_length=64)
    customer = models.ForeignKey(
        Customer, on_delete=models.PROTECT, null=True, related_name="files"
    )
    deal = models.ForeignKey(Deal, on_delete=models.CASCADE, null=True, related_name="files")
    revision = models.ForeignKey(
        Revision, on_delete=models.CASCADE, null=True, related_name="files"
    )
    order = models.ForeignKey(Order, on_delete=models.CASCADE, null=True, related_name="files")
    activity = models.ForeignKey(
        Activity, on_delete=models.CASCADE, null=True, related_name="files"
    )
    line_key = models.CharField(max_length=36, blank=True)
    with_paper = models.BooleanField(default=False)
    added_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+"
    )
    added_at = models.DateTimeField()
    removed_at = models.DateTimeField(null=True)
    version = models.PositiveIntegerField(default=1)

    class Meta:
        ordering = ["pk"]
        constraints = [
            models.CheckConstraint(condition=_in_one_place(), name="kept_file_in_one_place")
        ]
