"""What is sold, in which units, at which list prices, with which tax."""

from decimal import Decimal

from django.db import models

from apps.columns import (
    begins,
    one_of,
    percent_column,
    positive,
    price_column,
    quantity_column,
)

GOODS, SERVICE, MADE = "goods", "service", "made"


class Unit(models.Model):
    """A unit after UN/ECE Recommendation 20 or 21, and the word people use for it."""

    code = models.CharField(max_length=3, primary_key=True)
    name = models.CharField(max_length=30)
    name_de = models.CharField(max_length=30, blank=True)


class TaxCategory(models.Model):
    """A tax category; one without components gives the reason that documents must print."""

    code = models.CharField(max_length=20, primary_key=True)
    name = models.CharField(max_length=60)
    reason = models.CharField(max_length=200, blank=True)
    reason_de = models.CharField(max_length=200, blank=True)
    version = models.PositiveIntegerField(default=1)


class TaxComponent(models.Model):
    """One tax of a category, on the net or on the net plus the components before it."""

    category = models.ForeignKey(TaxCategory, on_delete=models.CASCADE, related_name="components")
    position = models.PositiveSmallIntegerField(default=1)
    name = models.CharField(max_length=30)
    percent = percent_column()
    on = models.CharField(max_length=7, default="net")

    class Meta:
        ordering = ["category_id", "position"]
        constraints = [
            models.UniqueConstraint(fields=["category", "position"], name="tax_position_once"),
            one_of("on", ("net", "running"), "tax_on_known"),
            models.CheckConstraint(condition=models.Q(percent__gte=0), name="tax_not_negative"),
        ]


class ItemGroup(models.Model):
    """A group of items."""

    code = models.CharField(max_length=20, unique=True)
    name = models.CharField(max_length=60)


class Item(models.Model):
    """An item; cost, minimum and pack multiple are per, or in, the base unit."""

    code = models.CharField(max_length=20, unique=True)
    name = models.CharField(max_length=120)
    group = models.ForeignKey(ItemGroup, on_delete=models.PROTECT, related_name="items")
    kind = models.CharField(max_length=8, default=GOODS)
    base_unit = models.ForeignKey(Unit, on_delete=models.PROTECT, related_name="+")
    sales_unit = models.ForeignKey(Unit, on_delete=models.PROTECT, related_name="+")
    tax_category = models.ForeignKey(TaxCategory, on_delete=models.PROTECT)
    weight_kg = quantity_column(null=True)
    cost = price_column(null=True)
    minimum_quantity = quantity_column(null=True)
    pack_multiple = quantity_column(null=True)
    active = models.BooleanField(default=True)
    version = models.PositiveIntegerField(default=1)

    class Meta:
        constraints = [
            one_of("kind", (GOODS, SERVICE, MADE), "item_kind_known"),
            models.CheckConstraint(
                condition=models.Q(pack_multiple__isnull=True)
                | models.Q(pack_multiple__gt=Decimal(0)),
                name="item_pack_positive",
            ),
        ]

    def __str__(self) -> str:
        return f"{self.code} {self.name}"


class ItemUnit(models.Model):
    """Another unit of an item, and how many base units one of it holds."""

    item = models.ForeignKey(Item, on_delete=models.CASCADE, related_name="units")
    unit = models.ForeignKey(Unit, on_delete=models.PROTECT)
    factor = quantity_column()

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["item", "unit"], name="item_unit_once"),
            positive("factor", "item_factor_positive"),
        ]


class PriceList(models.Model):
    """A list in one currency; it may derive from another by a factor and a rounding."""

    code = models.CharField(max_length=20, unique=True)
    name = models.CharField(max_length=60)
    currency = models.CharField(max_length=3)
    derives_from = models.ForeignKey("self", on_delete=models.PROTECT, null=True)
    factor = quantity_column(default=Decimal(1))
    round_to = price_column(null=True)
    version = models.PositiveIntegerField(default=1)

    class Meta:
        constraints = [positive("factor", "list_factor_positive")]


class PriceEntry(models.Model):
    """A price per ``per`` of a unit, from a quantity upwards, between two days inclusive.

    ``list_code`` and ``item_code`` are kept by the database, as ``apps.catalogue.kept`` declares them.
    """

    price_list = models.ForeignKey(PriceList, on_delete=models.CASCADE, related_name="entries")
    item = models.ForeignKey(Item, on_delete=models.CASCADE, related_name="prices")
    unit = models.ForeignKey(Unit, on_delete=models.PROTECT)
    price = price_column()
    per = quantity_column(default=Decimal(1))
    from_quantity = quantity_column(default=Decimal(0))
    valid_from = models.DateField(null=True)
    valid_to = models.DateField(null=True)
    from_day = begins()
    version = models.PositiveIntegerField(default=1)
    list_code = models.CharField(max_length=20, default="", editable=False)
    item_code = models.CharField(max_length=20, default="", editable=False)

    class Meta:
        constraints = [
            positive("per", "entry_per_positive"),
            models.CheckConstraint(condition=models.Q(price__gte=0), name="entry_not_negative"),
            models.CheckConstraint(
                condition=models.Q(valid_to__isnull=True)
                | models.Q(valid_from__isnull=True)
                | models.Q(valid_to__gte=models.F("valid_from")),
                name="entry_dates_in_order",
            ),
            models.UniqueConstraint(
                fields=["price_list", "item", "unit", "from_quantity", "from_day"],
                name="entry_once",
            ),
        ]
        indexes = [
            models.Index(fields=["item", "price_list"]),
            models.Index(
                fields=["list_code", "item_code", "from_quantity", "valid_from"],
                name="entry_in_order",
            ),
        ]


class ExchangeRate(models.Model):
    """Units of the base currency for one of this currency, on a day."""

    currency = models.CharField(max_length=3)
    on = models.DateField()
    rate = price_column()
    version = models.PositiveIntegerField(default=1)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["currency", "on"], name="rate_once_a_day"),
            positive("rate", "rate_positive"),
        ]


class ItemWord(models.Model):
    """What else an item is called: a buyer's word, another language; ``by`` is None where it came with the catalogue."""

    item = models.ForeignKey(Item, on_delete=models.CASCADE, related_name="words")
    word = models.CharField(max_length=120)
    by = models.ForeignKey("people.User", on_delete=models.PROTECT, null=True, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["pk"]
        constraints = [models.UniqueConstraint(fields=["item", "word"], name="item_word_once")]
