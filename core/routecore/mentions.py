"""Who is meant in a note: colleagues named behind an at sign."""

from collections.abc import Mapping
import re

#: An at sign that begins a word: not the one of a mail address.
_AT = re.compile(r"(?<![\w.+-])@(?=\w)")


def mentioned(text: str, people: Mapping[int, str]) -> list[int]:
    """The keys of those whom ``text`` names as ``@Mara Lind`` or ``@Mara``, in the order of the text, each once.

    A whole name counts before a first name; a first name only where one of ``people`` alone has it. Case and the
    number of spaces do not matter. A name that goes on (``@Marabel``) is nobody's.
    """
    names = _names(people)
    found: list[int] = []
    for at in _AT.finditer(text):
        rest = " ".join(text[at.end() :].split()).casefold()
        key = next((key for name, key in names if _begins(rest, name)), None)
        if key is not None and key not in found:
            found.append(key)
    return found


def _names(people: Mapping[int, str]) -> list[tuple[str, int]]:
    """What they may be called, the longest first."""
    whole = {key: " ".join(name.split()).casefold() for key, name in people.items()}
    firsts = [name.partition(" ")[0] for name in whole.values()]
    names = [(name, key) for key, name in whole.items() if name]
    names += [
        (first, key)
        for key, name in whole.items()
        if (first := name.partition(" ")[0]) and firsts.count(first) == 1
    ]
    return sorted(names, key=lambda each: (-len(each[0]), each))


def _begins(rest: str, name: str) -> bool:
    after = rest[len(name) : len(name) + 1]
    return rest.startswith(name) and not (after.isalnum() or after == "_")
