"""What was done with a customer, and what is still to do."""

from django.conf import settings
from django.db import models

from apps.columns import one_of
from apps.customers.models import Customer
from apps.deals.models import Deal

CALL, VISIT, NOTE, FOLLOW_UP = "call", "visit", "note", "follow_up"
KINDS = (CALL, VISIT, NOTE, FOLLOW_UP)


class Feed(models.Model):
    """The secret address under which a person's follow-ups are read by a calendar; only its hash is kept.

    A new one takes the place of the one before.
    """

    owner = models.OneToOneField(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="feed"
    )
    token_hash = models.CharField(max_length=64, unique=True)
    made_at = models.DateTimeField()
    read_at = models.DateTimeField(null=True)


class Activity(models.Model):
    """A call, visit or note that was made; or a follow-up, due on a day until it is done.

    ``document`` is the number of the quote that a follow-up asks about, where it is one's. A follow-up may be a
    ``visit``, at its ``place`` among those of the day.
    """

    kind = models.CharField(max_length=10)
    customer = models.ForeignKey(Customer, on_delete=models.CASCADE, related_name="activities")
    deal = models.ForeignKey(Deal, on_delete=models.CASCADE, null=True, related_name="activities")
    owner = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="activities"
    )
    text = models.CharField(max_length=1000)
    document = models.CharField(max_length=20, blank=True)
    due_on = models.DateField(null=True)
    done_at = models.DateTimeField(null=True)
    visit = models.BooleanField(default=False)
    place = models.PositiveSmallIntegerField(default=0)
    created_at = models.DateTimeField(auto_now_add=True)
    version = models.PositiveIntegerField(default=1)

    class Meta:
        ordering = ["-created_at", "-pk"]
        indexes = [
            models.Index(fields=["owner", "kind", "done_at", "due_on"]),
            models.Index(fields=["document"]),
        ]
        constraints = [
            one_of("kind", KINDS, "activity_kind_known"),
            models.CheckConstraint(
                condition=~models.Q(kind=FOLLOW_UP) | models.Q(due_on__isnull=False),
                name="follow_up_has_a_day",
            ),
        ]
