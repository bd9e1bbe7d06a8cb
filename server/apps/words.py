"""The words that server and browser share: what is refused, what
price records are called, and what has become of a document.

A code has one sentence, or several: the one for ``facts["what"]`` if there is one, else the one for
the last part of the path, else ``any``. ``{name}`` is a fact. A fact that is a refusal itself, as that
of a case in a file, is worded in its place.
"""

from collections.abc import Mapping
from datetime import date
from decimal import Decimal
from functools import cache
import json
from pathlib import Path
import re
from typing import Any

PLACE = Path(__file__).resolve().parents[2] / "words" / "en"


@cache
def faults() -> dict[str, str | dict[str, str]]:
    """Every sentence by its code."""
    found: dict[str, str | dict[str, str]] = json.loads((PLACE / "faults.json").read_text())
    return found


@cache
def record_words() -> dict[str, dict[str, str]]:
    """What kinds of price records, their fields and their choices are called."""
    found: dict[str, dict[str, str]] = json.loads((PLACE / "records.json").read_text())
    return found


@cache
def state_words() -> dict[str, dict[str, str]]:
    """What the states of a quote, an order and an invoice are called."""
    found: dict[str, dict[str, str]] = json.loads((PLACE / "states.json").read_text())
    return found


def said(code: str, path: str = "", facts: Mapping[str, object] | None = None) -> str:
    """The sentence for a refusal; its code where it has none.

    >>> said("required", "deal.title")
    'Say in a few words what the deal is about.'
    >>> said("in_case", "[1]", {"case": 2, "fault": {"code": "unknown_item"}})
    'Case 2: There is no such item.'
    """
    given = dict(facts or {})
    words = faults().get(code, code.replace("_", " "))
    if isinstance(words, dict):
        place = re.sub(r"\[\d+\]$", "", path).rpartition(".")[2]
        words = words.get(str(given.get("what", "")), words.get(place, words.get("any", code)))
    told = {name: _told(value) for name, value in given.items()}
    return re.sub(r"\{(\w+)\}", lambda found: told.get(found[1], ""), words)


def plain_fact(value: object) -> object:
    """A fact as JSON holds it: decimals without an exponent, ISO days."""
    if isinstance(value, Mapping):
        return {name: plain_fact(part) for name, part in value.items()}
    if isinstance(value, list | tuple | set):
        return [plain_fact(part) for part in value]
    if isinstance(value, Decimal):
        return f"{value:f}"
    if isinstance(value, date):
        return value.isoformat()
    return value if isinstance(value, str | int | None) else str(value)


def _told(value: Any) -> str:
    if isinstance(value, Mapping):
        return said(value["code"], value.get("path", ""), value.get("facts"))
    if isinstance(value, list | tuple):
        return ", ".join(str(part) for part in value)
    return str(value)
