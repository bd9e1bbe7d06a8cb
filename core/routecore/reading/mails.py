"""Reading a mail into lines: what is wanted of the catalogue, how many, how sure; what was told only, what not understood.

A line is sure where its words name one item wholly, its number has one reading, its unit is one of the item's, and the
sentence wants it. All else is shown with its doubts. Nothing is guessed that is not shown.
"""

from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass, replace
from decimal import Decimal

from routecore.reading.amounts import joined, quantity_doubts, unit_of, with_sizes
from routecore.reading.found import Cluster, Quantity, Scan
from routecore.reading.goods import MOST_CANDIDATES, Candidate, Goods
from routecore.reading.letters import GERMAN, LeftOut, fresh, language_of
from routecore.reading.measures import Measure
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
        mentions = list(joined(mentions_of(scan), self.goods))
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
        unit = unit_of(quantity, good)
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
        quantity, left = with_sizes(mention.quantity, best, good)
        if quantity is None and not (mention.article or _asked_for(clause, scan, cluster, likely)):
            self._keep_head(cluster, best)
            return None
        doubts = [
            *self._item_doubts(mention, likely, left, unit),
            *quantity_doubts(clause, mention, quantity),
        ]
        code = unit_of(quantity, good)
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


def _equal(one: Candidate, other: Candidate) -> bool:
    return (one.against, one.share, one.own, one.noun) == (
        other.against, other.share, other.own, other.noun,
    )  # fmt: skip


def _asked_for(clause: Clause, scan: Scan, cluster: Cluster, likely: Sequence[Candidate]) -> bool:
    """Whether goods without a number are named so clearly that they are asked for."""
    if cluster.item is not None:
        return True
    best = likely[0]
    alone = len(likely) == 1 or not _equal(likely[1], best)
    lonely = not any(isinstance(each, Quantity) for each in scan.found)
    asks = lonely and (clause.asks or clause.question)
    asks = asks or best.own > 0 or len(cluster.stems) > 1
    return alone and asks and best.share == 100 and best.noun and not best.against


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
