"""What a priced document says."""

from dataclasses import dataclass, field
from decimal import Decimal

from routecore.exact import ZERO
from routecore.totals.lines import PricedLine
from routecore.totals.tax import TaxRow
from routecore.totals.terms import DocumentDiscount


@dataclass(frozen=True, slots=True, kw_only=True)
class ChargeRow:
    """A charge in whole minor units."""

    name: str
    amount: Decimal
    tax_category: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Totals:
    """Sums of the counted lines, in whole minor units.

    ``document_discount`` is what comes off the net; ``net`` is the lines less it, with the charges;
    ``payable = gross + payable_rounding``. Cost and margin leave charges out, and are None as soon
    as one counted line's cost is unknown.
    """

    lines_net: Decimal
    document_discount: Decimal
    charges: Decimal
    net: Decimal
    tax: tuple[TaxRow, ...]
    tax_total: Decimal
    gross: Decimal
    payable_rounding: Decimal
    payable: Decimal
    cost: Decimal | None
    margin: Decimal | None
    margin_percent: Decimal | None
    charge_rows: tuple[ChargeRow, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class NextBreak:
    """A better tier within reach: the least quantity that can be typed and has it.

    ``rule`` is the discount rule, or the source of the price. ``add`` is in ``unit``, the line's own,
    and leads to ``quantity``; ``new_net`` is the document's net with the larger quantity; ``saves``
    what the goods already wanted would cost less under all that holds there, before the document
    discount.
    """

    line: str
    rule: str
    add: Decimal
    quantity: Decimal
    unit: str
    new_net: Decimal
    saves: Decimal
    cheaper_overall: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class Problem:
    """What keeps the document from being issued.

    ``code``: ``needs_price``, ``below_minimum``, ``not_a_multiple`` (with the nearest quantities that
    would do, None where there is none), ``unknown_original`` (an alternative to no line),
    ``nothing_counted``, ``discount_not_reached`` (``wanted`` off the gross, of which the lines can
    bear ``reached``), ``needs_tax_reason`` (a ``category`` without tax must say why).
    """

    code: str
    line: str = ""
    facts: dict[str, Decimal | str | None] = field(default_factory=dict)


@dataclass(frozen=True, slots=True, kw_only=True)
class PricedDocument:
    """The whole answer; lines in the order they were given.

    ``discount`` is the document's own, taken on ``discount_on`` (the net or the gross before it).
    ``breaks_left_out`` counts next breaks beyond what a very large document is searched for.
    """

    currency: str
    lines: tuple[PricedLine, ...]
    totals: Totals
    next_breaks: tuple[NextBreak, ...]
    problems: tuple[Problem, ...]
    discount: DocumentDiscount | None = None
    discount_on: Decimal = ZERO
    breaks_left_out: int = 0
