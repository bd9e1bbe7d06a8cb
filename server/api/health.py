"""Whether the parts answer."""

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router, Status

from api.schemas import Schema
from apps.handover.health import parts

router = Router(tags=["health"])


class Health(Schema):
    """Each part, and whether all answer."""

    ok: bool
    database: bool
    worker: bool
    backoffice: bool


@router.get("/health", response={200: Health, 503: Health}, auth=None, operation_id="get_health")
def health(request: HttpRequest) -> Status[Health]:
    """200 where every part answers, 503 otherwise."""
    found = parts(timezone.now())
    ok = all(found.values())
    return Status(200 if ok else 503, Health(ok=ok, **found))
