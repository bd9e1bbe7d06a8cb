"""Long answers of the API travel compressed."""

from django.http import HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from django.middleware.gzip import GZipMiddleware

#: Shorter ones fit into a packet as they are.
LEAST_BYTES = 1_000


class CompressMiddleware(GZipMiddleware):
    """JSON alone: papers and workbooks are compressed already, and steps of long work must not wait
    for each other. Django pads each answer by chance, so that its length tells nothing (BREACH)."""

    def process_response(
        self, request: HttpRequest, response: HttpResponseBase
    ) -> HttpResponseBase:
        """The answer, compressed where that is worth it."""
        json = response.headers.get("Content-Type", "").startswith("application/json")
        if (
            not isinstance(response, HttpResponse)
            or not json
            or len(response.content) < LEAST_BYTES
        ):
            return response
        return super().process_response(request, response)
