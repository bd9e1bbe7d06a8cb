"""Two records of one customer become one: every document moves, and moves back within a day.

What refers to a customer is found in the tables themselves, so that none that is added later is forgotten.
Documents that are booked refuse another customer; a merge alone is let through (``MOVING``).
"""

from collections.abc import Iterable, Iterator, Mapping
from contextlib import contextmanager
from datetime import datetime, timedelta

from django.db import connection, models, transaction

from apps.customers.marks import refresh_marks
from apps.customers.models import Customer, Mark, Merge
from apps.customers.upkeep import CHANGED
from apps.errors import Invalid, Refused, check_version
from apps.journal.flows import record_changes
from apps.people.access import owned, pick, sells, signs
from apps.people.models import User

#: While this is set in a session, booked documents let their customer be changed, and nothing else.
MOVING = "@records_merge"
UNDO_WITHIN = timedelta(hours=24)
#: Fields of which a person chooses whose value stays.
CHOICES = (
    *("name", "kind", "tax_number", "language", "tier", "price_list_id", "credit_limit"),
    *("tax_category_id", "terms_days", "terms_end_of_month", "terms_more", "owner_id"),
    *("partial_deliveries", "priority"),
)
#: What goes together: terms are one choice.
TOGETHER = {"terms": ("terms_days", "terms_end_of_month", "terms_more")}
LEADS = {
    *("tier", "price_list_id", "credit_limit", "tax_category_id", "owner_id", "priority"),
    *TOGETHER["terms"],
}


@transaction.atomic
def merge_customers(
    who: User,
    kept_id: int,
    gone_id: int,
    versions: tuple[int, int],
    take: Iterable[str],
    *,
    now: datetime,
) -> Merge:
    """``gone`` becomes ``kept``: its documents, people and places move; ``take`` names the fields whose
    value the gone one gives. What only a lead changes, only a lead takes."""
    sells(who)
    if kept_id == gone_id:
        raise Invalid("merge_with_itself", path="other")
    kept, gone = _both(who, kept_id, gone_id)
    check_version(kept.version, versions[0], "customer")
    check_version(gone.version, versions[1], "customer")
    if kept.currency != gone.currency:
        raise Refused("other_currency", facts={"one": kept.currency, "other": gone.currency})
    names = _taken(who, kept, gone, take)
    before = {name: _plain(getattr(kept, name)) for name in names}
    changes = {name: (getattr(kept, name), getattr(gone, name)) for name in names}
    for name in names:
        setattr(kept, name, getattr(gone, name))
    if kept.parent_id == gone.pk:
        before["parent_id"], kept.parent_id = gone.pk, gone.parent_id
    moved = _move(gone, kept)
    kept.held, kept.version = kept.held or gone.held, kept.version + 1  # one of both is enough
    kept.save()
    gone.retired_at, gone.merged_into, gone.version = now, kept, gone.version + 1
    gone.save()
    record_changes(who, "customer", kept.pk, {**changes, "merged": ("", gone.number)})
    record_changes(who, "customer", gone.pk, {"merged_into": ("", kept.number)})
    _tell(kept, gone)
    after = {name: _plain(getattr(kept, name)) for name in before}
    return Merge.objects.create(
        kept=kept, gone=gone, who=who, at=now, before=before, after=after, moved=moved
    )


def _both(who: User, kept_id: int, gone_id: int) -> tuple[Customer, Customer]:
    """Both, locked in one order, whoever asks in which; neither is retired."""
    pks = sorted((kept_id, gone_id))
    list(Customer.objects.select_for_update().filter(pk__in=pks).order_by("pk").values_list("pk"))
    rows = Customer.objects.filter(owned(who))
    found = pick(rows, kept_id, "customer"), pick(rows, gone_id, "customer")
    for row in found:
        if row.retired_at is not None:
            raise Refused("merged_away" if row.merged_into_id else "retired")
    return found


def _taken(who: User, kept: Customer, gone: Customer, take: Iterable[str]) -> list[str]:
    names = [part for name in take for part in TOGETHER.get(name, (name,))]
    for name in names:
        if name not in CHOICES:
            raise Invalid("unknown_choice", path="take")
    names = [name for name in names if getattr(kept, name) != getattr(gone, name)]
    if LEADS & set(names):
        signs(who)
    return names


def relations() -> Iterator[tuple[type[models.Model], str]]:
    """Every table and column that refers to a customer, but the records of merging themselves."""
    for relation in Customer._meta.get_fields(include_hidden=True):
        if relation.auto_created and isinstance(relation, models.ManyToOneRel):
            model = relation.related_model
            if model not in (Merge, Mark):
                yield model, relation.field.name


@contextmanager
def _moving() -> Iterator[None]:
    with connection.cursor() as cursor:
        cursor.execute(f"SET {MOVING} = 1")
    try:
        yield
    finally:
        with connection.cursor() as cursor:
            cursor.execute(f"SET {MOVING} = NULL")


def _move(gone: Customer, kept: Customer) -> dict[str, list[int]]:
    """Everything of the one becomes the other's; which rows, by table and column.

    What the other has already (a price of the same item from the same day) stays where it is; what is
    reckoned (one row for each customer) is forgotten for both.
    """
    moved: dict[str, list[int]] = {}
    with _moving():
        for model, column in relations():
            manager = model._base_manager
            if model._meta.get_field(column).one_to_one:
                manager.filter(**{f"{column}__in": (gone, kept)}).delete()
                continue
            rows = manager.filter(**{column: gone}).exclude(
                pk__in=_clashing(model, column, gone, kept)
            )
            if model is Customer and column == "parent":
                rows = rows.exclude(pk=kept.pk)
            pks = list(rows.order_by("pk").values_list("pk", flat=True))
            if pks:
                manager.filter(pk__in=pks).update(**{column: kept})
                moved[f"{model._meta.label}.{column}"] = pks
    return moved


def _clashing(model: type[models.Model], column: str, gone: Customer, kept: Customer) -> list[int]:
    """Rows of the one that the database allows the other no second time."""
    found: list[int] = []
    for rule in model._meta.constraints:
        if not isinstance(rule, models.UniqueConstraint) or column not in rule.fields:
            continue
        others = [name for name in rule.fields if name != column]
        theirs = set(model._base_manager.filter(**{column: kept}).values_list(*others))
        rows = model._base_manager.filter(**{column: gone}).values_list("pk", *others)
        found += [row[0] for row in rows if row[1:] in theirs]
    return found


def _plain(value: object) -> object:
    return value if isinstance(value, (int, bool, dict, type(None))) else str(value)


def _tell(*rows: Customer) -> None:
    pks = [row.pk for row in rows]
    refresh_marks(pks)
    for tell in CHANGED:
        tell(pks)


@transaction.atomic
def undo_merge(who: User, merge_id: int, *, now: datetime) -> Merge:
    """Take a merge back, within a day: what moved moves back; a field that was changed since stays.

    What was written for the one since then stays with it.
    """
    sells(who)
    merge = pick(Merge.objects.select_for_update(), merge_id, "merge")
    pick(Customer.objects.filter(owned(who)), merge.kept_id, "customer")
    pks = (merge.kept_id, merge.gone_id)
    list(Customer.objects.select_for_update().filter(pk__in=pks).order_by("pk").values_list("pk"))
    kept, gone = Customer.objects.get(pk=merge.kept_id), Customer.objects.get(pk=merge.gone_id)
    if merge.undone_at is not None:
        raise Refused("undone_already")
    if now - merge.at > UNDO_WITHIN:
        raise Refused("too_late_to_undo", facts={"hours": 24})
    if kept.merged_into_id is not None:
        raise Refused("merged_away")
    _move_back(merge.moved, kept, gone)
    changes = _fields_back(kept, merge)
    others = Customer.objects.filter(merged_into=kept).exclude(pk=gone.pk)
    kept.held = kept.held_itself or others.filter(held_itself=True).exists()
    kept.version += 1
    kept.save()
    gone.retired_at, gone.merged_into, gone.version = None, None, gone.version + 1
    gone.held = gone.held_itself
    gone.save()
    record_changes(who, "customer", kept.pk, {**changes, "merged": (gone.number, "")})
    record_changes(who, "customer", gone.pk, {"merged_into": (kept.number, "")})
    merge.undone_at = now
    merge.save(update_fields=["undone_at"])
    _tell(kept, gone)
    return merge


def _move_back(moved: Mapping[str, list[int]], kept: Customer, gone: Customer) -> None:
    with _moving():
        for model, column in relations():
            if model._meta.get_field(column).one_to_one:
                model._base_manager.filter(**{f"{column}__in": (gone, kept)}).delete()
            pks = moved.get(f"{model._meta.label}.{column}", [])
            rows = model._base_manager.filter(pk__in=pks, **{column: kept})
            rows.update(**{column: gone})


def _fields_back(kept: Customer, merge: Merge) -> dict[str, tuple[object, object]]:
    changes = {}
    for name, before in merge.before.items():
        now_there = getattr(kept, name)
        if _plain(now_there) != merge.after.get(name) or _plain(now_there) == before:
            continue
        column = Customer._meta.get_field(name.removesuffix("_id"))
        setattr(
            kept, name, column.to_python(before) if isinstance(column, models.Field) else before
        )
        changes[name] = (now_there, before)
    return changes
