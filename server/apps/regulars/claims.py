"""A customer whose terms or records change has another day."""

from collections.abc import Iterable

from apps.customers.upkeep import CHANGED
from apps.regulars.models import CustomerDay


def forget_days(customers: Iterable[int]) -> None:
    """Their days are to be made anew."""
    CustomerDay.objects.filter(customer_id__in=list(customers)).update(on=None)


CHANGED.append(forget_days)
