"""The mail server's side: whatever comes over SMTP lies in the mailboxes then."""

from asyncio import WriteTransport

from aiosmtpd.controller import Controller
from aiosmtpd.smtp import SMTP, Envelope, Session

from standins.mailbox.box import Boxes

#: Bytes of a mail at most.
LARGEST = 33_000_000


class Taking:
    """Answers a sender; ``mute`` takes the mail and ends the line without saying so."""

    def __init__(self, boxes: Boxes):
        self.boxes = boxes

    async def handle_RCPT(
        self, server: SMTP, session: Session, envelope: Envelope, address: str, options: list[str]
    ) -> str:
        """Whether mail for an address is taken."""
        switches = self.boxes.switches()
        if switches["busy"]:
            return "451 4.3.2 Not now, try again later"
        if switches["unknown"] or address.lower().startswith("nobody@"):
            return f"550 5.1.1 There is no mailbox {address}"
        envelope.rcpt_tos.append(address)
        return "250 2.1.5 OK"

    async def handle_DATA(self, server: SMTP, session: Session, envelope: Envelope) -> str:
        """The mail itself."""
        body = envelope.content
        assert isinstance(body, bytes)
        for address in dict.fromkeys(envelope.rcpt_tos):
            self.boxes.keep(address, body)
        if self.boxes.switches()["mute"]:
            if isinstance(server.transport, WriteTransport):
                server.transport.abort()
            return "421 4.4.2 bye"
        return "250 2.0.0 It is in the box"


def smtp_server(boxes: Boxes, port: int) -> Controller:
    """A mail server on the loopback; call ``start`` and ``stop``."""
    return Controller(Taking(boxes), hostname="127.0.0.1", port=port, data_size_limit=LARGEST)
