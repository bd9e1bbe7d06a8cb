"""Handing a mail to a server over SMTP (RFC 5321): what became of it is told, never guessed."""

from collections.abc import Callable, Sequence
from contextlib import suppress
from dataclasses import dataclass
import smtplib
import ssl

from apps.mail.models import REFUSED, SENT, UNKNOWN, WAITING
from apps.told import tidy

#: How a line to the server is kept from others.
PLAIN, STARTTLS, TLS = "plain", "starttls", "tls"


@dataclass(frozen=True, slots=True, kw_only=True)
class Outcome:
    """What became of a try: ``sent``; ``waiting`` for another one; ``refused`` for good; ``unknown``: the words were
    with the server when the line went. ``said`` is the server's answer, or what went wrong."""

    state: str
    said: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class MailServer:
    """Where mail is handed over; one connection a try."""

    host: str
    port: int
    security: str = PLAIN
    user: str = ""
    password: str = ""
    seconds: float = 20.0

    def hand(
        self, sender: str, recipients: Sequence[str], body: bytes, handing: Callable[[], None]
    ) -> Outcome:
        """Hand a mail over to all its recipients, or to none; ``handing`` is called before its last line is sent.

        One recipient whom the server does not take refuses the whole: nobody wonders who has it.
        """
        try:
            line = self._line()
        except smtplib.SMTPAuthenticationError as error:
            return Outcome(state=WAITING, said=_answer(error.smtp_code, error.smtp_error))
        except (OSError, smtplib.SMTPException) as error:
            return Outcome(state=WAITING, said=tidy(str(error)))
        try:
            return self._hand(line, sender, recipients, body, handing)
        finally:
            with suppress(OSError, smtplib.SMTPException):
                line.quit()

    def _line(self) -> smtplib.SMTP:
        if self.security == TLS:
            context = ssl.create_default_context()
            line: smtplib.SMTP = smtplib.SMTP_SSL(
                self.host, self.port, timeout=self.seconds, context=context
            )
        else:
            line = smtplib.SMTP(self.host, self.port, timeout=self.seconds)
        if self.security == STARTTLS:
            line.starttls(context=ssl.create_default_context())
        if self.user:
            line.login(self.user, self.password)
        return line

    def _hand(
        self,
        line: smtplib.SMTP,
        sender: str,
        recipients: Sequence[str],
        body: bytes,
        handing: Callable[[], None],
    ) -> Outcome:
        try:
            line.ehlo_or_helo_if_needed()
            asked = [line.mail(sender), *(line.rcpt(address) for address in recipients)]
            answers = [*asked, line.docmd("DATA")] if _taken(asked) else asked
            for code, words in answers:
                if code >= 400:
                    return _turned_down(code, words)
        except (OSError, smtplib.SMTPException) as error:
            return Outcome(state=WAITING, said=tidy(str(error)))
        handing()
        try:
            line.send(_dotted(body))
            code, words = line.getreply()
        except (OSError, smtplib.SMTPException) as error:
            return Outcome(state=UNKNOWN, said=tidy(str(error)))
        if code >= 400:
            return _turned_down(code, words)
        return Outcome(state=SENT, said=_answer(code, words))


def _taken(answers: Sequence[tuple[int, bytes]]) -> bool:
    return all(code < 400 for code, _ in answers)


def _turned_down(code: int, words: bytes) -> Outcome:
    """4yz: not now; 5yz: never."""
    return Outcome(state=REFUSED if code >= 500 else WAITING, said=_answer(code, words))


def _answer(code: int, words: bytes | str) -> str:
    text = words.decode("utf-8", "replace") if isinstance(words, bytes) else words
    return tidy(f"{code} {text}")


def _dotted(body: bytes) -> bytes:
    """Lines end as the standard says, a dot at a line's beginning is doubled, a dot alone ends it."""
    lines = body.replace(b"\r\n", b"\n").replace(b"\r", b"\n").split(b"\n")
    if lines[-1] == b"":
        lines.pop()
    return (
        b"".join((b"." if each[:1] == b"." else b"") + each + b"\r\n" for each in lines) + b".\r\n"
    )
