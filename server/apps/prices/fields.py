"""The fields of price records: how each is shown, typed and read; rows typed in one field."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import date
from decimal import Decimal, InvalidOperation
import json
import re
from typing import Any

from django.db.models import Model

from apps.catalogue.models import (
    Item,
    ItemGroup,
    ItemUnit,
    PriceList,
    TaxCategory,
    TaxComponent,
    Unit,
)
from apps.customers.models import Customer
from apps.errors import Invalid
from apps.prices.queries import core_tier
from apps.words import record_words
from routecore import totals
from routecore.casefile.words import plain


@dataclass(frozen=True, slots=True, kw_only=True)
class Field:
    """A field: its name, its type, and whether it may be empty.

    ``kind``: ``text``, ``decimal``, ``date``, ``flag``, ``tiers``, ``choice`` (one of ``choices``),
    a reference by code: ``item``, ``unit``, ``customer``, ``list``, ``group``, ``category``, or rows
    of their own that are typed in one field: ``packs``, ``taxes``. ``told`` is counted, not typed.
    """

    name: str
    kind: str = "text"
    needed: bool = True
    choices: tuple[str, ...] = ()
    digits: int = 6

    @property
    def label(self) -> str:
        """The words over it."""
        return record_words()["fields"][self.name]


REFERENCES: dict[str, tuple[type[Model], str]] = {
    "item": (Item, "code"),
    "unit": (Unit, "code"),
    "customer": (Customer, "number"),
    "list": (PriceList, "code"),
    "group": (ItemGroup, "code"),
    "category": (TaxCategory, "code"),
}


def shown(row: Any, spec: Field) -> str:
    """A field's value as text: codes for references, plain decimals, ISO dates."""
    if spec.kind == "told":
        told = getattr(row, spec.name, None)
        return "" if told is None else f"{Decimal(told).normalize():f}"
    value = getattr(row, spec.name)
    if spec.kind == "packs":
        return "; ".join(f"{u.unit_id} = {u.factor.normalize():f}" for u in value.all())
    if spec.kind == "taxes":
        return "; ".join(_tax_words(part) for part in value.all())
    if value is None:
        return ""
    if spec.kind in REFERENCES:
        return str(getattr(value, REFERENCES[spec.kind][1]))
    if spec.kind == "decimal":
        return f"{Decimal(value).normalize():f}"
    if spec.kind == "flag":
        return "yes" if value else "no"
    if spec.kind == "tiers":
        return "; ".join(_tier_words(tier) for tier in value)
    return value.isoformat() if isinstance(value, date) else str(value)


#: Figures of money, which stand below each other with two decimals at least.
MONEY = ("price", "cost", "list_price", "credit")


def said(row: Any, spec: Field) -> str:
    """A field's value as people read it: names with their codes, prices with their decimals."""
    plain_text = shown(row, spec)
    if not plain_text:
        return ""
    if spec.kind == "decimal" and spec.name in MONEY:
        return plain(getattr(row, spec.name), 2) or ""
    if spec.kind not in REFERENCES:
        return plain_text
    name = str(getattr(getattr(row, spec.name), "name", ""))
    return f"{plain_text} {name}" if spec.kind in ("item", "customer") else name or plain_text


UNITS_OF_TIERS = {"percent": "%", "per_unit": "a unit", "per_line": "a line"}


def _tier_words(tier: Mapping[str, str]) -> str:
    """A tier as people type it.

    >>> _tier_words({"from": "100", "percent": "5"})
    'from 100: 5 %'
    """
    name, value = next((k, v) for k, v in tier.items() if k != "from")
    return f"from {tier['from']}: {value} {UNITS_OF_TIERS[name]}"


#: What reading a value that makes no sense raises: numbers, dates, tiers as words or as JSON.
UNREADABLE = (
    *(ValueError, InvalidOperation, LookupError, TypeError, StopIteration),
    *(AttributeError, RecursionError),
)


def read_value(spec: Field, text: str, most: int = 80) -> Any:
    """What was typed, as the column's value; raises ``Invalid`` with the field's path."""
    plain = text.strip()
    if not plain:
        if spec.needed and spec.kind != "flag":
            raise Invalid("required", path=spec.name, facts={"what": "any"})
        return {"flag": False, "text": "", "packs": {}, "taxes": []}.get(spec.kind)
    if spec.kind in REFERENCES:
        model, column = REFERENCES[spec.kind]
        found = model._default_manager.filter(**{column: plain}).first()
        if found is None:
            raise Invalid("unknown", path=spec.name, facts={"what": spec.kind, "value": plain})
        return found
    readers: dict[str, Callable[[], Any]] = {
        "decimal": lambda: _decimal(plain, spec.digits),
        "date": lambda: date.fromisoformat(plain),
        "flag": lambda: plain.lower() in ("yes", "true", "1"),
        "tiers": lambda: _tiers(plain),
        "packs": lambda: _packs(plain),
        "taxes": lambda: _taxes(plain),
        "choice": lambda: _choice(plain, spec.choices),
    }
    try:
        value = readers.get(spec.kind, lambda: plain)()
    except UNREADABLE as error:
        raise Invalid(
            "unreadable", path=spec.name, facts={"what": "any", "value": plain}
        ) from error
    if spec.kind == "text" and len(plain) > most:
        raise Invalid("too_long", path=spec.name, facts={"most": most})
    return value


PLAIN = re.compile(r"\d{1,9}(\.\d{1,12})?", re.ASCII)


def _decimal(text: str, digits: int) -> Decimal:
    if not PLAIN.fullmatch(text):
        raise ValueError(text)
    value = Decimal(text)
    if value != round(value, digits):
        raise ValueError(text)
    return value


def _choice(text: str, choices: tuple[str, ...]) -> str:
    if text not in choices:
        raise ValueError(text)
    return text


def _tiers(text: str) -> list[dict[str, str]]:
    """Tiers as typed, or as JSON: "from 100: 5 %; from 500: 8 %"."""
    if text.startswith("["):
        tiers = [_plain_tier(tier) for tier in json.loads(text)]
    else:
        tiers = [_typed_tier(part) for part in text.split(";") if part.strip()]
    if not 0 < len(tiers) <= MOST_TIERS:
        raise ValueError(text)
    for tier in tiers:
        core_tier(tier)
    return list(tiers)


MOST_TIERS = 20


def _plain_tier(tier: dict[str, str]) -> dict[str, str]:
    """A tier of a JSON list: names that are known, figures that are plain."""
    if set(tier) - {"from", *UNITS_OF_TIERS}:
        raise ValueError(str(tier))
    return {name: f"{_decimal(str(value), 6)}" for name, value in tier.items()}


def _packs(text: str) -> dict[str, Decimal]:
    """Packs as typed: "RL = 100; PF = 12000"."""
    found: dict[str, Decimal] = {}
    for part in text.split(";"):
        if part.strip():
            unit, _, factor = part.partition("=")
            if unit.strip() in found or not Unit.objects.filter(code=unit.strip()).exists():
                raise ValueError(unit)
            found[unit.strip()] = _decimal(factor.strip(), 6)
    return found


def _tax_words(part: TaxComponent) -> str:
    running = " on running" if part.on == "running" else ""
    return f"{part.name} {part.percent.normalize():f} %{running}"


def _taxes(text: str) -> list[totals.TaxComponent]:
    """Components as typed, in their order: "VAT 20 %; Levy 5 % on running"."""
    found = []
    for part in text.split(";"):
        if not part.strip():
            continue
        written = TAX.fullmatch(part.strip())
        if written is None:
            raise ValueError(part)
        on = "running" if written["on"] else "net"
        percent = _decimal(written["percent"], 4)
        found.append(totals.TaxComponent(name=written["name"].strip()[:30], percent=percent, on=on))
    return found


TAX = re.compile(r"(?P<name>[^;%]+?)\s+(?P<percent>\d[\d.]*)\s*%(?P<on>\s+on running)?")


def children_of(row: Any, name: str) -> Any:
    """What was typed for rows of their own, or what is stored, in the same form."""
    typed = getattr(row, "typed_children", {})
    if name in typed:
        return typed[name]
    if not row.pk:
        return {} if name == "units" else []
    if name == "units":
        return {unit.unit_id: unit.factor for unit in row.units.all()}
    return [
        totals.TaxComponent(name=part.name, percent=part.percent, on=part.on)
        for part in row.components.all()
    ]


def write_children(row: Any) -> None:
    """Store what was typed for rows of their own."""
    for name, typed in getattr(row, "typed_children", {}).items():
        getattr(row, name).all().delete()
        if name == "units":
            rows: list[Model] = [
                ItemUnit(item=row, unit_id=unit, factor=factor) for unit, factor in typed.items()
            ]
        else:
            rows = [
                TaxComponent(category=row, position=n, name=p.name, percent=p.percent, on=p.on)
                for n, p in enumerate(typed, start=1)
            ]
        getattr(row, name).model._default_manager.bulk_create(rows)


def _typed_tier(text: str) -> dict[str, str]:
    start, _, gives = text.strip().lower().removeprefix("from").partition(":")
    words = gives.split()
    value = words[0].rstrip("%")
    rest = " ".join(words[1:]) or "%"
    name = next(key for key, word in UNITS_OF_TIERS.items() if word == rest)
    return {"from": f"{_decimal(start.strip(), 6)}", name: f"{_decimal(value, 6)}"}
