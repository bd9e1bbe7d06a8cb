"""Headers of every answer: only our own scripts, styles, fonts and connections; the build's mark."""

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse

from config.build import build_mark

POLICY = (
    "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; "
    "object-src 'none'; base-uri 'self'; form-action 'self'; frame-ancestors 'none'"
)


class PageSecurityMiddleware:
    """Adds the content security policy, and which build of the front end is served."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]):
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """The answer, with both."""
        response = self.get_response(request)
        response.headers["X-Vivid-Build"] = build_mark()
        response.headers.setdefault("Content-Security-Policy", POLICY)
        return response
