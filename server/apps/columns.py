"""Column types that every table shares."""

from datetime import date
from decimal import Decimal
from typing import Any

from django.db import models
from django.db.models.functions import Coalesce

from apps import among  # noqa: F401 - every table has its lookup


def amount_column(**options: Any) -> models.DecimalField:  # type: ignore[type-arg]
    """Money in the currency beside it; three decimals hold every minor unit we deal in."""
    return models.DecimalField(max_digits=18, decimal_places=3, **options)


def price_column(**options: Any) -> models.DecimalField:  # type: ignore[type-arg]
    """A unit price, up to six decimals."""
    return models.DecimalField(max_digits=18, decimal_places=6, **options)


def begins() -> models.GeneratedField:
    """The first day of a validity, or the first of all days: uniqueness sees no NULL."""
    return models.GeneratedField(
        expression=Coalesce(models.F("valid_from"), models.Value(date(1, 1, 1))),
        output_field=models.DateField(),
        db_persist=True,
    )


def quantity_column(**options: Any) -> models.DecimalField:  # type: ignore[type-arg]
    """A quantity in the unit beside it."""
    return models.DecimalField(max_digits=18, decimal_places=6, **options)


def exact_quantity_column(**options: Any) -> models.DecimalField:  # type: ignore[type-arg]
    """A quantity in an item's base unit that came from another unit: nothing of it is rounded."""
    return models.DecimalField(max_digits=33, decimal_places=12, **options)


def percent_column(**options: Any) -> models.DecimalField:  # type: ignore[type-arg]
    """A percentage."""
    return models.DecimalField(max_digits=7, decimal_places=4, **options)


def positive(field: str, name: str) -> models.CheckConstraint:
    """The column is greater than zero."""
    return models.CheckConstraint(condition=models.Q(**{f"{field}__gt": Decimal(0)}), name=name)


def sorting(column: str, name: str) -> models.Index:
    """An index that a list is read in the order of, however many people's records are in it.

    With the key, which settles ties, and the owner: who may not be shown is passed over in the index.
    """
    return models.Index(fields=[column, "id", "owner"], name=name)


def one_of(field: str, values: tuple[str, ...], name: str) -> models.CheckConstraint:
    """The column holds one of these words."""
    return models.CheckConstraint(condition=models.Q(**{f"{field}__in": values}), name=name)
