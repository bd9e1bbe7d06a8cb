"""The core's stored answer, as a contract. Figures are finished text: a view only shows them."""

from typing import NotRequired

from typing_extensions import TypedDict


class StepOut(TypedDict):
    """One step to a line's price or net."""

    code: str
    source: str
    value: str | None
    per: str | None
    unit: str
    percent: str | None
    rate: str | None
    day: str | None
    currency: str


class PassedOut(TypedDict):
    """A candidate or a rule that did not serve, and why; ``kind`` says which of them it is."""

    kind: str
    source: str
    reason: str
    price: str | None
    per: str | None
    unit: str
    day: str | None
    currency: str


# ``from`` is a word of the language, so these two need the other form.
StepFrom = TypedDict("StepFrom", {"from": str | None})


class FullStep(StepOut, StepFrom):
    """A step, with the quantity from which it holds."""


class FullPassed(PassedOut, StepFrom):
    """A passed-over candidate, with the quantity it needs."""


class SplitOut(TypedDict):
    """An agreement covers a part of the line, in the line's unit."""

    agreement: str
    covered: str
    rest: str


class ChargeRowOut(TypedDict):
    """A charge in the sums."""

    name: str
    amount: str
    tax_category: str


class PricedLineOut(TypedDict):
    """What a line comes to; cost and margin only for those who may see them."""

    id: str
    price: str | None
    per: str | None
    unit: str
    source: str | None
    amount: str | None
    discount: str | None
    net: str | None
    counted: bool
    by_rules: str | None
    split: SplitOut | None
    document_discount_share: str
    cost: NotRequired[str | None]
    margin: NotRequired[str | None]
    margin_percent: NotRequired[str | None]
    steps: list[FullStep]
    passed_over: list[FullPassed]


class TypedLineOut(TypedDict):
    """What a row of the desk shows while somebody types; the rest stays as it was."""

    id: str
    price: str | None
    per: str | None
    unit: str
    net: str | None
    margin_percent: NotRequired[str | None]


class TaxOut(TypedDict):
    """The tax of one component."""

    category: str
    name: str
    percent: str
    base: str
    amount: str


class TotalsOut(TypedDict):
    """The sums."""

    lines_net: str
    document_discount: str
    charges: str
    charge_rows: list[ChargeRowOut]
    net: str
    tax: list[TaxOut]
    tax_total: str
    gross: str
    payable_rounding: str
    payable: str
    cost: NotRequired[str | None]
    margin: NotRequired[str | None]
    margin_percent: NotRequired[str | None]


class NextBreakOut(TypedDict):
    """A better tier within reach."""

    line: str
    rule: str
    add: str
    quantity: str
    unit: str
    new_net: str
    saves: str
    cheaper_overall: bool


class PricedOut(TypedDict):
    """The whole answer."""

    lines: list[PricedLineOut]
    totals: TotalsOut
    next_breaks: list[NextBreakOut]
    next_breaks_left_out: NotRequired[int]


class TypedOut(TypedDict):
    """The answer while somebody types; the lines that were named come whole."""

    lines: list[TypedLineOut]
    totals: TotalsOut
    next_breaks: list[NextBreakOut]
    next_breaks_left_out: NotRequired[int]


class ProblemOut(TypedDict):
    """What keeps the quote from being issued: a code and the facts that its words need.

    Where another quantity would do, it is ``facts["above"]``.
    """

    line: str | None
    code: str
    facts: dict[str, str]
