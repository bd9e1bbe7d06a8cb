"""Which customers a person sees."""

from django.db.models import QuerySet

from apps.customers.models import Customer
from apps.people.access import read_for_fulfilment
from apps.people.models import User


def customers_of(person: User) -> QuerySet[Customer]:
    """The customers this person may see; the back office sees all."""
    return Customer.objects.filter(read_for_fulfilment(person))
