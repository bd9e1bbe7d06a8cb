"""Reading a mailbox over IMAP (RFC 3501): what came since, one mail at a time. Nothing there is changed, not even "seen"."""

from collections.abc import Iterator
from contextlib import contextmanager, suppress
from dataclasses import dataclass, field
from datetime import date
import imaplib
import re
import ssl

from apps.mail.transport import PLAIN, STARTTLS, TLS
from apps.told import tidy

#: How the folder of what was sent is called where the server does not mark it; common practice, no source.
SENT_NAMES = {"sent", "sent items", "sent messages", "sent mail", "gesendet", "gesendete elemente"}
_MONTHS = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")
_LISTED = re.compile(rb'\((?P<flags>[^)]*)\) (?P<between>"(?:\\.|[^"])*"|NIL) (?P<name>.+)')
_NUMBER = re.compile(rb"\d+")
_SIZE = re.compile(rb"UID (\d+).*?RFC822\.SIZE (\d+)|RFC822\.SIZE (\d+).*?UID (\d+)")


class MailboxFault(Exception):
    """The mailbox could not be read; its words say why."""


@dataclass(frozen=True, slots=True)
class Line:
    """An open mailbox; ``validity`` names the count that its UIDs belong to."""

    imap: imaplib.IMAP4
    validity: int

    def after(self, uid: int, most: int, since: date | None = None) -> list[tuple[int, int]]:
        """UID and size in bytes of the first mails beyond a UID, in their order; ``since``: none that were laid there
        before that day."""
        told = _asked(self.imap, "SEARCH", f"UID {uid + 1}:*{_since(since)}")
        found = [int(n) for row in told if isinstance(row, bytes) for n in _NUMBER.findall(row)]
        # ``n:*`` names the last mail even where it comes before n.
        wanted = sorted(n for n in found if n > uid)[:most]
        if not wanted:
            return []
        sizes: dict[int, int] = {}
        for row in _asked(self.imap, "FETCH", ",".join(map(str, wanted)), "(UID RFC822.SIZE)"):
            size = _SIZE.search(row) if isinstance(row, bytes) else None
            if size:
                sizes[int(size[1] or size[4])] = int(size[2] or size[3])
        return [(each, sizes[each]) for each in wanted if each in sizes]

    def last(self) -> int:
        """The UID of the last mail there; 0 where there is none."""
        told = _asked(self.imap, "SEARCH", "UID *")
        found = [int(n) for row in told if isinstance(row, bytes) for n in _NUMBER.findall(row)]
        return max(found, default=0)

    def content(self, uid: int) -> bytes | None:
        """A mail as it came; None where it is gone meanwhile."""
        for row in _asked(self.imap, "FETCH", str(uid), "(BODY.PEEK[])"):
            if isinstance(row, tuple) and len(row) > 1:
                return bytes(row[1])
        return None

    def sent_folder(self) -> str:
        """The folder of what was sent, as the server marks it (RFC 6154), else by a usual name; empty where there is
        none."""
        state, rows = self.imap.list()
        if state != "OK":
            raise MailboxFault(tidy(str(rows)))
        found = [each for row in rows if isinstance(row, bytes) and (each := _LISTED.match(row))]
        marked = [each for each in found if b"\\sent" in each["flags"].lower().split()]
        named = [each for each in found if _last_name(each) in SENT_NAMES]
        return _name((marked or named)[0]) if marked or named else ""


def _name(listed: re.Match[bytes]) -> str:
    """As the server calls it: without its quotes."""
    name = listed["name"].decode("ascii", "replace")
    return re.sub(r"\\(.)", r"\1", name[1:-1]) if name.startswith('"') else name


def _last_name(listed: re.Match[bytes]) -> str:
    between = listed["between"].decode("ascii", "replace").strip('"')
    return _name(listed).rpartition(between or "/")[2].lower()


def _since(day: date | None) -> str:
    """As RFC 3501 writes a day; its months are English everywhere."""
    return f" SINCE {day.day}-{_MONTHS[day.month - 1]}-{day.year}" if day else ""


def _said(error: Exception) -> str:
    """What went wrong, in the server's words where it said any: those are bytes."""
    words = error.args[0] if len(error.args) == 1 else str(error)
    return tidy(words.decode("utf-8", "replace") if isinstance(words, bytes) else str(words))


def _quoted(name: str) -> str:
    """As a command takes a name that may hold spaces."""
    return '"' + name.replace("\\", "\\\\").replace('"', '\\"') + '"'


def _asked(imap: imaplib.IMAP4, *command: str) -> list[bytes | tuple[bytes, bytes]]:
    state, rows = imap.uid(*command)
    if state != "OK":
        raise MailboxFault(tidy(str(rows)))
    return [row for row in rows if row is not None] or [b""]


@dataclass(slots=True, kw_only=True)
class ImapBox:
    """Where a mailbox is, and whose. Its line stays open from one look to the next: to sign in each few seconds costs
    both sides more than all the rest."""

    host: str
    port: int
    user: str
    password: str
    security: str = PLAIN
    folder: str = "INBOX"
    seconds: float = 10.0
    _line: Line | None = field(default=None, init=False, repr=False)

    @contextmanager
    def open(self) -> Iterator[Line]:
        """Look at the folder, without writing to it; raises ``MailboxFault`` for whatever goes wrong.

        A line that has ended meanwhile, or over which anything went wrong, is made anew.
        """
        try:
            line = self._line = self._still() or self._signed_in()
            yield line
        except (OSError, ValueError, imaplib.IMAP4.error, MailboxFault) as error:
            self.close()
            if isinstance(error, MailboxFault):
                raise
            raise MailboxFault(_said(error)) from error
        except BaseException:
            self.close()
            raise

    def close(self) -> None:
        """Sign out, where it was signed in."""
        line, self._line = self._line, None
        if line:
            with suppress(OSError, imaplib.IMAP4.error):
                line.imap.logout()

    def _still(self) -> Line | None:
        """The line of the last look where it still answers."""
        try:
            if self._line and self._line.imap.noop()[0] == "OK":
                return self._line
        except (OSError, imaplib.IMAP4.error):
            pass
        self.close()
        return None

    def _signed_in(self) -> Line:
        imap = self._connected()
        try:
            imap.login(self.user, self.password)
            state, told = imap.select(_quoted(self.folder), readonly=True)
            if state != "OK":
                raise MailboxFault(tidy(str(told)))
            return Line(imap, int((imap.response("UIDVALIDITY")[1] or [b"0"])[0] or 0))
        except BaseException:
            with suppress(OSError, imaplib.IMAP4.error):
                imap.logout()
            raise

    def _connected(self) -> imaplib.IMAP4:
        if self.security == TLS:
            context = ssl.create_default_context()
            return imaplib.IMAP4_SSL(
                self.host, self.port, ssl_context=context, timeout=self.seconds
            )
        imap = imaplib.IMAP4(self.host, self.port, timeout=self.seconds)
        if self.security == STARTTLS:
            imap.starttls(ssl.create_default_context())
        return imap
