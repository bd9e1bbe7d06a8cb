"""Lists in the order that a person chose."""

from collections.abc import Mapping
from typing import TypeVar

from django.db.models import F, Model, QuerySet

Row = TypeVar("Row", bound=Model)


def in_order(
    rows: "QuerySet[Row]", sort: str, keys: Mapping[str, str], default: str
) -> "QuerySet[Row]":
    """By one of ``keys`` (what people ask for, to the column), ``-`` before it for the reverse.

    A key that is none falls back to ``default``; empty values come last; the id settles ties.
    """
    chosen = sort if sort.removeprefix("-") in keys else default
    column = F(keys[chosen.removeprefix("-")])
    if chosen.startswith("-"):
        return rows.order_by(column.desc(nulls_last=True), "-pk")
    return rows.order_by(column.asc(nulls_last=True), "pk")
