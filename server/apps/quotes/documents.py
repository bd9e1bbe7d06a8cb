"""A revision as the document that goes to its buyer."""

from collections.abc import Sequence
from typing import Any

from django.db.models import Count

from apps.customers.payment import payment_of
from apps.errors import Invalid
from apps.papers.document import Document, DocumentLine
from apps.prices.queries import source_names
from apps.quotes.models import Quote, QuoteLine, Revision


def document_of(revision: Revision, lines: Sequence[QuoteLine] | None = None) -> Document:
    """The revision as plain data; ``lines`` where they were read already, with items and units.

    An issued one names its buyer as frozen, a draft as the buyer is now.
    """
    quote = revision.quote
    if lines is None:
        lines = list(revision.lines.select_related("item").prefetch_related("item__units"))
    return Document(
        number=quote.number,
        letter=revision.letter,
        draft=revision.issued_at is None,
        language=quote.customer.language,
        on=revision.on,
        valid_until=revision.valid_until,
        currency=revision.currency,
        payment=payment_of(revision),
        buyer=revision.buyer or buyer_of(quote),
        rep_name=quote.owner.name,
        rep_email=quote.owner.email,
        priced=revision.priced,
        lines=tuple(_line(line, quote.customer.tax_category_id) for line in lines),
        reference=revision.buyer_reference,
        message=revision.message,
        deliver_to=revision.deliver_to,
        requested_on=revision.requested_on,
        discount_percent=revision.discount_percent,
        discount_on=revision.discount_on,
        sources=source_names(quote.customer),
    )


def _line(line: QuoteLine, of_customer: str | None) -> DocumentLine:
    of_item = line.item.tax_category_id if line.item else ""
    return DocumentLine(
        key=line.key,
        position=line.position,
        kind=line.kind,
        text=line.text,
        item=line.item,
        quantity=line.quantity,
        unit=line.unit,
        alternative_to=line.alternative_to,
        discount_percent=line.discount_percent,
        discount_amount=line.discount_amount,
        tax_category=line.tax_category or of_customer or of_item,
    )


def sample_document(revision_id: int | None = None) -> Document:
    """What a template is tried on: the revision named, or the one that shows the most.

    Raises ``Invalid`` where there is none.
    """
    rows = Revision.objects.select_related("quote__customer", "quote__owner", "quote__contact")
    rows = rows.filter(pk=revision_id) if revision_id else rows.filter(lines__item__isnull=False)
    kinds = Count("lines__kind", distinct=True)
    found = (
        rows.annotate(kinds=kinds, size=Count("lines")).order_by("-kinds", "-size", "-pk").first()
    )
    if found is None:
        raise Invalid("no_quote", path="revision_id")
    return document_of(found)


def buyer_of(quote: Quote) -> dict[str, Any]:
    """The buyer's name, contact and invoice address as they are now, to be frozen."""
    customer = quote.customer
    address = customer.addresses.active().filter(kind="invoice").first()
    return {
        "name": customer.name,
        "number": customer.number,
        "contact": quote.contact.name if quote.contact else "",
        "tax_number": customer.tax_number,
        "street": address.street if address else "",
        "postcode": address.postcode if address else "",
        "town": address.town if address else "",
        "country": address.country if address else "",
    }
