"""Every refusal in one form: ``{"code", "message", "path", "facts"}``, with a fitting status."""

from collections.abc import Callable, Mapping
import logging
import sys
from typing import Any

from django.core.exceptions import BadRequest, RequestDataTooBig, SuspiciousOperation
from django.db.utils import DataError, Error, InterfaceError, OperationalError
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse, UnreadablePostError
from django.http.multipartparser import MultiPartParserError
from ninja import NinjaAPI
from ninja.errors import AuthenticationError, HttpError, ValidationError

from api.schemas import Schema
from api.shapes import MAIL
from apps import errors
from routecore.errors import CoreError

log = logging.getLogger("vivid.api")

STATUS = {
    errors.Missing: 404,
    errors.Forbidden: 403,
    errors.Stale: 409,
    errors.Refused: 409,
    errors.Invalid: 422,
    errors.TooMany: 429,
    errors.Busy: 503,
}


class Fault(Schema):
    """The one error form."""

    code: str
    message: str
    path: str = ""
    facts: dict[str, Any] = {}

    @classmethod
    def of(cls, error: errors.FlowError) -> "Fault":
        """A refusal inside an answer, as that of one row of many."""
        return cls.model_validate(error.told())


#: MariaDB's numbers: two that waited for each other, a lock that did not come, a statement too long;
#: and its client's, where the server is away.
DEADLOCK, LOCK_WAIT, TOO_LONG = 1213, 1205, 1969
REASONS: dict[object, str] = {
    TOO_LONG: "too_slow",
    **dict.fromkeys((2002, 2003, 2006, 2013), "away"),
}
#: On an answer whose request may be tried again at once: nothing of it happened.
AGAIN = "vivid_again"


def _answer(
    status: int, code: str, path: str = "", facts: Mapping[str, object] | None = None
) -> HttpResponse:
    return JsonResponse(errors.FlowError(code, path=path, facts=facts).told(), status=status)


def not_json(request: HttpRequest) -> HttpResponse:
    """A write that is neither JSON nor a file where one is taken."""
    return _answer(415, "not_json")


def busy(request: HttpRequest) -> HttpResponse:
    """The database did not do it in time; nothing of it happened."""
    return _answer(503, "busy")


def key_of_other(request: HttpRequest) -> HttpResponse:
    """The key of a request that was another one."""
    return _answer(422, "key_used")


def _of_database(error: Error) -> HttpResponse:
    number = error.args[0] if error.args else 0
    if number not in (DEADLOCK, LOCK_WAIT):
        log.error("the database refused: %s", error)
    answer = _answer(503, REASONS.get(number, "busy"))
    setattr(answer, AGAIN, number == DEADLOCK)
    return answer


def broken(request: HttpRequest) -> HttpResponse:
    """What broke before an operation was reached, as while the session is read: in the one form."""
    error = sys.exc_info()[1]
    if isinstance(error, OperationalError | InterfaceError):
        return _of_database(error)
    return _answer(500, "unexpected")


def too_large(request: HttpRequest) -> HttpResponse:
    """More than is taken at once; not read."""
    return _answer(413, "too_big", facts={"what": "request"})


def signed_out_answer(request: HttpRequest) -> HttpResponse:
    """A write that only somebody signed in may make."""
    return _answer(401, "signed_out")


def csrf_refused(request: HttpRequest, reason: str = "") -> HttpResponse:
    """Django's answer to a write without its token."""
    return _answer(403, "csrf")


def nowhere(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    """Django's answer to an address that is none."""
    return _answer(404, "not_found", facts={"what": "page"})


BODY_NAMES = {"data", "filters"}


def _flow(request: HttpRequest, error: errors.FlowError) -> HttpResponse:
    return _answer(STATUS[type(error)], error.code, error.path, error.facts)


def _core(request: HttpRequest, error: CoreError) -> HttpResponse:
    return _answer(422, error.code, error.path, error.facts)


def _validation(request: HttpRequest, error: ValidationError) -> HttpResponse:
    first = error.errors[0]
    place = [str(part) for part in first["loc"] if part not in ("body", "query", "path")]
    path = ".".join(place[1:] if len(place) > 1 and place[0] in BODY_NAMES else place)
    facts = {"what": first["type"], **first.get("ctx", {})}
    if facts.get("pattern") == MAIL:
        return _answer(422, "mail_wrong", path)
    return _answer(422, "invalid", path, facts)


def _signed_out(request: HttpRequest, error: AuthenticationError) -> HttpResponse:
    return _answer(401, "signed_out")


def _too_big(request: HttpRequest, error: RequestDataTooBig) -> HttpResponse:
    return _answer(413, "too_big", facts={"what": "request"})


def _unreadable(request: HttpRequest, error: Exception) -> HttpResponse:
    return _answer(400, "unreadable", facts={"what": "request"})


def _http(request: HttpRequest, error: HttpError) -> HttpResponse:
    if error.status_code == 403 and "CSRF" in str(error):
        return csrf_refused(request)
    return _answer(error.status_code, "bad_request", facts={"said": str(error)})


def _missing(request: HttpRequest, error: Http404) -> HttpResponse:
    return nowhere(request)


def _data(request: HttpRequest, error: DataError) -> HttpResponse:
    return _answer(422, "out_of_range", facts={"what": "stored"})


def _operational(request: HttpRequest, error: OperationalError) -> HttpResponse:
    return _of_database(error)


def _unexpected(request: HttpRequest, error: Exception) -> HttpResponse:
    log.exception("unexpected: %s %s", request.method, request.path)
    return _answer(500, "unexpected")


#: How each kind of error is answered; of several that fit, the nearest kind.
ANSWERS: dict[type[Exception], Callable[[HttpRequest, Any], HttpResponse]] = {
    errors.FlowError: _flow,
    CoreError: _core,
    ValidationError: _validation,
    AuthenticationError: _signed_out,
    RequestDataTooBig: _too_big,
    MultiPartParserError: _unreadable,
    UnreadablePostError: _unreadable,
    SuspiciousOperation: _unreadable,
    BadRequest: _unreadable,
    HttpError: _http,
    Http404: _missing,
    DataError: _data,
    OperationalError: _operational,
    Exception: _unexpected,
}


def install(api: NinjaAPI) -> None:
    """Teach the API to answer each kind of error."""
    for kind, answer in ANSWERS.items():
        api.add_exception_handler(kind, answer)
