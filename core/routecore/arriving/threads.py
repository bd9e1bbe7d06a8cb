"""Which conversation a mail belongs to, how one is answered, and which house its writer is of."""

from collections.abc import Collection, Sequence
import re

from routecore.arriving.mail import Mail

#: What programs of several countries put before the subject of an answer; common practice, no source.
_AGAIN = re.compile(r"^\s*(?:(?:re|aw|antw|sv|r\u00e9f?)\s*(?:\[\d+\])?\s*:\s*)+", re.I)
#: Signs of a line of what is quoted (RFC 5322, 2.1.1: 78 a line should not be passed); so many lines of it.
QUOTED_WIDTH, MOST_QUOTED = 76, 200
#: A conversation names so many Message-IDs at most; the first says where it began.
MOST_REFERENCES = 20


def answered(mail: Mail, ours: Collection[str]) -> str:
    """The Message-ID of ours that a mail answers: of several the nearest; empty for none.

    Source: RFC 5322, 3.6.4: References names the whole conversation, the nearest last.
    """
    return next((found for found in reversed(mail.answers) if found in ours), "")


def domain_of(address: str) -> str:
    """What stands behind the ``@``, in small letters; empty where there is none.

    >>> domain_of("Ilse@Hazelmoor.example")
    'hazelmoor.example'
    """
    return address.rpartition("@")[2].lower() if "@" in address else ""


def answer_subject(subject: str) -> str:
    """The subject of an answer, with one ``Re:`` however many there were (RFC 5322, 3.6.5).

    >>> answer_subject("AW: Re: Posts"), answer_subject("Posts")
    ('Re: Posts', 'Re: Posts')
    """
    return f"Re: {_AGAIN.sub('', subject).strip()}".strip()


def references(parents: Sequence[str], parent: str) -> tuple[str, ...]:
    """What an answer names: all that the mail named which it answers, then that mail (RFC 5322, 3.6.4).

    Of a long conversation the first and the nearest ones.

    >>> references(["<1@a>"], "<2@b>")
    ('<1@a>', '<2@b>')
    """
    found = tuple(dict.fromkeys([*(each for each in parents if each != parent), parent]))
    return found if len(found) <= MOST_REFERENCES else (found[0], *found[1 - MOST_REFERENCES :])


def quoted(text: str) -> str:
    """A mail's words as an answer repeats them: each line behind ``> ``, long ones broken between words.

    >>> quoted("Twenty, please.\\n\\nMaren")
    '> Twenty, please.\\n>\\n> Maren'
    """
    lines = [part for line in text.strip().splitlines() for part in _broken(line)]
    return "\n".join(f"> {line}".rstrip() for line in lines[:MOST_QUOTED])


def _broken(line: str) -> list[str]:
    found, rest = [], line.rstrip()
    while len(rest) > QUOTED_WIDTH:
        at = rest.rfind(" ", 1, QUOTED_WIDTH + 1)
        at = at if at > 0 else QUOTED_WIDTH
        found.append(rest[:at].rstrip())
        rest = rest[at:].lstrip()
    return [*found, rest]
