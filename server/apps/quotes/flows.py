"""A quote's life: started, drafted, issued, revised. Every act is one transaction."""

from collections.abc import Mapping, Sequence
from dataclasses import replace
from datetime import date, datetime, timedelta
from decimal import Decimal
from string import ascii_uppercase
from typing import cast

from django.conf import settings
from django.db import transaction

from apps.catalogue.models import Item
from apps.catalogue.queries import rate_on
from apps.customers.addresses import delivery_address
from apps.customers.models import Contact, Customer
from apps.customers.payment import check_terms, payment_of
from apps.deals.flows import follow_quote
from apps.deals.models import Deal
from apps.diary.flows import add_activity, settle_follow_ups
from apps.diary.models import FOLLOW_UP
from apps.errors import Invalid, Refused, check_version
from apps.journal.flows import record_changes
from apps.numbering.flows import next_number
from apps.people.access import owned, pick, sells
from apps.people.models import User
from apps.quotes.answers import FROZEN, figures_of, freeze_line, note_answer
from apps.quotes.buyer import buyer_of
from apps.quotes.casefiles import case_behind
from apps.quotes.documents.pdf import line_numbers, make_pdf
from apps.quotes.documents.words import ENGLISH
from apps.quotes.drafts import Draft, content_mark
from apps.quotes.excesses import excesses_of
from apps.quotes.models import Quote, QuoteLine, QuotePaper, Revision
from apps.quotes.papers import current_template
from apps.quotes.pricing import DraftLine, Question, draft_lines, question_of
from apps.quotes.problems import facts_of
from apps.quotes.queries import own_revision
from apps.quotes.seen import Seen, check_seen, mark_of
from apps.quotes.signing import require_sign_off
from apps.quotes.state import lock_quote, lock_revision, require
from routecore.casefile.words import plain
from routecore.money import Money
from routecore.totals import Excess, PricedDocument

MOST_LINES = 500


@transaction.atomic
def start_quote(
    who: User, *, today: date, customer_id: int | None = None, deal_id: int | None = None
) -> Revision:
    """A new quote with its draft A; from a deal, its customer and contact carry over."""
    sells(who)
    deal = None
    if deal_id:
        rows = Deal.objects.filter(owned(who)).select_related("customer", "contact")
        deal = pick(rows, deal_id, "deal")
        customer = deal.customer
    elif customer_id:
        customer = pick(Customer.objects.filter(owned(who)), customer_id, "customer")
    else:
        raise Invalid("required", path="customer_id")
    quote = Quote.objects.create(
        number=next_number("Q", today),
        customer=customer,
        deal=deal,
        contact=deal.contact if deal and deal.contact else customer.contacts.first(),
        owner=deal.owner if deal else who,
    )
    return empty_revision(who, quote, "A", today)


def empty_revision(who: User, quote: Quote, letter: str, today: date) -> Revision:
    """A draft without lines, on the customer's terms."""
    customer = quote.customer
    revision = Revision(
        quote=quote,
        letter=letter,
        on=today,
        valid_until=today + timedelta(days=settings.QUOTE_VALID_DAYS),
        currency=customer.currency,
        payable_step=customer.payable_step,
        terms_days=customer.terms_days,
        terms_end_of_month=customer.terms_end_of_month,
        terms_more=customer.terms_more,
    )
    _note_price(who, revision, [])
    revision.save()
    return revision


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
    if len(draft.lines) > MOST_LINES:
        raise Invalid("too_many", path="lines", facts={"what": "lines", "most": MOST_LINES})
    if draft.valid_until < today:
        raise Invalid("date_gone_by", path="valid_until")
    if draft.as_of_today or not revision.priced["lines"]:
        revision.on = today
    revision.content_mark = mark
    revision.valid_until = draft.valid_until
    before = _given(revision)
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
    _note_price(who, revision, draft.lines)
    given = write_lines(revision, draft.lines)
    after = _given(revision)
    given |= {name: (before[name], after[name]) for name in after if before[name] != after[name]}
    if given:
        record_changes(who, "quote", revision.quote_id, _of_revision(revision, given))
    revision.version += 1
    revision.save()
    return revision


Changes = dict[str, tuple[object, object]]


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


def take_terms(revision: Revision, draft: Draft) -> None:
    """The draft's terms that its price depends on."""
    revision.discount_percent = draft.discount_percent
    revision.discount_amount = draft.discount_amount
    revision.discount_on = draft.discount_on
    revision.charges = [dict(charge) for charge in draft.charges]


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


LINE_COLUMNS = (
    *("position", "kind", "alternative_to", "item_id", "text", "quantity", "unit"),
    *("typed_price", "price_reason", "discount_percent", "discount_amount"),
)


#: What a rep gives away on a line; each change of it is recorded.
GIVEN = {
    "typed_price": "price",
    "discount_percent": "discount %",
    "discount_amount": "discount",
}


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
    if changed:
        QuoteLine.objects.bulk_update(changed, LINE_COLUMNS)
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
    )
    return dict(zip(LINE_COLUMNS, values, strict=True))


def _note_price(
    who: User, revision: Revision, lines: Sequence[DraftLine]
) -> tuple[Question, PricedDocument, tuple[Excess, ...]]:
    """Price the lines and write the answer down, with what exceeds this person's limits."""
    question = question_of(revision, revision.quote.customer, lines)
    priced = question.answer()
    excesses = excesses_of(who, revision, question, priced)
    note_answer(revision, priced, lines, excesses)
    return question, priced, excesses


@transaction.atomic
def issue_revision(
    who: User,
    revision_id: int,
    version: int,
    *,
    today: date,
    now: datetime,
    follow_up_on: date | None = None,
    seen: Seen | None = None,
) -> Revision:
    """Freeze the draft: prices, text, buyer and document; plan the follow-up; move the deal.

    Raises ``Refused`` where it is not what was ``seen``, with the first problem that the core
    found, at its place, and where prices moved since the draft was priced: nothing goes out that
    the rep has not seen. Issued by the same person as it was seen: the answer was lost on its
    way, and it is answered again.
    """
    sells(who)
    revision = lock_revision(who, revision_id)
    if revision.issued_by_id == who.pk and seen is not None and seen.mark == mark_of(revision):
        return revision
    require("issue", revision, today)
    check_seen(revision, seen)
    check_version(revision.version, version, "quote")
    quote = revision.quote
    if revision.valid_until < today:
        raise Refused("lapsed_draft", path="valid_until")
    lines = list(revision.lines.select_related("item").prefetch_related("item__units"))
    question, priced = _priced_as_seen(who, revision, lines, today)
    _freeze_lines(lines, priced)
    rate = rate_on(revision.currency, today)
    revision.buyer = buyer_of(quote)
    revision.base_rate = rate
    revision.base_net = (
        Money(revision.net, revision.currency).converted(rate, settings.BASE_CURRENCY).amount
    )
    revision.case = case_behind(revision, question, priced)
    revision.issued_by = who
    revision.issued_at = now
    revision.version += 1
    QuotePaper.objects.create(
        revision=revision, pdf=make_pdf(revision, lines, current_template(revision.paper))
    )
    revision.save()
    record_changes(who, "quote", quote.pk, {f"revision {revision.letter}": ("draft", "issued")})
    if quote.deal_id:
        follow_quote(who, quote.deal_id, revision.base_net)
    settle_follow_ups(quote.number, now=now)
    day = follow_up_on or today + timedelta(days=settings.QUOTE_FOLLOW_UP_DAYS)
    _plan_to_ask(who, revision, day)
    return revision


def _priced_as_seen(
    who: User, revision: Revision, lines: list[QuoteLine], today: date
) -> tuple[Question, PricedDocument]:
    """The draft priced as of today; refused where that is not what was seen, or more than may be."""
    drafted_on, revision.on = revision.on, today
    before = figures_of(revision)
    question, priced, excesses = _note_price(who, revision, draft_lines(lines))
    _refuse_problems(revision, lines)
    if figures_of(revision) != before:
        what = "today" if drafted_on == today else "any"
        raise Refused("prices_moved", path="on", facts={"what": what, "since": drafted_on})
    if excesses:
        require_sign_off(revision, excesses)
    return question, priced


def _plan_to_ask(who: User, revision: Revision, day: date) -> None:
    quote = revision.quote
    add_activity(
        who,
        kind=FOLLOW_UP,
        text=f"Ask about quote {quote.number} {revision.letter}",
        deal_id=quote.deal_id,
        customer_id=quote.customer_id,
        document=quote.number,
        due_on=day,
    )


def _refuse_problems(revision: Revision, lines: list[QuoteLine]) -> None:
    keys = [line.key for line in lines]
    numbers = line_numbers([line.kind for line in lines])
    for problem in revision.priced["problems"]:
        fault = {"code": problem["code"], "facts": facts_of(problem)}
        if problem["line"]:
            at = keys.index(problem["line"])
            facts = {"what": "line", "line": numbers[at], "fault": fault}
            raise Refused("not_ready", path=f"lines[{at}]", facts=facts)
        raise Refused("not_ready", path="lines", facts={"what": "any", "fault": fault})


def _freeze_lines(lines: list[QuoteLine], priced: PricedDocument) -> None:
    by_key = {line.id: line for line in priced.lines}
    goods = [row for row in lines if row.item is not None]
    for row in goods:
        assert row.item is not None
        category = row.revision.quote.customer.tax_category_id or row.item.tax_category_id
        freeze_line(row, by_key[row.key], category)
    QuoteLine.objects.bulk_update(goods, FROZEN)


@transaction.atomic
def revise(who: User, quote_id: int, *, today: date) -> Revision:
    """A new draft revision with everything of the newest issued one, priced as of today."""
    sells(who)
    quote, newest = lock_quote(who, quote_id)
    require("revise", newest, today)
    if quote.declined_at is not None:
        quote.declined_at, quote.declined_by, quote.decline_reason = None, None, ""
        quote.save(update_fields=["declined_at", "declined_by", "decline_reason"])
    revision = empty_revision(who, quote, next_letter(newest.letter), today)
    for name in KEPT_BY_A_REVISION:
        setattr(revision, name, getattr(newest, name))
    lines = draft_lines(newest.lines.all())
    write_lines(revision, lines)
    _note_price(who, revision, lines)
    revision.save()
    return revision


KEPT_BY_A_REVISION = (
    *("discount_percent", "discount_amount", "discount_on", "charges"),
    *("buyer_reference", "message", "paper", "requested_on", "deliver_to"),
    *("terms_days", "terms_end_of_month", "terms_more"),
)


def next_letter(letter: str) -> str:
    """A, B, … Z, AA, AB, …

    >>> next_letter("A"), next_letter("Z"), next_letter("AZ")
    ('B', 'AA', 'BA')
    """
    if letter == "Z":
        return "AA"
    if letter.endswith("Z"):
        return next_letter(letter[:-1]) + "A"
    return letter[:-1] + ascii_uppercase[ascii_uppercase.index(letter[-1]) + 1]


@transaction.atomic
def discard_draft(who: User, revision_id: int, version: int, *, today: date) -> None:
    """Throw a draft away; the quote goes with it where it was the only revision."""
    sells(who)
    revision = lock_revision(who, revision_id)
    require("discard", revision, today)
    check_version(revision.version, version, "quote")
    quote = revision.quote
    revision.delete()
    record_changes(who, "quote", quote.pk, {f"revision {revision.letter}": ("draft", "discarded")})
    if not quote.revisions.exists():
        quote.delete()


@transaction.atomic
def decline(who: User, quote_id: int, *, reason: str, today: date, now: datetime) -> Quote:
    """The buyer said no, and why; what asks about the quote is done."""
    sells(who)
    quote, newest = lock_quote(who, quote_id)
    require("decline", newest, today)
    if not reason.strip():
        raise Invalid("required", path="reason", facts={"what": "decline"})
    quote.declined_at, quote.declined_by = now, who
    quote.decline_reason = reason.strip()
    quote.save(update_fields=["declined_at", "declined_by", "decline_reason"])
    settle_follow_ups(quote.number, now=now)
    record_changes(who, "quote", quote.pk, {"state": ("issued", "declined")}, reason)
    return quote


@transaction.atomic
def copy_quote(who: User, revision_id: int, customer_id: int, *, today: date) -> Revision:
    """A new quote with these lines for another customer, priced for that one.

    Prices agreed by hand and discounts stay behind: they were this buyer's.
    """
    sells(who)
    source = own_revision(who, revision_id)
    made = start_quote(who, today=today, customer_id=customer_id)
    lines = [
        replace(
            line,
            price=None,
            price_reason="",
            discount_percent=None,
            discount_amount=None,
        )
        for line in draft_lines(source.lines.all())
    ]
    made.message, made.paper = source.message, source.paper
    write_lines(made, lines)
    _note_price(who, made, lines)
    made.version += 1
    made.save()
    return made
