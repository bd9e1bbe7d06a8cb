"""Mail that arrives: taken apart, what kind it is, and to which of ours it answers."""

from routecore.arriving.mail import MOST_BYTES, MOST_FILES, File, Mail, Person, read_mail
from routecore.arriving.plain import plain
from routecore.arriving.reports import Report, Told
from routecore.arriving.threads import (
    MOST_REFERENCES,
    answer_subject,
    answered,
    domain_of,
    quoted,
    references,
)

__all__ = [
    "MOST_BYTES",
    "MOST_FILES",
    "MOST_REFERENCES",
    "File",
    "Mail",
    "Person",
    "Report",
    "Told",
    "answer_subject",
    "answered",
    "domain_of",
    "plain",
    "quoted",
    "read_mail",
    "references",
]
