"""What is refused can be said: every code has its words, and every word its facts."""

import ast
from collections.abc import Iterator
from pathlib import Path
import re
from typing import Any

import pytest

from apps.errors import Invalid
from apps.prices.kinds import KINDS
from apps.quotes.pricing.problems import facts_of
from apps.words import faults, record_words, said
from routecore.errors import InvalidInput

ROOT = Path(__file__).resolve().parents[2]
REFUSALS = {
    *("Missing", "Forbidden", "Stale", "Refused", "Invalid"),
    *("InvalidInput", "IncompleteInput", "NoRule", "NotAvailable"),
}


def raised() -> Iterator[tuple[str, str, dict[str, str | None] | None]]:
    """Every refusal in the source: its place, its code, and its facts where they stand there."""
    for file in sorted([*ROOT.glob("server/**/*.py"), *ROOT.glob("core/**/*.py")]):
        for node in ast.walk(ast.parse(file.read_text())):
            if not isinstance(node, ast.Call) or not node.args:
                continue
            name = node.func.id if isinstance(node.func, ast.Name) else ""
            code = node.args[0]
            if name not in REFUSALS or not isinstance(code, ast.Constant):
                continue
            given = next((k.value for k in node.keywords if k.arg == "facts"), None)
            facts: dict[str, str | None] | None = {}
            if isinstance(given, ast.Dict):
                facts = {
                    ast.literal_eval(key): value.value if isinstance(value, ast.Constant) else None
                    for key, value in zip(given.keys, given.values, strict=True)
                    if key is not None
                }
            elif given is not None:
                facts = None  # a name: what is in it is not seen here
            yield f"{file.relative_to(ROOT)}:{node.lineno}", str(code.value), facts


def sentences(code: str) -> dict[str, str]:
    words = faults()[code]
    return words if isinstance(words, dict) else {"any": words}


def test_every_refusal_has_its_words() -> None:
    found = list(raised())
    assert len(found) > 150
    assert [place for place, code, _ in found if code not in faults()] == []


def test_a_sentence_chosen_by_its_what_is_there() -> None:
    missing = []
    for place, code, facts in raised():
        what = (facts or {}).get("what")
        if what and what not in sentences(code):
            missing.append((place, code, what))
    assert missing == []


def test_a_code_with_one_sentence_is_raised_with_all_that_it_tells() -> None:
    holes = []
    for place, code, facts in raised():
        words = faults().get(code)
        if isinstance(words, str) and facts is not None:
            lacking = set(re.findall(r"\{(\w+)\}", words)) - set(facts)
            holes += [(place, code, lacking)] if lacking else []
    assert holes == []


@pytest.mark.parametrize(
    ("problem", "words"),
    [
        ({"code": "needs_price", "line": "1"}, "needs a price"),
        ({"code": "below_minimum", "line": "1", "above": "20"}, "minimum order of 20"),
        ({"code": "below_minimum", "line": "1", "above": None}, "no quantity in this unit"),
        ({"code": "not_a_multiple", "line": "1", "below": "5", "above": "10"}, "5 or 10 would"),
        ({"code": "not_a_multiple", "line": "1", "below": None, "above": "10"}, ": 10 would"),
        ({"code": "not_a_multiple", "line": "1"}, "no quantity in this unit"),
        ({"code": "reason_needed", "line": "1"}, "agreed by hand: say why"),
        ({"code": "unknown_original", "line": "1"}, "not there"),
        ({"code": "nothing_counted", "line": None}, "no line yet"),
        ({"code": "needs_tax_reason", "line": None, "category": "E"}, "category E"),
        (
            {"code": "discount_not_reached", "line": None, "wanted": "9.00", "reached": "7.50"},
            "bear 7.50 of the 9.00",
        ),
    ],
)
def test_a_problem_of_a_quote_is_said_with_its_facts(problem: dict[str, Any], words: str) -> None:
    found = said(problem["code"], "", facts_of(problem))
    assert words in found and "{" not in found and "  " not in found


def test_the_cores_refusal_is_said_at_the_callers_path() -> None:
    refusal = Invalid.of(InvalidInput("not_positive", path="quantity"), path="lines[2].quantity")
    assert refusal.told() == {
        "code": "not_positive",
        "path": "lines[2].quantity",
        "facts": {},
        "message": "The quantity must be greater than 0.",
    }


def test_a_code_without_words_is_still_said() -> None:
    assert said("out_of_tune") == "out of tune"


def test_every_kind_of_price_record_its_fields_and_its_choices_have_words() -> None:
    words = record_words()
    for kind in KINDS.values():
        assert kind.label == words["kinds"][kind.name]
        for spec in kind.fields:
            assert spec.label == words["fields"][spec.name]
            assert set(spec.choices) <= set(words["choices"])
