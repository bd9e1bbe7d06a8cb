"""Words of a mail with fields in braces: filled in, and what is missing marked so that nobody overlooks it."""

from collections.abc import Mapping
import re

_FIELD = re.compile(r"\{([a-z_]{1,30})\}")
_OPEN = re.compile(r"⟨([a-z_]{1,30})⟩")


def fields_of(text: str) -> tuple[str, ...]:
    """The fields that a text names, each once, in the order in which they come.

    >>> fields_of("Dear {contact}, {number} of {day}, {number}")
    ('contact', 'number', 'day')
    """
    return tuple(dict.fromkeys(_FIELD.findall(text)))


def filled(text: str, values: Mapping[str, str]) -> str:
    """The text with its fields; one without a value stays in sight, in angle brackets.

    What a value says is never read as a field.

    >>> filled("Dear {contact}, your quote {number}", {"number": "Q-7", "contact": ""})
    'Dear ⟨contact⟩, your quote Q-7'
    """
    return _FIELD.sub(lambda found: _plain(values.get(found[1], "")) or f"⟨{found[1]}⟩", text)


def _plain(value: str) -> str:
    return closed(value.strip())


def closed(value: str) -> str:
    """What somebody else wrote, as it stands in a mail: it cannot pretend that a field is still open.

    >>> closed("as ⟨contact⟩ said")
    'as (contact) said'
    """
    return value.replace("⟨", "(").replace("⟩", ")")


def unfilled(text: str) -> tuple[str, ...]:
    """The fields that are still without a value, each once.

    >>> unfilled("Dear ⟨contact⟩")
    ('contact',)
    """
    return tuple(dict.fromkeys(_OPEN.findall(text)))
