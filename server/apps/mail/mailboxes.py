"""Mailboxes beside the house's own: a person's, and shared ones; where they are, what opens them, whether they are read."""

from dataclasses import dataclass, replace
from datetime import datetime

from django.conf import settings
from django.db import transaction
from django.db.models import Q, QuerySet
from django.utils import timezone

from apps.errors import Forbidden, Invalid, Refused, check_version
from apps.journal.flows import record_changes
from apps.mail.imap import ImapBox, MailboxFault
from apps.mail.models import Mailbox
from apps.mail.sealing import CannotOpen, opened, seal
from apps.people.access import pick, pick_locked, sells
from apps.people.models import ADMIN, User
from apps.turns import Turns

#: A mailbox is tried while somebody waits.
TRY_SECONDS = 5.0
TURNS = Turns("mailbox_busy", at_a_time=1, waiting=2, seconds=TRY_SECONDS * 2)


@dataclass(frozen=True, slots=True)
class Server:
    """A mail server of the settings."""

    host: str
    port: int
    security: str

    @property
    def name(self) -> str:
        """As it is chosen and kept."""
        return f"{self.host}:{self.port}"


def servers() -> dict[str, Server]:
    """The mail servers whose boxes may be read, by name: those of the settings, and no other address."""
    found = {}
    for each in settings.IMAP_SERVERS:
        host, port, security = each.split(":")
        server = Server(host, int(port), security)
        found[server.name] = server
    return found


def mailboxes_of(who: User) -> QuerySet[Mailbox]:
    """One's own, and the shared ones; the house's own box is among them."""
    rows = Mailbox.objects.filter(Q(owner=who) | Q(owner=None), retired_at=None)
    return rows.order_by("owner", "name", "pk")


def add_mailbox(who: User, *, server: str, name: str, password: str, shared: bool) -> Mailbox:
    """From now on this mailbox is read; what lies in it already stays unread.

    It is opened at once: raises ``Refused`` with the server's words where that fails.
    """
    _may(who, shared=shared)
    place = servers().get(server)
    if place is None:
        raise Invalid("unknown_choice", path="server", facts={"value": server})
    name = name.strip()
    _refuse_known(server, name)
    return _begin(who, server, name, password, _end_of(place, name, password), shared=shared)


def _refuse_known(server: str, name: str) -> None:
    house = f"{settings.IMAP_HOST}:{settings.IMAP_PORT}"
    known = Mailbox.objects.filter(server=server, name=name, retired_at=None).exists()
    if known or (name.lower() == house_user().lower() and server == house):
        raise Refused("mailbox_there", path="name")


@transaction.atomic
def _begin(
    who: User, server: str, name: str, password: str, end: tuple[int, int], *, shared: bool
) -> Mailbox:
    row = Mailbox.objects.select_for_update().filter(server=server, name=name).first()
    if row and row.retired_at is None:
        raise Refused("mailbox_there", path="name")
    row = row or Mailbox(server=server, name=name)
    row.owner, row.retired_at, row.fault = None if shared else who, None, ""
    row.sealed, (row.uid_validity, row.last_uid) = seal(password), end
    row.since, row.sent_name, row.sent_validity, row.sent_uid = timezone.now(), "", 0, 0
    row.version += 1
    row.save()
    record_changes(who, "mailbox", row.pk, {"state": ("", "read")})
    return row


def new_password(who: User, mailbox: int, version: int, *, password: str) -> Mailbox:
    """It is opened with this from now on; tried first, as when it was added."""
    seen = pick(_changed_by(who), mailbox, "mailbox")
    place = servers().get(seen.server)
    if place is None:
        raise Refused("mailbox_fault", facts={"words": seen.server})
    _end_of(place, seen.name, password)
    with transaction.atomic():
        row = _own(who, mailbox, version)
        row.sealed, row.fault, row.looked_at = seal(password), "", None
        row.version += 1
        row.save()
        record_changes(who, "mailbox", row.pk, {"password": ("", "*")})
    return row


@transaction.atomic
def retire_mailbox(who: User, mailbox: int, version: int, *, now: datetime) -> None:
    """It is read no longer, and its password is forgotten; what came from it stays."""
    row = _own(who, mailbox, version)
    row.retired_at, row.sealed = now, ""
    row.version += 1
    row.save()
    record_changes(who, "mailbox", row.pk, {"state": ("read", "retired")})


def _may(who: User, *, shared: bool) -> None:
    sells(who)
    if shared and who.role != ADMIN:
        raise Forbidden("not_for_role", facts={"what": "mailboxes"})


def _changed_by(who: User) -> QuerySet[Mailbox]:
    """One's own; an administrator changes shared ones as well. The house's own is of the settings."""
    sells(who)
    rows = mailboxes_of(who).exclude(server="")
    return rows if who.role == ADMIN else rows.filter(owner=who)


def _own(who: User, mailbox: int, version: int) -> Mailbox:
    row = pick_locked(_changed_by(who), mailbox, "mailbox")
    check_version(row.version, version, "mailbox")
    return row


def house_user() -> str:
    """Who signs in at the house's own mailbox."""
    return str(settings.IMAP_USER or settings.MAIL_FROM)


def _end_of(server: Server, name: str, password: str) -> tuple[int, int]:
    """Sign in now: its UIDVALIDITY, and the UID of the last mail in it."""
    box = _box(server, name, password, seconds=TRY_SECONDS)
    with TURNS.taken():
        try:
            with box.open() as line:
                return line.validity, line.last()
        except MailboxFault as error:
            raise Refused("mailbox_fault", facts={"words": str(error)}) from error
        finally:
            box.close()


def _box(server: Server, name: str, password: str, *, seconds: float = 10.0) -> ImapBox:
    return ImapBox(
        host=server.host,
        port=server.port,
        security=server.security,
        user=name,
        password=password,
        seconds=seconds,
    )


class Reader:
    """The mailboxes that the worker reads, each with its line kept open; those that changed are opened anew."""

    def __init__(self) -> None:
        self._open: dict[int, tuple[int, ImapBox]] = {}
        self._sent: dict[int, ImapBox] = {}

    def boxes(self) -> list[tuple[Mailbox, ImapBox]]:
        """All that are to be read now. One query; two where the house's own box is new."""
        rows = list(Mailbox.objects.filter(retired_at=None).order_by("pk"))
        if settings.IMAP_HOST and not any(self._is_house(row) for row in rows):
            rows.insert(0, Mailbox.objects.create(name=house_user()))
        wanted = [(row, self._of(row)) for row in rows]
        for gone in set(self._open) - {row.pk for row in rows}:
            self._open.pop(gone)[1].close()
            self._end_sent(gone)
        return [(row, box) for row, box in wanted if box]

    def sent_of(self, row: Mailbox, box: ImapBox) -> ImapBox | None:
        """The folder of what a person sent, of their own mailbox, where one was found; with a line of its own."""
        known = self._sent.get(row.pk)
        wanted = row.sent_name if row.owner_id else ""
        if known and (known.folder, known.password) == (wanted, box.password):
            return known
        self._end_sent(row.pk)
        if not wanted:
            return None
        self._sent[row.pk] = replace(box, folder=wanted)
        return self._sent[row.pk]

    def _end_sent(self, mailbox: int) -> None:
        known = self._sent.pop(mailbox, None)
        if known:
            known.close()

    def _of(self, row: Mailbox) -> ImapBox | None:
        known = self._open.get(row.pk)
        if known and known[0] == row.version:
            return known[1]
        box = house_box() if self._is_house(row) else self._kept(row)
        if known:
            known[1].close()
        if box:
            self._open[row.pk] = (row.version, box)
        return box

    def _is_house(self, row: Mailbox) -> bool:
        return not row.server and row.name == house_user()

    def _kept(self, row: Mailbox) -> ImapBox | None:
        """None, and why, for one whose server is in the settings no longer, or whose password cannot be opened."""
        server = servers().get(row.server)
        try:
            if server:
                return _box(server, row.name, opened(row.sealed))
            fault = "its server is not in the settings"
        except CannotOpen:
            fault = "its password was sealed with another key: it is wanted anew"
        if row.server and row.fault != fault:
            Mailbox.objects.filter(pk=row.pk).update(fault=fault)
        return None


def house_box() -> ImapBox | None:
    """The house's own mailbox; None where it has none that is read."""
    if not settings.IMAP_HOST:
        return None
    server = Server(settings.IMAP_HOST, settings.IMAP_PORT, settings.IMAP_SECURITY)
    return _box(server, house_user(), settings.IMAP_PASSWORD)
