"""By what customers are recognised: the telling words of the name, tax number, mail domain, phone.

Marks stand in a table of their own with an index, so that likely doubles are found among many at once.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field

from django.db.models import Q

from apps.customers.models import DOMAIN, NAME, PHONE, TAX, Contact, Customer, Mark
from apps.customers.tax_numbers import tax_key
from routecore.likeness import compare_names, mail_domain, name_keys, phone_key

#: A mark that more customers share tells nothing (a mail house, a switchboard).
MOST_SHARED = 4
#: Of a name's words, so many customers are looked at.
MOST_LOOKED_AT = 60
MOST_TOLD = 8


@dataclass(frozen=True, slots=True, kw_only=True)
class Described:
    """A customer as it is typed or read from a file."""

    name: str
    tax_number: str = ""
    mails: tuple[str, ...] = ()
    phones: tuple[str, ...] = ()

    @property
    def marks(self) -> set[tuple[str, str]]:
        """By what it is recognised."""
        found = {(NAME, key) for key in name_keys(self.name)}
        found |= {(TAX, tax_key(self.tax_number)[:80])} if self.tax_number else set()
        found |= {(DOMAIN, mail_domain(mail)[:80]) for mail in self.mails}
        found |= {(PHONE, phone_key(phone)) for phone in self.phones}
        return {(kind, key) for kind, key in found if key}


@dataclass(slots=True)
class Likely:
    """A customer that may be the same, and why: ``name_same``, ``name_near``, ``tax``, ``domain``, ``phone``."""

    customer: int
    name: str
    why: list[str] = field(default_factory=list)
    weight: float = 0


#: What each reason weighs; a near name weighs its share.
WEIGHTS = {"tax": 3.0, "name_same": 2.0, "phone": 1.0, "domain": 0.9}


def refresh_marks(customers: Iterable[int]) -> None:
    """Write the marks of these customers anew. Four queries, however many."""
    rows = Customer.objects.in_bulk(list(customers))
    people: dict[int, list[Contact]] = {}
    for person in Contact.objects.filter(customer__in=rows, retired_at__isnull=True):
        people.setdefault(person.customer_id, []).append(person)
    wanted = {
        pk: Described(
            name=row.name,
            tax_number=row.tax_number,
            mails=tuple(person.email for person in people.get(pk, ())),
            phones=tuple(person.phone for person in people.get(pk, ())),
        ).marks
        for pk, row in rows.items()
        if row.retired_at is None
    }
    Mark.objects.filter(customer__in=rows).delete()
    Mark.objects.bulk_create(
        (
            Mark(customer_id=pk, kind=kind, key=key)
            for pk, marks in wanted.items()
            for kind, key in sorted(marks)
        ),
        batch_size=1000,
    )


def likely_same(described: Described, *, but: int | None = None) -> list[Likely]:
    """Customers that may be the one described, the likeliest first, at most a few. Three queries."""
    return likely_each({0: described}, but=but).get(0, [])


def likely_each(
    described: Mapping[int, Described], *, but: int | None = None
) -> dict[int, list[Likely]]:
    """The same for many at once, by their keys in the mapping. Three queries, however many."""
    marks = {key: each.marks for key, each in described.items()}
    every = {mark for found in marks.values() for mark in found}
    if not every:
        return {}
    holders = _holders(every, but)
    chosen = {key: _candidates(found, holders) for key, found in marks.items()}
    names = dict(
        Customer.objects.filter(
            pk__in={pk for found in chosen.values() for pk in found}
        ).values_list("pk", "name")
    )
    return {key: _judged(described[key], found, names) for key, found in chosen.items() if found}


def _holders(marks: set[tuple[str, str]], but: int | None) -> dict[tuple[str, str], list[int]]:
    """Who has which mark; marks that too many share are left out, but for words of names."""
    by_kind: dict[str, set[str]] = {}
    for kind, key in marks:
        by_kind.setdefault(kind, set()).add(key)
    asked = Q()
    for kind, keys in by_kind.items():
        asked |= Q(kind=kind, key__in=keys)
    rows = Mark.objects.filter(asked).exclude(customer=but) if but else Mark.objects.filter(asked)
    found: dict[tuple[str, str], list[int]] = {}
    for kind, key, customer in rows.values_list("kind", "key", "customer_id"):
        found.setdefault((kind, key), []).append(customer)
    return {
        mark: sorted(set(rows))
        for mark, rows in found.items()
        if mark[0] in (NAME, TAX) or len(set(rows)) <= MOST_SHARED
    }


def _candidates(
    marks: set[tuple[str, str]], holders: Mapping[tuple[str, str], list[int]]
) -> dict[int, set[str]]:
    """Who shares marks: rare ones first, so that a common word does not crowd out the telling one."""
    found: dict[int, set[str]] = {}
    for mark in sorted(marks, key=lambda mark: len(holders.get(mark, ()))):
        for customer in holders.get(mark, ())[: 20 * MOST_LOOKED_AT]:
            if customer in found or len(found) < MOST_LOOKED_AT:
                found.setdefault(customer, set()).add(mark[0])
    return found


def _judged(
    described: Described, found: Mapping[int, set[str]], names: Mapping[int, str]
) -> list[Likely]:
    likely = []
    for customer, shared in found.items():
        if customer not in names:
            continue
        each = Likely(customer=customer, name=names[customer])
        name = compare_names(described.name, each.name)
        if name.how:
            each.why.append(f"name_{name.how}")
        each.why += [kind for kind in (TAX, PHONE, DOMAIN) if kind in shared]
        each.weight = sum(WEIGHTS.get(why, name.share) for why in each.why)
        if each.why:
            likely.append(each)
    return sorted(likely, key=lambda each: (-each.weight, each.name))[:MOST_TOLD]
