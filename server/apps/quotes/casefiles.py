"""A revision as a price case file: everything its computation takes, and what it gave."""

from django.conf import settings

from apps.catalogue.models import TaxCategory
from apps.prices.queries import family_of
from apps.quotes.models import Revision
from apps.quotes.pricing import draft_lines, question_of
from routecore.casefile.export import case_from
from routecore.casefile.writer import Json, result_of


def case_of(revision: Revision) -> Json:
    """The case; its ``expect`` is what the core answers to it now."""
    question = question_of(revision, revision.quote.customer, draft_lines(revision.lines.all()))
    reasons = dict(TaxCategory.objects.exclude(reason="").values_list("code", "reason"))
    case = case_from(
        question.terms, question.book, question.lines, question.taxes, tax_reasons=reasons
    )
    family = family_of(revision.quote.customer)
    case["note"] = f"{revision.quote.number} {revision.letter}, {family[0].name}"
    case["discount_policy"] = settings.DISCOUNT_POLICY
    case["expect"] = {"totals": result_of(question.answer(), reasons)["totals"]}
    return case
