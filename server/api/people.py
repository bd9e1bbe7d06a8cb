"""Signing in and out; who is there."""

from typing import Annotated, Literal

from django.conf import settings
from django.contrib.auth import authenticate, login, logout
from django.http import HttpRequest
from django.middleware.csrf import get_token
from ninja import Router, Schema, Status
from pydantic import StringConstraints

from api.shapes import who
from apps.errors import Forbidden
from apps.people.models import ADMIN, CLERK, LEAD, REP, User
from routecore.money import minor_digits

router = Router(tags=["people"])


class SignIn(Schema):
    """Name and password."""

    username: Annotated[str, StringConstraints(max_length=150)]
    password: Annotated[str, StringConstraints(max_length=200)]


class Person(Schema):
    """A person as others see them."""

    id: int
    name: str


class Me(Schema):
    """The person who is signed in, and what they may do."""

    id: int
    name: str
    role: str
    team: str
    sees_margin: bool
    sells: bool
    fulfils: bool
    leads: bool
    keeps: bool
    people: list[Person]
    base_currency: str
    base_digits: int
    usual_decision_days: int
    usual_follow_up_days: int
    time_zone: str
    format: str


def me_of(person: User) -> Me:
    """Rights are told to the browser so that it hides what would be refused anyway."""
    mates = User.objects.filter(is_active=True, role__in=(REP, LEAD))
    if person.role != ADMIN:
        mates = mates.filter(team_id=person.team_id)
    leads = person.role in (LEAD, ADMIN)
    return Me(
        id=person.pk,
        name=person.name,
        role=person.role,
        team=person.team.name if person.team else "",
        sees_margin=person.sees_margin,
        sells=person.role != CLERK,
        fulfils=person.role in (CLERK, LEAD, ADMIN),
        leads=leads,
        keeps=person.role == ADMIN,
        people=[Person(id=p.pk, name=p.name) for p in mates.order_by("first_name")]
        if leads
        else [],
        base_currency=settings.BASE_CURRENCY,
        base_digits=minor_digits(settings.BASE_CURRENCY),
        usual_decision_days=settings.DEAL_DECISION_DAYS,
        usual_follow_up_days=settings.FOLLOW_UP_DAYS,
        time_zone=settings.TIME_ZONE,
        format=person.number_format,
    )


@router.post("/session", response=Me, auth=None, operation_id="sign_in")
def sign_in(request: HttpRequest, data: SignIn) -> Me:
    """Open a session."""
    person = authenticate(request, username=data.username, password=data.password)
    if not isinstance(person, User):
        raise Forbidden("wrong_sign_in", path="password")
    login(request, person)
    get_token(request)
    return me_of(person)


@router.get("/session", response={200: Me, 204: None}, auth=None, operation_id="get_session")
def session(request: HttpRequest) -> Status[Me | None]:
    """Who is signed in; 204 where nobody is."""
    person = request.user
    if not (isinstance(person, User) and person.is_active):
        return Status(204, None)
    return Status(200, me_of(person))


class Habits(Schema):
    """How a person reads numbers and days."""

    format: Literal["house", "comma", "point", "month"]


@router.patch("/session", response=Me, operation_id="change_habits")
def habits(request: HttpRequest, data: Habits) -> Me:
    """Change how one's own screens write numbers and days."""
    person = who(request)
    person.number_format = data.format
    person.save(update_fields=["number_format"])
    return me_of(person)


@router.delete("/session", response={204: None}, operation_id="sign_out")
def sign_out(request: HttpRequest) -> Status[None]:
    """Close the session."""
    logout(request)
    return Status(204, None)
