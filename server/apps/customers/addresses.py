"""Where a customer's goods go, as a document keeps it."""

from collections.abc import Iterable, Mapping

from apps.customers.models import Address, Customer
from apps.errors import Missing
from apps.people.access import pick


def delivery_address(customer: Customer, address_id: int | None = None) -> dict[str, str] | None:
    """The chosen address, else the first for deliveries, else any; None where there is none."""
    rows = Address.objects.active().filter(customer=customer)
    if address_id:
        return kept(pick(rows, address_id, "address"))
    row = usual_address(rows)
    return kept(row) if row else None


def addresses_of(customer: Customer, ids: Iterable[int]) -> dict[int, dict[str, str]]:
    """These of a customer's addresses that are not retired, as a document keeps them. One query."""
    wanted = set(ids)
    rows = Address.objects.active().filter(customer=customer, pk__in=wanted) if wanted else ()
    found = {row.pk: kept(row) for row in rows}
    if wanted - set(found):
        raise Missing("not_found", facts={"what": "address"})
    return found


def usual_address(rows: Iterable[Address]) -> Address | None:
    """Where a customer's goods usually go: the first for deliveries, else the first of all."""
    known = [row for row in rows if row.retired_at is None]
    deliveries = [row for row in known if row.kind == "delivery"]
    return next(iter(deliveries or known), None)


def address_line(address: Mapping[str, str] | None) -> str:
    """A kept address in one line; nothing for none.

    >>> address_line({"label": "Store", "street": "2 Lane", "postcode": "QF1", "town": "Fell"})
    'Store, 2 Lane, QF1 Fell'
    """
    if not address:
        return ""
    place = f"{address['postcode']} {address['town']}".strip()
    return ", ".join(part for part in (address["label"], address["street"], place) if part)


def kept(row: Address) -> dict[str, str]:
    """The address as a document freezes it."""
    return {
        "label": row.label,
        "street": row.street,
        "postcode": row.postcode,
        "town": row.town,
        "country": row.country,
    }
