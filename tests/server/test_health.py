"""Health says which part does not answer."""

from django.utils import timezone

from apps.handover.models import WorkerBeat
from tests.server.conftest import Caller


def test_each_silent_part_is_named(db: None) -> None:
    answer = Caller(None).ask("get", "health")
    assert answer.status_code == 503
    assert answer.json() == {"ok": False, "database": True, "worker": False, "backoffice": False}
    WorkerBeat.objects.create(name="w", at=timezone.now())
    assert Caller(None)("get", "health")["worker"] is True
