"""How a document looks and what it says: what an administrator sets without code."""

from collections.abc import Mapping
from dataclasses import asdict, dataclass
from pathlib import Path
import re
from string import Formatter
from typing import Any

from apps.errors import Invalid

SHIPPED_LAYOUT = Path(__file__).with_name("layout.typ")
COLUMNS = ("code", "unit", "price", "discount", "tax")
SIZES = ("8.5", "9", "9.5", "10", "11")
#: The sentences that can be worded, and what may stand in braces in each of them.
SENTENCES = ("opening", "hold", "accept", "closing", "brackets")
FACTS = ("until", "terms", "mail", "name", "buyer", "number")
LONGEST_SENTENCE = 1000
LONGEST_SOURCE = 60_000

Wording = dict[str, dict[str, str]]


@dataclass(frozen=True, slots=True, kw_only=True)
class Look:
    """What stands on the page: its accent colour, type size in points, columns and parts."""

    columns: tuple[str, ...]
    accent: str = "#C23A1B"
    size: str = "9.5"
    trail: bool = False
    tax_rows: bool = True
    route: bool = True
    signature: bool = True

    def as_data(self) -> dict[str, Any]:
        """As it is stored and given to the layout."""
        return {**asdict(self), "columns": list(self.columns)}


@dataclass(frozen=True, slots=True, kw_only=True)
class Template:
    """A look, the wording that replaces the shipped one by language, and the layout's source."""

    look: Look
    wording: Wording
    source: str = ""

    def layout(self) -> str:
        """The typst source: its own, or the one that ships."""
        return self.source or SHIPPED_LAYOUT.read_text(encoding="utf-8")


#: The papers that a quote can go out on, as they ship.
PAPERS: dict[str, Look] = {
    "short": Look(columns=("code", "unit", "price", "discount")),
    "detailed": Look(columns=COLUMNS, trail=True, size="9"),
}


def shipped(paper: str) -> Template:
    """The template that ships with the product."""
    return Template(look=PAPERS[paper], wording={})


def read_look(given: Mapping[str, Any]) -> Look:
    """A look from plain data; raises ``Invalid`` at what is wrong."""
    look = Look(**{**given, "columns": tuple(given["columns"])})
    if not re.fullmatch(r"#[0-9A-Fa-f]{6}", look.accent):
        raise Invalid("unreadable", path="look.accent")
    if look.size not in SIZES:
        raise Invalid("out_of_range", path="look.size", facts={"sizes": SIZES})
    unknown = set(look.columns) - set(COLUMNS)
    if unknown:
        facts = {"what": "column", "value": min(unknown)}
        raise Invalid("unknown", path="look.columns", facts=facts)
    return look


def check_wording(wording: Wording, languages: Mapping[str, object]) -> Wording:
    """The wording without empty sentences; raises ``Invalid`` at what cannot be filled in."""
    kept: Wording = {}
    for language, sentences in wording.items():
        if language not in languages:
            raise Invalid("unknown", path="wording", facts={"value": language})
        for key, words in sentences.items():
            path = f"wording.{language}.{key}"
            if key not in SENTENCES:
                raise Invalid("unknown", path=path, facts={"what": "sentence"})
            if len(words) > LONGEST_SENTENCE:
                raise Invalid("too_long", path=path, facts={"most": LONGEST_SENTENCE})
            _check_facts(words, path)
            if words.strip():
                kept.setdefault(language, {})[key] = words.strip()
    return kept


def _check_facts(words: str, path: str) -> None:
    try:
        parts = [name for _, name, form, turn in Formatter().parse(words) if name is not None]
        plain = all(not form and not turn for _, _, form, turn in Formatter().parse(words))
    except ValueError as error:
        raise Invalid("unreadable", path=path, facts={"what": "brace"}) from error
    if not plain or any(name not in FACTS for name in parts):
        allowed = ", ".join(f"{{{name}}}" for name in FACTS)
        raise Invalid("unknown", path=path, facts={"what": "facts", "allowed": allowed})
