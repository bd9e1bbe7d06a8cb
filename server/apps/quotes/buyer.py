"""Who a quote goes to."""

from apps.quotes.models import Quote


def buyer_of(quote: Quote) -> dict[str, object]:
    """The buyer's name, contact and invoice address as they are now, to be frozen."""
    customer = quote.customer
    address = customer.addresses.filter(kind="invoice").first()
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
