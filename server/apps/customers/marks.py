"""By what customers are recognised: the telling words of the name, tax number, mail domain, phone.

Marks stand in a table of their own with an index, so that likely doubles are found among many at once.
"""

from collections import Counter
from collections.abc import Collection, Iterable, Mapping
from dataclasses import dataclass, field

from django.db import connection
from django.db.models import Count, Q

from apps.customers.models import DOMAIN, NAME, PHONE, TAX, Contact, Customer, Mark
from apps.customers.tax_numbers import tax_key
from routecore.likeness import compare_names, mail_domain, name_keys, phone_key

#: A mark that more customers share tells nothing (a mail house, a switchboard).
MOST_SHARED = 4
#: A word that more customers have is common; and so many that share words are looked at.
MOST_LOOKED_AT = 20
#: Its kind and its key.
KindKey = tuple[str, str]
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
    Mark.objects.filter(customer__in=rows)._raw_delete(Mark.objects.db)
    values = [(pk, *mark) for pk, marks in wanted.items() for mark in sorted(marks)]
    if values:
        # As they are: a hundred thousand of them as records would take longer than all the rest.
        with connection.cursor() as cursor:
            cursor.executemany(
                "INSERT INTO customers_mark (customer_id, kind, `key`) VALUES (%s, %s, %s)", values
            )


def likely_same(described: Described, *, but: Collection[int] = ()) -> list[Likely]:
    """Customers that may be the one described, the likeliest first, at most a few. Three queries."""
    return likely_each({0: described}, but=but).get(0, [])


def likely_each(
    described: Mapping[int, Described],
    *,
    but: Collection[int] = (),
    common: set[KindKey] | None = None,
) -> dict[int, list[Likely]]:
    """The same for many at once, by their keys in the mapping. Three queries, however many.

    ``common`` remembers from one call to the next which marks too many share: they are not counted again.
    """
    marks = {key: each.marks for key, each in described.items()}
    counts = _counts({mark for found in marks.values() for mark in found}, common)
    wanted = {mark for found in marks.values() for mark in _telling(found, counts)}
    holders = _holders(wanted, but)
    chosen = {
        key: _candidates(_telling(found, counts), counts, holders) for key, found in marks.items()
    }
    pks = {pk for found in chosen.values() for pk in found}
    names = dict(Customer.objects.filter(pk__in=pks).values_list("pk", "name"))
    return {key: _judged(described[key], found, names) for key, found in chosen.items() if found}


def _asked(marks: Iterable[KindKey]) -> Q:
    by_kind: dict[str, list[str]] = {}
    for kind, key in marks:
        by_kind.setdefault(kind, []).append(key)
    asked = Q(pk__in=[])
    for kind, keys in by_kind.items():
        asked |= Q(kind=kind, key__in=keys)
    return asked


def _counts(marks: set[KindKey], common: set[KindKey] | None) -> dict[KindKey, int]:
    """How many customers have each mark; of one that is known to be common, more than are looked at."""
    known = common if common is not None else set()
    rows = Mark.objects.filter(_asked(marks - known)).order_by().values_list("kind", "key")
    found = {(kind, key): many for kind, key, many in rows.annotate(many=Count("pk"))}
    known |= {mark for mark, many in found.items() if many > MOST_LOOKED_AT}
    return found | dict.fromkeys(marks & known, MOST_LOOKED_AT + 1)


def _telling(marks: set[KindKey], counts: Mapping[KindKey, int]) -> set[KindKey]:
    """Of a description's marks, those that tell something: its rare words, or all where all are common."""
    most = {NAME: MOST_LOOKED_AT, TAX: MOST_LOOKED_AT}
    rare = {mark for mark in marks if 0 < counts.get(mark, 0) <= most.get(mark[0], MOST_SHARED)}
    words = {mark for mark in marks if mark[0] == NAME}
    return (
        rare | words
        if words and all(counts.get(mark, 0) > MOST_LOOKED_AT for mark in words)
        else rare
    )


def _holders(marks: set[KindKey], but: Collection[int]) -> dict[KindKey, set[int]]:
    """Who has which mark."""
    rows = Mark.objects.filter(_asked(marks)).values_list("kind", "key", "customer_id")
    found: dict[KindKey, set[int]] = {}
    for kind, key, customer in rows:
        if customer not in but:
            found.setdefault((kind, key), set()).add(customer)
    return found


def _candidates(
    marks: set[KindKey], counts: Mapping[KindKey, int], holders: Mapping[KindKey, set[int]]
) -> dict[int, set[str]]:
    """Who shares half of the rare words, all of the common ones where there are no others, or another mark."""
    found: dict[int, set[str]] = {}
    words = {mark for mark in marks if mark[0] == NAME}
    shared: dict[int, int] = {}
    if any(counts.get(mark, 0) > MOST_LOOKED_AT for mark in words):
        together = set.intersection(*(holders.get(mark, set()) for mark in words))
        shared = dict.fromkeys(sorted(together)[:MOST_LOOKED_AT], len(words))
    else:
        for mark in words:
            for customer in holders.get(mark, ()):
                shared[customer] = shared.get(customer, 0) + 1
    alike = [customer for customer, many in shared.items() if 2 * many >= len(words)]
    for customer in sorted(alike, key=lambda each: (-shared[each], each))[:MOST_LOOKED_AT]:
        found[customer] = {NAME}
    for mark in marks - words:
        for customer in holders.get(mark, ()):
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


class Gathered:
    """Descriptions that are not stored, as the customers of a file: whether one repeats an earlier one.

    A mark that many of them share tells nothing, so all are known before the first is asked for.
    """

    def __init__(self, described: Mapping[int, Described]):
        self._marks = {key: each.marks for key, each in described.items()}
        self._counts = Counter(mark for marks in self._marks.values() for mark in marks)
        self._holders: dict[KindKey, set[int]] = {}
        self._described = described
        self._names: dict[int, str] = {}

    def earlier(self, key: int) -> list[Likely]:
        """Those asked for before that may be the same, by their keys; from now on this one is one of them."""
        described, marks = self._described[key], self._marks[key]
        shared = {mark for mark in marks if self._counts[mark] > 1}
        found = _candidates(_telling(shared, self._counts), self._counts, self._holders)
        for mark in shared:
            self._holders.setdefault(mark, set()).add(key)
        self._names[key] = described.name
        return _judged(described, found, self._names) if found else []
