"""Quantities and goods in a clause: which words name what, which number counts and which one measures."""

from collections.abc import Iterator, Sequence
from decimal import Decimal
from itertools import pairwise

from routecore.reading.counting import UNITS, number_in_words
from routecore.reading.found import EMPTY, OR, THOUSANDS, Cluster, Quantity, Scan, counted_at
from routecore.reading.goods import GLUE, Goods, code_key
from routecore.reading.measures import RANGES, SOLD, TIMES, Measure, measures_of, values_of
from routecore.reading.numbers import NumberStyle, read_number
from routecore.reading.sentences import Clause, given_up
from routecore.reading.signs import NUMBER, WORD, tokens_of
from routecore.reading.traps import PLACE, Trap, traps_of


class Scanner:
    """Goes through a clause once, from left to right."""

    def __init__(self, clause: Clause, goods: Goods, style: NumberStyle):
        self.goods = goods
        self.style = style
        self.tokens = tokens_of(clause.text)
        spans = [span for trap in traps_of(clause.text) for span in self._holds(trap)]
        spans += given_up(clause.text)
        self.trapped = {
            n
            for n, token in enumerate(self.tokens)
            if any(start < token.end and token.start < end for start, end in spans)
        }
        self.sizes = {
            size.first: size
            for size in measures_of(self.tokens)
            if self.trapped.isdisjoint(range(size.first, size.after))
        }
        self.found: list[Quantity | Cluster] = []

    def _holds(self, trap: Trap) -> Iterator[tuple[int, int]]:
        """Where a trap is, unless goods follow the number of a place: "for the north field 200 posts"."""
        following = next((token for token in self.tokens if token.start >= trap.end), None)
        counts = following is not None and following.kind == WORD
        if (
            trap.why != PLACE
            or not counts
            or not following
            or not (self.goods.parts(following.plain) or following.plain in UNITS)
        ):
            yield trap.start, trap.end

    def scan(self) -> Scan:
        """All quantities and clusters, in order."""
        n = 0
        while n < len(self.tokens):
            n = n + 1 if n in self.trapped else self._one(n)
        return Scan(self.tokens, self.found, frozenset(self.trapped))

    def _one(self, n: int) -> int:
        """Take what begins at a token; the place after it."""
        code = self._code(n)
        if code:
            return self._coded(n, *code)
        counted = counted_at(self.tokens, n, self.goods)
        if counted:
            return self._part(n, counted.after, measure=counted)
        size = self.sizes.get(n)
        if size:
            return self._size(n, size)
        token = self.tokens[n]
        if token.kind == NUMBER:
            return self._number(n)
        if token.kind != WORD:
            return n + 1
        at = [
            m
            for m in range(n, min(n + 10, len(self.tokens)))
            if self.tokens[m].text != "-" or m == n
        ]
        read = number_in_words([self.tokens[m].plain for m in at])
        if read:
            value, taken = read
            return self._quantity((value,), n, at[taken - 1] + 1)
        stems = self.goods.parts(token.plain)
        if stems and not self._only_unit(n):
            return self._part(n, n + 1, stems=stems)
        return n + 1

    def _coded(self, n: int, item: int, after: int) -> int:
        """An item by its code; beside its own words it is one with them: "bamboo stakes (STK-180)"."""
        last = self.found[-1] if self.found else None
        if isinstance(last, Cluster) and last.item is None:
            gap = self.tokens[last.after : n]
            own = not self.goods.known[item].stems.isdisjoint(last.stems)
            if own and all(token.text in "(:-–," for token in gap):
                last.item, last.after = item, after
                return after
        self.found.append(Cluster(n, after, item=item))
        return after

    # ---- what a token may be ------------------------------------------------------------------
    def _code(self, n: int) -> tuple[int, int] | None:
        """The item whose code stands here, and the place after it. A code in small letters and parts is no word."""
        if self.tokens[n].kind != WORD:
            return None
        for after in range(min(n + 5, len(self.tokens)), n, -1):
            text = "".join(token.text for token in self.tokens[n:after])
            item = self.goods.codes.get(code_key(text))
            if item is None or not self.tokens[after - 1].text.isalnum():
                continue
            parts = self.tokens[n:after]
            close = all(one.end == two.start for one, two in pairwise(parts))
            if close or not self.goods.parts(self.tokens[n].plain):
                return item, after
        return None

    def _only_unit(self, n: int) -> bool:
        """Whether a word is a unit here and no part of a name."""
        if self.tokens[n].plain not in UNITS:
            return False
        last = self.found[-1] if self.found else None
        own = self.goods.parts(self.tokens[n].plain)
        if isinstance(last, Cluster) and last.after == n and last.stems and own:
            return not any(self.goods.together(each, own[0]) for each in last.stems)
        following = self.tokens[n + 1].plain if n + 1 < len(self.tokens) else ""
        parts = self.goods.parts(following)
        return not (parts and own and self.goods.together(own[0], parts[0]))

    # ---- sizes and numbers --------------------------------------------------------------------
    def _size(self, n: int, size: Measure) -> int:
        """A size of the goods, or how much of them is wanted."""
        if size.kind in SOLD and size.after - size.first == 2 and self._wanted(n, size):
            unit, _ = SOLD[size.kind]
            return self._quantity(self._values(self.tokens[n].text), n, size.after, unit=unit)
        both = self.sizes.get(size.after) if self._is_pair(size) else None
        after = self._part(n, size.after, measure=size)
        return self._part(both.first, both.after, measure=both) if both else after

    def _is_pair(self, size: Measure) -> bool:
        return size.after < len(self.tokens) and self.tokens[size.after].plain in TIMES

    def _wanted(self, n: int, size: Measure) -> bool:
        """Whether it says how much: before what it is of, or after a colon."""
        if UNITS.get(size.word) != SOLD[size.kind][0]:
            return False
        before = self.tokens[n - 1] if n else None
        last = self.found[-1] if self.found else None
        if before is not None and before.plain in TIMES:
            return False
        if last is not None and self._is_beside(last, n, size):
            return False
        after = size.after
        while after < len(self.tokens) and self.tokens[after].plain in GLUE:
            after += 1
        if after >= len(self.tokens):
            return before is not None and before.text in (":", "=", "–", "-", "|")
        following = self.tokens[after]
        if following.text == "(":
            return True
        if any(self.goods.has_size(each, size) for each in self.goods.parts(following.plain)):
            return False
        return (
            following.kind == WORD
            and (bool(self.goods.parts(following.plain)) or self._code(after) is not None)
        ) or (after in self.sizes and before is None)

    def _is_beside(self, last: Quantity | Cluster, n: int, size: Measure) -> bool:
        """Whether a size stands with the goods before it ("windbreak 100 m, 2 m high"), or with their unit ("rolls of
        250 m")."""
        gap = self.tokens[last.after : n]
        if isinstance(last, Quantity):
            return bool(last.unit and gap) and all(token.plain in GLUE for token in gap)
        if not gap:
            return True
        own = any(self.goods.has_size(each, size) for each in last.stems)
        return own and all(token.text in (",", "(") for token in gap)

    def _number(self, n: int) -> int:
        token = self.tokens[n]
        last = self.found[-1] if self.found else None
        following = self.tokens[n + 1] if n + 1 < len(self.tokens) else None
        values = self._values(token.text)
        if not values:
            return n + 1
        if isinstance(last, Cluster) and last.after == n and last.stems:
            plain = following.plain if following else ""
            if plain not in UNITS and plain not in TIMES:
                for value in values:
                    if any(self.goods.has_bare(each, value) for each in last.stems):
                        return self._part(n, n + 1, bare=value)
        pair = self._bare_pair(n)
        if pair:
            self._part(n, n + 1, bare=values[0])
            return self._part(n + 2, pair, bare=values_of(self.tokens[n + 2].text)[0])
        if following and following.plain in THOUSANDS and following.start == token.end:
            return self._quantity(tuple(value * 1000 for value in values), n, n + 2)
        if " " in token.text:
            return self._quantity(values, n, n + 1, about=True)  # or two numbers
        second = self._second(n)
        if second:
            return self._quantity(values, n, second, about=True)
        return self._quantity(values, n, n + 1)

    def _bare_pair(self, n: int) -> int | None:
        """The place after "7x30" where the goods before it come in that size; None where they do not."""
        last = self.found[-1] if self.found else None
        if n + 2 >= len(self.tokens) or self.tokens[n + 1].plain not in TIMES:
            return None
        if not isinstance(last, Cluster) or self.tokens[n + 2].kind != NUMBER:
            return None
        near = all(token.text in ",(" for token in self.tokens[last.after : n])
        numbers = [values_of(self.tokens[m].text)[:1] for m in (n, n + 2)]
        own = all(
            any(self.goods.has_bare(each, value) for each in last.stems)
            for values in numbers
            for value in values
        )
        return n + 3 if near and own and all(numbers) else None

    def _second(self, n: int) -> int | None:
        """The place after the second number of "200-250" or "10 or 12"; None where there is none."""
        if n + 2 >= len(self.tokens) or self.tokens[n + 1].plain not in RANGES | OR:
            return None
        return n + 3 if self.tokens[n + 2].kind == NUMBER and n + 2 not in self.trapped else None

    def _values(self, text: str) -> tuple[Decimal, ...]:
        read = read_number(text, self.style)
        if read is not None and read.why.startswith("decimal") and len(values_of(text)) > 1:
            read = read_number(
                text
            )  # "1.200" in an English mail: three decimals of what is counted?
        return () if read is None else (read.value, *(other.value for other in read.others))

    def _quantity(
        self,
        values: tuple[Decimal, ...],
        first: int,
        after: int,
        *,
        unit: str = "",
        about: bool = False,
    ) -> int:
        values = tuple(value for value in values if value > 0)
        if not values:
            return after
        if after < len(self.tokens) and self.tokens[after].plain in TIMES:
            after += 1
        if not unit and after < len(self.tokens) and self._only_unit(after):
            unit, after = UNITS[self.tokens[after].plain], after + 1
            if after < len(self.tokens) and self.tokens[after].text == ".":
                after += 1
        self.found.append(Quantity(values, unit, first, after, about))
        return after

    # ---- clusters -----------------------------------------------------------------------------
    def _part(
        self,
        first: int,
        after: int,
        *,
        stems: Sequence[str] = (),
        measure: Measure | None = None,
        bare: Decimal | None = None,
    ) -> int:
        """Add to the last cluster, or begin another."""
        last = self.found[-1] if self.found else None
        if not isinstance(last, Cluster) or not self._joins(last, first, stems):
            last = Cluster(first, after)
            self.found.append(last)
        last.stems += stems
        if measure:
            last.measures.append(measure)
        if bare is not None:
            last.bare.append(bare)
        last.after = after
        return after

    def _joins(self, last: Cluster, first: int, stems: Sequence[str]) -> bool:
        """Whether what stands at ``first`` belongs to the cluster before it."""
        gap = self.tokens[last.after : first]
        if not self.trapped.isdisjoint(range(last.after, first)) or len(gap) > 4:
            return False
        strange = [
            t for t in gap if t.kind == WORD and t.plain not in GLUE and t.plain not in UNITS
        ]
        if any(token.text in ";:|+&" or token.kind == NUMBER for token in gap) or len(strange) > 1:
            return False
        if not stems:
            return not strange and not any(token.plain in ("and", "und") for token in gap)
        if not gap:
            return True
        if strange and strange[0].plain in EMPTY:
            return False
        known = last.stems and any(
            self.goods.together(each, stem_) for each in last.stems for stem_ in stems
        )
        if known and strange:
            last.strange = True
        return bool(known) or (last.item is not None and not strange)
