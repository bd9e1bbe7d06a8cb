"""Searching lists: beginnings of words by a word index, numbers by their beginning.

A search has at most six words, and each must be found. A word is found where one of a record's
words begins with it; a document's number where it begins with what was typed. A single letter is
too little for the index: where nothing more was typed, it is looked for at the beginning of the
list's telling column.
"""

from collections.abc import Sequence
from dataclasses import dataclass
import re
from typing import Any, TypeVar

from django.db.migrations.operations import RunSQL
from django.db.models import F, FloatField, Func, Q, QuerySet, Value
from django.db.models.lookups import GreaterThan

Rows = TypeVar("Rows", bound=QuerySet[Any])
MOST_WORDS = 6
#: The fewest letters that the index knows as a word; ``ops.database`` starts the server with it.
FEWEST_LETTERS = 2
#: How far back a common word is looked for without the index.
RECENT = 150
_NUMBER = re.compile(r"[A-Za-z]{1,6}-[0-9-]*")


class Match(Func):
    """How well the columns of a word index hold the words, 0 for not at all (MariaDB's own search)."""

    output_field = FloatField()
    arity = None

    def __init__(self, columns: Sequence[str], asked: str):
        super().__init__(*(F(column) for column in columns), Value(asked))

    def as_sql(self, compiler: Any, connection: Any, **_: Any) -> tuple[str, list[Any]]:  # type: ignore[override]
        """``MATCH (columns) AGAINST (words IN BOOLEAN MODE)``."""
        *columns, asked = (compiler.compile(part) for part in self.get_source_expressions())
        names = ", ".join(sql for sql, _ in columns)
        return f"MATCH ({names}) AGAINST ({asked[0]} IN BOOLEAN MODE)", list(asked[1])


def words_index(table: str, name: str, columns: str) -> RunSQL:
    """A migration's step: the word index of some columns of a table.

    The table is copied: an index that was dropped and is added in place finds none of the rows that
    were inserted in between (MariaDB 10.11).
    """
    return RunSQL(
        f"ALTER TABLE {table} ADD FULLTEXT INDEX {name} ({columns}), ALGORITHM=COPY",
        f"ALTER TABLE {table} DROP INDEX {name}",
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class Index:
    """What a search looks at in a table.

    ``columns`` are those of the word index, ``first`` the one that a single letter is looked for at
    the beginning of, ``numbers`` those that hold numbers of documents.
    """

    columns: tuple[str, ...]
    first: str
    numbers: tuple[str, ...] = ()

    def find(self, rows: Rows, words: str) -> Rows:
        """The rows that hold every word."""
        named, asked = self._asked(words)
        for word in named:
            match = Q()
            for column in self.numbers:
                match |= Q(**{f"{column}__istartswith": word})
            rows = rows.filter(match)
        if asked:
            typed = " ".join(f"+{part}*" for part in asked)
            return rows.filter(GreaterThan(Match(self.columns, typed), 0))
        if words.strip() and not named:
            rows = rows.filter(**{f"{self.first}__istartswith": words.strip()})
        return rows

    def newest(self, rows: QuerySet[Any], words: str, most: int) -> list[Any]:
        """The keys of the newest rows that hold every word.

        A common word is found among the last rows already; only then is the index asked, which would
        bring all that ever held it.
        """
        columns = dict.fromkeys((*self.columns, *self.numbers))
        last = rows.order_by("-pk").values("pk", *columns)[:RECENT]
        found = [row["pk"] for row in last if self._holds(row, words)]
        if len(found) >= most:
            return found[:most]
        keys = self.find(rows, words).order_by("-pk").values_list("pk", flat=True)
        return list(keys[:most])

    def _holds(self, row: dict[str, Any], words: str) -> bool:
        named, asked = self._asked(words)
        if not named and not asked:
            return str(row[self.first]).casefold().startswith(words.strip().casefold())
        text = " ".join(str(row[column] or "") for column in self.columns).casefold()
        heads = re.findall(r"\w+", text)
        return all(
            any(str(row[column]).casefold().startswith(word.casefold()) for column in self.numbers)
            for word in named
        ) and all(any(head.startswith(part.casefold()) for head in heads) for part in asked)

    def _asked(self, words: str) -> tuple[list[str], list[str]]:
        """(beginnings of numbers, beginnings of words)."""
        typed = words.split()[:MOST_WORDS]
        named = [word for word in typed if self.numbers and _NUMBER.fullmatch(word)]
        return named, [part for word in typed if word not in named for part in tokens(word)]


def enough(words: str) -> bool:
    """Whether there is a word, or the beginning of a number, that an index finds.

    >>> enough("h"), enough("ha"), enough("q-"), enough("+ -")
    (False, True, True, False)
    """
    return any(_NUMBER.fullmatch(word) or tokens(word) for word in words.split())


def tokens(word: str) -> list[str]:
    """What the index makes of a word: letters and figures, two at least.

    >>> tokens("POST-25"), tokens("Ilse's"), tokens("4-ha"), tokens("+*")
    (['POST', '25'], ['Ilse'], ['ha'], [])
    """
    return [part for part in re.findall(r"\w+", word) if len(part) >= FEWEST_LETTERS]
