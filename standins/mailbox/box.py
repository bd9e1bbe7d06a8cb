"""The mailboxes: one Maildir for each address, and what is switched on."""

from dataclasses import dataclass
from email import message_from_bytes, policy
from email.message import EmailMessage
import json
import mailbox
from pathlib import Path
import re
from threading import Lock

#: What the mail server can be told to do wrong: put off, refuse whom it is for, take it and hang up without a word.
FAULTS = {"busy": "puts mail off", "unknown": "knows nobody", "mute": "hangs up without a word"}
SENT = "Sent"
_ADDRESS = re.compile(r"[a-z0-9.!#$%&'*+/=?^_`{|}~-]{1,64}@[a-z0-9.-]{1,120}")


@dataclass(frozen=True, slots=True)
class Letter:
    """A mail in a mailbox: its key there, and what the page shows of it."""

    key: str
    at: float
    sender: str
    subject: str
    text: str
    files: tuple[str, ...]
    message_id: str
    reply_to: str
    #: The event that it invites to (RFC 5545), where there is one.
    invitation: str


class Boxes:
    """All mailboxes below a folder."""

    def __init__(self, folder: Path):
        self.folder = folder
        (folder / "boxes").mkdir(parents=True, exist_ok=True, mode=0o700)
        self.lock = Lock()

    def keep(self, address: str, body: bytes) -> None:
        """Lay a mail into the box of an address; another address has a box of its own."""
        with self.lock:
            self._box(address).add(body)

    def keep_sent(self, address: str, body: bytes) -> None:
        """Lay a mail that an address sent into its folder of those, as programs of people do."""
        with self.lock:
            box = self._box(address)
            (box.get_folder(SENT) if SENT in box.list_folders() else box.add_folder(SENT)).add(body)

    def open(self, address: str) -> None:
        """Make the box of an address, where there is none."""
        with self.lock:
            self._box(address)

    def letter(self, address: str, key: str) -> Letter | None:
        """A mail of a box; None where there is none under this key."""
        return next((each for each in self.letters(address) if each.key == key), None)

    def names(self, address: str) -> bool:
        """Whether mail can go there."""
        return bool(_ADDRESS.fullmatch(address.lower())) and ".." not in address

    def _box(self, address: str) -> mailbox.Maildir:
        known = address.lower()
        if not self.names(known) or "/" in known:
            raise ValueError("no address")
        return mailbox.Maildir(self.folder / "boxes" / known, create=True)

    def addresses(self) -> list[tuple[str, int]]:
        """Every address that got mail, and how many."""
        places = self.folder / "boxes"
        found = sorted(each.name for each in places.iterdir() if each.is_dir())
        return [(name, len(self._box(name))) for name in found]

    def letters(self, address: str) -> list[Letter]:
        """The mails of a box, the newest first."""
        box = self._box(address)
        found = [self._letter(box, key) for key in box.keys()]  # noqa: SIM118 - a mailbox, no mapping
        return sorted(found, key=lambda letter: (-letter.at, letter.key))

    def _letter(self, box: mailbox.Maildir, key: str) -> Letter:
        mail = message_from_bytes(box.get_bytes(key), policy=policy.default)
        assert isinstance(mail, EmailMessage)
        text = mail.get_body(("plain",))
        return Letter(
            key=key,
            at=box.get_message(key).get_date(),
            sender=str(mail["From"] or ""),
            subject=str(mail["Subject"] or ""),
            text=text.get_content() if text else "",
            files=tuple(part.get_filename() or "?" for part in mail.iter_attachments()),
            message_id=str(mail["Message-ID"] or ""),
            reply_to=str(mail["Reply-To"] or ""),
            invitation=_invitation(mail),
        )

    def switches(self) -> dict[str, bool]:
        """What goes wrong on purpose."""
        file = self.folder / "switches.json"
        known = json.loads(file.read_text()) if file.exists() else {}
        return {name: bool(known.get(name)) for name in FAULTS}

    def turn(self, name: str) -> None:
        """Switch a fault on, or off."""
        with self.lock:
            now = self.switches()
            now[name] = not now[name]
            (self.folder / "switches.json").write_text(json.dumps(now))


def _invitation(mail: EmailMessage) -> str:
    parts = (part for part in mail.walk() if part.get_content_type() == "text/calendar")
    return next((str(part.get_content()) for part in parts), "")
