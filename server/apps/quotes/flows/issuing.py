"""A draft goes out: frozen, on paper, with a day to ask about it."""

from datetime import date, datetime, timedelta

from django.conf import settings
from django.db import transaction

from apps.catalogue.queries import rate_on
from apps.deals.flows import follow_quote
from apps.diary.flows import Noted, NotedOn, add_activity, settle_follow_ups
from apps.diary.models import FOLLOW_UP, QUOTE
from apps.errors import Refused, check_version
from apps.journal.flows import record_changes
from apps.papers.document import line_numbers
from apps.papers.editions import current_template
from apps.papers.pdf import make_pdf
from apps.people.access import sells
from apps.people.models import User
from apps.quotes.casefiles import case_behind
from apps.quotes.documents import buyer_of, document_of
from apps.quotes.flows.choosing import is_followed
from apps.quotes.flows.saving import note_price
from apps.quotes.flows.signing import require_sign_off
from apps.quotes.models import QuoteLine, QuotePaper, Revision
from apps.quotes.pricing.answers import FROZEN, figures_of, freeze_line
from apps.quotes.pricing.problems import facts_of
from apps.quotes.pricing.question import Question, draft_lines
from apps.quotes.seen import Seen, check_seen, mark_of
from apps.quotes.state import lock_revision, require
from routecore.money import Money
from routecore.totals import PricedDocument


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
    revision.case = case_behind(revision, question, priced)
    _freeze(who, revision, lines, priced, now)
    record_changes(who, "quote", quote.pk, {f"revision {revision.letter}": ("draft", "issued")})
    if quote.deal_id and is_followed(quote):
        assert revision.base_net is not None
        follow_quote(who, quote.deal_id, revision.base_net)
    settle_follow_ups(quote.pk, now=now)
    day = follow_up_on or today + timedelta(days=settings.QUOTE_FOLLOW_UP_DAYS)
    _plan_to_ask(who, revision, day)
    return revision


def _priced_as_seen(
    who: User, revision: Revision, lines: list[QuoteLine], today: date
) -> tuple[Question, PricedDocument]:
    """The draft priced as of today; refused where that is not what was seen, or more than may be."""
    drafted_on, revision.on = revision.on, today
    before = figures_of(revision)
    question, priced, excesses = note_price(who, revision, draft_lines(lines))
    _refuse_problems(revision, lines)
    if figures_of(revision) != before:
        what = "today" if drafted_on == today else "any"
        raise Refused("prices_moved", path="on", facts={"what": what, "since": drafted_on})
    if excesses:
        require_sign_off(revision, excesses)
    return question, priced


def _plan_to_ask(who: User, revision: Revision, day: date) -> None:
    quote = revision.quote
    noted = Noted(
        kind=FOLLOW_UP,
        text=f"Ask about quote {quote.number} {revision.letter}",
        due_on=day,
        asks=True,
    )
    at = NotedOn(
        about=QUOTE,
        record=quote.pk,
        number=quote.number,
        customer=quote.customer,
        deal=quote.deal,
    )
    add_activity(who, noted, at=at)


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


def _freeze(
    who: User, revision: Revision, lines: list[QuoteLine], priced: PricedDocument, now: datetime
) -> None:
    """Lines, buyer, rate and paper as they leave the house."""
    _freeze_lines(lines, priced)
    revision.buyer = buyer_of(revision.quote)
    revision.base_rate = rate_on(revision.currency, revision.on)
    net = Money(revision.net, revision.currency)
    revision.base_net = net.converted(revision.base_rate, settings.BASE_CURRENCY).amount
    revision.issued_by, revision.issued_at = who, now
    revision.version += 1
    pdf = make_pdf(document_of(revision, lines), current_template(revision.paper))
    QuotePaper.objects.create(revision=revision, pdf=pdf)
    revision.save()


def _freeze_lines(lines: list[QuoteLine], priced: PricedDocument) -> None:
    by_key = {line.id: line for line in priced.lines}
    goods = [row for row in lines if row.item is not None]
    for row in goods:
        assert row.item is not None
        category = row.revision.quote.customer.tax_category_id or row.item.tax_category_id
        freeze_line(row, by_key[row.key], category)
    QuoteLine.objects.bulk_update(goods, FROZEN)
