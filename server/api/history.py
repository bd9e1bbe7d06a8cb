"""Who changed what, as a contract."""

from datetime import datetime

from django.db.models import QuerySet

from api.schemas import Schema
from apps.journal.models import Change

MOST = 100


class ChangeOut(Schema):
    """One change of one field."""

    at: datetime
    who: str
    record: int
    field: str
    before: str
    after: str
    reason: str


def changes_out(rows: QuerySet[Change]) -> list[ChangeOut]:
    """The newest changes first. One query."""
    return [
        ChangeOut(
            at=row.at,
            who=row.who.name if row.who else "",
            record=row.record,
            field=row.field,
            before=row.before,
            after=row.after,
            reason=row.reason,
        )
        for row in rows.select_related("who").order_by("-at", "-pk")[:MOST]
    ]
