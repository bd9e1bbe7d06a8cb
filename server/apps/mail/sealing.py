"""Passwords of mailboxes at rest: sealed with a key that lies in the secrets' file, not in the database.

Whoever reads the database alone (a backup, a dump) reads none of them. Source: Fernet of the ``cryptography`` package
(AES-128 in CBC with HMAC-SHA256).
"""

import base64
import hashlib

from cryptography.fernet import Fernet, InvalidToken
from django.conf import settings


class CannotOpen(Exception):
    """It was sealed with another key."""


def seal(text: str) -> str:
    """The text as it may lie in the database."""
    return _key().encrypt(text.encode()).decode()


def opened(sealed: str) -> str:
    """The text again; raises ``CannotOpen`` where the key is another one now."""
    try:
        return _key().decrypt(sealed.encode()).decode()
    except InvalidToken as error:
        raise CannotOpen from error


def _key() -> Fernet:
    digest = hashlib.sha256(settings.MAILBOX_KEY.encode()).digest()
    return Fernet(base64.urlsafe_b64encode(digest))
