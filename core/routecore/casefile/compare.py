"""What a result has that a case did not expect."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass


class _Nothing:
    """What is not there; it equals nothing that a case can expect."""

    def __str__(self) -> str:
        return "nothing"


NOTHING = _Nothing()


@dataclass(frozen=True, slots=True)
class Difference:
    """A part of the result that is not as expected, and where it is.

    >>> str(Difference("totals.net", "1.00", "1.01"))
    'totals.net: expected 1.00, found 1.01'
    """

    path: str
    expected: str
    found: str

    def __str__(self) -> str:
        return f"{self.path}: expected {self.expected}, found {self.found}"


def differences(expected: object, found: object, path: str = "") -> Iterator[Difference]:
    """Every part that differs; only what is expected is compared."""
    if isinstance(expected, Mapping) and isinstance(found, Mapping):
        for key, value in expected.items():
            below = f"{path}.{key}" if path else str(key)
            yield from differences(value, found.get(key, NOTHING), below)
    elif isinstance(expected, list) and isinstance(found, list):
        if len(expected) != len(found):
            yield Difference(path, f"{len(expected)} entries", str(len(found)))
        for n, (one, other) in enumerate(zip(expected, found, strict=False)):
            yield from differences(one, other, f"{path}[{n}]")
    elif expected != found:
        yield Difference(path, str(expected), str(found))
