"""People and teams."""

from django.contrib.auth.models import AbstractUser
from django.db import models
from django.utils.functional import cached_property

from apps.columns import one_of

REP, LEAD, CLERK, ADMIN = "rep", "lead", "clerk", "admin"
ROLES = (REP, LEAD, CLERK, ADMIN)


class Team(models.Model):
    """Reps and their lead."""

    name = models.CharField(max_length=80, unique=True)

    def __str__(self) -> str:
        return self.name


#: How a person reads numbers and days: the house's way, with a decimal comma, with a decimal point
#: and the day first, or the month first.
FORMATS = HOUSE, COMMA, POINT, MONTH_FIRST = "house", "comma", "point", "month"


class User(AbstractUser):
    """A person who signs in. The role says what they may do, the team whose records they see."""

    role = models.CharField(max_length=8, default=REP)
    team = models.ForeignKey(Team, on_delete=models.PROTECT, null=True, related_name="people")
    may_see_margin = models.BooleanField(default=False)
    may_replenish = models.BooleanField(default=False)
    number_format = models.CharField(max_length=8, default=HOUSE)

    class Meta(AbstractUser.Meta):
        constraints = [
            one_of("role", ROLES, "people_role_known"),
            one_of("number_format", FORMATS, "people_format_known"),
        ]

    @property
    def name(self) -> str:
        """The name as people say it."""
        return self.get_full_name() or self.username

    @cached_property
    def team_members(self) -> list[int]:
        """The keys of everybody in this person's team. One query."""
        team = self.team_id
        if team is None:
            return [self.pk]
        return list(User.objects.filter(team_id=team).values_list("pk", flat=True))

    @property
    def sees_margin(self) -> bool:
        """Leads and administrators do; a rep only where permitted; a clerk never."""
        return self.role in (LEAD, ADMIN) or (self.role == REP and self.may_see_margin)

    @property
    def replenishes(self) -> bool:
        """Who may ask the back office for goods: leads and administrators, a rep where permitted."""
        return self.role in (LEAD, ADMIN) or (self.role == REP and self.may_replenish)


def beside_name(path: str) -> list[str]:
    """What is not read of a person who is only named, to be deferred: ``path`` leads there."""
    named = {"id", "first_name", "last_name", "username"}
    return [f"{path}__{each.name}" for each in User._meta.fields if each.name not in named]


class SavedView(models.Model):
    """A list as somebody likes to see it: the address's filters, and the columns in their order."""

    owner = models.ForeignKey(User, on_delete=models.CASCADE, related_name="views")
    place = models.CharField(max_length=20)
    name = models.CharField(max_length=60)
    query = models.JSONField(default=dict)
    columns = models.JSONField(default=list)

    class Meta:
        ordering = ["name"]
        constraints = [
            models.UniqueConstraint(fields=["owner", "place", "name"], name="saved_view_once")
        ]


class Visit(models.Model):
    """An open session, for the person to see and to end; ``key`` is the session's."""

    user = models.ForeignKey(User, on_delete=models.CASCADE, related_name="visits")
    key = models.CharField(max_length=40, unique=True)
    address = models.CharField(max_length=45)
    agent = models.CharField(max_length=200, blank=True)
    stays = models.BooleanField(default=False)
    since = models.DateTimeField()
    seen = models.DateTimeField()
