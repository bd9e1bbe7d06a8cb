"""Faults of a case file, all of them at once, each with its JSON path."""

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
import re
from typing import TypeVar

from routecore.errors import CoreError, InvalidInput

NUMBER = re.compile(r"-?\d{1,15}(\.\d{1,6})?")
T = TypeVar("T")


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
        if choices and value not in choices:
            self.fault(key, f"must be one of {', '.join(choices)}")
        return value

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
    ) -> Decimal:
        """A decimal written as a string; without default it is required."""
        value = self.optional_decimal(key, minimum=minimum, maximum=maximum, positive=positive)
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
    ) -> Decimal | None:
        """A decimal written as a string, or None; at most 15 digits before and 6 after the point."""
        raw = self.get(key)
        if raw is None:
            return None
        if not isinstance(raw, str) or not NUMBER.fullmatch(raw):
            self.fault(key, 'must be a decimal in a string, as "12.50", of at most 15.6 digits')
            return None
        value = Decimal(raw)
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

    def objects(self, key: str) -> Iterator["Node"]:
        """The objects of a list, each under its own path; absent is an empty list."""
        value = self.get(key)
        if value is None:
            return
        if not isinstance(value, list):
            self.fault(key, "must be a list")
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
            self.fault(error.path, error.code.replace("_", " "))
            return None
