"""Words as they are compared, and the tokens of a sentence: small letters without accents and endings, numbers whole.

Source: common practice, no source. The endings are those of English and German nouns.
"""

from dataclasses import dataclass
from functools import lru_cache
import re
import unicodedata

from routecore.likeness import LETTERS

#: How umlauts are written where a keyboard has none.
OPENED = (("ae", "a"), ("oe", "o"), ("ue", "u"))
ENDINGS = ("en", "er", "es", "em", "e", "n", "s")
#: A word keeps so many letters.
LEAST = 3
NUMBER, WORD, SIGN = "number", "word", "sign"
_TOKENS = re.compile(
    r"(?P<number>\d{1,3}(?: \d{3})+(?![\d.,]*\d)|\d+(?:[.,'\u2019\u00a0\u202f]\d+)*)"
    r"|(?P<word>(?<![^\W_])[^\W\d_]-[^\W\d_]{2,}|[^\W\d_]+(?:['\u2019][^\W\d_]+)?)"
    r"|(?P<sign>\S)"
)


@lru_cache(maxsize=16384)
def folded(word: str) -> str:
    """Small letters without accents, umlauts as their vowels.

    >>> folded("Kastanienpfähle"), folded("Kastanienpfaehle"), folded("GRÖSSE")
    ('kastanienpfahle', 'kastanienpfahle', 'grosse')
    """
    plain = unicodedata.normalize("NFKD", word.casefold().translate(LETTERS))
    plain = "".join(sign for sign in plain if not unicodedata.combining(sign))
    for written, kept in OPENED:
        plain = plain.replace(written, kept)
    return plain.replace("\u2019", "'")


@lru_cache(maxsize=16384)
def stem(word: str) -> str:
    """A folded word without its endings, two at most.

    >>> stem("netze"), stem("nets"), stem("boxes"), stem("saw"), stem("rollen"), stem("heaters"), stem("heater")
    ('netz', 'net', 'box', 'saw', 'roll', 'heat', 'heat')
    """
    return _shorter(_shorter(word.removesuffix("'s")))


def _shorter(word: str) -> str:
    for ending in ENDINGS:
        if word.endswith(ending) and len(word) - len(ending) >= LEAST:
            return word.removesuffix(ending)
    return word


@dataclass(frozen=True, slots=True)
class Token:
    """A number, a word or another sign, where it stands; ``plain`` is the folded word."""

    kind: str
    text: str
    start: int
    end: int
    plain: str = ""


def tokens_of(text: str) -> list[Token]:
    """The tokens of a text. Hyphens part words, but for one letter: "T-piece".

    >>> [token.text for token in tokens_of("12x end-post, 2,5mm T-piece")]
    ['12', 'x', 'end', '-', 'post', ',', '2,5', 'mm', 'T-piece']
    """
    found = []
    for match in _TOKENS.finditer(text):
        kind = match.lastgroup or SIGN
        plain = folded(match[0].replace("-", "")) if kind == WORD else match[0]
        found.append(Token(kind, match[0], match.start(), match.end(), plain))
    return found


def apart(one: str, other: str, most: int) -> int:
    """How many letters must be changed, dropped, added or swapped with their neighbour; ``most`` + 1 for more.

    Source: Damerau, "A technique for computer detection and correction of spelling errors", CACM 7 (1964), in its
    restricted form.

    >>> apart("chesnut", "chestnut", 2), apart("wier", "wire", 1), apart("hale", "hail", 1)
    (1, 1, 2)
    """
    if abs(len(one) - len(other)) > most:
        return most + 1
    before: list[int] = []
    row = list(range(len(other) + 1))
    for i, a in enumerate(one, 1):
        last, before, row = before, row, [i]
        for j, b in enumerate(other, 1):
            least = min(before[j] + 1, row[j - 1] + 1, before[j - 1] + (a != b))
            if i > 1 and j > 1 and a == other[j - 2] and one[i - 2] == b:
                least = min(least, last[j - 2] + 1)
            row.append(least)
        if min(row) > most:
            return most + 1
    return row[-1]
