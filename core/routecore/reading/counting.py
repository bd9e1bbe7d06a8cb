"""Numbers in words, English and German, and what units are called.

Units are told by their codes of UN/ECE Recommendations 20 and 21. Their words are common practice, no source.
"""

from collections.abc import Sequence
from decimal import Decimal
import re

ONES = {
    "one": 1, "two": 2, "three": 3, "four": 4, "five": 5, "six": 6, "seven": 7, "eight": 8, "nine": 9, "ten": 10,
    "eleven": 11, "twelve": 12, "thirteen": 13, "fourteen": 14, "fifteen": 15, "sixteen": 16, "seventeen": 17,
    "eighteen": 18, "nineteen": 19,
}  # fmt: skip
TENS = {
    "twenty": 20, "thirty": 30, "forty": 40, "fifty": 50, "sixty": 60, "seventy": 70, "eighty": 80, "ninety": 90,
}  # fmt: skip
GERMAN_ONES = {
    "ein": 1, "eins": 1, "eine": 1, "einen": 1, "einem": 1, "einer": 1, "zwei": 2, "zwo": 2, "drei": 3, "vier": 4,
    "funf": 5, "sechs": 6, "sieben": 7, "acht": 8, "neun": 9, "zehn": 10, "elf": 11, "zwolf": 12, "dreizehn": 13,
    "vierzehn": 14, "funfzehn": 15, "sechzehn": 16, "siebzehn": 17, "achtzehn": 18, "neunzehn": 19,
}  # fmt: skip
GERMAN_TENS = {
    "zwanzig": 20, "dreissig": 30, "vierzig": 40, "funfzig": 50, "sechzig": 60, "siebzig": 70, "achtzig": 80,
    "neunzig": 90,
}  # fmt: skip
#: What one counts as where it stands for an article: a person says whether one is meant.
ARTICLES = frozenset(["a", "an", "ein", "eine", "einen", "einem", "einer"])
DOZEN = frozenset(["dozen", "dozens", "dutzend"])
_GERMAN = re.compile(r"(?:(?P<thousands>.*)tausend)?(?:(?P<hundreds>.*?)hundert)?(?P<rest>.*)")

#: What people call a unit, folded.
UNIT_WORDS = {
    "H87": "piece pieces pc pcs pce each ea unit units no pair pairs stuck stucke stucken stk st paar",
    "MTR": "m metre metres meter meters metern lfm lm",
    "RL": "roll rolls reel reels coil coils rolle rollen",
    "BX": "box boxes carton cartons case cases karton kartons kartonen kiste",
    "BG": "bag bags sack sacks sacke sacken beutel tute tuten",
    "KGM": "kg kgs kilo kilos kilogram kilograms kilogramm",
    "PF": "pallet pallets palette paletten",
    "HUR": "hour hours hr hrs stunde stunden std",
    "DAY": "day days tag tage tagen",
    "E48": "visit visits besuch besuche",
    "LTR": "litre litres liter liters litern",
    "TNE": "tonne tonnes ton tons tonnen",
    "SET": "set sets satz satze",
}
UNITS = {word: code for code, words in UNIT_WORDS.items() for word in words.split()}
#: What is counted by a number alone.
COUNTED = frozenset(["H87", "RL", "BG", "BX", "PF", "SET", "HUR", "DAY", "E48"])


def german_number(word: str) -> int | None:
    """A German number in one folded word; None for another word.

    >>> german_number("zweihundertfunfzig"), german_number("dreiundzwanzig"), german_number("hundert")
    (250, 23, 100)
    >>> german_number("tausendzweihundert"), german_number("rolle")
    (1200, None)
    """
    if word in GERMAN_ONES:
        return GERMAN_ONES[word]
    match = _GERMAN.fullmatch(word)
    if not match or not word:
        return None
    total = 0
    for name, worth in (("thousands", 1000), ("hundreds", 100)):
        part = match[name]
        if part is not None:
            many = german_number(part) if part else 1
            if many is None:
                return None
            total += many * worth
    rest = match["rest"].removeprefix("und") if total else match["rest"]
    if not rest:
        return total or None
    small = _below_hundred(rest)
    return None if small is None else total + small


def _below_hundred(word: str) -> int | None:
    if word in GERMAN_ONES or word in GERMAN_TENS:
        return GERMAN_ONES.get(word) or GERMAN_TENS[word]
    ones, joined, tens = word.partition("und")
    if joined and ones in GERMAN_ONES and tens in GERMAN_TENS:
        return GERMAN_ONES[ones] + GERMAN_TENS[tens]
    return None


def number_in_words(words: Sequence[str]) -> tuple[Decimal, int] | None:
    """The number that folded words begin with, and how many of them it takes; None where they begin with none.

    An article is none, except before a dozen or a hundred.

    >>> number_in_words(["two", "hundred", "and", "fifty", "posts"])
    (Decimal('250'), 4)
    >>> number_in_words(["a", "dozen", "saws"]), number_in_words(["half", "a", "dozen"]), number_in_words(["a", "saw"])
    ((Decimal('12'), 2), (Decimal('6'), 3), None)
    """
    first = words[0] if words else ""
    if first in ("half", "ein", "eine") and _half(words):
        return _half(words)
    if first in ARTICLES:
        if len(words) > 1 and words[1] in DOZEN:
            return Decimal(12), 2
        if len(words) > 1 and words[1] in ("hundred", "thousand"):
            return Decimal(100 if words[1] == "hundred" else 1000), 2
        return None
    if first in DOZEN:
        return Decimal(12), 1
    read = _english(words)
    if read is None:
        whole = german_number(first) if len(first) > 2 else None
        read = (whole, 1) if whole else None
    if read is None:
        return None
    value, taken = read
    if len(words) > taken and words[taken] in DOZEN:
        return Decimal(value * 12), taken + 1
    return Decimal(value), taken


def _half(words: Sequence[str]) -> tuple[Decimal, int] | None:
    """Half a dozen, half a pallet, eine halbe Palette."""
    if words[0] == "half":
        after = 2 if len(words) > 1 and words[1] in ARTICLES else 1
        if len(words) > after and words[after] in DOZEN:
            return Decimal(6), after + 1
        if len(words) > after and words[after] in UNITS:
            return Decimal("0.5"), after
        return None
    if len(words) > 1 and words[1] in ("halbe", "halben", "halber", "halbes"):
        if len(words) > 2 and words[2] in DOZEN:
            return Decimal(6), 3
        return Decimal("0.5"), 2
    return None


def _english(words: Sequence[str]) -> tuple[int, int] | None:
    total, part, taken, seen = 0, 0, 0, False
    for n, word in enumerate(words):
        if word in ONES or word in TENS:
            part += ONES.get(word) or TENS[word]
        elif word == "hundred" and (seen or n == 0):
            part = max(part, 1) * 100
        elif word == "thousand" and (seen or n == 0):
            total, part = total + max(part, 1) * 1000, 0
        elif word == "and" and seen and _counts_on(words[n + 1 : n + 2]) and part % 100 == 0:
            continue
        else:
            break
        seen, taken = True, n + 1
    return (total + part, taken) if seen else None


def _counts_on(words: Sequence[str]) -> bool:
    return bool(words) and (words[0] in ONES or words[0] in TENS)
