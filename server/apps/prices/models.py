"""What is agreed beside the lists: prices for a customer, framework agreements, rules, limits."""

from decimal import Decimal

from django.conf import settings
from django.db import models

from apps.catalogue.models import Item, ItemGroup, Unit
from apps.columns import (
    amount_column,
    begins,
    one_of,
    percent_column,
    positive,
    price_column,
    quantity_column,
)
from apps.customers.models import Customer
from apps.people.models import ROLES
from routecore.pricing.rules import MEASURES, SPANS


def dates_in_order(name: str) -> models.CheckConstraint:
    """A validity does not end before it starts."""
    return models.CheckConstraint(
        condition=models.Q(valid_to__isnull=True)
        | models.Q(valid_from__isnull=True)
        | models.Q(valid_to__gte=models.F("valid_from")),
        name=name,
    )


class CustomerPrice(models.Model):
    """A price agreed with one customer, for its members too."""

    customer = models.ForeignKey(Customer, on_delete=models.CASCADE, related_name="prices")
    item = models.ForeignKey(Item, on_delete=models.CASCADE, related_name="customer_prices")
    unit = models.ForeignKey(Unit, on_delete=models.PROTECT)
    currency = models.CharField(max_length=3)
    price = price_column()
    per = quantity_column(default=Decimal(1))
    from_quantity = quantity_column(default=Decimal(0))
    valid_from = models.DateField(null=True)
    valid_to = models.DateField(null=True)
    discountable = models.BooleanField(default=False)
    from_day = begins()
    version = models.PositiveIntegerField(default=1)

    class Meta:
        constraints = [
            positive("per", "customer_price_per_positive"),
            models.CheckConstraint(
                condition=models.Q(price__gte=0), name="customer_price_not_negative"
            ),
            dates_in_order("customer_price_dates_in_order"),
            models.UniqueConstraint(
                fields=["customer", "item", "unit", "currency", "from_quantity", "from_day"],
                name="customer_price_once",
            ),
        ]
        indexes = [models.Index(fields=["customer", "item"])]


class Agreement(models.Model):
    """A framework agreement: a price for a quantity that is called off by orders.

    ``amount`` is what was committed to where that is money, in ``currency``: ``quantity`` is then what it buys.
    """

    number = models.CharField(max_length=20, unique=True)
    customer = models.ForeignKey(Customer, on_delete=models.PROTECT, related_name="agreements")
    item = models.ForeignKey(Item, on_delete=models.PROTECT, related_name="agreements")
    unit = models.ForeignKey(Unit, on_delete=models.PROTECT)
    currency = models.CharField(max_length=3)
    price = price_column()
    per = quantity_column(default=Decimal(1))
    quantity = quantity_column()
    amount = amount_column(null=True)
    valid_from = models.DateField()
    valid_to = models.DateField()
    discountable = models.BooleanField(default=False)
    version = models.PositiveIntegerField(default=1)

    class Meta:
        constraints = [
            positive("per", "agreement_per_positive"),
            positive("quantity", "agreement_quantity_positive"),
            models.CheckConstraint(
                condition=models.Q(amount__isnull=True) | models.Q(amount__gt=0),
                name="agreement_amount_positive",
            ),
            models.CheckConstraint(condition=models.Q(price__gte=0), name="agreement_not_negative"),
            dates_in_order("agreement_dates_in_order"),
        ]


class DiscountRule(models.Model):
    """A discount rule; ``position`` is its turn. Tiers are JSON: from, and what it gives."""

    code = models.CharField(max_length=30, unique=True)
    name = models.CharField(max_length=80)
    position = models.PositiveIntegerField(default=1)
    customer = models.ForeignKey(
        Customer, on_delete=models.CASCADE, null=True, related_name="rules"
    )
    customer_tier = models.CharField(max_length=20, blank=True)
    item = models.ForeignKey(Item, on_delete=models.CASCADE, null=True, related_name="rules")
    group = models.ForeignKey(ItemGroup, on_delete=models.CASCADE, null=True, related_name="rules")
    measure = models.CharField(max_length=8, default="quantity")
    unit = models.ForeignKey(Unit, on_delete=models.PROTECT, null=True)
    over = models.CharField(max_length=8, default="line")
    tiers = models.JSONField(default=list)
    graduated = models.BooleanField(default=False)
    exclusive = models.BooleanField(default=False)
    currency = models.CharField(max_length=3, blank=True)
    valid_from = models.DateField(null=True)
    valid_to = models.DateField(null=True)
    version = models.PositiveIntegerField(default=1)

    class Meta:
        ordering = ["position", "pk"]
        constraints = [
            one_of("measure", MEASURES, "rule_measure_known"),
            one_of("over", SPANS, "rule_over_known"),
            dates_in_order("rule_dates_in_order"),
        ]


class Limit(models.Model):
    """What a role may give away without a sign-off; ``group`` is an item group's code, or all.

    ``credit``, of all groups, is the most in the base currency by which a quote may take a customer's
    exposure over the customer's limit.
    """

    role = models.CharField(max_length=8)
    group = models.CharField(max_length=20, blank=True)
    line_percent = percent_column(null=True)
    document_percent = percent_column(null=True)
    margin_floor = percent_column(null=True)
    credit = amount_column(null=True)
    version = models.PositiveIntegerField(default=1)

    class Meta:
        constraints = [
            one_of("role", ROLES, "limit_role_known"),
            models.UniqueConstraint(fields=["role", "group"], name="limit_once"),
        ]


class KeptCase(models.Model):
    """A price question with the answer that must hold: a price case file, kept as a safety net."""

    name = models.CharField(max_length=120)
    customer = models.CharField(max_length=120)
    on = models.DateField()
    currency = models.CharField(max_length=3)
    case = models.JSONField()
    kept_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+"
    )
    kept_at = models.DateTimeField(auto_now_add=True)
    version = models.PositiveIntegerField(default=1)

    class Meta:
        ordering = ["name", "pk"]
