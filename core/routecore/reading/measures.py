"""Sizes in words: "250 cm", "7 × 30 m", "65–100 cm", "4 l/h", "size 9", each as a number of its kind's least unit.

Source: the SI prefixes (BIPM, The International System of Units, 9th edition); the words are common practice.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal
from functools import lru_cache

from routecore.reading.numbers import readings_of
from routecore.reading.signs import NUMBER, WORD, Token

LENGTH, WEIGHT, VOLUME = "length", "weight", "volume"
#: What is written after a number: its kind, and how many of the least unit.
MEASURES: dict[str, tuple[str, int]] = {
    "mm": (LENGTH, 1), "cm": (LENGTH, 10), "m": (LENGTH, 1000), "metre": (LENGTH, 1000), "metres": (LENGTH, 1000),
    "meter": (LENGTH, 1000), "meters": (LENGTH, 1000), "metern": (LENGTH, 1000), "lfm": (LENGTH, 1000),
    "g": (WEIGHT, 1), "kg": (WEIGHT, 1000), "kilo": (WEIGHT, 1000), "kilos": (WEIGHT, 1000),
    "l": (VOLUME, 1), "litre": (VOLUME, 1), "litres": (VOLUME, 1), "liter": (VOLUME, 1), "liters": (VOLUME, 1),
    "kw": ("power", 1), "bar": ("pressure", 1), "%": ("percent", 1), "°": ("degree", 1), "h": ("time", 1),
    "ha": ("area", 1), "hectares": ("area", 1), "hektar": ("area", 1), "m²": ("area", 1), "m2": ("area", 1),
    "acres": ("area", 1), "percent": ("percent", 1), "prozent": ("percent", 1),
}  # fmt: skip
#: The same by the hour.
FLOWS = {"l": ("flow", 1), "m³": ("flow", 1000), "m3": ("flow", 1000)}
SIZES = frozenset(["size", "sizes", "grosse", "grossen", "gr"])
TIMES = frozenset(["x", "×", "*"])
RANGES = frozenset(["-", "–", "to", "bis"])
#: Kinds in which goods are sold as well.
SOLD = {LENGTH: ("MTR", 1000), WEIGHT: ("KGM", 1000), VOLUME: ("LTR", 1)}


@dataclass(frozen=True, slots=True)
class Measure:
    """A size: its kind, every reading of its number in least units, the tokens ``first`` to before ``after``.

    ``written`` are the numbers as they stand, without a unit.
    """

    kind: str
    values: tuple[Decimal, ...]
    written: tuple[Decimal, ...]
    first: int
    after: int
    word: str = ""


@lru_cache(maxsize=4096)
def values_of(text: str) -> tuple[Decimal, ...]:
    """Every reading of a number."""
    return tuple(reading.value for reading in readings_of(text))


def measures_of(tokens: Sequence[Token]) -> list[Measure]:
    """Every size in a row of tokens, in order.

    >>> from routecore.reading.signs import tokens_of
    >>> [(m.kind, [str(v) for v in m.values]) for m in measures_of(tokens_of("net 7 × 30 m, 2.5 mm, size 9"))]
    [('length', ['7000']), ('length', ['30000']), ('length', ['2.5']), ('size', ['9'])]
    """
    found: list[Measure] = []
    n = 0
    while n < len(tokens):
        read = _at(tokens, n)
        found += read
        n = read[-1].after if read else n + 1
    return found


def _at(tokens: Sequence[Token], n: int) -> list[Measure]:
    """The size, or the two sizes, that begin at a token."""
    first = tokens[n]
    if first.kind == WORD and first.plain in SIZES and _number(tokens, n + 1):
        values = values_of(tokens[n + 1].text)
        return [Measure("size", values, values, n, n + 2, first.plain)] if values else []
    if first.kind != NUMBER:
        return []
    single = _unit(tokens, n + 1)
    if single:
        return _measured(tokens, n, n, single)
    if n + 2 < len(tokens) and tokens[n + 1].plain in TIMES | RANGES and _number(tokens, n + 2):
        second = _unit(tokens, n + 3)
        if second:
            return [
                *_measured(tokens, n, n, (*second[:2], n + 2, second[3])),
                *_measured(tokens, n + 2, n + 2, second),
            ]
    return []


def _number(tokens: Sequence[Token], n: int) -> bool:
    return n < len(tokens) and tokens[n].kind == NUMBER


def _unit(tokens: Sequence[Token], n: int) -> tuple[str, int, int, str] | None:
    """The kind, the least units of one, the place after it, and the word that stands there."""
    if n >= len(tokens):
        return None
    plain = tokens[n].plain
    by_hour = [token.plain for token in tokens[n + 1 : n + 3]] in (["/", "h"], ["/", "std"])
    if plain in FLOWS and by_hour:
        return (*FLOWS[plain], n + 3, plain)
    if plain in MEASURES:
        return (*MEASURES[plain], n + 1, plain)
    return None


def _measured(
    tokens: Sequence[Token], at: int, first: int, unit: tuple[str, int, int, str]
) -> list[Measure]:
    kind, factor, after, word = unit
    written = values_of(tokens[at].text)
    values = tuple(value * factor for value in written)
    return [Measure(kind, values, written, first, after, word)] if values else []
