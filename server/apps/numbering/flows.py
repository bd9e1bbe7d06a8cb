"""Document numbers without doubles or gaps under load."""

from datetime import date

from django.db import transaction

from apps.numbering.models import Series


def next_number(prefix: str, on: date) -> str:
    """The next number of a prefix and year, as ``Q-26-0143``; must run inside the document's
    transaction, so that a document which fails gives its number back."""
    assert transaction.get_connection().in_atomic_block, "numbers are taken in a transaction"
    name = f"{prefix}-{on:%y}"
    Series.objects.get_or_create(name=name)
    series = Series.objects.select_for_update().get(name=name)
    series.last += 1
    series.save(update_fields=["last"])
    return f"{name}-{series.last:04d}"
