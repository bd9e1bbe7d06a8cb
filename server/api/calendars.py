"""A person's follow-ups for calendars (RFC 5545): a feed under a secret address, and one follow-up as a file."""

from datetime import datetime

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from django.views.decorators.cache import never_cache
from django.views.decorators.http import require_http_methods
from ninja import Router, Status

from api.people import caller_of
from api.schemas import Schema
from api.shapes import PathId, today, who
from apps.diary.feeds import calendar_of, end_feed, follow_up_card, make_feed, owner_of
from apps.diary.models import Feed
from apps.errors import TooMany
from apps.people.access import sells

router = Router(tags=["diary"])
CALENDAR = "text/calendar; charset=utf-8"


class CalendarFeed(Schema):
    """One's own feed: when its address was made, when a calendar last read it. ``path`` once, when it is made."""

    made_at: datetime | None
    read_at: datetime | None
    path: str = ""


@router.get("/feed", response=CalendarFeed, operation_id="get_feed")
def feed(request: HttpRequest) -> CalendarFeed:
    """Whether one has a feed."""
    sells(who(request))
    row = Feed.objects.filter(owner=who(request)).first()
    return CalendarFeed(made_at=row.made_at if row else None, read_at=row.read_at if row else None)


@router.post("/feed", response={201: CalendarFeed}, operation_id="make_feed")
def new_feed(request: HttpRequest) -> Status[CalendarFeed]:
    """Make a new address; the one before holds no more."""
    now = timezone.now()
    token = make_feed(who(request), now)
    return Status(201, CalendarFeed(made_at=now, read_at=None, path=f"/c/{token}.ics"))


@router.delete("/feed", response={204: None}, operation_id="end_feed")
def no_feed(request: HttpRequest) -> Status[None]:
    """The address holds no more."""
    sells(who(request))
    end_feed(who(request))
    return Status(204, None)


@router.get("/activities/{activity_id}/card", operation_id="get_follow_up_card")
def card(request: HttpRequest, activity_id: PathId) -> HttpResponse:
    """A follow-up as an .ics file."""
    body = follow_up_card(who(request), activity_id)
    headers = {"Content-Disposition": f'attachment; filename="follow-up-{activity_id}.ics"'}
    return HttpResponse(body, content_type=CALENDAR, headers=headers)


@never_cache
@require_http_methods(["GET", "HEAD"])
def feed_page(request: HttpRequest, token: str) -> HttpResponse:
    """What a calendar reads; whatever does not hold looks alike."""
    try:
        owner = owner_of(token, caller_of(request).address, timezone.now())
    except TooMany as error:
        return HttpResponse(status=429, headers={"Retry-After": str(error.facts["seconds"])})
    if owner is None:
        return HttpResponse(status=404)
    return HttpResponse(calendar_of(owner, today()), content_type=CALENDAR)
