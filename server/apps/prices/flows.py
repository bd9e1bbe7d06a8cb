"""Keeping prices: saved and deleted by an administrator, recorded, and previewed before."""

from collections.abc import Callable, Mapping
import re
from typing import Any, TypeVar

from django.db import transaction
from django.db.models.deletion import ProtectedError
from django.db.utils import IntegrityError

from apps.errors import Invalid, Missing, Refused, check_version
from apps.journal.flows import record_changes
from apps.people.access import keeps_prices
from apps.people.models import User
from apps.prices.fields import read_value, shown, write_children
from apps.prices.kinds import KINDS, Kind, check_row

Seen = TypeVar("Seen")
#: A code that is its record's key stands in addresses.
KEY = re.compile(r"[A-Za-z0-9_.-]{1,20}", re.ASCII)
#: A record's number, or its code where that is its key.
Key = int | str


def kind_of(name: str) -> Kind:
    """A kind of price record by its name."""
    if name not in KINDS:
        raise Missing("not_found", facts={"what": "kind"})
    return KINDS[name]


@transaction.atomic
def save_record(
    who: User, name: str, values: Mapping[str, str], *, pk: Key | None = None, version: int = 1
) -> Any:
    """Make or change a record from what was typed; each changed field is recorded."""
    keeps_prices(who)
    kind = kind_of(name)
    row: Any = kind.model() if pk is None else _locked(kind, pk)
    if pk is not None:
        check_version(row.version, version, "record")
    before = {spec.label: shown(row, spec) for spec in kind.fields} if pk is not None else {}
    row.typed_children = {}
    for spec in kind.fields:
        if spec.kind != "told" and (spec.name in values or pk is None):
            value = read_value(spec, values.get(spec.name, ""), kind.most)
            if pk is not None and spec.name in kind.fixed and value != getattr(row, spec.name):
                raise Invalid("fixed", path=spec.name)
            if spec.name in kind.children:
                row.typed_children[spec.name] = value
            else:
                setattr(row, spec.name, value)
    if pk is None and kind.fixed and kind.model._default_manager.filter(**_key(kind, row)).exists():
        raise Invalid("taken", path=kind.fields[0].name)
    if pk is None and kind.keyed_by_text and not KEY.fullmatch(str(row.pk)):
        raise Invalid(
            "unreadable", path=kind.fields[0].name, facts={"what": "any", "value": row.pk}
        )
    check_row(kind, row)
    if pk is not None:
        row.version += 1
    try:
        with transaction.atomic():
            row.save()
    except IntegrityError as error:
        # Another one of the same was saved at the same moment; the database has the last word.
        raise Invalid("overlap" if kind.overlap else "taken", path=kind.fields[0].name) from error
    write_children(row)
    after = {spec.label: shown(row, spec) for spec in kind.fields}
    changes = {label: (before.get(label, ""), after[label]) for label in after}
    record_changes(who, name, *_named(row.pk, changes))
    return row


def _key(kind: Kind, row: Any) -> dict[str, Any]:
    return {kind.fixed[0]: getattr(row, kind.fixed[0])}


Changes = Mapping[str, tuple[object, object]]


def _named(pk: Key, changes: Changes) -> tuple[int, Changes]:
    """The record of changes counts by number; one that has a code is named in the field instead."""
    if isinstance(pk, int):
        return pk, changes
    return 0, {f"{pk}: {label}": pair for label, pair in changes.items()}


@transaction.atomic
def delete_record(who: User, name: str, pk: Key, version: int) -> None:
    """Take a record away; what documents refer to stays."""
    keeps_prices(who)
    kind = kind_of(name)
    row = _locked(kind, pk)
    check_version(row.version, version, "record")
    words = {spec.label: (shown(row, spec), "") for spec in kind.fields}
    try:
        row.delete()
    except ProtectedError as error:
        raise Refused("in_use") from error
    record_changes(who, name, *_named(pk, words), "deleted")


def _locked(kind: Kind, pk: Key) -> Any:
    row = kind.model._default_manager.select_for_update().filter(pk=pk).first()
    if row is None:
        raise Missing("not_found")
    return row


def taken_back(change: Callable[[], object], look: Callable[[], Seen]) -> Seen:
    """What is seen with a change made; the change is taken back."""
    with transaction.atomic():
        change()
        seen = look()
        transaction.set_rollback(True)
    return seen
