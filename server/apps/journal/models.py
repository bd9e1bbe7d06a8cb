"""The record of who changed what, and of who came in, was refused, took data out."""

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


class AuditLine(models.Model):
    """What happened at the house's door; never changed or deleted afterwards (a trigger refuses it).

    ``what`` is one of ``AUDITED``; ``name`` is the name as it was typed, ``who`` the person where one
    was known; ``address`` is the caller's.
    """

    at = models.DateTimeField(auto_now_add=True)
    who = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    what = models.CharField(max_length=20)
    name = models.CharField(max_length=150, blank=True)
    address = models.CharField(max_length=45, blank=True)
    detail = models.CharField(max_length=300, blank=True)

    class Meta:
        indexes = [
            models.Index(fields=["what", "name", "at"]),
            models.Index(fields=["what", "address", "at"]),
        ]


class Made(models.Model):
    """What was answered to a request that made something, for whoever asks again with its key.

    ``mark`` is of the request's path and content. Forgotten after ``apps.journal.flows.REMEMBERED``.
    """

    who = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="+")
    key = models.CharField(max_length=64)
    mark = models.CharField(max_length=64)
    at = models.DateTimeField(db_index=True)
    status = models.PositiveSmallIntegerField(default=0)
    answer = models.TextField(blank=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["who", "key"], name="made_once")]


#: What is audited.
AUDITED = (
    *("signed_in", "sign_in_failed", "sign_in_held", "signed_out", "password_changed"),
    *("visits_ended", "refused", "exported", "link_missed"),
)
