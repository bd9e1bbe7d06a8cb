"""The goods that a text may name: found by any of their words, in any order, misspelt a little, and by their sizes."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from decimal import Decimal
from functools import lru_cache
from math import log
import re

from routecore.reading.counting import UNIT_WORDS, UNITS, number_in_words
from routecore.reading.measures import Measure, measures_of, values_of
from routecore.reading.signs import NUMBER, WORD, apart, stem, tokens_of

_JOINING = (
    "a an the of for with in on by to and or per at from as à zu von mit für fur der die das den dem des "
    "ein eine einen einem einer und oder je im am x plus sowie pro aus"
)

#: Words that join others and name nothing.
GLUE = frozenset(_JOINING.split())
#: Words for people: no thing is called so, whatever their stem ("wir" is German for "we", and the stem of "wire").
PEOPLE = frozenset(
    ["i", "we", "you", "he", "she", "they", "us", "them", "ich", "wir", "ihr", "sie", "er", "uns"]
)
#: What parts the goods from what they are for: "Punnet with lid", "Kistendeckel für 300 kg".
_OF_IT = re.compile(r",|\s(?:with|for|mit|für|by)\s|\s\d|\(")
#: A misspelt word has so many letters at least; from ``LONG`` on two of them may be wrong.
FUZZY, LONG = 5, 8
#: A part of a compound has so many letters.
PART = 4
MOST_CANDIDATES = 5
#: A unit's words, as a thing is called: "3 days of installation".
UNIT_STEMS = {
    code: frozenset(stem(word) for word in words.split()) for code, words in UNIT_WORDS.items()
}


@dataclass(frozen=True, slots=True, kw_only=True)
class Good:
    """An item: its code, what it is called (its name first), the unit that it is counted in and the one it is sold in,
    and how many of the first each unit holds."""

    key: int
    code: str
    called: tuple[str, ...]
    base: str
    sold_in: str
    units: Mapping[str, Decimal] = field(default_factory=dict)

    def has_unit(self, code: str) -> bool:
        """Whether it is counted in a unit."""
        return code == self.base or code in self.units


@dataclass(frozen=True, slots=True)
class Named:
    """What a text names: stems, each with the word that stands for it, sizes, bare numbers, and units."""

    stems: tuple[str, ...]
    measures: tuple[Measure, ...] = ()
    bare: tuple[Decimal, ...] = ()
    unit: str = ""


@dataclass(frozen=True, slots=True)
class Candidate:
    """An item that may be meant: ``share``, how much of what was written names it, 0 to 100; ``noun``: the word for the
    thing itself is among it; ``own``: so many sizes are its own; ``left``: those that are not; ``against``: it has others
    of that kind."""

    key: int
    share: int
    noun: bool
    own: int
    left: tuple[Measure, ...]
    against: bool


@dataclass(frozen=True, slots=True)
class _Known:
    """What is known of an item."""

    good: Good
    stems: frozenset[str]
    nouns: frozenset[str]
    sizes: Mapping[str, frozenset[Decimal]]
    written: frozenset[Decimal]


class Goods:
    """All goods of a house, ready to be found."""

    def __init__(self, goods: Iterable[Good]):
        self.known = {good.key: _known(good) for good in goods}
        self.by_stem: dict[str, set[int]] = {}
        self.codes: dict[str, int] = {}
        #: Numbers that are a part of what something is, by the word after them: "6 outlets".
        self.counted: dict[str, set[Decimal]] = {}
        for key, known in self.known.items():
            self.codes[code_key(known.good.code)] = key
            for each in known.stems:
                self.by_stem.setdefault(each, set()).add(key)
            for kind, values in known.sizes.items():
                if kind.startswith("#"):
                    self.counted.setdefault(kind[1:], set()).update(values)
        self._parts = lru_cache(maxsize=8192)(self._find_parts)

    def parts(self, word: str) -> tuple[str, ...]:
        """The stems that a folded word stands for; none for a word that names nothing here."""
        return self._parts(word)

    def _find_parts(self, word: str) -> tuple[str, ...]:
        if word in GLUE or word in PEOPLE or len(word) < 2:
            return ()
        plain = stem(word)
        for each in (plain, word):
            if each in self.by_stem:
                return (each,)
        for cut in range(PART, len(word) - PART + 1):
            first, second = word[:cut], word[cut:]
            for one in (stem(first), first, first.removesuffix("s")):
                if one in self.by_stem and stem(second) in self.by_stem:
                    return one, stem(second)
        near = self._near(plain)
        return (near,) if near else ()

    def _near(self, plain: str) -> str:
        """The one stem of which this is a small misspelling."""
        if len(plain) < FUZZY:
            return ""
        most = 2 if len(plain) >= LONG else 1
        found: dict[int, list[str]] = {}
        for each in self.by_stem:
            if len(each) >= FUZZY - 1 and each[0] == plain[0]:
                distance = apart(plain, each, most)
                if distance <= most:
                    found.setdefault(distance, []).append(each)
        least = found[min(found)] if found else []
        return least[0] if len(least) == 1 else ""

    def together(self, one: str, other: str) -> bool:
        """Whether one item has both stems."""
        return not self.by_stem.get(one, set()).isdisjoint(self.by_stem.get(other, set()))

    def has_bare(self, each: str, number: Decimal) -> bool:
        """Whether an item with this stem has a size of this number, without its unit."""
        return any(number in self.known[key].written for key in self.by_stem.get(each, ()))

    def has_size(self, each: str, size: Measure) -> bool:
        """Whether an item with this stem has this size."""
        own = (self.known[key].sizes.get(size.kind, ()) for key in self.by_stem.get(each, ()))
        return any(value in sizes for sizes in own for value in size.values)

    def like(self, named: Named) -> list[Candidate]:
        """The items that may be meant, the likeliest first. Of equals the one with fewer words first."""
        many = log(1 + len(self.known))
        weights = {
            each: 1 + round(1000 * (many - log(len(self.by_stem[each])))) for each in named.stems
        }
        whole = sum(weights.values()) or 1
        keys = set().union(*(self.by_stem[each] for each in named.stems))
        fits = {key: not named.unit or self.known[key].good.has_unit(named.unit) for key in keys}

        def rank(each: Candidate) -> tuple[object, ...]:
            known = self.known[each.key]
            return (
                each.against, -each.share, not fits[each.key], -each.own, not each.noun,
                len(known.stems), known.good.code,
            )  # fmt: skip

        return sorted((self._candidate(key, named, weights, whole) for key in keys), key=rank)

    def _candidate(
        self, key: int, named: Named, weights: Mapping[str, int], whole: int
    ) -> Candidate:
        known = self.known[key]
        share = 100 * sum(weight for each, weight in weights.items() if each in known.stems)
        own, left, against = 0, [], False
        for size in named.measures:
            mine = known.sizes.get(size.kind, frozenset())
            if any(value in mine for value in size.values):
                own += 1
            else:
                left.append(size)
                against = against or bool(mine)
        for number in named.bare:
            if number in known.written:
                own += 1
            else:
                against = True
        counts = UNIT_STEMS.get(named.unit, frozenset()) if named.unit == known.good.base else ()
        noun = not known.nouns.isdisjoint([*named.stems, *counts])
        return Candidate(key, share // whole, noun, own, tuple(left), against)


def code_key(text: str) -> str:
    """A code without its signs.

    >>> code_key("POS-250"), code_key("pos 250")
    ('pos250', 'pos250')
    """
    return re.sub(r"[\W_]+", "", text).lower()


def _known(good: Good) -> _Known:
    stems: set[str] = set()
    nouns: set[str] = set()
    sizes: dict[str, set[Decimal]] = {}
    written: set[Decimal] = set()
    for n, called in enumerate(good.called):
        words = _words(called)
        stems.update(words)
        head = _words(_OF_IT.split(called)[0])
        nouns.update(head[-1:] if n == 0 else [*head[:1], *head[-1:]])
        for size in _sizes(called):
            sizes.setdefault(size.kind, set()).update(size.values)
            written.update(size.written)
    return _Known(
        good, frozenset(stems), frozenset(nouns), {k: frozenset(v) for k, v in sizes.items()}, frozenset(written)
    )  # fmt: skip


@lru_cache(maxsize=65536)
def _words(text: str) -> tuple[str, ...]:
    """The stems of a name's words, without those that join and the units of its sizes."""
    tokens = tokens_of(text)
    taken = {n for size in measures_of(tokens) for n in range(size.first, size.after)}
    return tuple(
        stem(token.plain)
        for n, token in enumerate(tokens)
        if n not in taken
        and token.kind == WORD
        and token.plain not in GLUE
        and len(token.plain) > 1
    )


@lru_cache(maxsize=65536)
def _sizes(text: str) -> Sequence[Measure]:
    """A name's sizes, and what it counts: "6 outlets", "two probes"."""
    tokens = tokens_of(text)
    found = measures_of(tokens)
    taken = {n for size in found for n in range(size.first, size.after)}
    for n, token in enumerate(tokens[:-1]):
        after = tokens[n + 1]
        if n in taken or after.kind != WORD or after.plain in GLUE or after.plain in UNITS:
            continue
        values = values_of(token.text) if token.kind == NUMBER else ()
        read = number_in_words([token.plain]) if token.kind == WORD else None
        if read:
            values = (read[0],)
        if values:
            found.append(Measure(f"#{stem(after.plain)}", values, (), n, n + 2, after.plain))
    return found
