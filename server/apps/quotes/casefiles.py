"""A revision as a price case file: everything its computation takes, and what it gave."""

from django.conf import settings

from apps.catalogue.models import TaxCategory
from apps.people.models import User
from apps.prices.keeping import keep_case
from apps.prices.models import KeptCase
from apps.quotes.models import Revision
from apps.quotes.pricing.question import Question, draft_lines, question_of
from apps.quotes.queries import own_revision
from routecore.casefile.export import case_from
from routecore.casefile.writer import Json, result_of
from routecore.totals import PricedDocument


def case_of(revision: Revision) -> Json:
    """The case of the day it was issued; of a draft, with the prices of the house now."""
    if revision.case is not None:
        return dict(revision.case)
    question = question_of(revision, revision.quote.customer, draft_lines(revision.lines.all()))
    return case_behind(revision, question, question.answer())


def case_behind(revision: Revision, question: Question, priced: PricedDocument) -> Json:
    """The case of a question; its ``expect`` is what the core answered to it."""
    reasons = dict(TaxCategory.objects.exclude(reason="").values_list("code", "reason"))
    case = case_from(
        question.terms, question.book, question.lines, question.taxes, tax_reasons=reasons
    )
    quote = revision.quote
    case["note"] = f"{quote.number} {revision.letter}, {quote.customer.name}"
    case["discount_policy"] = settings.DISCOUNT_POLICY
    case["expect"] = {"totals": result_of(priced, reasons)["totals"]}
    return case


def keep_revision(who: User, revision_id: int, name: str) -> KeptCase:
    """Keep a quote's revision as a case: what it gives now, as of its date, must hold."""
    return keep_case(who, case_of(own_revision(who, revision_id)), name)
