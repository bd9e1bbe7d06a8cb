"""The whole document: lines, document discount, charges, tax, payable, margin."""

from collections.abc import Iterable, Mapping, Sequence
from decimal import Decimal

from routecore.errors import InvalidInput
from routecore.money import HUNDRED, ZERO, in_own_context, minor_unit, round_amount, round_to_step
from routecore.pricing import PassedOver, PriceBook, Step
from routecore.quantity import check_quantity
from routecore.totals.breaks import Breaks
from routecore.totals.lines import Line, PricedLine
from routecore.totals.result import PricedDocument, Problem, Totals
from routecore.totals.sums import Basis, Sums, basis_of, discounted, payable_of
from routecore.totals.tax import TaxTable
from routecore.totals.terms import DocumentTerms
from routecore.totals.work import (
    Taking,
    Worked,
    measure,
    net_of,
    own_discount,
    takings,
    work_line,
    work_lines,
)

TENTH = Decimal("0.1")
NO_TOTALS: Mapping[str, Decimal] = {}


@in_own_context
def price_document(
    terms: DocumentTerms, book: PriceBook, lines: Sequence[Line], taxes: TaxTable
) -> PricedDocument:
    """Price every line and sum the counted ones.

    Rounds at each line's net, the document discount and each charge, each tax component, the
    payable; the shares of the document discount add up to it exactly.

    Source: EN 16931 BR-CO-10 to BR-CO-17 for the order of the sums.
    """
    _ids_differ(lines)
    worked = work_lines(lines, book, terms)
    measured = measure(worked)
    drafts = [_Draft(row, measured.totals, book, terms) for row in worked]
    counted = [draft for draft in drafts if draft.counts]
    basis = basis_of(
        [draft.net for draft in counted],
        [draft.row.line.item.tax_category for draft in counted],
        terms,
        taxes,
    )
    sums, target = discounted(basis)
    shares = {id(d): share for d, share in zip(counted, sums.shares, strict=True)}
    zero = ZERO.quantize(minor_unit(terms.currency))
    priced = tuple(draft.priced(shares.get(id(draft)) or zero) for draft in drafts)
    breaks = Breaks(worked, [draft.net for draft in drafts], measured, book, terms, taxes, sums.net)
    return PricedDocument(
        currency=terms.currency,
        lines=priced,
        totals=_totals(basis, sums, target, [draft.cost for draft in counted]),
        next_breaks=breaks.all(),
        problems=tuple(_problems(lines, priced)),
    )


def _ids_differ(lines: Sequence[Line]) -> None:
    seen: set[str] = set()
    for n, line in enumerate(lines):
        if line.id in seen:
            raise InvalidInput("double_id", path=f"lines[{n}].id", facts={"id": line.id})
        seen.add(line.id)


class _Draft:
    """A line with its net and its cost, before its share of the document discount is known."""

    __slots__ = ("book", "cost", "left", "net", "row", "taken", "terms", "totals")

    def __init__(
        self, row: Worked, totals: Mapping[str, Decimal], book: PriceBook, terms: DocumentTerms
    ):
        self.row, self.totals, self.book, self.terms = row, totals, book, terms
        item = row.line.item
        self.cost = (
            None if item.cost is None else round_amount(row.base * item.cost, terms.currency)
        )
        self.taken: list[Taking] = []
        self.left = self.net = ZERO
        if row.found is not None:
            self.taken = takings(row, totals, book.policy) if row.touches else []
            self.left = row.exact - sum((off for _, off, _ in self.taken), ZERO)
            self.net = round_amount(self.left - own_discount(row.line, self.left), terms.currency)

    @property
    def counts(self) -> bool:
        """Whether the line adds to the document: counted, and with a price."""
        return self.row.line.counted and self.row.found is not None

    def priced(self, share: Decimal) -> PricedLine:
        """The finished line."""
        row, line, found = self.row, self.row.line, self.row.found
        if found is None:
            return PricedLine(
                id=line.id,
                unit=line.unit,
                counted=line.counted,
                document_discount_share=share,
                cost=self.cost,
                steps=(Step(code="needs_price"),),
                passed_over=row.passed,
            )
        currency = self.terms.currency
        amount = round_amount(row.exact, currency)
        after = self.net - share
        margin = None if self.cost is None else after - self.cost
        return PricedLine(
            id=line.id,
            unit=found.unit,
            counted=line.counted,
            price=found.price,
            per=found.per,
            source=found.source,
            amount=amount,
            discount=amount - self.net,
            net=self.net,
            by_rules=self._by_rules(),
            document_discount_share=share,
            cost=self.cost,
            margin=margin,
            margin_percent=None if self.cost is None else margin_percent(after, self.cost),
            steps=self._steps(),
            passed_over=(*row.passed, *row.refused, *self._idle()),
            split=found.split,
        )

    def _by_rules(self) -> Decimal | None:
        line = self.row.line
        if line.price is None:
            return round_amount(self.left, self.terms.currency)
        plain = Line(
            id=line.id, item=line.item, quantity=line.quantity, unit=line.unit, kind=line.kind
        )
        row = work_line(plain, self.book, self.terms, self.row.left)
        if row.found is None:
            return None
        totals = {rule.id: own for rule, own in row.touches} | dict(self.totals)
        return net_of(row, totals, self.book.policy, self.terms.currency)

    def _steps(self) -> tuple[Step, ...]:
        found, line = self.row.found, self.row.line
        assert found is not None
        if not self.taken and line.discount_percent is None and line.discount_amount is None:
            return found.steps
        steps = list(found.steps)
        steps += [
            Step(code="rule", source=f"rule:{rule.id}", value=off, percent=percent)
            for rule, off, percent in self.taken
        ]
        off = own_discount(line, self.left)
        if off:
            taken = round_amount(self.left, self.terms.currency) - self.net
            steps.append(Step(code="line_discount", value=taken, percent=line.discount_percent))
        return tuple(steps)

    def _idle(self) -> Iterable[PassedOver]:
        """Rules that hold and yet take nothing: not reached, or another stands alone."""
        if not self.row.touches:
            return
        applied = {rule.id for rule, _, _ in self.taken}
        for rule, own in self.row.touches:
            if rule.id in applied:
                continue
            whole = own if rule.alone else self.totals[rule.id]
            if not rule.alone and not self.row.line.counted:
                whole += own
            if rule.reached(whole) < 0:
                yield PassedOver(
                    source=f"rule:{rule.id}",
                    reason="below",
                    from_quantity=rule.tiers[0].start,
                    unit={
                        "quantity": rule.unit or self.row.line.item.units.base,
                        "weight": "KGM",
                    }.get(rule.measure, ""),
                    currency=self.terms.currency if rule.measure == "amount" else "",
                )
            else:
                alone = any(taken.exclusive for taken, _, _ in self.taken)
                reason = "not_exclusive" if alone and not rule.exclusive else "not_greatest"
                yield PassedOver(source=f"rule:{rule.id}", reason=reason)


@in_own_context
def total_nets(
    terms: DocumentTerms, nets: Sequence[tuple[Decimal, str]], taxes: TaxTable
) -> tuple[Totals, tuple[Decimal, ...]]:
    """The sums of lines whose nets are settled, each with its tax category; and their shares.

    For an order of some of a quote's lines: what was offered stays, the sums are made anew. Costs
    and margins are not known here.
    """
    basis = basis_of([net for net, _ in nets], [category for _, category in nets], terms, taxes)
    sums, target = discounted(basis)
    totals = _totals(basis, sums, target, [None] * len(nets))
    return totals, tuple(round_amount(share, terms.currency) for share in sums.shares)


def margin_percent(net: Decimal, cost: Decimal) -> Decimal | None:
    """Margin in percent of net, to a tenth; None where the net is zero.

    >>> margin_percent(Decimal("861.60"), Decimal("479.00"))
    Decimal('44.4')
    """
    if not net:
        return None
    return round_to_step((net - cost) * HUNDRED / net, TENTH)


def _totals(basis: Basis, sums: Sums, target: Decimal, costs: Sequence[Decimal | None]) -> Totals:
    currency = basis.terms.currency
    known = [cost for cost in costs if cost is not None]
    cost = round_amount(sum(known, ZERO), currency) if len(known) == len(costs) else None
    earned = basis.lines_net - sums.discount
    payable = payable_of(target, basis.terms)
    return Totals(
        lines_net=round_amount(basis.lines_net, currency),
        document_discount=round_amount(sums.discount, currency),
        charges=round_amount(basis.charged, currency),
        net=sums.net,
        tax=sums.tax,
        tax_total=sums.tax_total,
        gross=sums.gross,
        payable_rounding=round_amount(payable - sums.gross, currency),
        payable=payable,
        cost=cost,
        margin=None if cost is None else earned - cost,
        margin_percent=None if cost is None else margin_percent(earned, cost),
        charge_rows=basis.charges,
    )


def _problems(lines: Sequence[Line], priced: Sequence[PricedLine]) -> Iterable[Problem]:
    counted = {line.id for line in lines if line.counted}
    for line, result in zip(lines, priced, strict=True):
        if result.price is None:
            yield Problem(code="needs_price", line=line.id)
        if line.alternative_to is not None and line.alternative_to not in counted:
            yield Problem(code="unknown_original", line=line.id)
        item = line.item
        if item.minimum_quantity is None and item.pack_multiple is None:
            continue
        fault = check_quantity(
            line.quantity,
            unit_factor=item.units.factor(line.unit),
            minimum=item.minimum_quantity,
            multiple=item.pack_multiple,
        )
        if fault:
            yield Problem(
                code=fault.code, line=line.id, facts={"below": fault.below, "above": fault.above}
            )
    if not counted:
        yield Problem(code="nothing_counted")
