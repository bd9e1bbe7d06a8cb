"""A case file's text as JSON, with its faults instead of a guess: a key given twice is refused."""

from collections.abc import Iterable
import json

from routecore.casefile.faults import CaseFaults, Fault


class _Twice(dict[str, object]):
    """An object in which a key was given more than once."""

    twice: tuple[str, ...] = ()


def load_case(text: str) -> object:
    """The JSON of a case, or of a list of cases.

    Raises ``CaseFaults`` with the path of every key that is given twice, and for what is no JSON.
    """
    found = False

    def one_object(pairs: list[tuple[str, object]]) -> dict[str, object]:
        nonlocal found
        made = dict(pairs)
        if len(made) == len(pairs):
            return made
        found = True
        names = [name for name, _ in pairs]
        doubled = _Twice(made)
        doubled.twice = tuple(name for name in made if names.count(name) > 1)
        return doubled

    try:
        data: object = json.loads(text, object_pairs_hook=one_object)
    except (ValueError, RecursionError) as error:
        # A number of thousands of digits is a ValueError of its own.
        raise CaseFaults([Fault("", f"is not JSON: {error}")]) from error
    if found:
        raise CaseFaults(list(_twice(data)))
    return data


def _twice(data: object) -> Iterable[Fault]:
    parts: list[tuple[object, str]] = [(data, "")]
    while parts:
        part, path = parts.pop()
        if isinstance(part, dict):
            for name in getattr(part, "twice", ()):
                yield Fault(f"{path}.{name}" if path else name, "is given twice")
            below = [(value, f"{path}.{key}" if path else key) for key, value in part.items()]
        elif isinstance(part, list):
            below = [(value, f"{path}[{n}]") for n, value in enumerate(part)]
        else:
            continue
        parts += reversed(below)
