"""The rows of a file of customers, read: one customer with people and places from one row or several.

Rows with the same number, or the same name where there is no number, are one customer. What belongs to the
customer may stand in each of its rows or in the first alone. A vCard is a row of a customer with a person.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
import re
from typing import Any

from apps.cells import DANGEROUS
from apps.customers.tax_numbers import is_tax_number
from apps.errors import FlowError, Forbidden, Invalid
from apps.people.models import ADMIN, LEAD, User
from apps.tables import Row, read_table, refuse_formulas
from routecore.reading.vcard import Card, read_cards

MAIL = re.compile(
    r"[A-Za-z0-9.!#$%'*+/^_`{|}~-]+@[A-Za-z0-9-]{1,63}(\.[A-Za-z0-9-]{1,63})+", re.ASCII
)
COUNTRY = re.compile(r"[A-Z]{2}", re.ASCII)
KINDS = {
    "invoice": "invoice",
    "invoices": "invoice",
    "delivery": "delivery",
    "deliveries": "delivery",
}
#: The columns: name, heading, what it holds, its longest text.
COLUMNS = (
    ("number", "Number", "The customer's number; empty for a new one", 20),
    ("name", "Name", "What the customer is called", 120),
    ("kind", "Kind", "Grower, nursery, …", 40),
    ("tax_number", "Tax number", "Checked by its country's rule where one is known", 30),
    ("language", "Language", "Of papers: en or de", 2),
    ("rep", "Rep", "The sign-in name of whose customer it is; for leads", 150),
    ("price_list", "Price list", "The code of a price list; for leads", 20),
    ("terms_days", "Days net", "Days until payment; for leads", 3),
    ("contact", "Contact", "The name of a person there", 80),
    ("role", "Role", "What this person does", 60),
    ("email", "Mail", "The person's address", 200),
    ("phone", "Phone", "The person's number", 40),
    ("place", "Place for", "invoice or delivery (or empty)", 10),
    ("label", "Known as", "What the place is called", 60),
    ("street", "Street", "Street and house number", 120),
    ("postcode", "Postcode", "", 16),
    ("town", "Town", "", 80),
    ("country", "Country", "Two letters, as AT", 2),
)
LONGEST = {name: longest for name, _, _, longest in COLUMNS}
OWN = ("name", "kind", "tax_number", "language")
LEADS = ("rep", "price_list", "terms_days")
PERSON = ("contact", "role", "email", "phone")
PLACE = ("place", "label", "street", "postcode", "town", "country")


@dataclass(frozen=True, slots=True, kw_only=True)
class RowFault:
    """A refused row: its number in the file, the customer, the column, and why."""

    row: int
    customer: str
    field: str
    fault: FlowError


@dataclass(slots=True, kw_only=True)
class Filed:
    """A customer as a file tells it; ``rows`` are its rows' numbers, ``faults`` what is wrong in them."""

    key: str
    rows: list[int] = field(default_factory=list)
    values: dict[str, str] = field(default_factory=dict)
    people: list[dict[str, str]] = field(default_factory=list)
    places: list[dict[str, str]] = field(default_factory=list)
    faults: list[RowFault] = field(default_factory=list)

    @property
    def name(self) -> str:
        """What it is called, or its number."""
        return self.values.get("name") or self.values.get("number", "")


def read_customers(who: User, file: str, body: bytes) -> list[Filed]:
    """The customers of a file; raises ``Invalid`` where it cannot be read at all."""
    if file.lower().endswith(".vcf"):
        if len(body) > 5_000_000:
            raise Invalid("too_big", path="file")
        return _grouped(who, _card_rows(read_cards(body)))
    return _grouped(who, _table_rows(read_table(file, body)))


_Values = tuple[int, dict[str, str], FlowError | None]


def _table_rows(table: list[Row]) -> Iterable[_Values]:
    headings = [cell.strip().lower() for cell in table[0][1]] if table else []
    known = {heading.lower(): name for name, heading, _, _ in COLUMNS}
    columns = [known.get(heading, "") for heading in headings]
    if "name" not in columns and "number" not in columns:
        raise Invalid("no_heading", path="file", facts={"missing": ["Name"]})
    for number, cells in table[1:]:
        values = {
            column: _typed(cell)
            for column, cell in zip(columns, cells, strict=False)
            if column and cell.strip()
        }
        yield number, values, None


def _typed(cell: str) -> str:
    """A cell as it was typed, without the sign that keeps a spreadsheet from running it."""
    text = " ".join(cell.split())
    return text[1:] if text[:1] == "'" and text[1:].startswith(DANGEROUS) else text


def _card_rows(cards: Iterable[Card]) -> Iterable[_Values]:
    for card in cards:
        if card.fault:
            yield card.number, {"name": card.name}, Invalid("vcard", facts={"what": card.fault})
            continue
        values = {
            "name": card.organisation or card.name,
            "contact": card.name,
            "role": card.role,
            "email": next(iter(card.emails), ""),
            "phone": next(iter(card.phones), ""),
        }
        for at in card.places[:1]:
            values |= {"street": at.street, "postcode": at.postcode, "town": at.town}
            values |= {"country": at.country.upper(), "label": at.label}
        yield card.number, {name: value for name, value in values.items() if value}, None


def _grouped(who: User, rows: Iterable[_Values]) -> list[Filed]:
    found: dict[str, Filed] = {}
    for number, values, fault in rows:
        word = values.get("number") or values.get("name", "")
        entry = found.setdefault(word.casefold(), Filed(key=word.casefold()))
        entry.rows.append(number)
        try:
            if fault is not None:
                raise fault
            _take(who, entry, values)
        except FlowError as error:
            told = RowFault(row=number, customer=word, field=error.path, fault=error)
            entry.faults.append(told)
    return list(found.values())


def _take(who: User, entry: Filed, values: Mapping[str, str]) -> None:
    """Take a row in; raises ``Invalid`` or ``Forbidden`` at its first fault."""
    refuse_formulas(values)
    for name, text in values.items():
        if len(text) > LONGEST[name]:
            raise Invalid("too_long", path=name, facts={"most": LONGEST[name]})
    if not values.get("number") and not values.get("name"):
        raise Invalid("required", path="name", facts={"what": "customer_name"})
    _check_own(who, values)
    for name in ("number", *OWN, *LEADS):
        if name in values and entry.values.setdefault(name, values[name]) != values[name]:
            facts = {"what": "customer", "values": [entry.values[name], values[name]]}
            raise Invalid("disagree", path=name, facts=facts)
    person = {name: values[name] for name in PERSON if name in values}
    if person:
        _check_person(person)
        entry.people.append(person)
    place = {name: values[name] for name in PLACE if name in values}
    if place:
        entry.places.append(_checked_place(place))


def _check_own(who: User, values: Mapping[str, str]) -> None:
    for name in LEADS:
        if name in values and who.role not in (LEAD, ADMIN):
            raise Forbidden("not_for_role", path=name, facts={"what": "terms"})
    if values.get("language", "en").lower() not in ("en", "de"):
        raise Invalid("unknown_choice", path="language", facts={"value": values["language"]})
    if is_tax_number(values.get("tax_number", "")) is False:
        raise Invalid("tax_number_wrong", path="tax_number")
    days = values.get("terms_days", "0")
    if not (days.isascii() and days.isdigit() and int(days) <= 365):
        raise Invalid("out_of_range", path="terms_days")


def _check_person(person: Mapping[str, str]) -> None:
    if not person.get("contact"):
        raise Invalid("required", path="contact", facts={"what": "contact_name"})
    if "email" in person and not MAIL.fullmatch(person["email"]):
        raise Invalid("mail_wrong", path="email")


def _checked_place(place: dict[str, str]) -> dict[str, Any]:
    kind = KINDS.get(place.get("place", "delivery").lower())
    if kind is None:
        raise Invalid("unknown_choice", path="place", facts={"value": place["place"]})
    for name in ("street", "town"):
        if not place.get(name):
            raise Invalid("required", path=name, facts={"what": f"address_{name}"})
    country = place.get("country", "").upper()
    if country and not COUNTRY.fullmatch(country):
        raise Invalid("country_wrong", path="country")
    return {**place, "place": kind, "country": country}
