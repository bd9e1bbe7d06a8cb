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
from django.db.models import F, FloatField, Func, Q, QuerySet
from django.db.models.lookups import GreaterThan

Rows = TypeVar("Rows", bound=QuerySet[Any])
MOST_WORDS = 6
#: The fewest letters that the index knows as a word; ``ops.database`` starts the server with it.
FEWEST_LETTERS = 2
#: How far back a common word is looked for without the index.
RECENT = 400
#: So many of the newest rows are looked at; a word that one in so many of them holds is common.
SAMPLE, COMMON = 400, 20
_NUMBER = re.compile(r"[A-Za-z]{1,6}-[0-9-]*")


class Holds(Func):
    """How well the columns of a word index hold words that begin with each of ``asked``; 0 for not at all.

    The index is asked (MariaDB's own search), or, in a query that is ``walking``, each row is looked at.
    """

    output_field = FloatField()
    arity = None

    def __init__(self, columns: Sequence[str], asked: Sequence[str]):
        super().__init__(*(F(column) for column in columns))
        self.asked = tuple(asked)

    def as_sql(self, compiler: Any, connection: Any, **_: Any) -> tuple[str, list[Any]]:  # type: ignore[override]
        """``MATCH (columns) AGAINST ('+word*' …)``, or as many regular expressions."""
        columns = ", ".join(compiler.compile(part)[0] for part in self.get_source_expressions())
        if getattr(compiler.query, WALKING, False):
            each = [f"CONCAT_WS(' ', {columns}) REGEXP %s"] * len(self.asked)
            return f"({' AND '.join(each)})", [rf"\b{re.escape(word)}" for word in self.asked]
        typed = " ".join(f"+{word}*" for word in self.asked)
        return f"MATCH ({columns}) AGAINST (%s IN BOOLEAN MODE)", [typed]


#: The mark of a query that looks at each row instead of asking a word index.
WALKING = "walking"


def walking(rows: Rows) -> Rows:
    """The same rows, found by looking at one after the other: soon where a word is common."""
    marked = rows.all()
    setattr(marked.query, WALKING, True)
    return marked


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
        """The rows that hold every word. Two queries, to choose how they are found.

        The index brings all that ever held a word, whosever it is: of a common one it is less to look at
        the rows that are asked for.
        """
        held = self.holding(rows, words)
        return walking(held) if self._is_common(rows, words) else held

    def _is_common(self, rows: QuerySet[Any], words: str) -> bool:
        """Whether one in twenty of the newest rows, of whomever, holds the words."""
        if not self._asked(words)[1]:
            return False
        every = rows.model._default_manager.order_by()
        newest = every.order_by("-pk").values_list("pk", flat=True).first() or 0
        sample = walking(self.holding(every, words)).filter(pk__gt=newest - SAMPLE)
        return int(sample.count()) * COMMON >= SAMPLE

    def holding(self, rows: Rows, words: str) -> Rows:
        """The rows that hold every word, by the index: for all rows there are, not somebody's. No query."""
        named, asked = self._asked(words)
        for word in named:
            match = Q()
            for column in self.numbers:
                match |= Q(**{f"{column}__istartswith": word})
            rows = rows.filter(match)
        if asked:
            return rows.filter(GreaterThan(Holds(self.columns, asked), 0))
        if words.strip() and not named:
            rows = rows.filter(**{f"{self.first}__istartswith": words.strip()})
        return rows

    def newest(self, rows: QuerySet[Any], words: str, most: int) -> list[Any]:
        """The keys of the newest rows that hold every word. Two queries, or three.

        A common word is found among the last rows already; only then is the index asked, which would
        bring all that ever held it.
        """
        found = self.holding(rows, words).order_by("-pk").values_list("pk", flat=True)
        first = rows.order_by("-pk").values_list("pk", flat=True)[RECENT - 1 : RECENT].first()
        last = found if first is None else found.filter(pk__gte=first)
        keys = list(walking(last)[:most])
        return keys if len(keys) == most or first is None else list(found[:most])

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
