"""Customers from a file: tried first, then made or changed, each whole or not at all, some hundreds at a time."""

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from decimal import Decimal

from django.conf import settings
from django.db import transaction
from django.db.models import Model
from django.db.utils import DatabaseError, OperationalError

from apps.catalogue.models import PriceList
from apps.customers.filed import OWN, Filed, RowFault, read_customers
from apps.customers.flows import next_customer_numbers
from apps.customers.kept import CUSTOMERS
from apps.customers.marks import Described, Gathered, Likely, likely_each, refresh_marks
from apps.customers.models import Address, Contact, Customer
from apps.customers.queries import whole_customers
from apps.customers.upkeep import CHANGED
from apps.errors import FlowError, Invalid, Stale, check_version
from apps.journal.flows import record_each
from apps.kept.figures import once
from apps.people.access import new_owner, owned, sells
from apps.people.models import User
from routecore.pricing import BASE_LIST

#: So many customers are written in one transaction.
BATCH = 250
MOST_TOLD = 500


@dataclass(frozen=True, slots=True, kw_only=True)
class Told:
    """What comes of a customer of the file: ``new``, ``changed``, ``same`` (as it is), ``double`` (likely
    there, not made unless its row is named). ``again`` are likely the same in earlier rows of the file."""

    state: str
    row: int
    name: str
    number: str
    id: int | None
    people: int
    places: int
    likely: Sequence[Likely]
    again: Sequence[Likely]


@dataclass(slots=True)
class Report:
    """What a file brings, or brought: how many of each state; the first ``MOST_TOLD`` of them and of the faults."""

    rows: int = 0
    customers: int = 0
    counts: dict[str, int] = field(
        default_factory=lambda: dict.fromkeys(("new", "changed", "same", "double", "refused"), 0)
    )
    told: list[Told] = field(default_factory=list)
    faults: list[RowFault] = field(default_factory=list)


def file_customers(
    who: User, file: str, body: bytes, *, keep: bool, anyway: Iterable[int] = ()
) -> Iterator[int | Report]:
    """Try every customer of a file; with ``keep`` they stay. ``anyway`` are rows of likely doubles that are
    customers of their own. Yields how many are done, and the report at the end.

    The same file again changes nothing that it has made: its customers are there.
    """
    sells(who)
    entries = read_customers(who, file, body)
    return _steps(_Filing(who, set(anyway), keep, entries), entries)


def _steps(filing: "_Filing", entries: list[Filed]) -> Iterator[int | Report]:
    report = Report(rows=sum(len(entry.rows) for entry in entries), customers=len(entries))
    for start in range(0, len(entries), BATCH):
        part = entries[start : start + BATCH]
        filing.take(part, report)
        yield start + len(part)
    report.told.sort(key=lambda told: (told.state != "double", told.row))
    del report.told[MOST_TOLD:], report.faults[MOST_TOLD:]
    yield report


@dataclass(slots=True)
class _Plan:
    """What is to be written of a customer."""

    entry: Filed
    row: Customer
    fresh: bool
    changes: dict[str, tuple[object, object]] = field(default_factory=dict)
    people: list[Contact] = field(default_factory=list)
    known_people: list[Contact] = field(default_factory=list)
    places: list[Address] = field(default_factory=list)
    likely: Sequence[Likely] = ()
    again: Sequence[Likely] = ()

    @property
    def state(self) -> str:
        """What comes of it."""
        if self.fresh:
            return "new"
        parts = self.people or self.known_people or self.places
        return "changed" if self.changes or parts else "same"


class _Filing:
    """One file on its way in."""

    def __init__(self, who: User, anyway: set[int], keep: bool, entries: list[Filed]):
        self.who, self.anyway, self.keep = who, anyway, keep
        self.lists = {row.code.lower(): row for row in PriceList.objects.all()}
        self.lists |= {row.name.lower(): row for row in self.lists.values()}
        base = self.lists.get(BASE_LIST)
        if base is None:
            raise Invalid("no_base_list")
        self.base = base
        self.common: set[tuple[str, str]] = set()
        #: Whom this file has made: a trial does not know them either.
        self.made: set[int] = set()
        self.gathered = Gathered(
            {entry.rows[0]: _as_filed(entry) for entry in entries if not entry.faults}
        )
        self.owners: dict[str, User] = {"": new_owner(who, None)}

    def take(self, entries: list[Filed], report: Report) -> None:
        """Plan some hundred customers and write what is good of them."""
        known = self._known(entries)
        plans: list[_Plan] = []
        for entry in entries:
            try:
                if entry.faults:
                    report.faults += entry.faults
                    report.counts["refused"] += 1
                    continue
                plans.append(self._plan(entry, known.get(entry.key)))
            except FlowError as error:
                self._refuse(entry, error, report)
        plans = self._without_doubles(plans, report)
        if self.keep:
            plans = self._write(plans, report)
            self.made |= {plan.row.pk for plan in plans if plan.fresh}
        for plan in plans:
            self._tell(plan, plan.state, report)

    def _known(self, entries: list[Filed]) -> dict[str, Customer]:
        """Who is there already, by the file's word for them. Four queries."""
        own = whole_customers().filter(owned(self.who), retired_at__isnull=True)
        numbers = [number for entry in entries if (number := entry.values.get("number"))]
        names = [
            entry.values["name"]
            for entry in entries
            if not entry.values.get("number") and "name" in entry.values
        ]
        rows = {
            row.pk: row
            for found in (own.filter(number__in=numbers), own.filter(name__in=names))
            for row in found
        }
        by_number = {row.number.casefold(): row for row in rows.values()}
        by_name = {row.name.casefold(): row for row in rows.values()}
        return {
            entry.key: row
            for entry in entries
            if (row := (by_number if entry.values.get("number") else by_name).get(entry.key))
        }

    def _plan(self, entry: Filed, row: Customer | None) -> _Plan:
        number = entry.values.get("number")
        if row is None and number:
            raise Invalid("unknown", path="number", facts={"value": number})
        plan = _Plan(entry, row or self._new(entry), fresh=row is None)
        values = self._values(entry)
        for name, value in values.items():
            before = getattr(plan.row, name)
            if before != value:
                setattr(plan.row, name, value)
                if row is not None:
                    plan.changes[name.removesuffix("_id")] = (before, value)
        self._plan_people(plan)
        self._plan_places(plan)
        return plan

    def _new(self, entry: Filed) -> Customer:
        return Customer(
            name=entry.values["name"],
            owner=self.owners[""],
            price_list=self.base,
            currency=settings.BASE_CURRENCY,
            payable_step=Decimal("0.01"),
        )

    def _values(self, entry: Filed) -> dict[str, object]:
        given = entry.values
        values: dict[str, object] = {name: given[name] for name in OWN if name in given}
        if "language" in given:
            values["language"] = given["language"].lower()
        if "terms_days" in given:
            values["terms_days"] = int(given["terms_days"])
        if "price_list" in given:
            found = self.lists.get(given["price_list"].lower())
            if found is None:
                raise Invalid("unknown", path="price_list", facts={"value": given["price_list"]})
            if found.currency != settings.BASE_CURRENCY and not given.get("number"):
                raise Invalid("unknown_choice", path="price_list")
            values["price_list_id"] = found.pk
        if "rep" in given:
            values["owner_id"] = self._owner(given["rep"]).pk
        return values

    def _owner(self, name: str) -> User:
        if name not in self.owners:
            person = User.objects.filter(username=name).first()
            try:
                self.owners[name] = new_owner(self.who, person.pk if person else 0)
            except FlowError as error:
                raise Invalid("unknown", path="rep", facts={"value": name}) from error
        return self.owners[name]

    def _plan_people(self, plan: _Plan) -> None:
        """Who is new there; who is there already, by mail or by name, gets what is new of them."""
        there = [] if plan.fresh else list(plan.row.contacts.all())
        for given in plan.entry.people:
            values: dict[str, str] = {
                "name": given["contact"],
                **{k: given[k] for k in ("role", "email", "phone") if k in given},
            }
            same = next(
                (each for each in (*there, *plan.people) if _same_person(each, values)), None
            )
            if same is None:
                plan.people.append(Contact(**values))
            elif any(getattr(same, name) != value for name, value in values.items()):
                for name, value in values.items():
                    setattr(same, name, value)
                if same in there and same not in plan.known_people:
                    plan.known_people.append(same)

    def _plan_places(self, plan: _Plan) -> None:
        there = [] if plan.fresh else list(plan.row.addresses.all())
        for given in plan.entry.places:
            values = {name: given.get(name, "") for name in ("label", "street", "postcode", "town")}
            values |= {"kind": given["place"], "country": given["country"] or settings.HOME_COUNTRY}
            same = next(
                (each for each in (*there, *plan.places) if _same_place(each, values)), None
            )
            if same is None:
                plan.places.append(Address(**values))

    def _without_doubles(self, plans: list[_Plan], report: Report) -> list[_Plan]:
        """New customers that are likely there already wait for a person's word. Three queries."""
        fresh = {n: _described(plan) for n, plan in enumerate(plans) if plan.fresh}
        likely = likely_each(fresh, but=self.made, common=self.common)
        kept = []
        for n, plan in enumerate(plans):
            plan.likely = likely.get(n, ())
            again = self.gathered.earlier(plan.entry.rows[0])
            plan.again = again if plan.fresh else ()
            if (plan.likely or plan.again) and not self.anyway & set(plan.entry.rows):
                self._tell(plan, "double", report)
            else:
                kept.append(plan)
        return kept

    def _write(self, plans: list[_Plan], report: Report) -> list[_Plan]:
        """Write all of them at once; where the database refuses one, each by itself."""
        try:
            with transaction.atomic():
                _store(self.who, plans)
            return plans
        except OperationalError:
            raise
        except (DatabaseError, Stale):
            return [plan for plan in plans if self._write_one(plan, report)]

    def _write_one(self, plan: _Plan, report: Report) -> bool:
        try:
            with transaction.atomic():
                _store(self.who, [plan])
        except OperationalError:
            raise
        except Stale as error:
            self._refuse(plan.entry, error, report)
            return False
        except DatabaseError:
            self._refuse(plan.entry, Invalid("out_of_range", facts={"what": "stored"}), report)
            return False
        return True

    def _refuse(self, entry: Filed, error: FlowError, report: Report) -> None:
        report.counts["refused"] += 1
        report.faults.append(
            RowFault(row=entry.rows[0], customer=entry.name, field=error.path, fault=error)
        )

    def _tell(self, plan: _Plan, state: str, report: Report) -> None:
        report.counts[state] += 1
        if len(report.told) >= 4 * MOST_TOLD and state != "double":
            return
        report.told.append(
            Told(
                state=state,
                row=plan.entry.rows[0],
                name=plan.row.name,
                number=plan.row.number,
                id=plan.row.pk if state != "double" else None,
                people=len(plan.people) + len(plan.known_people),
                places=len(plan.places),
                likely=plan.likely,
                again=plan.again,
            )
        )


def _same_person(there: Contact, values: Mapping[str, str]) -> bool:
    mail = values.get("email", "").casefold()
    if mail and there.email:
        return there.email.casefold() == mail
    return there.name.casefold() == values["name"].casefold()


def _same_place(there: Address, values: Mapping[str, str]) -> bool:
    names = ("kind", "street", "postcode", "town")
    return all(getattr(there, name).casefold() == values[name].casefold() for name in names)


def _as_filed(entry: Filed) -> Described:
    """A customer as the file describes it, before it is known whether it is there."""
    return Described(
        name=entry.values.get("name", ""),
        tax_number=entry.values.get("tax_number", ""),
        mails=tuple(mail for person in entry.people if (mail := person.get("email"))),
        phones=tuple(phone for person in entry.people if (phone := person.get("phone"))),
    )


def _described(plan: _Plan) -> Described:
    return Described(
        name=plan.row.name,
        tax_number=plan.row.tax_number,
        mails=tuple(person.email for person in plan.people if person.email),
        phones=tuple(person.phone for person in plan.people if person.phone),
    )


def _store(who: User, plans: list[_Plan]) -> None:
    """Write the plans: new customers, changed ones, their people and places, and what was changed."""
    fresh = [plan for plan in plans if plan.fresh]
    for plan, number in zip(fresh, next_customer_numbers(len(fresh)), strict=True):
        plan.row.number = number
        _anew(plan.row, *plan.people, *plan.places)
    _save([plan.row for plan in plans if plan.changes and not plan.fresh], FIELDS)
    _save([person for plan in plans for person in plan.known_people], PERSON)
    with once(CUSTOMERS, lambda: [plan.row.pk for plan in plans]):
        _insert(plans, [plan.row for plan in fresh])
    noted = {plan.row.pk: plan.changes for plan in plans if not plan.fresh}
    noted |= {plan.row.pk: {"number": ("", plan.row.number)} for plan in fresh}
    record_each(who, "customer", noted, reason="file")
    touched = [plan.row.pk for plan in plans if plan.state != "same"]
    refresh_marks(touched)
    for tell in CHANGED:
        tell(touched)


#: What a file writes of a customer, and of a person who is there.
FIELDS = (*OWN, "terms_days", "price_list", "owner")
PERSON = ("name", "role", "email", "phone")


def _save(rows: Sequence[Customer] | Sequence[Contact], fields: Sequence[str]) -> None:
    """Save what a file changes of these, and nothing else of them; raises ``Stale`` where somebody was faster."""
    if not rows:
        return
    table = type(rows[0])._base_manager.select_for_update()
    there = dict(table.filter(pk__in=[row.pk for row in rows]).values_list("pk", "version"))
    for row in rows:
        check_version(there.get(row.pk, 0), row.version, "customer")
    for row in rows:
        type(row)._base_manager.filter(pk=row.pk).update(
            **{name: getattr(row, name) for name in fields}, version=row.version + 1
        )


def _insert(plans: list[_Plan], fresh: list[Customer]) -> None:
    Customer.objects.bulk_create(fresh)
    for plan in plans:
        for person in plan.people:
            person.customer_id = plan.row.pk
        for place in plan.places:
            place.customer_id = plan.row.pk
    Contact.objects.bulk_create([each for plan in plans for each in plan.people], batch_size=500)
    Address.objects.bulk_create([each for plan in plans for each in plan.places], batch_size=500)


def _anew(*rows: Model) -> None:
    """Not stored, whatever was tried before."""
    for row in rows:
        row.pk, row._state.adding = None, True
