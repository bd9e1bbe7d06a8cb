"""Leads from a file: CSV, XLSX or vCards. Tried first; a lead that is there already is told, not made again."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from datetime import date
from typing import Any

from django.db import transaction

from apps.cells import DANGEROUS
from apps.customers.filed import MAIL
from apps.errors import FlowError, Invalid
from apps.leads.models import OPEN, SOURCES, Lead
from apps.people.access import new_owner, owned, sells
from apps.people.models import User
from apps.tables import read_table, refuse_formulas
from routecore.reading.vcard import Card, read_cards

MOST_CARDS = 5_000_000
BATCH, MOST_TOLD = 500, 100
#: The columns: name, heading, what it holds, its longest text.
COLUMNS = (
    ("name", "Name", "A person; this or the company", 80),
    ("company", "Company", "", 120),
    ("topic", "Topic", "What it is about", 120),
    ("need", "Need", "What they need, in words", 1000),
    ("email", "Mail", "", 200),
    ("phone", "Phone", "", 40),
    ("source", "Came from", "fair, recommended, called, mail, website, visit or other", 12),
    ("rep", "Rep", "The sign-in name of whose lead it is; for leads of a team", 150),
    ("next_step", "Next step", "", 200),
    ("next_on", "On", "The day of the next step, as 2026-12-24", 10),
)
LONGEST = {name: longest for name, _, _, longest in COLUMNS}


@dataclass(frozen=True, slots=True, kw_only=True)
class Told:
    """What comes of a row: ``state`` new, double (one like it is open, or stands above) or refused."""

    row: int
    state: str
    title: str
    fault: FlowError | None = None


@dataclass(slots=True, kw_only=True)
class Report:
    """How many of each state; the first ``MOST_TOLD`` of those that are not simply new."""

    rows: int = 0
    counts: dict[str, int] = field(
        default_factory=lambda: dict.fromkeys(("new", "double", "refused"), 0)
    )
    told: list[Told] = field(default_factory=list)

    def tell(self, told: Told) -> None:
        """One more."""
        self.counts[told.state] += 1
        if told.state != "new" and len(self.told) < MOST_TOLD:
            self.told.append(told)


_Row = tuple[int, dict[str, str], FlowError | None]


def file_leads(who: User, file: str, body: bytes, *, keep: bool) -> Iterator[int | Report]:
    """Try every lead of a file; with ``keep`` the new ones stay. Yields how many are done, and the report at the end."""
    sells(who)
    rows = _cards(body) if file.lower().endswith(".vcf") else _table(file, body)
    return _steps(_Filing(who=who, report=Report(rows=len(rows))), rows, keep=keep)


def _steps(filing: "_Filing", rows: list[_Row], *, keep: bool) -> Iterator[int | Report]:
    for start in range(0, len(rows), BATCH):
        part = rows[start : start + BATCH]
        filing.seen |= _there(filing.who, part)
        made = [lead for row in part if (lead := filing.take(*row))]
        if keep:
            with transaction.atomic():
                Lead.objects.bulk_create(made)
        yield start + len(part)
    yield filing.report


@dataclass(slots=True, kw_only=True)
class _Filing:
    """One file on its way in: what was met already, and whose leads may be made."""

    who: User
    report: Report
    seen: set[tuple[str, str]] = field(default_factory=set)
    owners: dict[str, User] = field(default_factory=dict)

    def take(self, number: int, values: Mapping[str, str], fault: FlowError | None) -> Lead | None:
        """A row's lead, where it is new."""
        title = ", ".join(filter(None, (values.get("company"), values.get("name"))))
        try:
            if fault is not None:
                raise fault
            lead = self._lead(values)
        except FlowError as error:
            self.report.tell(Told(row=number, state="refused", title=title, fault=error))
            return None
        marks = _marks(values)
        double = bool(marks & self.seen)
        self.seen |= marks
        self.report.tell(Told(row=number, state="double" if double else "new", title=title))
        return None if double else lead

    def _lead(self, values: Mapping[str, str]) -> Lead:
        refuse_formulas(values)
        for name, text in values.items():
            if len(text) > LONGEST[name]:
                raise Invalid("too_long", path=name, facts={"most": LONGEST[name]})
        if not values.get("name") and not values.get("company"):
            raise Invalid("required", path="name", facts={"what": "lead"})
        if "email" in values and not MAIL.fullmatch(values["email"]):
            raise Invalid("mail_wrong", path="email")
        source = values.get("source", "").lower()
        if source not in SOURCES:
            raise Invalid("unknown_choice", path="source", facts={"value": source})
        given: dict[str, Any] = {k: v for k, v in values.items() if k not in ("rep", "next_on")}
        return Lead(
            **{**given, "source": source},
            owner=self._owner(values.get("rep", "")),
            next_on=_day(values.get("next_on", "")),
        )

    def _owner(self, name: str) -> User:
        """Oneself, or whom the file names; each is looked up once."""
        if not name:
            return self.who
        if name not in self.owners:
            person = User.objects.filter(username=name, is_active=True).first()
            if person is None:
                raise Invalid("unknown_choice", path="rep", facts={"value": name})
            self.owners[name] = new_owner(self.who, person.pk)
        return self.owners[name]


def _day(text: str) -> date | None:
    try:
        return date.fromisoformat(text) if text else None
    except ValueError as error:
        raise Invalid("unknown_choice", path="next_on", facts={"value": text}) from error


def _marks(values: Mapping[str, str]) -> set[tuple[str, str]]:
    """What two leads that are the same have in common: the address, or company and name together."""
    marks = {("of", f"{values.get('company', '')}|{values.get('name', '')}".casefold())}
    if values.get("email"):
        marks.add(("mail", values["email"].casefold()))
    return marks


def _there(who: User, part: list[_Row]) -> set[tuple[str, str]]:
    """The marks of this person's open leads that a part of the file may mean. Two queries."""
    rows = Lead.objects.filter(owned(who), state=OPEN).order_by()
    mails = {values["email"] for _, values, _ in part if values.get("email")}
    names = {values.get("company", "") for _, values, _ in part}
    found = [
        *rows.filter(email__in=mails).values_list("company", "name", "email"),
        *rows.filter(company__in=names).values_list("company", "name", "email"),
    ]
    return {
        mark
        for company, name, email in found
        for mark in _marks({"company": company, "name": name, "email": email})
    }


def _table(file: str, body: bytes) -> list[_Row]:
    table = read_table(file, body)
    known = {heading.lower(): name for name, heading, _, _ in COLUMNS}
    columns = [known.get(cell.strip().lower(), "") for cell in table[0][1]] if table else []
    if "name" not in columns and "company" not in columns:
        raise Invalid("no_heading", path="file", facts={"missing": ["Name"]})
    return [
        (
            number,
            {
                column: _typed(cell)
                for column, cell in zip(columns, cells, strict=False)
                if column and cell.strip()
            },
            None,
        )
        for number, cells in table[1:]
    ]


def _typed(cell: str) -> str:
    """A cell as it was typed, without the sign that keeps a spreadsheet from running it."""
    text = " ".join(cell.split())
    return text[1:] if text[:1] == "'" and text[1:].startswith(DANGEROUS) else text


def _cards(body: bytes) -> list[_Row]:
    if len(body) > MOST_CARDS:
        raise Invalid("too_big", path="file")
    return [_card(card) for card in read_cards(body)]


def _card(card: Card) -> _Row:
    if card.fault:
        fault = Invalid("vcard", facts={"what": card.fault})
        return card.number, {"name": card.name}, fault
    values = {
        "name": card.name,
        "company": card.organisation,
        "topic": card.role,
        "email": next(iter(card.emails), ""),
        "phone": next(iter(card.phones), ""),
    }
    return card.number, {name: value for name, value in values.items() if value}, None
