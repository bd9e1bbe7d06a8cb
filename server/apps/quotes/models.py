"""Quotes, their revisions and lines. An issued revision never changes: triggers refuse it."""

from django.conf import settings
from django.db import models

from apps.catalogue.models import Item
from apps.columns import (
    amount_column,
    percent_column,
    positive,
    price_column,
    quantity_column,
)
from apps.customers.models import Contact, Customer
from apps.deals.models import Deal


class Quote(models.Model):
    """One offer to one customer, in as many revisions as it takes."""

    number = models.CharField(max_length=20, unique=True)
    customer = models.ForeignKey(Customer, on_delete=models.PROTECT, related_name="quotes")
    deal = models.ForeignKey(Deal, on_delete=models.PROTECT, null=True, related_name="quotes")
    contact = models.ForeignKey(Contact, on_delete=models.SET_NULL, null=True)
    owner = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="quotes"
    )
    created_at = models.DateTimeField(auto_now_add=True)


class Revision(models.Model):
    """A state of a quote. ``priced`` is the core's whole answer, with the price trails.

    The totals repeat figures of ``priced`` for lists and sums; both are written by one flow.
    ``base_rate`` and ``base_net`` are in the base currency, at the rate of the issue date.
    """

    quote = models.ForeignKey(Quote, on_delete=models.CASCADE, related_name="revisions")
    letter = models.CharField(max_length=2)
    on = models.DateField()
    valid_until = models.DateField()
    currency = models.CharField(max_length=3)
    payable_step = price_column(null=True)
    discount_percent = percent_column(null=True)
    discount_amount = amount_column(null=True)
    terms_days = models.PositiveSmallIntegerField()
    terms_end_of_month = models.CharField(max_length=6, blank=True)
    buyer_reference = models.CharField(max_length=60, blank=True)
    message = models.CharField(max_length=1000, blank=True)
    buyer = models.JSONField(default=dict)
    priced = models.JSONField(default=dict)
    lines_net = amount_column(default=0)
    net = amount_column(default=0)
    tax_total = amount_column(default=0)
    payable_rounding = amount_column(default=0)
    payable = amount_column(default=0)
    margin_percent = percent_column(null=True)
    base_rate = price_column(null=True)
    base_net = amount_column(null=True)
    issued_at = models.DateTimeField(null=True)
    issued_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    saved_at = models.DateTimeField(auto_now=True)
    version = models.PositiveIntegerField(default=1)

    class Meta:
        ordering = ["quote_id", "pk"]
        constraints = [
            models.UniqueConstraint(fields=["quote", "letter"], name="revision_letter_once"),
            models.CheckConstraint(
                condition=models.Q(valid_until__gte=models.F("on")),
                name="revision_valid_after_its_date",
            ),
            models.CheckConstraint(
                condition=models.Q(discount_percent__isnull=True)
                | models.Q(discount_amount__isnull=True),
                name="revision_one_discount",
            ),
        ]


class QuoteLine(models.Model):
    """A line as the rep typed it, and (frozen at issue) what it came to."""

    revision = models.ForeignKey(Revision, on_delete=models.CASCADE, related_name="lines")
    key = models.CharField(max_length=36)
    position = models.PositiveIntegerField()
    item = models.ForeignKey(Item, on_delete=models.PROTECT)
    text = models.CharField(max_length=200)
    quantity = quantity_column()
    unit = models.CharField(max_length=3)
    discount_percent = percent_column(null=True)
    price = price_column(null=True)
    per = quantity_column(null=True)
    price_unit = models.CharField(max_length=3, blank=True)
    net = amount_column(null=True)
    discount_share = amount_column(null=True)
    tax_category = models.CharField(max_length=20, blank=True)

    class Meta:
        ordering = ["revision_id", "position"]
        constraints = [
            models.UniqueConstraint(fields=["revision", "key"], name="line_key_once"),
            positive("quantity", "quote_line_quantity_positive"),
        ]


class QuotePaper(models.Model):
    """The document that left the house, exactly as it did."""

    revision = models.OneToOneField(Revision, on_delete=models.CASCADE, related_name="paper")
    pdf = models.BinaryField()
    made_at = models.DateTimeField(auto_now_add=True)
