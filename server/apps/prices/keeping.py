"""Kept cases: whole price questions with the answer that must hold, run against the house's prices.

A kept case is a price case file (``docs/case-format.md``). Run in the house, its document, lines,
discounts and charges are its own; customer, items, lists, agreements, rules, rates and taxes are
those that the house has now, or would have with a proposed change.
"""

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, replace
from datetime import date
from typing import Any

from django.db import transaction

from apps.catalogue.models import Item, TaxCategory
from apps.catalogue.queries import core_items, tax_table
from apps.customers.models import Customer
from apps.errors import FlowError, Invalid, Missing, check_version
from apps.journal.flows import record_changes
from apps.people.access import keeps_prices
from apps.people.models import User
from apps.prices.models import KeptCase
from apps.prices.queries import price_book
from routecore.casefile import CaseFaults, Difference, differences, load_case, read_case, result_of
from routecore.errors import CoreError
from routecore.totals import PricedDocument, price_document

MOST_CASES = 1000
MOST_FAULTS = 20


@dataclass(frozen=True, slots=True, kw_only=True)
class CaseRun:
    """What a run of a kept case found: nothing, differences, or why it cannot be run."""

    case_id: int
    differences: tuple[Difference, ...]
    fault: FlowError | None


def house_answer(data: Mapping[str, Any], *, on: date | None = None) -> PricedDocument:
    """The case priced with what the house has now, on its own day or another.

    Raises ``Invalid`` for a customer or an item that the house does not have, ``CaseFaults`` for a
    malformed case.
    """
    case = read_case(data)
    terms = replace(case.terms, on=on) if on else case.terms
    number = case.book.customer.id
    rows = Customer.objects.select_related("price_list", "parent")
    customer = rows.filter(number=number).first()
    if customer is None:
        raise Invalid(
            "unknown", path="customer.id", facts={"what": "case_customer", "value": number}
        )
    wanted = {line.item.id for line in case.lines}
    ids = dict(Item.objects.filter(code__in=wanted).values_list("code", "pk"))
    missing = sorted(wanted - set(ids))
    if missing:
        raise Invalid("unknown", path="items", facts={"what": "case_item", "value": missing[:5]})
    items = core_items(ids.values(), customer.tax_category_id)
    lines = [replace(line, item=items[ids[line.item.id]]) for line in case.lines]
    return price_document(terms, price_book(customer, ids.values(), terms.on), lines, tax_table())


def _expectation(priced: PricedDocument) -> dict[str, Any]:
    result = result_of(priced, _reasons())
    lines: Any = result["lines"]
    totals: Any = result["totals"]
    seen = ("id", "price", "per", "net")
    return {
        "lines": [{name: line[name] for name in seen} for line in lines],
        "totals": {name: totals[name] for name in ("net", "tax_total", "payable")},
    }


def _reasons() -> dict[str, str]:
    return dict(TaxCategory.objects.exclude(reason="").values_list("code", "reason"))


def keep_file(who: User, body: bytes) -> list[KeptCase]:
    """Keep the cases of a file (one, or a list), all or none; raises ``Invalid`` with the path."""
    keeps_prices(who)
    try:
        loaded = load_case(body.decode("utf-8"))
    except UnicodeDecodeError as error:
        raise Invalid("unreadable", path="file", facts={"what": "json"}) from error
    except CaseFaults as error:
        raise Invalid(
            "unreadable", path="file", facts={"what": "case_file", "found": str(error)}
        ) from error
    cases = loaded if isinstance(loaded, list) else [loaded]
    if len(cases) > MOST_CASES:
        raise Invalid("too_many", path="file", facts={"what": "cases", "most": MOST_CASES})
    with transaction.atomic():
        return [_keep_read(who, case, f"[{n}]", n) for n, case in enumerate(cases)]


def _keep_read(who: User, case: Any, where: str, n: int) -> KeptCase:
    try:
        note = case.get("note") if isinstance(case, dict) else None
        return keep_case(who, case, str(note or f"Case {n + 1}"))
    except CaseFaults as error:
        found = "; ".join(f"{fault.path}: {fault.message}" for fault in error.faults[:MOST_FAULTS])
        raise _in_case(where, n, Invalid("malformed", facts={"found": found})) from error
    except CoreError as error:
        raise _in_case(where, n, Invalid.of(error)) from error
    except Invalid as error:
        raise _in_case(where, n, error) from error


def _in_case(where: str, n: int, fault: Invalid) -> Invalid:
    return Invalid("in_case", path=where, facts={"case": n + 1, "fault": fault.told()})


@transaction.atomic
def keep_case(who: User, data: Any, name: str) -> KeptCase:
    """Keep one case; where it expects no whole answer, what it gives now must hold."""
    keeps_prices(who)
    if not name.strip():
        raise Invalid("required", path="name", facts={"what": "case"})
    case = read_case(data)
    priced = house_answer(data)
    customer = Customer.objects.get(number=case.book.customer.id)
    whole = {"lines", "totals"} <= set(case.expect or ())
    if whole and not _can_be_compared(case.expect):
        raise Invalid("malformed", path="expect", facts={"found": "expect"})
    row = KeptCase.objects.create(
        name=name.strip()[:120],
        customer=customer.name,
        on=case.terms.on,
        currency=case.terms.currency,
        case={**data, "expect": case.expect if whole else _expectation(priced)},
        kept_by=who,
    )
    record_changes(who, "case", row.pk, {"case": ("", row.name)})
    return row


def _can_be_compared(expect: Any) -> bool:
    """Whether what is expected has the form of an answer: lines and totals of texts."""
    lines, totals = expect["lines"], expect["totals"]
    if not isinstance(lines, list) or not isinstance(totals, dict):
        return False
    figures = [*totals.values()]
    for line in lines:
        if not isinstance(line, dict):
            return False
        figures += line.values()
    return all(figure is None or isinstance(figure, str) for figure in figures)


@transaction.atomic
def let_go(who: User, case_id: int, version: int) -> None:
    """A kept case goes; the record of changes keeps its name."""
    keeps_prices(who)
    row = _locked(case_id, version)
    record_changes(who, "case", row.pk, {"case": (row.name, "")})
    row.delete()


@transaction.atomic
def expect_anew(who: User, case_id: int, version: int) -> KeptCase:
    """What the case gives now is what must hold from here on."""
    keeps_prices(who)
    row = _locked(case_id, version)
    before = row.case["expect"]["totals"]
    row.case = {**row.case, "expect": _expectation(house_answer(row.case))}
    row.version += 1
    row.save(update_fields=["case", "version"])
    after = row.case["expect"]["totals"]
    record_changes(who, "case", row.pk, {"net": (before.get("net"), after["net"])})
    return row


def _locked(case_id: int, version: int) -> KeptCase:
    row = KeptCase.objects.select_for_update().filter(pk=case_id).first()
    if row is None:
        raise Missing("not_found", facts={"what": "case"})
    check_version(row.version, version, "case")
    return row


def run_cases(cases: Iterable[KeptCase]) -> Iterator[CaseRun]:
    """Run each case on its own day and compare with what it expects."""
    reasons = _reasons()
    for row in cases:
        try:
            found = result_of(house_answer(row.case), reasons)
        except (FlowError, CoreError) as error:
            fault = Invalid.of(error) if isinstance(error, CoreError) else error
            yield CaseRun(case_id=row.pk, differences=(), fault=fault)
            continue
        yield CaseRun(
            case_id=row.pk, differences=tuple(differences(row.case["expect"], found)), fault=None
        )
