"""The passage of orders to the back office, and the news that comes back."""

import uuid

from django.conf import settings
from django.db import models

from apps.columns import exact_quantity_column, one_of
from apps.orders.models import Order, OrderLine

WAITING, UNDER_WAY, TAKEN, HELD, REFUSED = "waiting", "under_way", "taken", "held", "refused"
STATES = (WAITING, UNDER_WAY, TAKEN, HELD, REFUSED)


class Errand(models.Model):
    """Something that is to reach the back office once, however often it is sent: a row of an outbox.

    Written in the transaction that decides it; drained by workers. ``key`` is the idempotency key. A row
    that a worker took (``under_way``) and did not finish is free again after ``leased_until``.
    """

    key = models.UUIDField(default=uuid.uuid4, unique=True, editable=False)
    state = models.CharField(max_length=10, default=WAITING)
    payload = models.JSONField()
    tries = models.PositiveIntegerField(default=0)
    next_try_at = models.DateTimeField()
    leased_until = models.DateTimeField(null=True)
    last_error = models.CharField(max_length=300, blank=True)
    created_at = models.DateTimeField(auto_now_add=True)
    version = models.PositiveIntegerField(default=1)

    class Meta:
        abstract = True


class Handover(Errand):
    """An order's passage: the back office makes one order of it. ``compared`` is the newest comparison that had it."""

    order = models.OneToOneField(Order, on_delete=models.PROTECT, related_name="handover")
    backoffice_number = models.CharField(max_length=30, blank=True)
    taken_at = models.DateTimeField(null=True)
    compared = models.BigIntegerField(default=0)

    class Meta:
        indexes = [models.Index(fields=["state", "next_try_at"])]
        constraints = [one_of("state", STATES, "handover_state_known")]


#: Of a change: the back office has it and has not said anything yet; it has; it would not read it.
ASKED, ANSWERED = "asked", "answered"
OPEN_CHANGES = (WAITING, UNDER_WAY, ASKED)


class OrderChange(Errand):
    """What the buyer changes of an order, line by line, and what the back office says to it.

    ``asked_by`` None: the back office changed it by itself. ``payload`` is the change as it is sent; its lines
    say what they were. ``answer`` has the outcome of each line with its reason. Before an order is handed over,
    a change is done at once. ``noticed_at`` is when somebody of ours has seen the answer.
    """

    order = models.ForeignKey(Order, on_delete=models.PROTECT, related_name="changes")
    asked_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    reason = models.CharField(max_length=200)
    answer = models.JSONField(default=list)
    answered_at = models.DateTimeField(null=True)
    noticed_at = models.DateTimeField(null=True)
    open_order = models.GeneratedField(
        expression=models.Case(models.When(state__in=OPEN_CHANGES, then=models.F("order"))),
        output_field=models.BigIntegerField(null=True),
        db_persist=True,
    )

    class Meta:
        indexes = [
            models.Index(fields=["state", "next_try_at"], name="change_to_send"),
            models.Index(fields=["noticed_at", "state"], name="change_to_notice"),
        ]
        constraints = [
            one_of("state", (*OPEN_CHANGES, ANSWERED, REFUSED), "order_change_state_known"),
            models.UniqueConstraint(fields=["open_order"], name="order_changed_once_at_a_time"),
        ]


class Replenishment(Errand):
    """Goods that are asked for, for a line that is short: in the item's base unit, with what came of it.

    ``receipt`` is the number under which they come, ``due_on`` its day.
    """

    order_line = models.ForeignKey(
        OrderLine, on_delete=models.PROTECT, related_name="replenishments"
    )
    quantity = exact_quantity_column()
    wanted_on = models.DateField(null=True)
    asked_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+"
    )
    receipt = models.CharField(max_length=30, blank=True)
    due_on = models.DateField(null=True)
    said = models.CharField(max_length=300, blank=True)
    answered_at = models.DateTimeField(null=True)
    open_line = models.GeneratedField(
        expression=models.Case(models.When(state__in=OPEN_CHANGES, then=models.F("order_line"))),
        output_field=models.BigIntegerField(null=True),
        db_persist=True,
    )

    class Meta:
        indexes = [models.Index(fields=["state", "next_try_at"], name="replenishment_to_send")]
        constraints = [
            one_of("state", (*OPEN_CHANGES, ANSWERED, REFUSED), "replenishment_state_known"),
            models.UniqueConstraint(fields=["open_line"], name="replenished_once_at_a_time"),
        ]


class SelfHandover(models.Model):
    """An order that hands itself over at a moment, by the house's rule, unless somebody stops it.

    ``held_by`` says why it did not: the rule did not hold any more.
    """

    order = models.OneToOneField(Order, on_delete=models.PROTECT, related_name="self_handover")
    due_at = models.DateTimeField()
    stopped_at = models.DateTimeField(null=True)
    stopped_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    held_by = models.CharField(max_length=40, blank=True)
    done = models.BooleanField(default=False)

    class Meta:
        indexes = [models.Index(fields=["done", "due_at"], name="self_handover_due")]


class Comparison(models.Model):
    """A comparison of both sides' orders: asked for by somebody or by the night, done by a worker in parts.

    ``days`` has by day of acceptance how many orders, what they come to with us and with them by currency, and how
    many differ. ``problem`` is why it could not be done.
    """

    asked_at = models.DateTimeField()
    asked_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    leased_until = models.DateTimeField(null=True)
    finished_at = models.DateTimeField(null=True)
    position = models.BigIntegerField(default=0)
    last = models.BigIntegerField(default=0)
    orders = models.PositiveIntegerField(default=0)
    days = models.JSONField(default=list)
    problem = models.CharField(max_length=20, blank=True)

    class Meta:
        ordering = ["-pk"]


class Difference(models.Model):
    """One thing in which an order, or a line of it, is not the same on both sides."""

    comparison = models.ForeignKey(Comparison, on_delete=models.CASCADE, related_name="differences")
    order = models.ForeignKey(Order, on_delete=models.CASCADE, null=True, related_name="+")
    order_number = models.CharField(max_length=20)
    line = models.PositiveIntegerField(null=True)
    what = models.CharField(max_length=20)
    ours = models.CharField(max_length=40, blank=True)
    theirs = models.CharField(max_length=40, blank=True)

    class Meta:
        ordering = ["pk"]


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
