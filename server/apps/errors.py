"""What a flow refuses; the API maps each to its status once.

::

    FlowError
    ├── Missing       no such record, or none that this person may see   404
    ├── Forbidden     this person may not do this                        403
    ├── Stale         somebody changed the record meanwhile              409
    ├── Refused       the record's state does not allow it               409
    └── Invalid       a value that cannot be right                       422
"""

from collections.abc import Mapping


class FlowError(Exception):
    """A refused act: a stable code, a sentence for the person, the path to the field."""

    def __init__(
        self, code: str, message: str, *, path: str = "", facts: Mapping[str, object] | None = None
    ):
        self.code = code
        self.message = message
        self.path = path
        self.facts = dict(facts or {})
        super().__init__(message)


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


def check_version(current: int, given: int, what: str) -> None:
    """Refuse a save that was made from an older state."""
    if current != given:
        raise Stale(
            "stale",
            f"Somebody changed this {what} while you were working on it. "
            "Your entries are kept here: look at theirs, then save again.",
            path="version",
            facts={"current": current, "given": given},
        )
