"""The passage of orders to the back office, and the news that comes back."""

import uuid

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


class BackOfficeEvent(models.Model):
    """One piece of news about an order; kept once, whatever the order of arrival.

    ``applied`` is false while it waits for an earlier one (a payment for an invoice to come).
    """

    event_id = models.UUIDField(unique=True)
    key = models.UUIDField()
    kind = models.CharField(max_length=20)
    occurred_at = models.DateTimeField()
    data = models.JSONField(default=dict)
    received_at = models.DateTimeField(auto_now_add=True)
    applied = models.BooleanField(default=False)
    problem = models.CharField(max_length=200, blank=True)

    class Meta:
        indexes = [models.Index(fields=["key", "applied"])]


class FeedPosition(models.Model):
    """How far the back office's news has been read, and when it was last asked for."""

    feed = models.CharField(max_length=20, primary_key=True)
    position = models.BigIntegerField(default=0)
    read_at = models.DateTimeField(null=True)


class WorkerBeat(models.Model):
    """When a worker last went round."""

    name = models.CharField(max_length=60, primary_key=True)
    at = models.DateTimeField()
