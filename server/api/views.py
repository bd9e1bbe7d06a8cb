"""Views of lists that a person keeps."""

from typing import Annotated, Literal

from django.http import HttpRequest
from ninja import Router, Status
from pydantic import Field, StringConstraints

from api.schemas import Schema
from api.shapes import PathId, who
from apps.people.models import SavedView
from apps.people.saved_views import keep_view, let_view_go

router = Router(tags=["people"])
Place = Literal[
    "leads", "deals", "timetable", "customers", "quotes", "orders", "invoices", "backlog", "mails"
]
Name = Annotated[str, StringConstraints(max_length=60)]
Key = Annotated[str, StringConstraints(pattern=r"^[a-z_]{1,30}$")]
Value = Annotated[str, StringConstraints(max_length=120)]


class ViewOut(Schema):
    """A view: the address's query, and the columns that are shown; none for the usual ones."""

    id: int
    name: str
    query: dict[str, str]
    columns: list[str]


class ViewIn(Schema):
    """A view to keep."""

    place: Place
    name: Name
    query: Annotated[dict[Key, Value], Field(max_length=20)] = {}
    columns: Annotated[list[Key], Field(max_length=30)] = []


def _out(row: SavedView) -> ViewOut:
    return ViewOut(id=row.pk, name=row.name, query=row.query, columns=row.columns)


@router.get("/views", response=list[ViewOut], operation_id="list_views")
def views(request: HttpRequest, place: Place) -> list[ViewOut]:
    """One's own views of a list, by name; thirty at most. One query."""
    return [_out(row) for row in SavedView.objects.filter(owner=who(request), place=place)]


@router.post("/views", response=ViewOut, operation_id="keep_view")
def keep(request: HttpRequest, data: ViewIn) -> ViewOut:
    """Keep a view under its name."""
    return _out(keep_view(who(request), **data.model_dump()))


@router.delete("/views/{view_id}", response={204: None}, operation_id="let_view_go")
def let_go(request: HttpRequest, view_id: PathId) -> Status[None]:
    """Let a view go."""
    let_view_go(who(request), view_id)
    return Status(204, None)
