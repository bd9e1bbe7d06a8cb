"""What comes in is read once and cleaned: JSON without NaN, texts without what cannot be seen."""

import json
from typing import Any

from django.http import HttpRequest
from django.utils.datastructures import MultiValueDict
from ninja.errors import HttpError
from ninja.parser import Parser

from apps.cleaning import clean, cleaned

DEEPEST = 40


class CleanParser(Parser):
    """JSON bodies and queries, cleaned before any shape looks at them."""

    def parse_body(self, request: HttpRequest) -> Any:
        """The body; refused where it is no JSON, too deep, or has a number that is none."""
        try:
            body = json.loads(request.body, parse_constant=_no_number)
        except (ValueError, RecursionError) as error:
            raise HttpError(400, "the body is no JSON") from error
        if _depth(body) > DEEPEST:
            raise HttpError(400, "the body is too deep")
        return cleaned(body)

    def parse_querydict(
        self, data: MultiValueDict[str, Any], list_fields: list[str], request: HttpRequest
    ) -> Any:
        """The query's values."""
        found = super().parse_querydict(data, list_fields, request)
        return {
            key: [clean(part) if isinstance(part, str) else part for part in value]
            if isinstance(value, list)
            else clean(value)
            if isinstance(value, str)
            else value
            for key, value in found.items()
        }


def _no_number(text: str) -> Any:
    raise ValueError(f"{text} is no number")


def _depth(value: Any) -> int:
    deepest, level = 0, [value]
    while level:
        deepest += 1
        level = [
            part
            for each in level
            if isinstance(each, list | dict)
            for part in (each.values() if isinstance(each, dict) else each)
        ]
    return deepest
