"""What is to be won, how deals stood, who commits to what."""

from datetime import UTC, datetime

from django.conf import settings
from django.db import models
from django.db.models.functions import Coalesce

from apps.catalogue.models import ItemGroup
from apps.columns import amount_column, percent_column
from apps.deals.models import Deal, Stage
from apps.people.models import Team

#: The end of what still is so.
STILL = datetime(9999, 12, 31, tzinfo=UTC)


class Target(models.Model):
    """What is to be won in a month, in the base currency; ``month`` is its first day.

    By a person, by a team (beside its people's: it stands for theirs), or by a team with the items of one group.
    """

    owner = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="targets"
    )
    team = models.ForeignKey(Team, on_delete=models.PROTECT, null=True, related_name="targets")
    group = models.ForeignKey(ItemGroup, on_delete=models.PROTECT, null=True, related_name="+")
    month = models.DateField()
    amount = amount_column()
    version = models.PositiveIntegerField(default=1)
    #: 0 where it is of all items: two nulls would not be the same to the database.
    of_group = models.GeneratedField(
        expression=Coalesce("group", 0), output_field=models.BigIntegerField(), db_persist=True
    )

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["month", "owner"], name="target_once"),
            models.UniqueConstraint(
                fields=["month", "team", "of_group"], name="target_of_team_once"
            ),
            models.CheckConstraint(
                condition=models.Q(owner__isnull=False, team__isnull=True, group__isnull=True)
                | models.Q(owner__isnull=True, team__isnull=False),
                name="target_is_somebodys",
            ),
            models.CheckConstraint(
                condition=models.Q(amount__gt=0), name="target_is_more_than_nothing"
            ),
            models.CheckConstraint(
                condition=models.Q(month__day=1), name="target_of_a_whole_month"
            ),
        ]


class Snapshot(models.Model):
    """A moment whose state of the deals is kept: that of a night, or one that somebody kept by hand.

    ``night`` is the day on which it was taken by itself; None by hand. ``learnt`` is what earlier deals teach, as
    ``apps.forecast.learning`` counted it then.
    """

    at = models.DateTimeField(unique=True)
    night = models.DateField(null=True, unique=True)
    who = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    note = models.CharField(max_length=80, blank=True)
    learnt = models.JSONField(null=True)


class Seen(models.Model):
    """How a deal stood from one snapshot on (``since``) until another found it changed (``until``).

    A deal that was never open at a snapshot has none; ``own``: whether the probability was the rep's.
    """

    deal = models.ForeignKey(Deal, on_delete=models.CASCADE, related_name="seen")
    since = models.DateTimeField()
    until = models.DateTimeField(default=STILL)
    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    stage = models.ForeignKey(Stage, on_delete=models.PROTECT, related_name="+")
    outcome = models.CharField(max_length=6)
    amount = amount_column()
    probability = percent_column()
    own = models.BooleanField(default=False)
    decision_on = models.DateField()
    confidence = models.CharField(max_length=8)

    class Meta:
        indexes = [
            # What was to be decided on some days, as it stood at a moment.
            models.Index(
                fields=["outcome", "decision_on", "owner", "since", "until"],
                name="seen_by_decision",
            ),
        ]
        constraints = [
            models.UniqueConstraint(fields=["deal", "until"], name="seen_one_way_at_a_time"),
            models.UniqueConstraint(fields=["deal", "since"], name="seen_begins_once"),
            models.CheckConstraint(
                condition=models.Q(until__gt=models.F("since")), name="seen_for_a_while"
            ),
        ]


class Word(models.Model):
    """What somebody says that a person will win in a month; the newest counts, earlier ones stay.

    ``judged``: it is the lead's judgement, with a reason; otherwise what the person commits to.
    ``amount`` None: it was taken back.
    """

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    month = models.DateField()
    judged = models.BooleanField(default=False)
    amount = amount_column(null=True)
    reason = models.CharField(max_length=200, blank=True)
    who = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta:
        indexes = [models.Index(fields=["month", "owner", "judged", "at"], name="word_newest")]
        constraints = [
            models.CheckConstraint(
                condition=models.Q(amount__isnull=True) | models.Q(amount__gte=0),
                name="word_not_negative",
            ),
            models.CheckConstraint(condition=models.Q(month__day=1), name="word_of_a_whole_month"),
        ]
