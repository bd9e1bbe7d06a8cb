"""Whether all parts of the application answer."""

from datetime import datetime, timedelta

from django.conf import settings
from django.db import connection
from django.db.utils import Error

from apps.handover.gateway import BackOffice
from apps.handover.models import WorkerBeat

SILENT_AFTER = timedelta(seconds=15)


def parts(now: datetime) -> dict[str, bool]:
    """Each part and whether it answers: database, worker, backoffice."""
    office = BackOffice(
        settings.BACKOFFICE_URL, settings.BACKOFFICE_TOKEN, 1.0, key=settings.BACKOFFICE_KEY
    )
    try:
        return {**_database_and_worker(now), "backoffice": office.answers()}
    finally:
        office.close()


def _database_and_worker(now: datetime) -> dict[str, bool]:
    try:
        connection.ensure_connection()
        awake = WorkerBeat.objects.filter(
            at__gt=now - SILENT_AFTER, at__lt=now + SILENT_AFTER
        ).exists()
    except Error:
        return {"database": False, "worker": False}
    return {"database": True, "worker": awake}
