"""What was done with a customer, and what is still to do."""

from django.conf import settings
from django.db import models
from django.utils import timezone

from apps.columns import one_of
from apps.customers.models import Contact, Customer
from apps.deals.models import Deal

CALL, VISIT, NOTE, FOLLOW_UP = "call", "visit", "note", "follow_up"
KINDS = (CALL, VISIT, NOTE, FOLLOW_UP)
#: The documents that something is noted at.
QUOTE, ORDER, INVOICE = "quote", "order", "invoice"
DOCUMENTS = (QUOTE, ORDER, INVOICE)


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

    ``day``: where it stands in the diary, the day of a call, the day on which a follow-up is due. ``starts``: by the
    house's clock. ``asked_by``: the colleague who gave it to its owner. ``about`` (a quote, an order, an invoice) with its
    key ``record`` and its number ``document``: where it was noted, beside customer and deal; ``asks``: a follow-up that
    is done once the quote is answered. A follow-up may be a ``visit``, at its ``place`` among those of the day.
    ``mark``: the digest of what another calendar calls it, from which it was read.
    """

    kind = models.CharField(max_length=10)
    customer = models.ForeignKey(Customer, on_delete=models.CASCADE, related_name="activities")
    deal = models.ForeignKey(Deal, on_delete=models.CASCADE, null=True, related_name="activities")
    owner = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="activities"
    )
    contact = models.ForeignKey(Contact, on_delete=models.SET_NULL, null=True, related_name="+")
    asked_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    text = models.CharField(max_length=1000)
    day = models.DateField(default=timezone.localdate)
    starts = models.TimeField(null=True)
    minutes = models.PositiveSmallIntegerField(null=True)
    where = models.CharField(max_length=160, blank=True)
    mark = models.CharField(max_length=64, null=True)
    about = models.CharField(max_length=8, blank=True)
    record = models.PositiveBigIntegerField(null=True)
    document = models.CharField(max_length=30, blank=True)
    asks = models.BooleanField(default=False)
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
            models.Index(fields=["record", "about"], name="diary_of_document"),
            models.Index(fields=["owner", "day"], name="diary_by_owner"),
            models.Index(fields=["day"], name="diary_by_day"),
            models.Index(fields=["customer", "day"], name="diary_of_customer"),
        ]
        constraints = [
            one_of("kind", KINDS, "activity_kind_known"),
            one_of("about", ("", *DOCUMENTS), "activity_about_known"),
            models.CheckConstraint(
                condition=models.Q(about="") | models.Q(record__isnull=False),
                name="document_has_its_key",
            ),
            models.CheckConstraint(
                condition=~models.Q(kind=FOLLOW_UP) | models.Q(due_on__isnull=False),
                name="follow_up_has_a_day",
            ),
            models.CheckConstraint(
                condition=models.Q(due_on__isnull=True) | models.Q(due_on=models.F("day")),
                name="due_where_it_stands",
            ),
            models.UniqueConstraint(fields=["owner", "mark"], name="read_from_a_calendar_once"),
        ]


#: Named in it; what became of something that was asked for.
MENTIONED, WAS_DONE, WAS_MOVED, HANDED_BACK = "mentioned", "done", "moved", "back"
TOLD = (MENTIONED, WAS_DONE, WAS_MOVED, HANDED_BACK)


class Told(models.Model):
    """What ``who`` lets a colleague know of an activity, with a word; it stands on their Today until it is seen."""

    activity = models.ForeignKey(Activity, on_delete=models.CASCADE, related_name="told")
    who = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    to = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    what = models.CharField(max_length=10)
    word = models.CharField(max_length=200, blank=True)
    at = models.DateTimeField()
    seen_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["-at", "-pk"]
        indexes = [models.Index(fields=["to", "seen_at"], name="diary_told")]
        constraints = [one_of("what", TOLD, "told_what_known")]


#: What is said to an invitation (RFC 5545, PARTSTAT); nothing yet.
ACCEPTED, DECLINED, TENTATIVE = "accepted", "declined", "tentative"
ANSWERS = ("", ACCEPTED, DECLINED, TENTATIVE)


class Invited(models.Model):
    """Somebody who was invited to a visit by mail, and what they said to it. ``sequence``: of the newest invitation
    (RFC 5545, SEQUENCE): an answer to one before says nothing."""

    activity = models.ForeignKey(Activity, on_delete=models.CASCADE, related_name="invited")
    name = models.CharField(max_length=120, blank=True)
    address = models.CharField(max_length=254)
    at = models.DateTimeField()
    sequence = models.PositiveIntegerField(default=0)
    says = models.CharField(max_length=10, blank=True)
    said_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["pk"]
        constraints = [
            models.UniqueConstraint(fields=["activity", "address"], name="invited_once"),
            one_of("says", ANSWERS, "invited_says_known"),
        ]
