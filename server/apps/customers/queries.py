"""Customers by what people ask of them."""

from django.db.models import QuerySet

from apps.customers.models import Customer
from apps.searching import Index

WORDS = Index(columns=("name", "number", "people", "towns"), first="name", numbers=("number",))


def find_customers(rows: QuerySet[Customer], words: str) -> QuerySet[Customer]:
    """Customers whose name, number, people or towns hold every word."""
    return WORDS.find(rows, words)
