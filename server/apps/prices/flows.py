"""Keeping prices: saved and deleted by an administrator, recorded, and previewed before."""

from collections.abc import Callable, Mapping
from typing import Any, TypeVar

from django.db import transaction
from django.db.models.deletion import ProtectedError

from apps.errors import Forbidden, Missing, Refused, check_version
from apps.journal.flows import record_changes
from apps.people.models import ADMIN, User
from apps.prices.kinds import KINDS, Kind, check_row, read_value, shown

Seen = TypeVar("Seen")


def kind_of(name: str) -> Kind:
    """A kind of price record by its name."""
    if name not in KINDS:
        raise Missing("not_found", "There is nothing of this kind.")
    return KINDS[name]


def keeps_prices(who: User) -> None:
    """Refuse everybody but an administrator."""
    if who.role != ADMIN:
        raise Forbidden("not_for_role", "Only an administrator keeps prices.")


@transaction.atomic
def save_record(
    who: User, name: str, values: Mapping[str, str], *, pk: int | None = None, version: int = 1
) -> Any:
    """Make or change a record from what was typed; each changed field is recorded."""
    keeps_prices(who)
    kind = kind_of(name)
    row = kind.model() if pk is None else _locked(kind, pk)
    if pk is not None and hasattr(row, "version"):
        check_version(row.version, version, "record")
    before = {spec.label: shown(row, spec) for spec in kind.fields} if pk else {}
    for spec in kind.fields:
        if spec.name in values or pk is None:
            setattr(row, spec.name, read_value(spec, values.get(spec.name, "")))
    check_row(kind, row)
    if pk is not None and hasattr(row, "version"):
        row.version += 1
    row.save()
    after = {spec.label: shown(row, spec) for spec in kind.fields}
    record_changes(
        who, name, row.pk, {label: (before.get(label, ""), after[label]) for label in after}
    )
    return row


@transaction.atomic
def delete_record(who: User, name: str, pk: int) -> None:
    """Take a record away; what documents refer to stays."""
    keeps_prices(who)
    kind = kind_of(name)
    row = _locked(kind, pk)
    words = {spec.label: (shown(row, spec), "") for spec in kind.fields}
    try:
        row.delete()
    except ProtectedError as error:
        raise Refused("in_use", "Orders refer to this; let it end instead.") from error
    record_changes(who, name, pk, words, "deleted")


def _locked(kind: Kind, pk: int) -> Any:
    row = kind.model._default_manager.select_for_update().filter(pk=pk).first()
    if row is None:
        raise Missing("not_found", "There is no such record any more.")
    return row


def taken_back(change: Callable[[], object], look: Callable[[], Seen]) -> Seen:
    """What is seen with a change made; the change is taken back."""
    with transaction.atomic():
        change()
        seen = look()
        transaction.set_rollback(True)
    return seen
