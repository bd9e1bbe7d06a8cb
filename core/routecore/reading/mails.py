"""Reading a mail into lines: what is wanted of the catalogue, how many, how sure; what was told only, what not understood.

A line is sure where its words name one item wholly, its number has one reading, its unit is one of the item's, and the
sentence wants it. All else is shown with its doubts. Nothing is guessed that is not shown.
"""

from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass, replace
from decimal import Decimal

from routecore.reading.counting import COUNTED
from routecore.reading.found import Cluster, Quantity, Scan
from routecore.reading.goods import MOST_CANDIDATES, Candidate, Good, Goods
from routecore.reading.letters import GERMAN, LeftOut, fresh, language_of
from routecore.reading.measures import SOLD, Measure
from routecore.reading.mentions import Mention, carried, mentions_of
from routecore.reading.numbers import NumberStyle
from routecore.reading.scanning import Scanner
from routecore.reading.sentences import WANTED, Clause, clauses_of
from routecore.reading.tables import rows_in

#: Of what was written so much must name an item for it to be shown as one that may be meant.
LIKELY = 40
UNKNOWN = "unknown"


@dataclass(frozen=True, slots=True)
class Meant:
    """An item that may be meant, and how much of what was written names it, 0 to 100."""

    item: int
    share: int


@dataclass(frozen=True, slots=True, kw_only=True)
class MailLine:
    """A line that a mail asks for. ``sentence``: where it is read from; ``words``: what names the item there.

    ``doubts``: ``item``, ``quantity``, ``unit``, ``wanted``; none where it is sure. ``others``: other readings of the
    number. ``items``: the likeliest first.
    """

    sentence: str
    start: int
    words: str
    quantity: Decimal | None
    unit: str
    items: tuple[Meant, ...]
    doubts: tuple[str, ...] = ()
    others: tuple[Decimal, ...] = ()

    @property
    def sure(self) -> bool:
        """Whether nothing is in doubt."""
        return not self.doubts


@dataclass(frozen=True, slots=True)
class Aside:
    """A sentence with numbers or goods that makes no line: ``refused``, ``told`` or ``unknown``."""

    sentence: str
    why: str


@dataclass(frozen=True, slots=True)
class MailReading:
    """A mail, read."""

    language: str
    lines: tuple[MailLine, ...]
    asides: tuple[Aside, ...]
    left_out: tuple[LeftOut, ...]


def read_mail(text: str, goods: Goods, *, usual: Collection[int] = ()) -> MailReading:
    """A mail's lines, in order. Of items that are equally likely those that are bought ``usual``ly come first."""
    own = fresh(text)
    language = language_of(own.text)
    style = NumberStyle("," if language == GERMAN else ".")
    reader = _Reader(goods, style, frozenset(usual))
    rest = own.text
    for row in rows_in(own.text):
        reader.row(row.words, row.quantity, row.unit, row.text, row.start)
        rest = rest[: row.start] + " " * (row.end - row.start) + rest[row.end :]
    for clause in clauses_of(rest):
        reader.clause(clause)
    lines = sorted(reader.lines, key=lambda line: line.start)
    return MailReading(language, tuple(lines), tuple(reader.asides), own.left_out)


class _Reader:
    """Collects what a mail's clauses and rows come to."""

    def __init__(self, goods: Goods, style: NumberStyle, usual: frozenset[int]):
        self.goods = goods
        self.style = style
        self.usual = usual
        self.lines: list[MailLine] = []
        self.asides: list[Aside] = []
        #: The words for the thing that was named last: "pots: 400 of 3 l".
        self.head: list[str] = []

    def clause(self, clause: Clause) -> None:
        """Add a clause's lines, or say why it has none."""
        scan = Scanner(clause, self.goods, self.style).scan()
        mentions = list(_joined(mentions_of(scan), self.goods))
        if clause.mood != WANTED:
            if any(mention.cluster for mention in mentions):
                self._aside(clause.sentence, clause.mood)
            return
        before = len(self.lines)
        strangers = False
        alone = sum(each.quantity is not None and each.cluster is None for each in mentions)
        for mention in mentions:
            if mention.cluster is None:
                strangers = not self._counts_last(mention.quantity) or strangers
                continue
            line = self._line(clause, scan, mention)
            if line is not None and alone and line.sure:
                line = replace(line, doubts=("quantity",))  # another number may be meant
            if line is not None:
                self.lines.append(line)
            elif mention.quantity:
                strangers = True
        if strangers and (len(self.lines) > before or not mentions or mentions[0].cluster is None):
            self._aside(clause.sentence, UNKNOWN)

    def _counts_last(self, quantity: Quantity | None) -> bool:
        """Whether a number without goods is of those that were named last without one: "in pallets? We want 3."."""
        last = self.lines[-1] if self.lines else None
        if quantity is None or last is None or last.quantity is not None:
            return False
        good = self.goods.known[last.items[0].item].good
        unit = _unit(quantity, good)
        if unit:
            counted = replace(
                last, quantity=quantity.values[0], unit=unit, doubts=(*last.doubts, "wanted")
            )
            self.lines[-1] = counted
        return bool(unit)

    def row(
        self, words: str, quantity: Quantity | None, unit: str, sentence: str, start: int
    ) -> None:
        """Add a row of a table."""
        clause = Clause(words, start, sentence, WANTED, False, False, False, False, False, False)
        scan = Scanner(clause, self.goods, self.style).scan()
        cluster = _whole(scan)
        if cluster is None:
            if quantity is not None:
                self._aside(sentence, UNKNOWN)
            return
        given = replace(quantity, unit=unit) if quantity else None
        self.head = []  # each row names its own
        line = self._line(clause, scan, Mention(given, cluster))
        if line is not None:
            self.lines.append(replace(line, words=words))

    def _aside(self, sentence: str, why: str) -> None:
        aside = Aside(sentence, why)
        if aside not in self.asides:
            self.asides.append(aside)

    def _line(self, clause: Clause, scan: Scan, mention: Mention) -> MailLine | None:
        cluster = mention.cluster
        assert cluster is not None
        unit = mention.quantity.unit if mention.quantity else ""
        likely, carries = self._likely(cluster, unit)
        if not likely:
            return None
        best = likely[0]
        good = self.goods.known[best.key].good
        if carries:
            self._no_heading()
        quantity, left = _with_sizes(mention.quantity, best, good)
        alone = len(likely) == 1 or not _equal(likely[1], best)
        telling = (
            alone
            and _telling(cluster, best)
            and (clause.asks or clause.question or best.own > 0 or len(cluster.stems) > 1)
        )
        if quantity is None and not mention.article and not telling:
            self._keep_head(cluster, best)
            return None
        doubts = [
            *self._item_doubts(mention, likely, left, unit),
            *_quantity_doubts(clause, mention, quantity),
        ]
        code = _unit(quantity, good)
        if quantity is not None and not code:
            doubts.append("unit")
        if clause.condition or clause.question:
            doubts.append("wanted")
        self._keep_head(cluster, best)
        values = quantity.values if quantity else (Decimal(1),) if mention.article else ()
        return MailLine(
            sentence=clause.sentence,
            start=clause.start + scan.tokens[cluster.first].start,
            words=_said(clause, scan, cluster),
            quantity=values[0] if values else None,
            unit=code or good.sold_in,
            items=tuple(Meant(each.key, each.share) for each in likely[:MOST_CANDIDATES]),
            doubts=tuple(dict.fromkeys(doubts)),
            others=values[1:],
        )

    def _likely(self, cluster: Cluster, unit: str) -> tuple[list[Candidate], bool]:
        """The items that may be meant; and whether the word for the thing is an earlier one."""
        if cluster.item is not None:
            return [Candidate(cluster.item, 100, True, 0, (), False)], False
        found = self.goods.like(cluster.named(unit)) if cluster.stems else []
        carries = False
        if self.head and not (found and found[0].noun):
            whole = self.goods.like(carried(cluster, self.head).named(unit))
            if whole and whole[0].noun and whole[0].share == 100 and not whole[0].against:
                found, carries = whole, True
        likely = [each for each in found if each.share >= LIKELY]
        alone = len(likely) == 1 or (likely and not _equal(likely[1], likely[0]))
        if not likely or not (likely[0].noun or cluster.measures or alone):
            return [], False
        first = [each for each in likely if _equal(each, likely[0])]
        first.sort(key=lambda each: each.key not in self.usual)
        return [*first, *(each for each in likely if not _equal(each, likely[0]))], carries

    def _item_doubts(
        self, mention: Mention, likely: Sequence[Candidate], left: Sequence[Measure], unit: str
    ) -> Iterator[str]:
        best = likely[0]
        rivals = [
            each
            for each in likely[1:]
            if _equal(each, best) and self.goods.known[each.key].good.has_unit(unit or "H87")
            == self.goods.known[best.key].good.has_unit(unit or "H87")
        ]  # fmt: skip
        cluster = mention.cluster
        strange = mention.strange or (cluster is not None and cluster.strange)
        if best.share < 100 or not best.noun or best.against or left or rivals or strange:
            yield "item"

    def _keep_head(self, cluster: Cluster, best: Candidate) -> None:
        nouns = self.goods.known[best.key].nouns
        own = [each for each in cluster.stems if each in nouns]
        if own:
            self.head = [each for each in cluster.stems if len(each) > 1][:2]

    def _no_heading(self) -> None:
        """What named the thing alone, before its sizes, was no line of its own."""
        if self.lines and self.lines[-1].quantity is None:
            self.lines.pop()


def _joined(mentions: Sequence[Mention], goods: Goods) -> Iterator[Mention]:
    """Mentions, where "2 pallets (120 posts)" is one of them."""
    n = 0
    while n < len(mentions):
        one = mentions[n]
        two = mentions[n + 1] if n + 1 < len(mentions) else None
        if two and not one.cluster and one.quantity and _same_amount(one.quantity, two, goods):
            yield Mention(one.quantity, two.cluster, two.strange)
            n += 2
            continue
        yield one
        n += 1


def _same_amount(first: Quantity, second: Mention, goods: Goods) -> bool:
    """Whether both quantities are the same number of the likeliest item."""
    cluster, other = second.cluster, second.quantity
    if cluster is None or other is None or not first.unit:
        return False
    found = goods.like(cluster.named(first.unit)) if cluster.stems else []
    key = cluster.item if cluster.item is not None else found[0].key if found else None
    if key is None:
        return False
    good = goods.known[key].good
    one, two = (_factor(good, each.unit or good.base) for each in (first, other))
    return bool(one and two) and first.values[0] * (one or 0) == other.values[0] * (two or 0)


def _factor(good: Good, unit: str) -> Decimal | None:
    return Decimal(1) if unit == good.base else good.units.get(unit)


def _equal(one: Candidate, other: Candidate) -> bool:
    return (one.against, one.share, one.own, one.noun) == (
        other.against, other.share, other.own, other.noun,
    )  # fmt: skip


def _telling(cluster: Cluster, best: Candidate) -> bool:
    """Whether goods without a number are named so clearly that they are asked for."""
    if cluster.item is not None:
        return True
    return best.share == 100 and best.noun and not best.against


def _with_sizes(
    quantity: Quantity | None, best: Candidate, good: Good
) -> tuple[Quantity | None, list[Measure]]:
    """The quantity, where a size that is not the item's own says it; and the sizes that stay without a meaning."""
    left = list(best.left)
    if quantity is None:
        if len(left) == 2 and _is_pack(good, left[1]):
            many, pack = left
            return Quantity(many.written, _is_pack(good, pack), many.first, many.after), []
        for size in left:
            unit = SOLD.get(size.kind, ("", 0))[0]
            whole = (
                size.word[:1] in ("m", "l") and size.word not in ("mm",)
            ) or size.word.startswith("k")
            if unit and good.has_unit(unit) and whole:
                rest = [other for other in left if other is not size]
                return Quantity(size.written, unit, size.first, size.after), rest
        return None, left
    rest = [size for size in left if not _is_pack(good, size, quantity.unit)]
    if quantity and not quantity.unit and len(rest) < len(left):
        pack = next(size for size in left if _is_pack(good, size))
        quantity = replace(quantity, unit=_is_pack(good, pack))
    return quantity, rest


def _is_pack(good: Good, size: Measure, unit: str = "") -> str:
    """The unit that holds so much of the item: "3 rolls of 100 m"; nothing where none does."""
    base = SOLD.get(size.kind, ("", 0))[0]
    if base != good.base:
        return ""
    for code, factor in good.units.items():
        if factor in size.written and unit in ("", code):
            return code
    return ""


def _quantity_doubts(clause: Clause, mention: Mention, quantity: Quantity | None) -> Iterator[str]:
    if (
        quantity is None
        or len(quantity.values) > 1
        or quantity.about
        or mention.article
        or clause.unsure
        or clause.each
    ):
        yield "quantity"


def _unit(quantity: Quantity | None, good: Good) -> str:
    """The item's unit that is meant; nothing where the one that was named is none of its own, or none was and a
    number alone does not count it."""
    if quantity is None:
        return ""
    if quantity.unit:
        return quantity.unit if good.has_unit(quantity.unit) else ""
    return good.base if good.base in COUNTED else ""


def _said(clause: Clause, scan: Scan, cluster: Cluster) -> str:
    first, last = scan.tokens[cluster.first], scan.tokens[cluster.after - 1]
    return clause.text[first.start : last.end]


def _whole(scan: Scan) -> Cluster | None:
    """All that a cell names, as one."""
    clusters = [each for each in scan.found if isinstance(each, Cluster)]
    if not clusters:
        return None
    whole = Cluster(clusters[0].first, clusters[-1].after)
    for each in clusters:
        whole.item = each.item if whole.item is None else whole.item
        whole.stems += each.stems
        whole.measures += each.measures
        whole.bare += each.bare
    return whole
