"""Targets from a file: a row of a person, a team or a team's item group, a column of each month."""

from collections.abc import Sequence
from datetime import date
from decimal import Decimal

from apps.errors import FlowError, Invalid
from apps.forecast.targets import Aims, Subject, names_of
from apps.people.access import signs
from apps.people.models import User
from apps.tables import read_table, refuse_formulas
from routecore.reading import NumberStyle, read_number, readings_of, style_of

#: The headings before the months.
HEADS = ("Person", "Team", "Item group")
Refused = list[tuple[int, FlowError]]
#: An amount below this is one that the database holds.
MOST = Decimal(10) ** 12
Names = tuple[str, str, str]


def read_targets(who: User, file: str, body: bytes, months: Sequence[date]) -> tuple[Aims, Refused]:
    """What a file says of these months, and the rows of which something is not taken, with why. Nothing is stored.

    A column's heading is its month, as 2027-01; other columns are left out, and cells without anything. Amounts are
    rounded later. Raises ``Invalid`` where the file cannot be read or has none of the months.
    """
    signs(who)
    table = read_table(file, body)
    headings = [cell.strip().lower() for cell in table[0][1]] if table else []
    columns = {name: headings.index(name.lower()) for name in HEADS if name.lower() in headings}
    wanted = {f"{month:%Y-%m}": month for month in months}
    at = {n: wanted[text[:7]] for n, text in enumerate(headings) if text[:7] in wanted}
    missing = [] if columns else [", ".join(HEADS)]
    missing += [] if at else [", ".join(wanted)]
    if missing:
        raise Invalid("no_heading", path="file", facts={"missing": missing})
    known = {_named(*names): subject for subject, *names in names_of(who)}
    style = style_of(cell for _, cells in table[1:] for n, cell in enumerate(cells) if n in at)
    found: Aims = {}
    refused: Refused = []
    for number, cells in table[1:]:
        try:
            found.update(_row(cells, columns, at, known, style, found))
        except Invalid as error:
            refused.append((number, error))
    return found, refused


def _named(person: str, team: str, group: str) -> Names:
    return (
        person.strip().lower(),
        "" if person.strip() else team.strip().lower(),
        group.strip().lower(),
    )


def _row(
    cells: Sequence[str],
    columns: dict[str, int],
    at: dict[int, date],
    known: dict[Names, Subject],
    style: NumberStyle,
    before: Aims,
) -> Aims:
    """A row's targets, all or none of them."""
    said = {name: cells[n].strip() if n < len(cells) else "" for name, n in columns.items()}
    refuse_formulas(said)
    words = [said.get(name, "") for name in HEADS]
    subject = known.get(_named(*words))
    if subject is None:
        value = ", ".join(word for word in words if word)
        raise Invalid("unknown", path="person", facts={"value": value})
    found: Aims = {}
    for n, month in at.items():
        text = cells[n].strip() if n < len(cells) else ""
        if text:
            found[subject, month] = _amount(text, style)
    if found.keys() & before.keys():
        raise Invalid("double_id", path="person")
    return found


def _amount(text: str, style: NumberStyle) -> Decimal:
    refuse_formulas({"amount": text})
    number = read_number(text, style)
    if number is None or number.value >= MOST:
        raise Invalid("unreadable", path="amount", facts={"what": "number", "value": text})
    if not number.certain:
        ways = [f"{way.value:f}" for way in readings_of(text)]
        raise Invalid(
            "doubtful", path="amount", facts={"what": "number", "text": text, "ways": ways}
        )
    return number.value
