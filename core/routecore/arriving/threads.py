"""Which conversation a mail belongs to, and which house its writer is of."""

from collections.abc import Collection

from routecore.arriving.mail import Mail


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
