"""A customer's page: standing, what is open, how they pay, what is agreed, who is there."""

from collections.abc import Iterable
from datetime import date, datetime
from decimal import Decimal

from django.db.models import F
from django.http import HttpRequest
from django.utils import timezone
from ninja import Router

from api.customers.buys import AgreementOut, agreements_of
from api.customers.scope import customers_of
from api.deals import ContactOut, DealRow, deal_row
from api.diary import ActivityOut, activities_out
from api.groups import GroupOut, group_out
from api.schemas import Schema
from api.shapes import PathId, sure_money, today, who
from api.standing import StandingOut, standing_now
from apps.customers.models import Customer
from apps.customers.payment import payment_of
from apps.deals.queries import deals_of
from apps.diary.queries import with_people
from apps.diary.stale import looked_after
from apps.ledger.balances import PATIENCE
from apps.ledger.flows import early_of, open_parts, paid_on_days
from apps.ledger.models import CREDIT, Account, Invoice
from apps.ledger.queries import PaidAfter, payment_days
from apps.papers.words import ENGLISH
from apps.people.access import pick
from apps.people.models import CLERK, User
from routecore.casefile.words import plain
from routecore.dates import month_start, months_back
from routecore.money import round_to_step
from routecore.payment import early_offer
from routecore.standing import days_to_pay
from routecore.standing.ageing import bucket_of

router = Router(tags=["customers"])
OPEN_AT_MOST = 200
MONTHS = 24


class AddressOut(Schema):
    """Where invoices or goods go."""

    id: int
    kind: str
    label: str
    street: str
    postcode: str
    town: str
    country: str
    version: int


class DueOut(Schema):
    """A part of what is open, and the day on which it falls due."""

    on: date
    amount: str
    days_late: int


class EarlyOut(Schema):
    """A discount that is still to be had until a day for paying the rest: ``amount`` off."""

    percent: str
    until: date
    amount: str


class OpenItemOut(Schema):
    """An invoice or credit that is not settled; ``days_late`` is of its oldest part, 0 before its due date.

    ``dues`` are its parts where it falls due in more than one.
    """

    id: int
    number: str
    kind: str
    on: date
    due_on: date
    currency: str
    gross: str
    paid: str
    open: str
    days_late: int
    bucket: str
    dues: list[DueOut]
    early: EarlyOut | None


class OnAccountOut(Schema):
    """A payment that does not settle invoices in full: ``unused`` of it lowers the balance."""

    id: int
    number: str
    on: date
    currency: str
    amount: str
    unused: str


class BooksOut(Schema):
    """What the back office says is open in a currency, and what ours come to."""

    currency: str
    told: str
    ours: str


class AccountOut(Schema):
    """The back office's account when it was last told; ``same`` is whether ours come to it."""

    told_at: datetime
    same: bool
    rows: list[BooksOut]


class MonthPaid(Schema):
    """How long after its invoices was paid what was paid in a month, in days; None for nothing."""

    month: date
    days: str | None


class CustomerOut(Schema):
    """A customer with all that belongs to them."""

    id: int
    number: str
    name: str
    kind: str
    tier: str
    parent: str
    parent_id: int | None
    owner: str
    currency: str
    price_list: str
    terms_days: int
    terms_end_of_month: str
    terms_words: str
    tax_number: str
    held: bool
    mine: bool
    version: int
    retired_at: datetime | None
    merged_into_id: int | None
    standing: StandingOut
    account: AccountOut | None
    group: GroupOut | None
    days_to_pay: str | None
    days_to_pay_before: str | None
    paid_by_month: list[MonthPaid]
    open_items: list[OpenItemOut]
    on_account: list[OnAccountOut]
    agreements: list[AgreementOut]
    contacts: list[ContactOut]
    addresses: list[AddressOut]
    deals: list[DealRow]
    activities: list[ActivityOut]


@router.get("/customers/{customer_id}", response=CustomerOut, operation_id="get_customer")
def customer(request: HttpRequest, customer_id: PathId) -> CustomerOut:
    """One customer. A constant number of queries."""
    person, on = who(request), today()
    row = _picked(person, customer_id)
    paid = payment_days(row.pk, on)
    sells = person.role != CLERK
    return CustomerOut(
        id=row.pk,
        number=row.number,
        name=row.name,
        kind=row.kind,
        tier=row.tier,
        parent=row.parent.name if row.parent else "",
        parent_id=row.parent_id,
        owner=row.owner.name,
        currency=row.currency,
        price_list=row.price_list.name,
        terms_days=row.terms_days,
        terms_end_of_month=row.terms_end_of_month,
        terms_words=ENGLISH.terms(payment_of(row)),
        tax_number=row.tax_number,
        held=row.held,
        mine=sells,
        version=row.version,
        retired_at=row.retired_at,
        merged_into_id=row.merged_into_id,
        standing=standing_now(row, on),
        account=_account(row),
        group=group_out(person, row, on),
        days_to_pay=_whole_days(each for each in paid if each.recent),
        days_to_pay_before=_whole_days(each for each in paid if not each.recent),
        paid_by_month=_by_month(paid, on),
        open_items=_open_items(row, on),
        on_account=_on_account(row),
        agreements=agreements_of(row, on),
        contacts=[ContactOut.from_orm(c) for c in row.contacts.active()],
        addresses=[AddressOut.from_orm(a) for a in row.addresses.active()],
        deals=_deals(person, row, on),
        activities=_activities(row) if sells else [],
    )


def _picked(person: User, customer_id: int) -> Customer:
    rows = customers_of(person).select_related("owner", "price_list", "parent")
    return pick(rows, customer_id, "customer")


def _account(row: Customer) -> AccountOut | None:
    """None where the back office tells no balances, or not of every record that became this customer; nor
    while they have differed for a moment."""
    found = Account.objects.filter(customer=row, ours__isnull=False).first()
    since = found.differs_since if found else None
    if found is None or (since is not None and since > timezone.now() - PATIENCE):
        return None
    return AccountOut(told_at=found.told_at, same=since is None, rows=books_out(found))


def books_out(account: Account) -> list[BooksOut]:
    """By currency, what was told of an account and what ours came to."""
    told, ours = account.whole or {}, account.ours or {}
    return [
        BooksOut(
            currency=currency,
            told=sure_money(Decimal(told.get(currency, "0")), currency),
            ours=sure_money(Decimal(ours.get(currency, "0")), currency),
        )
        for currency in sorted({*told, *ours})
    ]


def _deals(person: User, row: Customer, on: date) -> list[DealRow]:
    """The open ones first, then those that closed last."""
    rows = looked_after(deals_of(person)).select_related("stage", "owner").filter(customer=row)
    newest = rows.order_by(F("closed_at").desc(nulls_first=True), "-decision_on")[:50]
    return [deal_row(deal, on) for deal in newest]


def _activities(row: Customer) -> list[ActivityOut]:
    return activities_out(with_people(row.activities.all())[:30])


def _whole_days(paid: Iterable[PaidAfter]) -> str | None:
    days = days_to_pay((each.amount, each.days) for each in paid)
    return None if days is None else plain(round_to_step(days, Decimal(1)))


def _by_month(paid: list[PaidAfter], on: date) -> list[MonthPaid]:
    months = [months_back(month_start(on), back) for back in range(MONTHS - 1, -1, -1)]
    return [
        MonthPaid(month=month, days=_whole_days(each for each in paid if each.month == month))
        for month in months
    ]


def _open_items(row: Customer, on: date) -> list[OpenItemOut]:
    """Oldest due first. Two queries."""
    invoices = row.invoices.exclude(open_amount=0).order_by("due_on", "pk")
    found = list(invoices[:OPEN_AT_MOST])
    paid = paid_on_days(invoice.pk for invoice in found if invoice.early_until)
    return [_open_item(invoice, paid.get(invoice.pk, []), on) for invoice in found]


def _open_item(row: Invoice, paid: list[tuple[date, Decimal]], on: date) -> OpenItemOut:
    parts = [part for part in open_parts(row) if row.dues]
    first = parts[0].on if parts else row.due_on
    late = (on - first).days
    return OpenItemOut(
        id=row.pk,
        number=row.number,
        kind=row.kind,
        on=row.on,
        due_on=first,
        currency=row.currency,
        gross=signed(row, row.gross),
        paid=signed(row, row.settled),
        open=signed(row, row.open_amount),
        days_late=max(0, late) if row.kind != CREDIT else 0,
        bucket=bucket_of(late),
        dues=[
            DueOut(
                on=part.on,
                amount=sure_money(part.amount, row.currency),
                days_late=max(0, (on - part.on).days),
            )
            for part in parts
        ],
        early=early_out(row, paid, on),
    )


def early_out(row: Invoice, paid: list[tuple[date, Decimal]], on: date) -> EarlyOut | None:
    """The discount for paying early that is still to be had of an invoice; None where it is not."""
    early = early_of(row)
    if early is None or not row.open_amount:
        return None
    off = early_offer(row.gross, row.currency, paid, invoiced=row.on, early=early, on=on)
    if off is None:
        return None
    return EarlyOut(
        percent=plain(early.percent) or "",
        until=early.last_day(row.on),
        amount=sure_money(off, row.currency),
    )


def signed(row: Invoice, amount: Decimal) -> str:
    """An amount of an invoice, or of a credit note with its sign."""
    return sure_money(-amount if row.kind == CREDIT else amount, row.currency)


def _on_account(row: Customer) -> list[OnAccountOut]:
    return [
        OnAccountOut(
            id=each.pk,
            number=each.number,
            on=each.on,
            currency=each.currency,
            amount=sure_money(each.amount, each.currency),
            unused=sure_money(each.unused, each.currency),
        )
        for each in row.payments.exclude(unused=0).order_by("on", "pk")[:OPEN_AT_MOST]
    ]
