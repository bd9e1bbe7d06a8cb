"""Mail that arrives: taken apart, what kind it is, and to which of ours it answers."""

from routecore.arriving.mail import MOST_BYTES, MOST_FILES, File, Mail, Person, read_mail
from routecore.arriving.plain import plain
from routecore.arriving.reports import Report, Told
from routecore.arriving.threads import answered, domain_of

__all__ = [
    "MOST_BYTES",
    "MOST_FILES",
    "File",
    "Mail",
    "Person",
    "Report",
    "Told",
    "answered",
    "domain_of",
    "plain",
    "read_mail",
]
