"""Signing in and out; who is there."""

from datetime import datetime
from typing import Annotated, Literal

from django.conf import settings
from django.contrib.auth import login, logout, update_session_auth_hash
from django.http import HttpRequest, HttpResponse
from django.middleware.csrf import get_token
from django.utils import timezone
from ninja import Router, Status
from pydantic import StringConstraints

from api.schemas import Schema
from api.shapes import PathId, who
from apps.door.entering import Caller, change_password, enter
from apps.door.visits import (
    IDLE,
    STAYS,
    begin_visit,
    end_other_visits,
    end_visit,
    visits_of,
)
from apps.journal.audit import note
from apps.people.access import colleagues_of, teams_of
from apps.people.models import ADMIN, CLERK, LEAD, REP, User, Visit
from routecore.money import minor_digits

router = Router(tags=["people"])


class SignIn(Schema):
    """Name and password."""

    username: Annotated[str, StringConstraints(max_length=150)]
    password: Annotated[str, StringConstraints(max_length=200)]
    stay: bool = False


class Person(Schema):
    """A person as others see them, or a team."""

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
    teams: list[Person]
    colleagues: list[Person]
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
        teams=[Person(id=team.pk, name=team.name) for team in teams_of(person)],
        colleagues=[Person(id=p.pk, name=p.name) for p in colleagues_of(person)]
        if person.role != CLERK
        else [],
        base_currency=settings.BASE_CURRENCY,
        base_digits=minor_digits(settings.BASE_CURRENCY),
        usual_decision_days=settings.DEAL_DECISION_DAYS,
        usual_follow_up_days=settings.FOLLOW_UP_DAYS,
        time_zone=settings.TIME_ZONE,
        format=person.number_format,
    )


def caller_of(request: HttpRequest) -> Caller:
    """Where a request comes from; behind a proxy that is trusted, what that one says."""
    address = request.META.get("REMOTE_ADDR", "")
    if settings.BEHIND_A_PROXY:
        said = request.headers.get("X-Forwarded-For", "")
        address = said.rpartition(",")[2].strip() or address
    return Caller(address=address, agent=request.headers.get("User-Agent", ""))


@router.post("/session", response=Me, operation_id="sign_in")
def sign_in(request: HttpRequest, data: SignIn) -> Me:
    """Open a session: twelve hours without a key end it, or with ``stay`` thirty days."""
    now, caller = timezone.now(), caller_of(request)
    person = enter(request, data.username, data.password, caller, now=now)
    login(request, person)
    request.session.set_expiry(STAYS if data.stay else IDLE)
    request.session["seen"] = now.timestamp()
    request.session.save()
    key = request.session.session_key or ""
    begin_visit(person, key, caller, stay=data.stay, now=now)
    get_token(request)
    return me_of(person)


@router.get("/session", response={200: Me, 204: None}, operation_id="get_session")
def session(request: HttpRequest) -> Status[Me | None]:
    """Who is signed in; 204 where nobody is."""
    person = request.user
    if not (isinstance(person, User) and person.is_active):
        return Status(204, None)
    return Status(200, me_of(person))


class HouseOut(Schema):
    """What everybody may know of the house before they sign in."""

    demo: bool


@router.get("/house", response=HouseOut, operation_id="get_house")
def house(request: HttpRequest) -> HouseOut:
    """Whether this is the demonstration."""
    return HouseOut(demo=settings.DEMO)


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


class PasswordIn(Schema):
    """The password that holds, and the one to hold from now on."""

    old: Annotated[str, StringConstraints(max_length=200)]
    new: Annotated[str, StringConstraints(max_length=200)]


@router.post("/session/password", response={204: None}, operation_id="change_password")
def new_password(request: HttpRequest, data: PasswordIn) -> Status[None]:
    """Change one's password; all of one's other visits end."""
    person, now = who(request), timezone.now()
    change_password(request, person, data.old, data.new, caller_of(request), now=now)
    end_other_visits(person, request.session.session_key or "")
    update_session_auth_hash(request, person)
    Visit.objects.filter(user=person).update(key=request.session.session_key or "")
    return Status(204, None)


class VisitOut(Schema):
    """An open session of oneself."""

    id: int
    address: str
    agent: str
    stays: bool
    since: datetime
    seen: datetime
    this: bool


@router.get("/session/visits", response=list[VisitOut], operation_id="list_visits")
def visits(request: HttpRequest) -> list[VisitOut]:
    """One's own open sessions, the last used first. One query."""
    own = request.session.session_key
    return [
        VisitOut(
            id=row.pk,
            address=row.address,
            agent=row.agent,
            stays=row.stays,
            since=row.since,
            seen=row.seen,
            this=row.key == own,
        )
        for row in visits_of(who(request))
    ]


@router.delete("/session/visits", response={204: None}, operation_id="end_other_visits")
def end_others(request: HttpRequest) -> Status[None]:
    """End all of one's sessions but this one."""
    end_other_visits(who(request), request.session.session_key or "")
    return Status(204, None)


@router.delete("/session/visits/{visit_id}", response={204: None}, operation_id="end_visit")
def end_one(request: HttpRequest, visit_id: PathId) -> Status[None]:
    """End one of one's sessions."""
    end_visit(who(request), visit_id)
    return Status(204, None)


@router.delete("/session", response={204: None}, operation_id="sign_out")
def sign_out(request: HttpRequest, response: HttpResponse) -> Status[None]:
    """Close the session; the browser forgets what it kept of the answers."""
    Visit.objects.filter(key=request.session.session_key or "").delete()
    note("signed_out", who=who(request), address=caller_of(request).address)
    logout(request)
    response["Clear-Site-Data"] = '"cache"'
    return Status(204, None)
