"""What can go wrong in the core.

::

    CoreError
    ├── InvalidInput      the value cannot be right, whatever else is known
    ├── IncompleteInput   the value is missing, and the computation needs it
    ├── NoRule            nothing says what to do (no price, no tax category)
    └── NotAvailable      asked for something that does not exist

Each carries a stable ``code``, the ``path`` to the value (``lines[2].quantity``) and the facts
that a reader needs to mend it. None of them knows HTTP or words for a screen.
"""

from collections.abc import Mapping


class CoreError(ValueError):
    """A computation that could not be done.

    >>> str(InvalidInput("not_positive", path="lines[2].quantity", facts={"value": "-1"}))
    'lines[2].quantity: not_positive (value=-1)'
    """

    def __init__(self, code: str, *, path: str = "", facts: Mapping[str, object] | None = None):
        self.code = code
        self.path = path
        self.facts = dict(facts or {})
        super().__init__(code)

    def __str__(self) -> str:
        facts = ", ".join(f"{name}={value}" for name, value in self.facts.items())
        where = f"{self.path}: " if self.path else ""
        return f"{where}{self.code}" + (f" ({facts})" if facts else "")


class InvalidInput(CoreError):
    """The value cannot be right."""


class IncompleteInput(CoreError):
    """A value that the computation needs is missing."""


class NoRule(CoreError):
    """No rule covers the case."""


class NotAvailable(CoreError):
    """What was asked for does not exist."""
