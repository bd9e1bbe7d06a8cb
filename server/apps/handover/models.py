"""The passage of orders to the back office, and the news that comes back."""

import uuid

from django.conf import settings
from django.db import models

from apps.columns import one_of
from apps.orders.models import Order

WAITING, UNDER_WAY, TAKEN, HELD, REFUSED = "waiting", "under_way", "taken", "held", "refused"
STATES = (WAITING, UNDER_WAY, TAKEN, HELD, REFUSED)


class Handover(models.Model):
    """An order's entry in the outbox.

    Written in the transaction that hands the order over; drained by workers. ``key`` is the
    idempotency key: the back office makes one order of it, however often it is sent. A row that a
    worker took (``under_way``) and did not finish is free again after ``leased_until``.
    """

    order = models.OneToOneField(Order, on_delete=models.PROTECT, related_name="handover")
    key = models.UUIDField(default=uuid.uuid4, unique=True, editable=False)
    state = models.CharField(max_length=10, default=WAITING)
    payload = models.JSONField()
    tries = models.PositiveIntegerField(default=0)
    next_try_at = models.DateTimeField()
    leased_until = models.DateTimeField(null=True)
    last_error = models.CharField(max_length=300, blank=True)
    backoffice_number = models.CharField(max_length=30, blank=True)
    created_at = models.DateTimeField(auto_now_add=True)
    taken_at = models.DateTimeField(null=True)
    version = models.PositiveIntegerField(default=1)

    class Meta:
        indexes = [models.Index(fields=["state", "next_try_at"])]
        constraints = [one_of("state", STATES, "handover_state_known")]


#: Of an event: it waits for an earlier one, it is applied, it is set apart, somebody let it go.
EXPECTANT, APPLIED, APART, LET_GO = "waiting", "applied", "apart", "let_go"
EVENT_STATES = (EXPECTANT, APPLIED, APART, LET_GO)


class BackOfficeEvent(models.Model):
    """One piece of news; kept once, whatever the order of arrival.

    What cannot be read, or does not add up with what is known, is set apart: ``facts`` say why, in
    the words of ``news``; people try it again or let it go. What has no readable id, key or moment
    has none here either; ``raw`` is the event as it came, ``mark`` tells one such from another.
    """

    event_id = models.UUIDField(unique=True, null=True)
    key = models.UUIDField(null=True)
    kind = models.CharField(max_length=20, blank=True)
    occurred_at = models.DateTimeField(null=True)
    data = models.JSONField(default=dict)
    raw = models.TextField(blank=True)
    mark = models.CharField(max_length=64, unique=True, null=True)
    received_at = models.DateTimeField(auto_now_add=True)
    state = models.CharField(max_length=7, default=EXPECTANT)
    facts = models.JSONField(default=dict)
    settled_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    settled_at = models.DateTimeField(null=True)
    version = models.PositiveIntegerField(default=1)

    class Meta:
        indexes = [models.Index(fields=["key", "state"]), models.Index(fields=["state", "id"])]
        constraints = [one_of("state", EVENT_STATES, "event_state_known")]


class FeedPosition(models.Model):
    """How far the back office's news has been read, and when it was last asked for.

    ``epoch`` is the feed's own count: with another one it began anew. ``looked_back_at`` is when a
    stretch before the position was read again, for what came late. ``problem`` says why there is no
    news, since ``failing_since``.
    """

    feed = models.CharField(max_length=20, primary_key=True)
    position = models.BigIntegerField(default=0)
    epoch = models.CharField(max_length=40, blank=True)
    read_at = models.DateTimeField(null=True)
    looked_back_at = models.DateTimeField(null=True)
    problem = models.CharField(max_length=20, blank=True)
    status = models.PositiveSmallIntegerField(default=0)
    failing_since = models.DateTimeField(null=True)


class WorkerBeat(models.Model):
    """When a worker last went round."""

    name = models.CharField(max_length=60, primary_key=True)
    at = models.DateTimeField()
