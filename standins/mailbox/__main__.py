"""The mail stand-in: its own process, spoken to over SMTP and IMAP alone, with a page that shows every mailbox.

``python -m standins.mailbox --smtp 8073 --imap 8074 --port 8072 --folder var/mailbox``. The box of ``VIVID_MAIL_FROM``
can be read over IMAP, with ``VIVID_IMAP_PASSWORD``, those of the house's people with the page's password. What the page's buttons are signed with comes from
``VIVID_MAILBOX_TOKEN``, its password from ``VIVID_MAILBOX_PASSWORD``.
"""

import argparse
from contextlib import suppress
import os
from pathlib import Path
import secrets
import signal
import threading

from standins.mailbox.box import Boxes
from standins.mailbox.imap import imap_server
from standins.mailbox.smtp import smtp_server
from standins.mailbox.web import serve

#: People of the house who have a box of their own; it opens with the page's password.
PEOPLE = ("ilse", "tomas", "amara", "petra")


def main() -> int:
    """Serve until told to stop."""
    parser = argparse.ArgumentParser(prog="mailbox")
    parser.add_argument("--smtp", type=int, default=8073)
    parser.add_argument("--imap", type=int, default=8074)
    parser.add_argument("--port", type=int, default=8072)
    parser.add_argument("--folder", type=Path, default=Path("var/mailbox"))
    given = parser.parse_args()
    boxes = Boxes(given.folder)
    token = os.environ.get("VIVID_MAILBOX_TOKEN", "") or secrets.token_urlsafe(40)
    house = os.environ.get("VIVID_MAIL_FROM", "sales@quillfen.example")
    known = os.environ.get("VIVID_MAILBOX_PASSWORD", "orchard-demo")
    people = {f"{name}@{house.rpartition('@')[2]}": known for name in PEOPLE}
    own = os.environ.get("VIVID_IMAP_PASSWORD", "") or token
    reading = imap_server(boxes, given.imap, house, own, people)
    page = serve(boxes, token, known, given.port)
    mails = smtp_server(boxes, given.smtp)
    mails.start()
    signal.signal(signal.SIGTERM, lambda *_: threading.Thread(target=page.shutdown).start())
    with suppress(KeyboardInterrupt):
        page.serve_forever(poll_interval=0.1)
    page.server_close()
    mails.stop()
    reading.terminate()
    reading.wait()
    return 0


if __name__ == "__main__":
    raise SystemExit(main())
