"""The record of who changed what."""

from django.conf import settings
from django.db import models


class Change(models.Model):
    """One change of one field; never changed or deleted afterwards (a trigger refuses it)."""

    at = models.DateTimeField(auto_now_add=True)
    who = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True)
    what = models.CharField(max_length=20)
    record = models.BigIntegerField()
    field = models.CharField(max_length=80)
    before = models.CharField(max_length=300, blank=True)
    after = models.CharField(max_length=300, blank=True)
    reason = models.CharField(max_length=200, blank=True)

    class Meta:
        indexes = [models.Index(fields=["what", "record", "at"])]
