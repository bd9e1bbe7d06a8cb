"""Writing the audit: on its own, so that a refused act leaves its line."""

import unicodedata

from apps.journal.models import AuditLine
from apps.people.models import User


def note(
    what: str, *, who: User | None = None, name: str = "", address: str = "", detail: str = ""
) -> None:
    """Add a line; names and details without control characters and line breaks."""
    AuditLine.objects.create(
        what=what,
        who=who,
        name=tidy(name or (who.username if who else ""))[:150],
        address=address[:45],
        detail=tidy(detail)[:300],
    )


def tidy(text: str) -> str:
    """The text on one line, in small letters of one form.

    >>> tidy("Ilse\\n\\u202e admin")
    'ilse   admin'
    """
    plain = unicodedata.normalize("NFKC", text).casefold()
    kept = (" " if unicodedata.category(sign)[0] in "CZ" else sign for sign in plain)
    return "".join(kept).strip()
