"""A draft is saved: the whole of it, and its price."""

from collections.abc import Mapping, Sequence
from datetime import date
from decimal import Decimal
from typing import cast

from django.db import transaction

from apps.catalogue.models import Item
from apps.customers.addresses import delivery_address
from apps.customers.models import Contact
from apps.customers.payment import check_terms, payment_of
from apps.errors import Invalid, check_version
from apps.journal.flows import record_changes
from apps.papers.words import ENGLISH
from apps.people.access import pick, sells
from apps.people.models import User
from apps.quotes.drafts import MOST_LINES, Draft, content_mark, take_terms
from apps.quotes.models import Quote, QuoteLine, Revision
from apps.quotes.pricing.answers import note_answer
from apps.quotes.pricing.excesses import excesses_of
from apps.quotes.pricing.question import DraftLine, Question, draft_lines, question_of
from apps.quotes.state import lock_revision, require
from apps.stock.models import Depot
from routecore.casefile.words import plain
from routecore.totals import Excess, PricedDocument

LINE_COLUMNS = (
    *("position", "kind", "alternative_to", "item_id", "text", "quantity", "unit"),
    *("typed_price", "price_reason", "discount_percent", "discount_amount"),
    *("depot_id", "wanted_on"),
)


#: What a rep gives away on a line; each change of it is recorded.
GIVEN = {
    "typed_price": "price",
    "discount_percent": "discount %",
    "discount_amount": "discount",
}


Changes = dict[str, tuple[object, object]]


@transaction.atomic
def save_draft(who: User, revision_id: int, version: int, draft: Draft, *, today: date) -> Revision:
    """Store the whole draft and its price; only lines that differ are written.

    A draft of an earlier day stays priced as of that day until ``as_of_today`` is asked for, so
    that nothing moves unseen; a draft without lines starts today. Content that is stored already
    is not stored again, whatever the version: the answer to that save was lost on its way.
    """
    sells(who)
    revision = lock_revision(who, revision_id)
    mark = content_mark(draft)
    if revision.version != version and revision.content_mark == mark:
        fresh = revision.on == today or not draft.as_of_today
        if revision.issued_at is None and fresh:
            return revision
    require("save", revision, today)
    check_version(revision.version, version, "quote")
    _check(draft, today)
    _check_days(revision, draft, today)
    before = _given(revision)
    revision.content_mark = mark
    _take(revision, draft, today)
    note_price(who, revision, draft.lines)
    given = write_lines(revision, draft.lines)
    after = _given(revision)
    given |= {name: (before[name], after[name]) for name in after if before[name] != after[name]}
    if given:
        record_changes(who, "quote", revision.quote_id, _of_revision(revision, given))
    revision.version += 1
    revision.save()
    return revision


@transaction.atomic
def add_lines(
    who: User, revision_id: int, version: int, lines: Sequence[DraftLine], *, today: date
) -> Revision:
    """Lines after those that a draft has; everything is priced anew, as of the draft's day."""
    sells(who)
    revision = lock_revision(who, revision_id)
    require("save", revision, today)
    check_version(revision.version, version, "quote")
    put_lines(who, revision, lines, today)
    return revision


def put_lines(who: User, revision: Revision, lines: Sequence[DraftLine], today: date) -> None:
    """Append lines to a locked or new draft, and store it."""
    known = draft_lines(revision.lines.all())
    if len(known) + len(lines) > MOST_LINES:
        raise Invalid("too_many", path="lines", facts={"what": "lines", "most": MOST_LINES})
    _check_depots(lines)
    if not known:
        revision.on = today
    revision.content_mark = ""
    every = [*known, *lines]
    note_price(who, revision, every)
    write_lines(revision, every)
    revision.version += 1
    revision.save()


def _check(draft: Draft, today: date) -> None:
    if len(draft.lines) > MOST_LINES:
        raise Invalid("too_many", path="lines", facts={"what": "lines", "most": MOST_LINES})
    _check_depots(draft.lines)
    if draft.valid_until < today:
        raise Invalid("date_gone_by", path="valid_until")


def _check_depots(lines: Sequence[DraftLine]) -> None:
    """What lines leave from is there."""
    places = {line.depot_id for line in lines if line.depot_id is not None}
    if places and Depot.objects.filter(pk__in=places).count() < len(places):
        raise Invalid("unknown_choice", path="lines")


def _check_days(revision: Revision, draft: Draft, today: date) -> None:
    """A line's wanted day that is typed now does not lie in the past; one that stood there may."""
    gone = {n: row for n, row in enumerate(draft.lines) if row.wanted_on and row.wanted_on < today}
    if not gone:
        return
    stood = dict(revision.lines.values_list("key", "wanted_on"))
    for n, line in gone.items():
        if stood.get(line.key) != line.wanted_on:
            raise Invalid("date_gone_by", path=f"lines[{n}].wanted_on")


def _take(revision: Revision, draft: Draft, today: date) -> None:
    """All of the draft but its lines."""
    if draft.as_of_today or not revision.priced["lines"]:
        revision.on = today
    revision.valid_until = draft.valid_until
    take_terms(revision, draft)
    revision.buyer_reference = draft.buyer_reference.strip()
    revision.message = draft.message.strip()
    revision.paper = draft.paper
    _set_delivery(revision, draft, today)
    if draft.terms_days is not None:
        revision.terms_days = draft.terms_days
        revision.terms_end_of_month = draft.terms_end_of_month
        revision.terms_more = dict(draft.terms_more)
        check_terms(revision)
    _set_contact(revision.quote, draft.contact_id)


def _of_revision(revision: Revision, changes: Changes) -> Changes:
    return {f"{revision.letter}, {name}": pair for name, pair in changes.items()}


def _given(revision: Revision) -> dict[str, str]:
    """What is given away on the whole, and the terms, as the record of changes tells them."""
    percent, amount = revision.discount_percent, revision.discount_amount
    discount = f"{plain(percent)} %" if percent is not None else plain(amount, 2) or ""
    return {
        "discount": f"{discount} on {revision.discount_on}" if discount else "",
        "charges": ", ".join(
            f"{row['name']} {row.get('amount') or ''}{row.get('percent') or ''}"
            for row in revision.charges
        ),
        "payment": ENGLISH.terms(payment_of(revision)),
    }


def _set_delivery(revision: Revision, draft: Draft, today: date) -> None:
    fresh = draft.requested_on != revision.requested_on
    if fresh and draft.requested_on is not None and draft.requested_on < today:
        raise Invalid("date_gone_by", path="requested_on")
    revision.requested_on = draft.requested_on
    chosen = draft.delivery_address_id
    if chosen is None:
        revision.deliver_to = None
    elif (revision.deliver_to or {}).get("id") != chosen:
        address = delivery_address(revision.quote.customer, chosen)
        revision.deliver_to = {"id": chosen, **(address or {})}


def _set_contact(quote: Quote, contact_id: int | None) -> None:
    if contact_id and contact_id != quote.contact_id:
        quote.contact = pick(
            Contact.objects.filter(customer_id=quote.customer_id), contact_id, "contact"
        )
        quote.save(update_fields=["contact"])


def write_lines(revision: Revision, lines: Sequence[DraftLine]) -> Changes:
    """Store the lines as they were typed; only those that differ are written.

    Returns what was given away or taken back by hand: prices and discounts, before and after.
    """
    given: Changes = {}
    stored = {row.key: row for row in revision.lines.all()}
    wanted = {line.item_id for line in lines if line.item_id is not None}
    names = dict(Item.objects.filter(pk__in=wanted).values_list("pk", "name"))
    fresh: list[QuoteLine] = []
    changed: list[QuoteLine] = []
    for position, line in enumerate(lines, start=1):
        row = stored.pop(line.key, None) or QuoteLine(revision=revision, key=line.key)
        values = _columns(position, line, names)
        if row.pk and all(getattr(row, name) == value for name, value in values.items()):
            continue
        (changed if row.pk else fresh).append(row)
        for name, label in GIVEN.items():
            old = getattr(row, name)
            if old != values[name]:
                words = f"line {position} {str(values['text'])[:50]}: {label}"
                given[words] = plain(old), plain(cast("Decimal | None", values[name]))
        for name, value in values.items():
            setattr(row, name, value)
    if stored:
        QuoteLine.objects.filter(pk__in=[row.pk for row in stored.values()]).delete()
    QuoteLine.objects.bulk_create(fresh)
    if changed:  # as new rows over the old ones: a CASE for every column takes three times as long
        QuoteLine.objects.bulk_create(changed, update_conflicts=True, update_fields=LINE_COLUMNS)
    return given


def _columns(position: int, line: DraftLine, names: Mapping[int, str]) -> dict[str, object]:
    goods = not line.words_only
    values = (
        position,
        line.kind,
        line.alternative_to,
        line.item_id if goods else None,
        line.text.strip() or names.get(line.item_id or 0, ""),
        line.quantity if goods else None,
        line.unit if goods else "",
        line.price,
        line.price_reason.strip(),
        line.discount_percent,
        line.discount_amount,
        line.depot_id if goods else None,
        line.wanted_on if goods else None,
    )
    return dict(zip(LINE_COLUMNS, values, strict=True))


def note_price(
    who: User, revision: Revision, lines: Sequence[DraftLine]
) -> tuple[Question, PricedDocument, tuple[Excess, ...]]:
    """Price the lines and write the answer down, with what exceeds this person's limits."""
    question = question_of(revision, revision.quote.customer, lines)
    priced = question.answer()
    excesses = excesses_of(who, revision, question, priced)
    note_answer(revision, priced, lines, excesses)
    return question, priced, excesses
