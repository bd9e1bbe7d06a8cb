"""A revision's documents: PDF, price case, sheet, UBL."""

import json
from typing import Literal

from django.http import HttpRequest, HttpResponse
from ninja import Router

from api.export import TYPES
from api.shapes import PathId, who
from apps.errors import Forbidden
from apps.papers.editions import current_template
from apps.papers.pdf import make_pdf
from apps.papers.sheet import workbook_of
from apps.papers.ubl import quotation_of
from apps.quotes.casefiles import case_of
from apps.quotes.documents import document_of
from apps.quotes.models import QuotePaper
from apps.quotes.queries import own_revision

router = Router(tags=["quotes"])


@router.get("/revisions/{revision_id}/pdf", operation_id="get_pdf")
def pdf(
    request: HttpRequest, revision_id: PathId, paper: Literal["", "short", "detailed"] = ""
) -> HttpResponse:
    """The document as it left the house; of a draft, a preview on its paper or the one named.

    An issued revision without a kept document, brought in from elsewhere, is set from what was frozen.
    """
    row = own_revision(who(request), revision_id)
    kept = QuotePaper.objects.filter(revision=row).first()
    if kept:
        body = bytes(kept.pdf)
    else:
        body = make_pdf(document_of(row), current_template(paper or row.paper))
    name = f"{row.quote.number}-{row.letter}{'' if row.issued_at else '-draft'}.pdf"
    return HttpResponse(
        body,
        content_type="application/pdf",
        headers={"Content-Disposition": f'inline; filename="{name}"'},
    )


@router.get("/revisions/{revision_id}/case", operation_id="get_case")
def case(request: HttpRequest, revision_id: PathId) -> HttpResponse:
    """The revision as a price case file, with its result as what is expected."""
    person = who(request)
    row = own_revision(person, revision_id)
    if not person.sees_margin:
        raise Forbidden("not_for_role", facts={"what": "costs"})
    body = json.dumps(case_of(row), indent=1, ensure_ascii=False)
    name = f"{row.quote.number}-{row.letter}.json"
    return HttpResponse(
        body,
        content_type="application/json",
        headers={"Content-Disposition": f'attachment; filename="{name}"'},
    )


@router.get("/revisions/{revision_id}/xlsx", operation_id="get_xlsx")
def xlsx(request: HttpRequest, revision_id: PathId) -> HttpResponse:
    """The revision's lines and sums as a sheet."""
    row = own_revision(who(request), revision_id)
    return HttpResponse(
        workbook_of(document_of(row)),
        content_type=TYPES["xlsx"],
        headers={
            "Content-Disposition": f'attachment; filename="{row.quote.number}-{row.letter}.xlsx"'
        },
    )


@router.get("/revisions/{revision_id}/ubl", operation_id="get_ubl")
def ubl(request: HttpRequest, revision_id: PathId) -> HttpResponse:
    """The revision as a UBL 2.1 Quotation."""
    row = own_revision(who(request), revision_id)
    return HttpResponse(
        quotation_of(document_of(row)),
        content_type="application/xml",
        headers={
            "Content-Disposition": f'attachment; filename="{row.quote.number}-{row.letter}.xml"'
        },
    )
