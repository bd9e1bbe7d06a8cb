"""Series of document numbers."""

from django.db import models


class Series(models.Model):
    """The last number given in a series; the row is locked while the next one is taken."""

    name = models.CharField(max_length=20, primary_key=True)
    last = models.PositiveIntegerField(default=0)
