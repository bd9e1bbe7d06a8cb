"""The door of the house: what is let in, and the headers of every answer, static ones too."""

from collections.abc import Callable
import logging
from urllib.parse import urlsplit

from django.conf import settings
from django.db import DatabaseError
from django.http import HttpRequest, HttpResponse
from django.middleware.csrf import CsrfViewMiddleware
from django.utils import timezone

from api.errors import AGAIN, csrf_refused, not_json, signed_out_answer, too_large
from api.people import caller_of
from apps.door.visits import SEEN_EVERY, see_visit
from apps.journal.audit import note
from apps.people.models import User
from config.build import build_mark

log = logging.getLogger("vivid.door")
Next = Callable[[HttpRequest], HttpResponse]
POLICY = (
    "default-src 'self'; style-src 'self'; style-src-attr 'unsafe-inline'; img-src 'self' data: blob:; "
    "object-src 'none'; base-uri 'self'; form-action 'self'; frame-ancestors 'none'"
)
HEADERS = {
    "Content-Security-Policy": POLICY,
    "X-Frame-Options": "DENY",
    "X-Content-Type-Options": "nosniff",
    "Referrer-Policy": "same-origin",
    "Cross-Origin-Opener-Policy": "same-origin",
    "Cross-Origin-Resource-Policy": "same-origin",
    "Permissions-Policy": "camera=(), geolocation=(), microphone=(), payment=(), usb=()",
}
#: A write that lost against another one in the database is tried again so often.
DEADLOCK_TRIES = 3
REFUSED, TAKEN_OUT = 403, 200
READS = ("GET", "HEAD", "OPTIONS")


class HeadersMiddleware:
    """The headers of every answer, and which build of the front end is served.

    It stands before the one that serves static files. Answers of the API are kept nowhere.
    """

    def __init__(self, get_response: Next):
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """The answer with its headers; a host that is not ours is refused first."""
        request.get_host()
        response = self.get_response(request)
        response.headers["X-Vivid-Build"] = build_mark()
        for name, value in HEADERS.items():
            response.headers.setdefault(name, value)
        if request.path.startswith("/api/"):
            response.headers.setdefault("Cache-Control", "no-store")
        return response


class WritesMiddleware:
    """A write of the API comes from our own page, with its token, as JSON or as a file.

    All of this is looked at before the body is read: what is refused costs no time and no space.
    """

    def __init__(self, get_response: Next):
        self.get_response = get_response
        self._csrf = CsrfViewMiddleware(get_response)

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """The answer, or the refusal."""
        if request.method in READS or not request.path.startswith("/api/"):
            return self.get_response(request)
        answer = self._refusal(request) or self.get_response(request)
        for _ in range(DEADLOCK_TRIES):
            if not getattr(answer, AGAIN, False):
                break
            answer = self.get_response(request)
        return answer

    def _refusal(self, request: HttpRequest) -> HttpResponse | None:
        length = int(request.META.get("CONTENT_LENGTH") or 0)
        file = request.content_type == "multipart/form-data"
        if file and not request.user.is_authenticated:
            return signed_out_answer(request)
        if length > _most(request, file=file):
            return too_large(request)
        if not file and length and request.content_type != "application/json":
            return not_json(request)
        if not getattr(request, "_dont_enforce_csrf_checks", False):
            if not request.headers.get("X-CSRFToken") or not _from_here(request):
                return csrf_refused(request)
            self._csrf.process_request(request)
            if self._csrf.process_view(request, self.get_response, (), {}):
                return csrf_refused(request)
        return None


def _most(request: HttpRequest, *, file: bool) -> int:
    """How many bytes a request may have."""
    if not file:
        return int(settings.DATA_UPLOAD_MAX_MEMORY_SIZE)
    kept = request.path.startswith("/api/files/")
    return int(settings.MOST_KEPT if kept else settings.MOST_UPLOADED)


def _from_here(request: HttpRequest) -> bool:
    """Whether a browser says that the request comes from our own page; without a word, it does."""
    origin = request.headers.get("Origin")
    if origin is not None:
        return urlsplit(origin).netloc == request.get_host()
    return request.headers.get("Sec-Fetch-Site", "same-origin") in ("same-origin", "none")


class VisitMiddleware:
    """Keeps a session open while somebody is there; questions of an idle page do not."""

    def __init__(self, get_response: Next):
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """The answer; the session's time begins anew where a person asked."""
        session, now = request.session, timezone.now()
        seen = session.get("seen")
        idle = request.headers.get("X-Vivid-Idle") == "1"
        if seen and not idle and now.timestamp() - seen > SEEN_EVERY.total_seconds():
            session["seen"] = now.timestamp()
            see_visit(session.session_key or "", now)
        answer = self.get_response(request)
        _audit(request, answer)
        return answer


def _audit(request: HttpRequest, answer: HttpResponse) -> None:
    """A line for what somebody signed in was refused, and for every file that was taken out."""
    if answer.status_code == REFUSED:
        what = "refused"
    elif "Content-Disposition" in answer.headers and answer.status_code == TAKEN_OUT:
        what = "exported"
    else:
        return
    if not isinstance(request.user, User):
        return  # a stranger's tries are counted where they are made
    detail = f"{request.method} {request.get_full_path()}"
    try:
        note(what, who=request.user, address=caller_of(request).address, detail=detail)
    except DatabaseError:
        log.exception("the audit could not be written")
