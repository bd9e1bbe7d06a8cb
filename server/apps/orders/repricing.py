"""What the lines of an order would come to at today's prices; and what that does to its sums."""

from collections.abc import Sequence
from copy import copy
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from apps.catalogue.queries import tax_table
from apps.orders.models import Acceptance, Order, OrderLine
from apps.orders.offers import given_before
from apps.people.models import User
from apps.quotes.drafts import digest
from apps.quotes.models import Revision
from apps.quotes.pricing.excesses import excesses_of, stored_excesses
from apps.quotes.pricing.question import DraftLine, question_of, terms_of
from routecore.exact import EXACT, nearest
from routecore.money import minor_unit
from routecore.ordering import terms_of_part
from routecore.totals import Excess, Part, PartSums, PricedLine, Totals, total_parts, worse


@dataclass(frozen=True, slots=True, kw_only=True)
class Moved:
    """A line of an order and its price of today; ``now`` without a price where the house has none."""

    line: OrderLine
    now: PricedLine

    @property
    def differs(self) -> bool:
        """Whether it came to something else when it was ordered."""
        return (self.line.price, self.line.per, self.line.net) != (
            self.now.price,
            self.now.per,
            self.now.net,
        )


@dataclass(frozen=True, slots=True, kw_only=True)
class Again:
    """An order priced again. ``totals`` None where a line has no price any more; nothing is stored.

    ``excesses`` by offer, as ``acceptances``: limits that it would exceed and the offer did not.
    """

    rows: tuple[Moved, ...]
    acceptances: tuple[Acceptance, ...]
    totals: Totals | None
    parts: tuple[PartSums, ...]
    excesses: tuple[tuple[Excess, ...], ...]

    @property
    def mark(self) -> str:
        """A mark of what was seen."""
        rows = [[row.line.pk, row.now.price, row.now.net] for row in self.rows]
        return digest([rows, self.totals.payable if self.totals else None])

    @property
    def moved(self) -> int:
        """How many lines differ."""
        return sum(row.differs for row in self.rows)


def priced_again(who: User, order: Order, today: date) -> Again:
    """The order's lines by today's rules, each offer's for themselves; what was typed stays typed."""
    acceptances = list(
        order.acceptances.select_related("revision__quote__customer__price_list").order_by("pk")
    )
    lines = list(order.lines.select_related("item", "quote_line"))
    rows: list[Moved] = []
    parts: list[Part] = []
    excesses: list[tuple[Excess, ...]] = []
    for acceptance in acceptances:
        own = [line for line in lines if line.quote_line.revision_id == acceptance.revision_id]
        found, beyond = _of_offer(who, acceptance.revision, own, today)
        rows += found
        excesses.append(beyond)
        if all(row.now.price is not None for row in found):
            parts.append(_part(order, acceptance, found))
    whole = len(parts) == len(acceptances)
    totals, sums = total_parts(parts, tax_table()) if whole else (None, ())
    return Again(
        rows=tuple(rows),
        acceptances=tuple(acceptances),
        totals=totals,
        parts=sums,
        excesses=tuple(excesses),
    )


def _of_offer(
    who: User, revision: Revision, lines: Sequence[OrderLine], today: date
) -> tuple[list[Moved], tuple[Excess, ...]]:
    again = copy(revision)
    again.on = today
    drafts = [_draft(line, n, again.currency) for n, line in enumerate(lines)]
    question = question_of(again, revision.quote.customer, drafts)
    priced = question.answer()
    by_key = {line.id: line for line in priced.lines}
    rows = [
        Moved(line=line, now=by_key[draft.key]) for line, draft in zip(lines, drafts, strict=True)
    ]
    beyond = excesses_of(who, again, question, priced)
    known = stored_excesses(revision)
    return rows, tuple(row for row in worse(beyond, known) if row.code != "credit")


def _draft(line: OrderLine, n: int, currency: str) -> DraftLine:
    """The line as its quote had it, in the quantity that was ordered."""
    offered = line.quote_line
    amount = offered.discount_amount
    if amount is not None and offered.quantity:
        amount = nearest(
            EXACT.multiply(amount, line.quantity), offered.quantity, minor_unit(currency)
        )
    return DraftLine(
        key=offered.key if n == 0 else f"{offered.key[:28]}~{n}",
        item_id=line.item_id,
        quantity=line.quantity,
        unit=line.unit,
        price=offered.typed_price,
        price_reason=offered.price_reason,
        discount_percent=offered.discount_percent,
        discount_amount=amount,
    )


def _part(order: Order, acceptance: Acceptance, rows: Sequence[Moved]) -> Part:
    revision = acceptance.revision
    nets = tuple((row.now.net or Decimal(0), row.line.tax_category) for row in rows)
    given, newest = given_before(revision, without=order.pk)
    terms = terms_of_part(
        terms_of(revision),
        revision.lines_net,
        sum((net for net, _ in nets), Decimal(0)),
        given,
        last=newest < acceptance.pk and revision.quote.lines_left == 0,
    )
    return Part(terms=terms, nets=nets)
