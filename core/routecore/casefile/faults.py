"""Faults of a case file, all of them at once, each with its JSON path."""

from collections.abc import Callable, Container, Iterator, Mapping
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
import re
from typing import TypeVar

from routecore.errors import CoreError, InvalidInput
from routecore.money import minor_digits

NUMBER = re.compile(r"-?[0-9]{1,15}(\.[0-9]{1,6})?")
#: A quantity in base units that came from another unit: six decimals times six.
FINE_NUMBER = re.compile(r"-?[0-9]{1,18}(\.[0-9]{1,12})?")
#: An id, a name or a unit is no longer; a note is no longer than ten times that.
MOST_LETTERS = 200
#: A list holds no more entries.
MOST_ENTRIES = 200_000
T = TypeVar("T")


def _is_text(value: object) -> bool:
    """Whether a string can be written down: JSON can hold half of a pair of surrogates."""
    if not isinstance(value, str):
        return False
    return value.isascii() or not any("\ud800" <= letter <= "\udfff" for letter in value)


@dataclass(frozen=True, slots=True)
class Fault:
    """One fault: where, and what."""

    path: str
    message: str

    def __str__(self) -> str:
        return f"{self.path or '$'}: {self.message}"


class CaseFaults(InvalidInput):
    """A case file that cannot be read; ``faults`` has at least one."""

    def __init__(self, faults: list[Fault]):
        super().__init__("malformed_case", path=faults[0].path)
        self.faults = faults

    def __str__(self) -> str:
        return "\n".join(str(fault) for fault in self.faults)


class Node:
    """A JSON object under a path, read field by field; faults are collected, not raised.

    Every field must be asked for; ``close`` reports the ones that nobody asked for.
    """

    def __init__(self, value: object, path: str, faults: list[Fault]):
        self.path = path
        self.faults = faults
        self._asked: set[str] = set()
        if not isinstance(value, Mapping):
            self.fault("", "must be an object")
            value = {}
        self.value: Mapping[str, object] = value
        for key in value:
            if not _is_text(key):
                self.fault(key, "is not text: it has half a character")

    def fault(self, key: str, message: str) -> None:
        """Note a fault at a field of this object."""
        path = f"{self.path}.{key}" if self.path and key else self.path or key
        self.faults.append(Fault(path, message))

    def get(self, key: str) -> object:
        """The raw value, None where absent."""
        self._asked.add(key)
        return self.value.get(key)

    def text(self, key: str, *, default: str | None = None, choices: tuple[str, ...] = ()) -> str:
        """A string; without default it is required."""
        value = self.get(key)
        if value is None and default is not None:
            return default
        if not isinstance(value, str) or (not value and default is None):
            self.fault(
                key, "is required" if value is None else "must be a string that is not empty"
            )
            return default or ""
        self._sayable(key, value)
        if choices and value not in choices:
            self.fault(key, f"must be one of {', '.join(choices)}")
        return value

    def _sayable(self, key: str, value: str) -> None:
        most = MOST_LETTERS * (10 if key in ("note", "reason") else 1)
        if len(value) > most:
            self.fault(key, f"must not be longer than {most} letters")
        elif not _is_text(value):
            self.fault(key, "is not text: it has half a character")

    def texts(self, key: str) -> list[str]:
        """A string or a list of strings; absent is an empty list."""
        value = self.get(key)
        if not isinstance(value, list):
            return [] if value is None else [self.text(key)]
        for n, part in enumerate(value):
            if not isinstance(part, str) or not part:
                self.fault(f"{key}[{n}]", "must be a string that is not empty")
            else:
                self._sayable(f"{key}[{n}]", part)
        return [part for part in value if isinstance(part, str)]

    def currency(self, key: str = "currency") -> str:
        """A currency code that is in use."""
        code = self.text(key)
        try:
            minor_digits(code)
        except CoreError:
            self.fault(key, "must be a currency code of ISO 4217, as EUR")
        return code

    def first(self, name: str, known: Container[object]) -> bool:
        """Whether an id is new; one that is known is a fault."""
        if name in known:
            self.fault("id", "is used twice")
            return False
        return True

    def single(self, key: object, seen: set[object]) -> bool:
        """Whether an entry is the only one of its kind; nobody could say which of two holds."""
        if key in seen:
            self.fault("", "says the same as another entry, and nobody could tell which holds")
            return False
        seen.add(key)
        return True

    def optional_text(self, key: str) -> str | None:
        """A string or null."""
        return None if self.get(key) is None else self.text(key)

    def decimal(
        self,
        key: str,
        *,
        default: Decimal | None = None,
        minimum: Decimal | None = None,
        maximum: Decimal | None = None,
        positive: bool = False,
        fine: bool = False,
    ) -> Decimal:
        """A decimal written as a string; without default it is required."""
        value = self.optional_decimal(
            key, minimum=minimum, maximum=maximum, positive=positive, fine=fine
        )
        if value is None:
            if default is None and self.get(key) is None:
                self.fault(key, "is required")
            return Decimal(1) if default is None else default
        return value

    def optional_decimal(
        self,
        key: str,
        *,
        minimum: Decimal | None = None,
        maximum: Decimal | None = None,
        positive: bool = False,
        fine: bool = False,
    ) -> Decimal | None:
        """A decimal written as a string, or None; at most 15 digits before and 6 after the point,
        or, where it is ``fine``, 18 and 12."""
        raw = self.get(key)
        if raw is None:
            return None
        shape, size = (FINE_NUMBER, "18.12") if fine else (NUMBER, "15.6")
        if not isinstance(raw, str) or not shape.fullmatch(raw):
            self.fault(key, f'must be a decimal in a string, as "12.50", of at most {size} digits')
            return None
        value = Decimal(raw) or Decimal(0)  # nothing has no sign
        if positive and value <= 0:
            self.fault(key, "must be greater than 0")
            return None
        if minimum is not None and value < minimum:
            self.fault(key, f"must not be less than {minimum}")
            return None
        if maximum is not None and value > maximum:
            self.fault(key, f"must not be more than {maximum}")
            return None
        return value

    def day(self, key: str) -> date | None:
        """An ISO 8601 date, or None where absent."""
        raw = self.get(key)
        if raw is None:
            return None
        try:
            if not isinstance(raw, str) or len(raw) != 10:
                raise ValueError
            return date.fromisoformat(raw)
        except ValueError:
            self.fault(key, "must be a date, as 2026-03-02")
            return None

    def required_day(self, key: str) -> date:
        """An ISO 8601 date that must be there."""
        day = self.day(key)
        if day is None:
            if self.get(key) is None:
                self.fault(key, "is required")
            return date(1970, 1, 1)
        return day

    def flag(self, key: str, *, default: bool) -> bool:
        """True or false."""
        value = self.get(key)
        if value is None:
            return default
        if not isinstance(value, bool):
            self.fault(key, "must be true or false")
        return bool(value)

    def objects(self, key: str, *, most: int = MOST_ENTRIES) -> Iterator["Node"]:
        """The objects of a list, each under its own path; absent is an empty list."""
        value = self.get(key)
        if value is None:
            return
        if not isinstance(value, list):
            self.fault(key, "must be a list")
            return
        if len(value) > most:
            self.fault(key, f"must not have more than {most:,} entries")
            return
        base = f"{self.path}.{key}" if self.path else key
        for n, entry in enumerate(value):
            yield Node(entry, f"{base}[{n}]", self.faults)

    def object(self, key: str, *, required: bool = False) -> "Node | None":
        """An object under a key; None where absent."""
        value = self.get(key)
        if value is None:
            if required:
                self.fault(key, "is required")
            return None
        return Node(value, f"{self.path}.{key}" if self.path else key, self.faults)

    def close(self) -> None:
        """Report fields that the format does not have."""
        for key in self.value:
            if key not in self._asked:
                self.fault(str(key), "is not a field of the case format")

    def build(self, make: Callable[[], T]) -> T | None:
        """What ``make`` builds; an error of the core becomes a fault under this path."""
        try:
            return make()
        except CoreError as error:
            self.fault(error.path, words_for(error))
            return None


def words_for(error: CoreError) -> str:
    """An error of the core in a few words, with its facts."""
    facts = ", ".join(f"{name} {value}" for name, value in error.facts.items())
    return error.code.replace("_", " ") + (f" ({facts})" if facts else "")
