"""Files beside records: added, shown, marked for the buyer, taken away and brought back."""

from datetime import datetime
from typing import Annotated, Literal

from django.http import FileResponse, HttpRequest
from django.http.response import HttpResponseBase
from django.utils import timezone
from ninja import File, Query, Router, Status, UploadedFile
from pydantic import StringConstraints

from api.schemas import Schema
from api.shapes import PathId, Version, who
from apps.errors import Missing
from apps.files.flows import add_file, mark_file, remove_file
from apps.files.kinds import PDF, SHOWN
from apps.files.models import KeptFile
from apps.files.queries import files_of, place_of, seen_by
from apps.files.store import place_of as content_of
from apps.people.access import pick
from apps.people.models import User
from apps.quotes.models import QuoteLine

router = Router(tags=["files"])
Kind = Literal["customer", "deal", "quote", "order", "activity"]


class KeptFileOut(Schema):
    """A file. ``fixed``: it stays as it is; ``of`` is the offer that it came with, where it is not of this record."""

    id: int
    version: int
    name: str
    media_type: str
    size: int
    shown: bool
    picture: bool
    line: str
    line_text: str
    with_paper: bool
    fixed: bool
    of: str
    added_by: str
    added_at: datetime


class LineQuery(Schema):
    """Of which line; of the whole without a word."""

    line: Annotated[str, StringConstraints(max_length=36)] = ""


class MarkIn(Schema):
    """Whether the buyer gets it too."""

    version: Version
    with_paper: bool


class RemovedIn(Schema):
    """Taken away, or brought back."""

    version: Version
    removed: bool = True


@router.get("/files/{kind}/{record_id}", response=list[KeptFileOut], operation_id="list_files")
def listed(request: HttpRequest, kind: Kind, record_id: PathId) -> list[KeptFileOut]:
    """What lies with a record, the oldest first. Four queries."""
    return _out(who(request), kind, record_id)


@router.post(
    "/files/{kind}/{record_id}", response={201: list[KeptFileOut]}, operation_id="add_file"
)
def add(
    request: HttpRequest,
    kind: Kind,
    record_id: PathId,
    asked: Query[LineQuery],
    file: File[UploadedFile],
) -> Status[list[KeptFileOut]]:
    """Keep a file; what lies there now."""
    add_file(
        who(request),
        kind,
        record_id,
        name=file.name or "",
        body=file.read(),
        line_key=asked.line,
        now=timezone.now(),
    )
    return Status(201, _out(who(request), kind, record_id))


@router.get("/kept-files/{pk}", operation_id="get_file")
def content(request: HttpRequest, pk: PathId) -> HttpResponseBase:
    """The content, shown in place where that is safe, else taken home."""
    return file_response(pick(seen_by(who(request)), pk, "file"))


def file_response(row: KeptFile) -> HttpResponseBase:
    """A kept file as an answer: nothing in it runs here."""
    place = content_of(row.digest)
    if not place.exists():
        raise Missing("not_found", facts={"what": "file"})
    answer = FileResponse(
        place.open("rb"),
        as_attachment=row.media_type not in SHOWN,
        filename=row.name,
        content_type=row.media_type,
    )
    answer.headers["Cache-Control"] = "private, max-age=600"
    if row.media_type != PDF:
        answer.headers["Content-Security-Policy"] = "default-src 'none'; sandbox"
    return answer


@router.patch("/kept-files/{pk}", response=KeptFileOut, operation_id="mark_file")
def mark(request: HttpRequest, pk: PathId, data: MarkIn) -> KeptFileOut:
    """Let the buyer have it too, or not."""
    return _one(mark_file(who(request), pk, data.version, with_paper=data.with_paper))


@router.post("/kept-files/{pk}/removed", response=KeptFileOut, operation_id="remove_file")
def remove(request: HttpRequest, pk: PathId, data: RemovedIn) -> KeptFileOut:
    """Take it away, or bring it back."""
    row = remove_file(who(request), pk, data.version, removed=data.removed, now=timezone.now())
    return _one(row)


def _out(person: User, kind: str, record: int) -> list[KeptFileOut]:
    place = place_of(person, kind, record)
    rows = list(files_of(place))
    revisions = {row.revision_id for row in rows if row.line_key}
    texts = {
        (line.revision_id, line.key): line.text
        for line in QuoteLine.objects.filter(revision__in=revisions)
    }
    return [
        _one(
            row,
            text=texts.get((row.revision_id or 0, row.line_key), ""),
            fixed=place.fixed or _of_other(row, kind),
            of=_offer(row) if _of_other(row, kind) else "",
        )
        for row in rows
    ]


def _of_other(row: KeptFile, kind: str) -> bool:
    return kind == "order" and row.order_id is None


def _offer(row: KeptFile) -> str:
    return f"{row.revision.quote.number} {row.revision.letter}" if row.revision else ""


def _one(row: KeptFile, *, text: str = "", fixed: bool = False, of: str = "") -> KeptFileOut:
    return KeptFileOut(
        id=row.pk,
        version=row.version,
        name=row.name,
        media_type=row.media_type,
        size=row.size,
        shown=row.media_type in SHOWN,
        picture=row.media_type in SHOWN and row.media_type != PDF,
        line=row.line_key,
        line_text=text,
        with_paper=row.with_paper,
        fixed=fixed,
        of=of,
        added_by=row.added_by.name,
        added_at=row.added_at,
    )
