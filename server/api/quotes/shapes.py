"""What goes in and out of the quote desk."""

from collections.abc import Iterable
from datetime import date, datetime
from decimal import Decimal
from typing import Annotated, Literal

from pydantic import BaseModel, Field, StringConstraints, model_validator

from api.catalogue import ItemOut
from api.deals import ContactOut
from api.quotes.priced import PricedOut, ProblemOut
from api.routes import RouteStop
from api.schemas import Schema
from api.shapes import (
    Amount,
    Day,
    DiscountOn,
    Id,
    LineKind,
    MonthEnd,
    Number,
    PaperName,
    Percent,
    Quantity,
    QuoteState,
    Text,
    Version,
)
from api.standing import StandingOut, WeightOut
from api.terms import MoreTermsIn
from apps.customers.models import Address
from apps.quotes.drafts import Draft
from apps.quotes.models import WORDS_ONLY
from apps.quotes.pricing.question import DraftLine
from apps.quotes.seen import Seen
from routecore.checks import Check


class ChecksOut(Schema):
    """The verdicts over a quote, but for the standing's own; the margin's for those who may see it."""

    prices: Check
    margin: Check
    limits: Check
    dates: Check


class DeskLine(Schema):
    """A line for the desk; a heading or a note has words and no item."""

    key: str
    kind: LineKind
    alternative_to: str
    item: ItemOut | None
    text: str
    quantity: str
    unit: str
    price: str | None
    price_reason: str
    discount_percent: str | None
    discount_amount: str | None
    depot_id: int | None
    wanted_on: date | None


class ChargeOut(Schema):
    """A charge as typed."""

    name: str
    percent: str | None = None
    amount: str | None = None
    tax_category: str


class SignOffOut(Schema):
    """A sign-off that was asked for the quote as it stands."""

    id: int
    answer: str
    reason: str
    asked_by: str
    asked_at: datetime
    answered_by: str
    comment: str


class PartOut(Schema):
    """So many percent in so many days: an instalment, or what paying early takes off."""

    percent: str
    days: int


class MoreTermsOut(Schema):
    """Payment terms beyond days and month."""

    fixed_day: int | None = None
    early: PartOut | None = None
    instalments: list[PartOut] = []


class ExcessOut(Schema):
    """A limit that is exceeded, by line or by the whole; figures only where the person may see them."""

    code: str
    line: str
    found: str | None
    limit: str | None


class RevisionMark(Schema):
    """A revision of the quote, to go to."""

    id: int
    letter: str
    issued_at: datetime | None
    payable: str


class AddressChoice(Schema):
    """A place goods can go to."""

    id: int
    label: str


def addresses_to_choose(places: Iterable[Address]) -> list[AddressChoice]:
    """A customer's places, each in a line."""
    return [
        AddressChoice(id=a.pk, label=", ".join(filter(None, (a.label, a.street, a.town))))
        for a in places
    ]


class OrderMark(Schema):
    """An order that took something of the quote."""

    id: int
    number: str
    payable: str


class QuoteOut(Schema):
    """A revision as the desk shows it. ``priced`` is the core's stored answer."""

    id: int
    quote_id: int
    version: int
    number: str
    letter: str
    state: QuoteState
    newest: bool
    on: date
    valid_until: date
    days_left: int
    currency: str
    digits: int
    customer_id: int
    customer: str
    price_list: str
    list_names: dict[str, str]
    unit_names: dict[str, str]
    deal_id: int | None
    deal: str
    owner: str
    contact_id: int | None
    contacts: list[ContactOut]
    addresses: list[AddressChoice]
    country: str
    usual_address_id: int | None
    follow_up_days: int
    discount_percent: str | None
    discount_amount: str | None
    discount_on: DiscountOn
    charges: list[ChargeOut]
    tax_categories: dict[str, str]
    buyer_reference: str
    message: str
    paper: PaperName
    terms_days: int
    terms_end_of_month: MonthEnd
    terms_more: MoreTermsOut
    terms_words: str
    early_yearly_rate: str | None
    requested_on: date | None
    delivery_address_id: int | None
    lines: list[DeskLine]
    priced: PricedOut
    problems: list[ProblemOut]
    excesses: list[ExcessOut]
    sign_off: SignOffOut | None
    checks: ChecksOut
    may_sign: bool
    declined_at: datetime | None
    decline_reason: str
    margin_floor: str | None
    saved_at: datetime
    issued_at: datetime | None
    issued_by: str
    order_id: int | None
    order_number: str
    orders: list[OrderMark]
    direct: bool
    late_reason: str
    late_asked_at: datetime | None
    allowed_until: date | None
    allowed_by: str
    may_allow: bool
    rest_closed_at: datetime | None
    rest_reason: str
    revisions: list[RevisionMark]
    standing: StandingOut
    weight: WeightOut
    route: list[RouteStop]
    mark: str


class SeenIn(Schema):
    """What the person saw when they acted: the answer's mark, and its total."""

    mark: Annotated[str, StringConstraints(pattern=r"^[0-9a-f]{32}$")]
    payable: Annotated[str, StringConstraints(pattern=r"^-?[0-9]{1,15}([.][0-9]{1,6})?$")]

    def as_seen(self) -> Seen:
        """As the flows take it."""
        return Seen(mark=self.mark, payable=self.payable)


class Answer(Schema):
    """What a save answers: the new version, the price, the verdicts that hang on it."""

    id: int
    version: int
    saved_at: datetime
    on: date
    priced: PricedOut
    problems: list[ProblemOut]
    excesses: list[ExcessOut]
    sign_off: SignOffOut | None
    checks: ChecksOut
    standing: StandingOut
    weight: WeightOut
    days_left: int
    early_yearly_rate: str | None
    mark: str


class NewQuote(Schema):
    """From a deal, or for a customer."""

    deal_id: Id | None = None
    customer_id: Id | None = None


Key = Annotated[str, StringConstraints(pattern=r"^[A-Za-z0-9-]{1,36}$")]
Price = Annotated[Number, Field(ge=0, lt=Decimal("1e9"), max_digits=15, decimal_places=6)]


class LineIn(BaseModel):
    """A line as typed; ``key`` is the desk's own name for it, kept through saves.

    Goods have an item, a quantity and a unit; a heading or a note has its text alone.
    A plain model: there are hundreds of them in a draft, and ninja's look at attributes first.
    """

    key: Key
    kind: Literal["normal", "alternative", "optional", "heading", "note"] = "normal"
    alternative_to: Annotated[str, StringConstraints(pattern=r"^[A-Za-z0-9-]{0,36}$")] = ""
    item_id: Id | None = None
    quantity: Quantity | None = None
    unit: Annotated[str, StringConstraints(max_length=3)] = ""
    text: Annotated[str, StringConstraints(max_length=200)] = ""
    price: Price | None = None
    price_reason: Annotated[str, StringConstraints(max_length=200)] = ""
    discount_percent: Percent | None = None
    discount_amount: Amount | None = None
    depot_id: Id | None = None
    wanted_on: Day | None = None

    @model_validator(mode="after")
    def _goods_or_words(self) -> "LineIn":
        if self.kind not in WORDS_ONLY and (self.item_id is None or self.quantity is None):
            raise ValueError("A line of goods needs its item and its quantity")
        return self


class ChargeIn(Schema):
    """A charge: a percent of the lines, or an amount."""

    name: Annotated[str, StringConstraints(min_length=1, max_length=60)]
    percent: Percent | None = None
    amount: Amount | None = None
    tax_category: Annotated[str, StringConstraints(max_length=20)] = "standard"

    @model_validator(mode="after")
    def _one_figure(self) -> "ChargeIn":
        if (self.percent is None) == (self.amount is None):
            raise ValueError("A charge is a percent or an amount")
        return self


class TypedIn(Schema):
    """The whole draft as typed; lines in their order."""

    lines: Annotated[list[LineIn], Field(max_length=500)]
    valid_until: Day
    discount_percent: Percent | None = None
    discount_amount: Amount | None = None
    discount_on: Literal["net", "gross"] = "net"
    charges: Annotated[list[ChargeIn], Field(max_length=10)] = []
    buyer_reference: Annotated[str, StringConstraints(max_length=60)] = ""
    message: Text = ""
    paper: Literal["short", "detailed"] = "short"
    requested_on: Day | None = None
    delivery_address_id: Id | None = None
    terms_days: Annotated[int, Field(ge=0, le=365)] | None = None
    terms_end_of_month: Literal["", "after", "before"] = ""
    terms_more: MoreTermsIn = MoreTermsIn()
    contact_id: Id | None = None
    as_of_today: bool = False

    @model_validator(mode="after")
    def _lines_differ(self) -> "TypedIn":
        if len({line.key.lower() for line in self.lines}) < len(self.lines):
            raise ValueError("Two lines have one key")
        return self

    def as_draft(self) -> Draft:
        """As the flows take it."""
        return Draft(
            lines=[DraftLine(**line.model_dump()) for line in self.lines],
            charges=[
                {k: str(v) if v is not None else None for k, v in charge.model_dump().items()}
                for charge in self.charges
            ],
            terms_more=self.terms_more.kept(),
            **self.model_dump(
                include=set(TypedIn.model_fields) - {"lines", "charges", "terms_more"}
            ),
        )


class DraftIn(TypedIn):
    """A draft to save, made from the version that was read."""

    version: Version


class IssueIn(Schema):
    """Issue the draft as it is at this version, and as it was seen."""

    version: Version
    seen: SeenIn
    follow_up_on: Day | None = None
