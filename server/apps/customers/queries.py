"""Customers by what people ask of them."""

from django.db.models import Prefetch, QuerySet

from apps.customers.models import Address, Contact, Customer
from apps.searching import Index

WORDS = Index(columns=("name", "number", "people", "towns"), first="name", numbers=("number",))


def find_customers(rows: QuerySet[Customer], words: str) -> QuerySet[Customer]:
    """Customers whose name, number, people or towns hold every word."""
    return WORDS.find(rows, words)


def whole_customers() -> QuerySet[Customer]:
    """Customers with the people and places that are not retired."""
    people = Prefetch("contacts", Contact.objects.active())
    places = Prefetch("addresses", Address.objects.active())
    rows = Customer.objects.select_related("owner", "price_list")
    return rows.prefetch_related(people).prefetch_related(places)
