"""Quotes from a file: many in one, each of them whole or not at all."""

from collections.abc import Iterator
from dataclasses import dataclass, field, replace
from datetime import date
from decimal import Decimal
import hashlib
import re

from django.db import DataError, transaction
from django.utils import timezone

from apps.customers.models import Customer
from apps.errors import FlowError, Invalid
from apps.journal.flows import made_before, note_made
from apps.people.access import owned, sells
from apps.people.models import User
from apps.quotes.drafts import Draft
from apps.quotes.filed_rows import Faulty, Group, RowFault, RowReader, groups_of
from apps.quotes.flows.saving import save_draft
from apps.quotes.flows.starting import start_quote
from apps.quotes.models import Revision
from apps.tables import read_table
from routecore.errors import CoreError

MOST_FAULTS = 500


@dataclass(frozen=True, slots=True, kw_only=True)
class Filed:
    """A quote that a file makes, or made: its word in the file, and what it came to.

    ``there``: the same file made it before, and it is not made again.
    """

    quote: str
    customer: str
    lines: int
    currency: str
    net: Decimal
    to_look_at: int
    number: str
    revision_id: int | None
    there: bool = False


@dataclass(slots=True, kw_only=True)
class FilingReport:
    """The quotes that are good, the rows that are refused (the first ``MOST_FAULTS``)."""

    rows: int = 0
    quotes: int = 0
    filed: list[Filed] = field(default_factory=list)
    faults: list[RowFault] = field(default_factory=list)


def file_quotes(
    who: User, file: str, body: bytes, *, today: date, keep: bool
) -> Iterator[int | FilingReport]:
    """Try every quote of a file; with ``keep`` the good ones stay as drafts.

    Yields how many quotes are done, and the report at the end. The file as a whole is refused
    (``Invalid``) before the first step. A quote that the same file made before, as it was broken off
    on its way, is not made a second time.
    """
    sells(who)
    table = read_table(file, body)
    groups = groups_of(table)
    mark = hashlib.sha256(body)
    for group in groups:
        own = mark.copy()
        own.update(group.name.encode())
        group.key = f"file-{own.hexdigest()[:48]}"
    return _steps(who, groups, len(table) - 1, today=today, keep=keep)


def _steps(
    who: User, groups: list[Group], rows: int, *, today: date, keep: bool
) -> Iterator[int | FilingReport]:
    reader = RowReader(who, groups, today)
    report = FilingReport(rows=rows, quotes=len(groups))
    for done, group in enumerate(groups, start=1):
        try:
            customer, draft = reader.draft_of(group)
        except Faulty as faulty:
            report.faults += faulty.faults
        else:
            _file(who, group, customer, draft, report, today=today, keep=keep)
        yield done
    del report.faults[MOST_FAULTS:]
    yield report


def _file(
    who: User,
    group: Group,
    customer: Customer,
    draft: Draft,
    report: FilingReport,
    *,
    today: date,
    keep: bool,
) -> None:
    """One quote in a transaction of its own, taken back where it is only tried."""
    try:
        with transaction.atomic():
            there = _made_before(who, group) if keep else None
            made = there or _make(who, customer, draft, today)
            filed = _filed(group.name, made, len(draft.lines), keep=keep)
            report.filed.append(replace(filed, there=there is not None))
            if not keep:
                transaction.set_rollback(True)
            elif there is None:
                note_made(who, group.key, str(made.pk), timezone.now())
    except (FlowError, CoreError, DataError) as raised:
        error = _as_refusal(raised)
        place = re.match(r"lines\[(\d+)\]\.?(.*)", error.path)
        number = group.rows[int(place[1])][0] if place else group.rows[0][0]
        name = place[2] if place else error.path
        column = {"item_id": "item", "discount_percent": "discount"}.get(name, name)
        report.faults.append(RowFault(row=number, quote=group.name, field=column, fault=error))


def _make(who: User, customer: Customer, draft: Draft, today: date) -> Revision:
    made = start_quote(who, today=today, customer_id=customer.pk)
    return save_draft(who, made.pk, made.version, draft, today=today)


def _made_before(who: User, group: Group) -> Revision | None:
    """What the same file made of these rows, if it is still there."""
    key = made_before(who, group.key)
    own = Revision.objects.filter(owned(who, "quote__owner")).select_related("quote__customer")
    return own.filter(pk=key).first() if key else None


def _as_refusal(raised: FlowError | CoreError | DataError) -> FlowError:
    if isinstance(raised, FlowError):
        return raised
    if isinstance(raised, CoreError):
        return Invalid.of(raised)
    return Invalid("out_of_range", facts={"what": "stored"})


def _filed(name: str, made: Revision, lines: int, *, keep: bool) -> Filed:
    return Filed(
        quote=name,
        customer=made.quote.customer.name,
        lines=lines,
        currency=made.currency,
        net=made.net,
        to_look_at=len(made.priced["problems"]),
        number=made.quote.number if keep else "",
        revision_id=made.pk if keep else None,
    )
