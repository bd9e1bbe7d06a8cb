"""Declared figures, the triggers that keep them, and the proof that they equal their rows."""

from collections.abc import Callable, Iterable, Iterator, Mapping
from contextlib import contextmanager
from dataclasses import dataclass

from django.db import connection

#: While this is set in a session, its changes wait for ``mend``.
LATER = "@kept_later"
#: So many rows are looked at, and the wrong ones of them set anew, by a statement each.
MENDED_AT_ONCE = 5_000


@dataclass(frozen=True, slots=True, kw_only=True)
class Source:
    """A table that figures follow from.

    ``rows`` tells the rows of the keeping table that a changed row touches, in terms of ``{row}``.
    An update touches them where one of ``columns`` changes; without ``columns`` only insertion and
    removal do.
    """

    table: str
    rows: str
    columns: tuple[str, ...] = ()
    lasting: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Trigger:
    """A trigger of the database; names have at most 64 letters there."""

    name: str
    moment: str
    body: str

    @property
    def order(self) -> str:
        """What makes it, in place of an older one."""
        return f"CREATE OR REPLACE TRIGGER {self.name} {self.moment} FOR EACH ROW {self.body}"


@dataclass(frozen=True, slots=True, kw_only=True)
class Kept:
    """The figures of a table: by column, the SQL of what it must be for ``{row}``."""

    table: str
    figures: Mapping[str, str]
    sources: tuple[Source, ...] = ()

    @property
    def _touch(self) -> str:
        column = next(iter(self.figures))
        return f"UPDATE {self.table} SET {column} = {column}"  # noqa: S608 - declared names

    def triggers(self) -> Iterator[Trigger]:
        """What keeps them."""
        sets = ", ".join(
            f"NEW.{column} = ({rule.format(row='NEW')})" for column, rule in self.figures.items()
        )
        for event in ("INSERT", "UPDATE"):
            yield self._trigger(self.table, "BEFORE", event, f"SET {sets};")
        for source in self.sources:
            for event, row in _events(source):
                changed = " OR ".join(f"NOT (NEW.{c} <=> OLD.{c})" for c in source.columns)
                body = f"{self._touch} WHERE {source.rows.format(row=row)};"
                if event == "UPDATE":
                    body = f"IF {changed} THEN {body} END IF;"
                yield self._trigger(source.table, "AFTER", event, body)

    def _trigger(self, on: str, moment: str, event: str, body: str) -> Trigger:
        name = f"kept_{self.table}_by_{on}_{event.lower()}"
        body = f"BEGIN IF {LATER} IS NULL THEN {body} END IF; END"
        return Trigger(name=name, moment=f"{moment} {event} ON {on}", body=body)

    def wrong(self, most: int = 20) -> list[int]:
        """Keys of rows whose figures are not what follows from the rows; the first few. 0 is a row that is missing."""
        return [*self._wrong("TRUE", most), *self.missing()]

    def wrong_by_parts(self, rows: int, most: int = 20) -> Iterator[list[int]]:
        """The same, so many rows at a time; a few keys of each part."""
        with connection.cursor() as cursor:
            cursor.execute(f"SELECT MIN(id), MAX(id) FROM {self.table}")  # noqa: S608
            least, greatest = cursor.fetchone()
        for start in range(least or 1, (greatest or 0) + 1, rows):
            yield self._wrong(f"k.id BETWEEN {start:d} AND {start + rows - 1:d}", most)
        yield self.missing()

    def missing(self) -> list[int]:
        """Nothing, or 0, where a row is missing: the application writes its rows itself."""
        return []

    @property
    def _differs(self) -> str:
        """What holds for a row ``k`` with a figure that does not follow from its rows."""
        return " OR ".join(
            f"NOT (k.{column} <=> ({rule.format(row='k')}))"
            for column, rule in self.figures.items()
        )

    def _wrong(self, part: str, most: int) -> list[int]:
        order = (
            f"SELECT k.id FROM {self.table} k "  # noqa: S608 - declared names
            f"WHERE {part} AND ({self._differs}) LIMIT {most:d}"
        )
        with connection.cursor() as cursor:
            cursor.execute(order)
            return [key for (key,) in cursor.fetchall()]

    def mend(self) -> None:
        """Set the figures of every row anew that are not what they must be.

        The rows are found first: a statement that reads a table lets no trigger write to it.
        """
        for keys in self.wrong_by_parts(MENDED_AT_ONCE, MENDED_AT_ONCE):
            if keys:
                with connection.cursor() as cursor:
                    cursor.execute(f"{self._touch} WHERE id IN ({','.join(map(str, keys))})")


@dataclass(frozen=True, slots=True, kw_only=True)
class Summed(Kept):
    """A table with a row for each group of another table's rows, and what these come to.

    The groups are the rows of ``of`` that agree in ``by``, columns of the same names in both, in which this table is
    unique. ``parts`` tells by column what ``{row}`` adds to it, out of ``columns``. What is added is added where it
    changes: to read all rows of a group would wait for whoever writes another of them.
    """

    of: str
    by: tuple[str, ...]
    parts: Mapping[str, str]
    columns: tuple[str, ...]

    def triggers(self) -> Iterator[Trigger]:
        """What keeps them."""
        changed = " OR ".join(
            f"NOT (NEW.{name} <=> OLD.{name})" for name in (*self.by, *self.columns)
        )
        less, more = self._adds("OLD", "-"), self._adds("NEW", "+")
        for event, body in (
            ("INSERT", more),
            ("UPDATE", f"IF {changed} THEN {less} {more} END IF;"),
            ("DELETE", less),
        ):
            yield self._trigger(self.of, "AFTER", event, body)

    def _adds(self, row: str, sign: str) -> str:
        """Add a row's parts to its group, or take them away; the first makes it.

        To insert at once would wait behind whoever waits for the group, and two who write several rows of it would
        stop each other.
        """
        parts = {column: part.format(row=row) for column, part in self.parts.items()}
        sets = ", ".join(f"{column} = {column} {sign} {part}" for column, part in parts.items())
        mine = " AND ".join(f"{name} = {row}.{name}" for name in self.by)
        names = ", ".join((*self.by, *parts))
        first = (*(f"{row}.{name}" for name in self.by), *(f"0 {sign} {p}" for p in parts.values()))
        return (
            f"UPDATE {self.table} SET {sets} WHERE {mine}; "  # noqa: S608 - declared names
            f"IF ROW_COUNT() = 0 THEN INSERT INTO {self.table} ({names}) "
            f"VALUES ({', '.join(first)}) ON DUPLICATE KEY UPDATE {sets}; END IF;"
        )

    @property
    def _without_a_row(self) -> str:
        """The groups that have none."""
        names = ", ".join(f"s.{name}" for name in self.by)
        same = " AND ".join(f"k.{name} = s.{name}" for name in self.by)
        return (
            f"SELECT DISTINCT {names} FROM {self.of} s "  # noqa: S608 - declared names
            f"WHERE NOT EXISTS (SELECT 1 FROM {self.table} k WHERE {same})"
        )

    def missing(self) -> list[int]:
        """0, where a group has no row."""
        with connection.cursor() as cursor:
            cursor.execute(f"SELECT 0 FROM ({self._without_a_row} LIMIT 1) missing")  # noqa: S608
            return [key for (key,) in cursor.fetchall()]

    @property
    def _touch(self) -> str:
        sets = ", ".join(
            f"{column} = ({rule.format(row=self.table)})" for column, rule in self.figures.items()
        )
        return f"UPDATE {self.table} SET {sets}"  # noqa: S608 - declared names

    def mend(self) -> None:
        """Make the rows that are missing, and set anew the figures that are not what they must be."""
        with connection.cursor() as cursor:
            names = ", ".join(self.by)
            cursor.execute(f"INSERT INTO {self.table} ({names}) {self._without_a_row}")
        Kept.mend(self)


def summed(
    *, table: str, of: str, by: tuple[str, ...], parts: Mapping[str, str], columns: tuple[str, ...]
) -> Summed:
    """The declaration, with what each figure must be: the sum of the parts of its group."""
    group = " AND ".join(f"s.{name} = {{row}}.{name}" for name in by)
    figures = {
        column: f"SELECT COALESCE(SUM({part.format(row='s')}), 0) FROM {of} s WHERE {group}"  # noqa: S608
        for column, part in parts.items()
    }
    return Summed(table=table, figures=figures, of=of, by=by, parts=parts, columns=columns)


def _events(source: Source) -> Iterator[tuple[str, str]]:
    yield "INSERT", "NEW"
    if source.columns:
        yield "UPDATE", "NEW"
    if not source.lasting:
        yield "DELETE", "OLD"


#: The first name of a record's owner, by which lists are sorted.
OWNER_NAME = "SELECT u.first_name FROM people_user u WHERE u.id = {row}.owner_id"


def owner_source() -> Source:
    """Somebody is called otherwise."""
    return Source(
        table="people_user", rows="owner_id = {row}.id", columns=("first_name",), lasting=True
    )


#: The name of a record's customer, by which lists are sorted and searched.
CUSTOMER_NAME = "SELECT c.name FROM customers_customer c WHERE c.id = {row}.customer_id"


def customer_source() -> Source:
    """A customer is called otherwise."""
    return Source(
        table="customers_customer", rows="customer_id = {row}.id", columns=("name",), lasting=True
    )


#: Every declaration, in the order in which figures build on each other.
DECLARED: list[Kept] = []


def declare(kept: Kept) -> Kept:
    """Make a declaration known."""
    DECLARED.append(kept)
    return kept


def _installed() -> dict[str, str]:
    """What the database has of them, by name: the body."""
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT TRIGGER_NAME, ACTION_STATEMENT FROM information_schema.TRIGGERS "
            "WHERE TRIGGER_SCHEMA = DATABASE() AND TRIGGER_NAME LIKE 'kept\\_%'"
        )
        return dict(cursor.fetchall())


def uninstall() -> None:
    """Take all triggers away: a table that changes may lose a column that they name."""
    known = _installed()
    with connection.cursor() as cursor:
        for name in known:
            cursor.execute(f"DROP TRIGGER {name}")


def install() -> None:
    """Make the triggers of all declarations, in place of what was there; new figures are set."""
    known = _installed()
    with connection.cursor() as cursor:
        wanted = {each.name: each for kept in DECLARED for each in kept.triggers()}
        fresh = {name for name, each in wanted.items() if known.get(name) != each.body}
        for name in fresh:
            cursor.execute(wanted[name].order)
        for name in set(known) - set(wanted):
            cursor.execute(f"DROP TRIGGER {name}")
    for kept in DECLARED:
        if any(each.name in fresh for each in kept.triggers()):
            kept.mend()


def wrong_figures() -> dict[str, list[int]]:
    """By table, the keys of rows with figures that do not follow from the rows."""
    found = {kept.table: kept.wrong() for kept in DECLARED}
    return {table: keys for table, keys in found.items() if keys}


def mend_figures() -> None:
    """Set all figures anew."""
    for kept in DECLARED:
        kept.mend()


@contextmanager
def once(kept: Kept, keys: Callable[[], Iterable[int]]) -> Iterator[None]:
    """Many rows that figures follow from are inserted: the figures of ``keys`` are set once, at the end.

    Nothing else may be written meanwhile: no other figure follows.
    """
    with connection.cursor() as cursor:
        cursor.execute(f"SET {LATER} = 1")
        try:
            yield
        finally:
            cursor.execute(f"SET {LATER} = NULL")
        pks = ", ".join(str(int(key)) for key in keys())
        if pks:
            cursor.execute(f"{kept._touch} WHERE id IN ({pks})")


@contextmanager
def later() -> Iterator[None]:
    """Much is written at once: figures are set at the end instead of row by row."""
    with connection.cursor() as cursor:
        cursor.execute(f"SET {LATER} = 1")
    try:
        yield
    finally:
        with connection.cursor() as cursor:
            cursor.execute(f"SET {LATER} = NULL")
    mend_figures()
