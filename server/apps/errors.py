"""What a flow refuses; the API maps each to its status once.

::

    FlowError
    ├── Missing       no such record, or none that this person may see   404
    ├── Forbidden     this person may not do this                        403
    ├── Stale         somebody changed the record meanwhile              409
    ├── Refused       the record's state does not allow it               409
    ├── Invalid       a value that cannot be right                       422
    ├── TooMany       too often in a short time                          429
    └── Busy          not now; the same again may work                   503
"""

from collections.abc import Mapping

from apps.words import plain_fact, said
from routecore.errors import CoreError


class FlowError(Exception):
    """A refused act: a stable code, the path to the field, and the facts that its words need."""

    def __init__(self, code: str, *, path: str = "", facts: Mapping[str, object] | None = None):
        self.code = code
        self.path = path
        self.facts = {name: plain_fact(value) for name, value in (facts or {}).items()}
        super().__init__(code)

    @property
    def message(self) -> str:
        """The sentence for the person."""
        return said(self.code, self.path, self.facts)

    def told(self) -> dict[str, object]:
        """The one error form, as JSON takes it."""
        found = {"code": self.code, "path": self.path, "facts": self.facts}
        return {**found, "message": self.message}

    def __str__(self) -> str:
        return self.message


class Missing(FlowError):
    """No such record, or none that this person may see."""


class Forbidden(FlowError):
    """This person may not do this."""


class Stale(FlowError):
    """Somebody changed the record since it was read."""


class Refused(FlowError):
    """The record's state does not allow it."""


class Invalid(FlowError):
    """A value that cannot be right."""

    @classmethod
    def of(cls, error: CoreError, *, path: str | None = None) -> "Invalid":
        """The core's refusal, at a path of ours where its own is not the caller's."""
        return cls(error.code, path=error.path if path is None else path, facts=error.facts)


class TooMany(FlowError):
    """Too often in a short time; the facts say how many seconds to wait."""


class Busy(FlowError):
    """Not now; the same again may work."""


def check_version(current: int, given: int, what: str) -> None:
    """Refuse a save that was made from an older state."""
    if current != given:
        raise Stale("stale", path="version", facts={"current": current, "given": given})
