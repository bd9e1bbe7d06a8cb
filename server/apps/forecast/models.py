"""What is to be won."""

from django.conf import settings
from django.db import models

from apps.columns import amount_column


class Target(models.Model):
    """What somebody is to win in a month, in the base currency; ``month`` is its first day."""

    owner = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="targets"
    )
    month = models.DateField()
    amount = amount_column()
    version = models.PositiveIntegerField(default=1)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["month", "owner"], name="target_once"),
            models.CheckConstraint(
                condition=models.Q(amount__gt=0), name="target_is_more_than_nothing"
            ),
            models.CheckConstraint(
                condition=models.Q(month__day=1), name="target_of_a_whole_month"
            ),
        ]
