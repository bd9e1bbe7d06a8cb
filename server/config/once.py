"""What is made is made once, however often it is asked: by the ``Idempotency-Key`` of the request.

A person who gets no answer presses again. The browser sends the same key for the same content until it
has heard an answer (draft-ietf-httpapi-idempotency-key-header); the answer is written down in the
transaction that makes the thing, so that a cut at any moment leaves both or neither.
"""

from collections.abc import Callable
import hashlib
import logging
import re

from django.db import DatabaseError, IntegrityError, transaction
from django.http import HttpRequest, HttpResponse
from django.utils import timezone

from api.errors import busy, key_of_other
from apps.journal.models import Made
from apps.people.models import User

Next = Callable[[HttpRequest], HttpResponse]
HEADER = "Idempotency-Key"
#: What makes something new. Nothing else is wrapped: a refusal leaves its line in the audit.
MAKES = re.compile(
    r"/api/(quotes|deals|activities|orders|customers/\d+/(contacts|addresses)|quotes/\d+/revise"
    r"|revisions/\d+/buyer|buyer-answers/\d+/order|orders/\d+/changes|order-lines/\d+/goods"
    r"|revisions/\d+/(order-now|copy)|customers/\d+/regulars/(quote|order)"
    r"|customers/\d+/standing-orders|standing-orders/\d+/turns|agreements/\d+/call-off"
    r"|forecast/(snapshots|words)|visits|mails|leads|leads/\d+/(notes|qualify)|feed"
    r"|strangers/\d+/(contact|lead)|diary/events)"
)
KEY = re.compile(r"[A-Za-z0-9-]{16,64}")
REFUSED = 300
log = logging.getLogger("vivid.once")


class OnceMiddleware:
    """Answers a request that was answered before with that very answer."""

    def __init__(self, get_response: Next):
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """The answer, or the one that was given before."""
        key, person = request.headers.get(HEADER, ""), request.user
        wanted = request.method == "POST" and KEY.fullmatch(key) and MAKES.fullmatch(request.path)
        if not wanted or not isinstance(person, User):
            return self.get_response(request)
        mark = hashlib.sha256(request.path.encode() + b"\n" + request.body).hexdigest()
        return _before(person, key, mark) or self._make(request, person, key, mark)

    def _make(self, request: HttpRequest, person: User, key: str, mark: str) -> HttpResponse:
        try:
            with transaction.atomic():
                row = Made.objects.create(who=person, key=key, mark=mark, at=timezone.now())
                answer = self.get_response(request)
                if answer.status_code >= REFUSED:
                    transaction.set_rollback(True)
                    return answer
                row.status, row.answer = answer.status_code, answer.content.decode()
                row.save(update_fields=["status", "answer"])
                return answer
        except IntegrityError:
            # The same request, sent twice at once: the other one was first.
            return _before(person, key, mark) or key_of_other(request)
        except DatabaseError:
            log.exception("the answer to %s could not be kept", request.path)
            return busy(request)


def _before(person: User, key: str, mark: str) -> HttpResponse | None:
    row = Made.objects.filter(who=person, key=key, mark=mark).first()
    if row is None:
        return None
    answer = HttpResponse(row.answer, status=row.status, content_type="application/json")
    answer.headers["Idempotent-Replayed"] = "true"
    return answer
