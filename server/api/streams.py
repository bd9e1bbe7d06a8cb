"""Long work with progress: one JSON object a line, ``{"done": n}`` …, ``{"result": …}``.

A refusal after the first line cannot have a status any more; it comes as ``{"fault": …}`` in the
one error form.
"""

from collections.abc import Iterable, Iterator
import json

from django.http import StreamingHttpResponse

from api.schemas import Schema
from apps.errors import FlowError


def streamed(steps: Iterable[int | Schema]) -> StreamingHttpResponse:
    """The steps as they are made: how many are done, and at the end what came of it."""
    return StreamingHttpResponse(_lines(steps), content_type="application/x-ndjson")


def _lines(steps: Iterable[int | Schema]) -> Iterator[bytes]:
    try:
        for step in steps:
            line = {"done": step} if isinstance(step, int) else {"result": step.model_dump()}
            yield json.dumps(line, default=str).encode() + b"\n"
    except FlowError as error:
        yield json.dumps({"fault": error.told()}, default=str).encode() + b"\n"
