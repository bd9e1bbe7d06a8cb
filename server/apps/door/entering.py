"""Coming in: a name and a password, tried slowly, without shutting anybody else out.

Failures are counted from the audit. A pair of name and address that failed often waits ever longer
between two tries, an address that failed with many names waits, and a name that fails from many
addresses waits everywhere but where its owner has come in before: so nobody is shut out of their own
place by somebody else's guesses. What has to wait is not looked at: its password costs no time.

Source: NIST SP 800-63B 5.2.2 asks for limits, OWASP ASVS 2.2.1 for throttling that is no lock-out; the
numbers are the house's own.
"""

from dataclasses import dataclass
from datetime import datetime, timedelta

from django.contrib.auth import authenticate
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.db.models import QuerySet
from django.http import HttpRequest

from apps.errors import Forbidden, Invalid, TooMany
from apps.journal.audit import note, tidy
from apps.journal.models import AuditLine
from apps.people.models import User
from apps.turns import Turns

WINDOW = timedelta(minutes=15)
KNOWN_FOR = timedelta(days=30)
OF_A_PAIR, OF_AN_ADDRESS, OF_A_NAME = 5, 30, 60
FIRST_PAUSE, LONGEST_PAUSE = timedelta(seconds=5), timedelta(minutes=5)
#: Passwords that one process works on.
TURNS = Turns("door_busy", at_a_time=1, waiting=2, seconds=2.0)


@dataclass(frozen=True, slots=True, kw_only=True)
class Caller:
    """Where somebody comes from."""

    address: str
    agent: str = ""


def pause_after(failures: int, most: int) -> timedelta:
    """How long to wait after so many failures, of which ``most`` are free.

    >>> [pause_after(n, 5).seconds for n in (4, 5, 6, 7, 30)]
    [0, 5, 10, 20, 300]
    """
    if failures < most:
        return timedelta(0)
    doubled: int = 2 ** min(failures - most, 10)
    return min(FIRST_PAUSE * doubled, LONGEST_PAUSE)


def enter(
    request: HttpRequest, username: str, password: str, caller: Caller, *, now: datetime
) -> User:
    """The person; raises ``TooMany`` with the seconds to wait, ``Forbidden`` for a wrong password."""
    with TURNS.taken():
        name = tidy(username)
        wait = _wait(name, caller.address, now)
        if wait > timedelta(0):
            note("sign_in_held", name=name, address=caller.address)
            raise TooMany("wait", path="password", facts={"seconds": int(wait.total_seconds()) + 1})
        person = authenticate(request, username=username, password=password)
        if not isinstance(person, User):
            note("sign_in_failed", name=name, address=caller.address)
            raise Forbidden("wrong_sign_in", path="password")
        note("signed_in", who=person, name=name, address=caller.address, detail=caller.agent)
        return person


def _wait(name: str, address: str, now: datetime) -> timedelta:
    failed = AuditLine.objects.filter(what="sign_in_failed", at__gt=now - WINDOW)
    came_in = AuditLine.objects.filter(what="signed_in", name=name, address=address)
    since = came_in.filter(at__gt=now - WINDOW).order_by("-at").values_list("at", flat=True).first()
    pair = failed.filter(name=name, address=address)
    waits = [
        _pause(pair.filter(at__gt=since) if since else pair, OF_A_PAIR, now),
        _pause(failed.filter(address=address), OF_AN_ADDRESS, now),
    ]
    if not came_in.filter(at__gt=now - KNOWN_FOR).exists():
        waits.append(_pause(failed.filter(name=name), OF_A_NAME, now))
    return max(waits)


def _pause(rows: QuerySet[AuditLine], most: int, now: datetime) -> timedelta:
    times = list(rows.order_by("-at").values_list("at", flat=True)[: most + 10])
    pause = pause_after(len(times), most)
    return times[0] + pause - now if pause else timedelta(0)


def change_password(
    request: HttpRequest, who: User, old: str, new: str, caller: Caller, *, now: datetime
) -> None:
    """A new password; every other visit of the person ends with it."""
    try:
        enter(request, who.username, old, caller, now=now)
    except Forbidden as error:
        raise Forbidden("wrong_sign_in", path="old") from error
    try:
        validate_password(new, who)
    except ValidationError as error:
        first = error.error_list[0]
        facts = {"what": first.code or "any", **(first.params or {})}
        raise Invalid("weak_password", path="new", facts=facts) from error
    who.set_password(new)
    who.save(update_fields=["password"])
    note("password_changed", who=who, address=caller.address)
