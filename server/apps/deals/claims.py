"""What a customer has open here: deals."""

from apps.customers.upkeep import OPEN as STILL_OPEN
from apps.deals.models import OPEN, Deal


def open_deals(customer: int) -> tuple[str, int]:
    """How many deals of a customer are open."""
    return "deals", Deal.objects.filter(customer=customer, outcome=OPEN).count()


STILL_OPEN.append(open_deals)
