"""Where a customer's goods go, as a document keeps it."""

from apps.customers.models import Address, Customer
from apps.people.access import pick


def delivery_address(customer: Customer, address_id: int | None = None) -> dict[str, str] | None:
    """The chosen address, else the first for deliveries, else any; None where there is none."""
    rows = Address.objects.filter(customer=customer)
    if address_id:
        return kept(pick(rows, address_id, "address"))
    row = rows.filter(kind="delivery").first() or rows.first()
    return kept(row) if row else None


def kept(row: Address) -> dict[str, str]:
    """The address as a document freezes it."""
    return {
        "label": row.label,
        "street": row.street,
        "postcode": row.postcode,
        "town": row.town,
        "country": row.country,
    }
