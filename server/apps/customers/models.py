"""Customers, the people there, and their addresses."""

from decimal import Decimal
from typing import Self, TypeVar

from django.conf import settings
from django.db import models

from apps.catalogue.models import PriceList, TaxCategory
from apps.columns import amount_column, one_of, price_column

Row = TypeVar("Row", bound=models.Model)


class Lasting(models.QuerySet[Row]):
    """Records that are retired, not removed, while documents name them."""

    def active(self) -> Self:
        """Those that are not retired: what new documents can choose."""
        return self.filter(retired_at__isnull=True)


class Customers(Lasting["Customer"]):
    """Customers."""


class Contacts(Lasting["Contact"]):
    """People at customers."""


class Addresses(Lasting["Address"]):
    """Places of customers."""


class Customer(models.Model):
    """Who buys. ``tax_category`` replaces the items' own where set (export, reverse charge).

    ``held_itself`` is the back office's word of this number, told last under ``change``; ``held`` where it
    holds this or any that was merged into it.
    ``partial_deliveries``: whether an order may leave in parts, where nothing else is said of it. What was promised
    to one of ``priority`` is broken by nobody but a lead.
    A customer that was merged is retired, and ``merged_into`` another.
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
    partial_deliveries = models.BooleanField(default=True)
    priority = models.BooleanField(default=False)
    held = models.BooleanField(default=False)
    held_itself = models.BooleanField(default=False)
    change = models.BigIntegerField(default=0)
    retired_at = models.DateTimeField(null=True)
    merged_into = models.ForeignKey(
        "self", on_delete=models.PROTECT, null=True, related_name="merged"
    )
    created_at = models.DateTimeField(auto_now_add=True)
    version = models.PositiveIntegerField(default=1)
    town = models.CharField(max_length=80, default="", editable=False)
    owner_name = models.CharField(max_length=150, default="", editable=False)
    towns = models.CharField(max_length=500, default="", editable=False)
    people = models.CharField(max_length=500, default="", editable=False)

    objects = Customers.as_manager()

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
    retired_at = models.DateTimeField(null=True)
    version = models.PositiveIntegerField(default=1)

    objects = Contacts.as_manager()

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
    retired_at = models.DateTimeField(null=True)
    version = models.PositiveIntegerField(default=1)

    objects = Addresses.as_manager()

    class Meta:
        ordering = ["pk"]
        constraints = [one_of("kind", ("invoice", "delivery"), "address_kind_known")]


NAME, TAX, DOMAIN, PHONE = "name", "tax", "domain", "phone"


class Mark(models.Model):
    """By what a customer is recognised among many: see ``apps.customers.marks``, which alone writes it."""

    customer = models.ForeignKey(Customer, on_delete=models.CASCADE, related_name="marks")
    kind = models.CharField(max_length=6)
    key = models.CharField(max_length=80)

    class Meta:
        indexes = [models.Index(fields=["kind", "key", "customer"], name="customer_by_mark")]


class Merge(models.Model):
    """Two records of one customer became one: ``kept``, into which ``gone`` went.

    ``before`` and ``after`` are the kept one's fields that changed; ``moved`` the keys of what moved, by
    table and column.
    """

    kept = models.ForeignKey(Customer, on_delete=models.PROTECT, related_name="+")
    gone = models.ForeignKey(Customer, on_delete=models.PROTECT, related_name="+")
    who = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()
    before = models.JSONField(default=dict)
    after = models.JSONField(default=dict)
    moved = models.JSONField(default=dict)
    undone_at = models.DateTimeField(null=True)

    class Meta:
        constraints = [
            models.CheckConstraint(condition=~models.Q(kept=models.F("gone")), name="merge_of_two")
        ]
