"""What a result has that a case did not expect."""

from collections.abc import Iterator, Mapping

MISSING = "nothing"


def differences(expected: object, found: object, path: str = "") -> Iterator[str]:
    """Lines such as ``totals.net: expected 1.00, found 1.01``; only what is expected is compared."""
    if isinstance(expected, Mapping) and isinstance(found, Mapping):
        for key, value in expected.items():
            below = f"{path}.{key}" if path else str(key)
            yield from differences(value, found.get(key, MISSING), below)
    elif isinstance(expected, list) and isinstance(found, list):
        if len(expected) != len(found):
            yield f"{path}: expected {len(expected)} entries, found {len(found)}"
        for n, (one, other) in enumerate(zip(expected, found, strict=False)):
            yield from differences(one, other, f"{path}[{n}]")
    elif expected != found:
        yield f"{path}: expected {expected}, found {found}"
