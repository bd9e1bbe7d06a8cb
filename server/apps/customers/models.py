"""Customers, the people there, and their addresses."""

from decimal import Decimal

from django.conf import settings
from django.db import models

from apps.catalogue.models import PriceList, TaxCategory
from apps.columns import amount_column, one_of, price_column


class Customer(models.Model):
    """Who buys. ``tax_category`` replaces the items' own where set (export, reverse charge).

    ``town`` (of the first address), ``towns`` and ``people`` are kept by the database, as
    ``apps.customers.kept`` declares them.
    """

    number = models.CharField(max_length=20, unique=True)
    name = models.CharField(max_length=120)
    kind = models.CharField(max_length=40, blank=True)
    parent = models.ForeignKey("self", on_delete=models.PROTECT, null=True, related_name="members")
    owner = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="customers"
    )
    tier = models.CharField(max_length=20, blank=True)
    price_list = models.ForeignKey(PriceList, on_delete=models.PROTECT)
    currency = models.CharField(max_length=3)
    language = models.CharField(max_length=2, default="en")
    payable_step = price_column(null=True)
    tax_category = models.ForeignKey(TaxCategory, on_delete=models.PROTECT, null=True)
    tax_number = models.CharField(max_length=30, blank=True)
    terms_days = models.PositiveSmallIntegerField(default=30)
    terms_end_of_month = models.CharField(max_length=6, blank=True)
    terms_more = models.JSONField(default=dict)
    credit_limit = amount_column(null=True)
    held = models.BooleanField(default=False)
    created_at = models.DateTimeField(auto_now_add=True)
    version = models.PositiveIntegerField(default=1)
    town = models.CharField(max_length=80, default="", editable=False)
    owner_name = models.CharField(max_length=150, default="", editable=False)
    towns = models.CharField(max_length=500, default="", editable=False)
    people = models.CharField(max_length=500, default="", editable=False)

    class Meta:
        indexes = [
            models.Index(fields=["name"]),
            models.Index(fields=["owner", "name"]),
            *(
                models.Index(fields=[column], name=f"customer_by_{column}")
                for column in ("kind", "town", "credit_limit", "owner_name")
            ),
        ]
        constraints = [
            one_of("terms_end_of_month", ("", "after", "before"), "customer_terms_known"),
            one_of("language", ("en", "de"), "customer_language_known"),
            models.CheckConstraint(
                condition=models.Q(credit_limit__isnull=True)
                | models.Q(credit_limit__gte=Decimal(0)),
                name="customer_limit_not_negative",
            ),
        ]

    def __str__(self) -> str:
        return self.name


class Contact(models.Model):
    """A person at a customer."""

    customer = models.ForeignKey(Customer, on_delete=models.CASCADE, related_name="contacts")
    name = models.CharField(max_length=80)
    role = models.CharField(max_length=60, blank=True)
    email = models.EmailField(blank=True)
    phone = models.CharField(max_length=40, blank=True)

    class Meta:
        ordering = ["pk"]


class Address(models.Model):
    """Where invoices or goods go."""

    customer = models.ForeignKey(Customer, on_delete=models.CASCADE, related_name="addresses")
    kind = models.CharField(max_length=8)
    label = models.CharField(max_length=60, blank=True)
    street = models.CharField(max_length=120)
    postcode = models.CharField(max_length=16)
    town = models.CharField(max_length=80)
    country = models.CharField(max_length=2)

    class Meta:
        ordering = ["pk"]
        constraints = [one_of("kind", ("invoice", "delivery"), "address_kind_known")]
