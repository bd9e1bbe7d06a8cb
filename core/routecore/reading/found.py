"""What is found in a clause: quantities, and clusters of words that name goods; and the words that say nothing."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from decimal import Decimal

from routecore.reading.counting import number_in_words
from routecore.reading.goods import Goods, Named
from routecore.reading.measures import Measure, values_of
from routecore.reading.signs import NUMBER, WORD, Token, stem

_SAYING_NOTHING = (
    "please pls bitte we i you us me it they our your my their this that these those he she wir sie ich "
    "uns mir ihr unser unsere unseren ihre ihren diese dieser diesen dies es would could can will shall "
    "should may must have has had do does did be is are was been need want take like quote offer order "
    "send supply deliver delivered add get give put make take buy look think going brauchen brauche "
    "brauch brauchten braucht benotigen bestellen bieten anbieten liefern nehmen hatten haben hat waren "
    "ware wird werden wurden wurde konnen konnten mochten mochte sollen sollten musste sind ist gern "
    "gerne noch auch dazu bis ab bei wie was wann wo more another other again also too only just then "
    "than so if when what which how many much all any some both enough extra further additional new now "
    "soon next there here out up off over under into onto behind before after about between within nur "
    "mal weitere weiteren weiterer zusatzlich zusatzliche neue neuen neuer jetzt bald nachste nachsten "
    "hier da dann thanks thank danke regards dear hello hi hallo guten tag price prices cost costs preis "
    "preise kosten kostet total as well not but on to ok good nice best usual standard same big ubliche "
    "ublichen gleiche gleichen delivery lieferung ready urgently always immer dringend asap total"
)

THOUSANDS = frozenset(["k", "tsd"])
OR = frozenset(["or", "oder"])
#: Words that say nothing about the goods beside them.
EMPTY = frozenset(_SAYING_NOTHING.split())


@dataclass(frozen=True, slots=True)
class Quantity:
    """A number of goods: every reading, the likeliest first; its unit; where it stands; whether about so many."""

    values: tuple[Decimal, ...]
    unit: str
    first: int
    after: int
    about: bool = False


@dataclass(slots=True)
class Cluster:
    """Words that stand together and name goods."""

    first: int
    after: int
    stems: list[str] = field(default_factory=list)
    measures: list[Measure] = field(default_factory=list)
    bare: list[Decimal] = field(default_factory=list)
    item: int | None = None
    strange: bool = False

    def named(self, unit: str) -> Named:
        """What it names, with the unit of its number."""
        return Named(tuple(dict.fromkeys(self.stems)), tuple(self.measures), tuple(self.bare), unit)


@dataclass(frozen=True, slots=True)
class Scan:
    """A clause's tokens with what was found in them."""

    tokens: Sequence[Token]
    found: Sequence[Quantity | Cluster]
    trapped: frozenset[int]


def counted_at(tokens: Sequence[Token], n: int, goods: Goods) -> Measure | None:
    """A number that is a part of what something is, as in "8 outlets"."""
    if n + 1 >= len(tokens) or tokens[n + 1].kind != WORD:
        return None
    token, after = tokens[n], tokens[n + 1]
    known = goods.counted.get(stem(after.plain))
    if not known:
        return None
    values = values_of(token.text) if token.kind == NUMBER else ()
    read = number_in_words([token.plain]) if token.kind == WORD else None
    values = (read[0],) if read else values
    if not any(value in known for value in values):
        return None
    return Measure(f"#{stem(after.plain)}", values, (), n, n + 2, after.plain)
