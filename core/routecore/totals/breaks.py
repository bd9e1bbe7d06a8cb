"""The nearest better tier of each line: what it needs, what it saves, what the document then costs.

Each answer is exact. The work stays linear in the lines: a larger quantity moves other lines only
where a rule over several lines reaches another tier, and each such combination is computed once.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field, replace
from decimal import Decimal

from routecore.money import ZERO
from routecore.pricing import DiscountRule, PriceBook
from routecore.quantity import reach
from routecore.totals.result import NextBreak
from routecore.totals.sums import basis_of, discounted
from routecore.totals.tax import TaxTable
from routecore.totals.terms import DocumentTerms
from routecore.totals.work import (
    Measured,
    Worked,
    measure,
    net_of,
    part_of,
    work_line,
    work_lines,
)

MOST_STEPS = 6


@dataclass(slots=True)
class _Tier:
    """A better tier of one line: where it comes from, and the base quantity that reaches it."""

    n: int
    source: str
    rule: DiscountRule | None
    quantity: Decimal


@dataclass(slots=True)
class Breaks:
    """The priced document, asked what would be if a line were larger."""

    worked: Sequence[Worked]
    nets: Sequence[Decimal]
    measured: Measured
    book: PriceBook
    terms: DocumentTerms
    taxes: TaxTable
    net: Decimal
    _tiers: tuple[int, ...] = field(init=False)
    _lines_net: Decimal = field(init=False)
    _others: dict[tuple[int, ...], tuple[list[Decimal], Decimal]] = field(
        init=False, default_factory=dict
    )

    def __post_init__(self) -> None:
        self._tiers = self.measured.tiers()
        self._lines_net = self._sum(self.nets)

    def all(self) -> tuple[NextBreak, ...]:
        """Every break within reach, the greatest gain first."""
        found: list[NextBreak] = []
        shared: dict[str, _Tier] = {}
        for n, row in enumerate(self.worked):
            if not row.line.counted or row.found is None:
                continue
            for tier in self._of_line(n, row):
                if tier.rule is not None and tier.rule.graduated and not tier.rule.alone:
                    known = shared.get(tier.rule.id)
                    if known is None or self._extra(tier) < self._extra(known):
                        shared[tier.rule.id] = tier
                elif answer := self._answer(tier):
                    found.append(answer)
        found += [answer for tier in shared.values() if (answer := self._answer(tier))]
        return tuple(sorted(found, key=self._gain))

    def _gain(self, step: NextBreak) -> tuple[Decimal, Decimal, str]:
        return -max(self.net - step.new_net, ZERO), -step.saves, step.line

    def _extra(self, tier: _Tier) -> Decimal:
        row = self.worked[tier.n]
        return (tier.quantity - row.line.quantity) * row.exact / row.line.quantity

    # ---- where the next tiers lie ----------------------------------------------------------

    def _of_line(self, n: int, row: Worked) -> Iterator[_Tier]:
        assert row.found is not None
        ahead = row.found.next_entry
        if ahead is not None:
            base = row.line.item.units.convert(
                ahead.from_quantity, ahead.unit, row.line.item.units.base
            )
            yield _Tier(n, row.found.source, None, self._orderable(row, base))
        for rule, own in row.touches:
            whole = own if rule.alone else self.measured.totals[rule.id]
            tier = rule.reached(whole) + 1
            if tier >= len(rule.tiers):
                continue
            quantity = self._quantity_for(n, row, rule, rule.tiers[tier].start - whole)
            if quantity is not None:
                yield _Tier(n, rule.id, rule, quantity)

    def _orderable(self, row: Worked, base: Decimal) -> Decimal:
        item = row.line.item
        return reach(
            base,
            unit_factor=item.units.factor(row.line.unit),
            minimum=item.minimum_quantity,
            multiple=item.pack_multiple,
        )

    def _quantity_for(
        self, n: int, row: Worked, rule: DiscountRule, needed: Decimal
    ) -> Decimal | None:
        """The least orderable quantity whose measure is greater by ``needed``; None if out of reach.

        A larger quantity may have a lower price, so an amount is reached step by step.
        """
        item, line = row.line.item, row.line
        current = row
        for _ in range(MOST_STEPS):
            own = rule.measure_of(item, current.base, current.exact)
            start = rule.measure_of(item, row.base, row.exact)
            if own is None or start is None or own <= 0:
                return None
            if current is not row and own - start >= needed:
                return current.quantity
            base = current.base * (start + needed) / own
            quantity = self._orderable(row, base)
            if quantity <= current.quantity:
                factor = item.units.factor(line.unit)
                quantity = self._orderable(row, (current.quantity + 1) * factor)
            current = self._larger(n, quantity)
        return None

    def _larger(self, n: int, quantity: Decimal) -> Worked:
        row = self.worked[n]
        return work_line(row.line, self.book, self.terms, row.left, quantity)

    # ---- what they come to -----------------------------------------------------------------

    def _answer(self, tier: _Tier) -> NextBreak | None:
        row = self.worked[tier.n]
        saves = self.nets[tier.n] - self._net_at_terms(tier)
        graduated = tier.rule is not None and tier.rule.graduated
        if saves <= 0 and not graduated:
            return None
        new_net = self._document_with(tier)
        return NextBreak(
            line=row.line.id,
            rule=tier.source,
            add=tier.quantity - row.line.quantity,
            quantity=tier.quantity,
            unit=row.line.unit,
            new_net=new_net,
            saves=max(saves, ZERO),
            cheaper_overall=new_net < self.net,
        )

    def _net_at_terms(self, tier: _Tier) -> Decimal:
        """The goods already wanted, at the next tier's price or discount."""
        row = self.worked[tier.n]
        forced: dict[str, int] | None = None
        if tier.rule is not None:
            if tier.rule.graduated:
                return self.nets[tier.n]
            whole = self._own(row, tier.rule)
            forced = {tier.rule.id: tier.rule.reached(whole) + 1}
        elif row.found is not None and row.found.next_entry is not None:
            entry = row.found.next_entry
            units = row.line.item.units
            exact = units.convert(row.line.quantity, row.line.unit, entry.unit)
            row = replace(row, exact=exact * entry.price / entry.per)
        return net_of(row, self.measured.totals, self.book.policy, self.terms.currency, forced)

    def _own(self, row: Worked, rule: DiscountRule) -> Decimal:
        if not rule.alone:
            return self.measured.totals[rule.id]
        return next(own for touched, own in row.touches if touched.id == rule.id)

    def _document_with(self, tier: _Tier) -> Decimal:
        """The document's net with the line at the larger quantity."""
        larger = self._larger(tier.n, tier.quantity)
        row = self.worked[tier.n]
        if (row.found and row.found.agreement) or (larger.found and larger.found.agreement):
            return self._all_again(tier.n, larger)
        totals = {
            rule.id: self.measured.totals[rule.id] - part_of(rule, row) + part_of(rule, larger)
            for rule in self.measured.rules
        }
        moved = any(
            rule.graduated and totals[rule.id] != self.measured.totals[rule.id]
            for rule in self.measured.rules
        )
        net = net_of(larger, totals, self.book.policy, self.terms.currency)
        tiers = tuple(rule.reached(totals[rule.id]) for rule in self.measured.rules)
        nets: Sequence[Decimal]
        if moved:
            nets = self._nets(totals, None)
            lines_net = self._sum(nets)
        elif tiers == self._tiers:
            nets, lines_net = self.nets, self._lines_net
        else:
            nets, lines_net = self._under(tiers)
        if self.terms.discount is None or self.terms.discount.on == "net":
            return self._after_discount(lines_net - nets[tier.n] + net)
        return self._net_of_all([*nets[: tier.n], net, *nets[tier.n + 1 :]])

    def _sum(self, nets: Sequence[Decimal]) -> Decimal:
        """The sum of the counted lines."""
        pairs = zip(self.worked, nets, strict=True)
        return sum((net for row, net in pairs if row.line.counted), ZERO)

    def _nets(self, totals: dict[str, Decimal], forced: dict[str, int] | None) -> list[Decimal]:
        return [
            net_of(row, totals, self.book.policy, self.terms.currency, forced)
            if row.line.counted and row.found
            else net
            for row, net in zip(self.worked, self.nets, strict=True)
        ]

    def _under(self, tiers: tuple[int, ...]) -> tuple[list[Decimal], Decimal]:
        """Every line's net, and their sum, where the rules over several lines stand so."""
        if tiers not in self._others:
            ids = (rule.id for rule in self.measured.rules)
            forced = dict(zip(ids, tiers, strict=True))
            nets = self._nets(self.measured.totals, forced)
            self._others[tiers] = nets, self._sum(nets)
        return self._others[tiers]

    def _all_again(self, n: int, larger: Worked) -> Decimal:
        lines = [row.line for row in self.worked]
        lines[n] = replace(larger.line, quantity=larger.quantity)
        worked = work_lines(lines, self.book, self.terms)
        totals = measure(worked).totals
        nets = [
            net_of(row, totals, self.book.policy, self.terms.currency) if row.found else ZERO
            for row in worked
        ]
        return self._net_of_all(nets)

    def _after_discount(self, lines_net: Decimal) -> Decimal:
        charges = sum((c.on(lines_net, self.terms.currency) for c in self.terms.charges), ZERO)
        off = (
            self.terms.discount.off(lines_net, self.terms.currency) if self.terms.discount else ZERO
        )
        return lines_net - off + charges

    def _net_of_all(self, nets: Sequence[Decimal]) -> Decimal:
        counted = [
            (net, row.line.item.tax_category)
            for net, row in zip(nets, self.worked, strict=True)
            if row.line.counted and row.found
        ]
        if self.terms.discount is None or self.terms.discount.on == "net":
            return self._after_discount(sum((net for net, _ in counted), ZERO))
        basis = basis_of(
            [net for net, _ in counted], [c for _, c in counted], self.terms, self.taxes
        )
        return discounted(basis)[0].net
