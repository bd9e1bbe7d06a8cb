"""The worker's part: drain the outbox of mails."""

from collections.abc import Callable
from datetime import datetime
from functools import partial
import logging

from django.conf import settings

from apps.mail.composing import mime_of, recipients_of
from apps.mail.flows import claim_next, note_handing, settle
from apps.mail.models import REFUSED
from apps.mail.transport import MailServer, Outcome

log = logging.getLogger("vivid.mail")
#: Mails that are sent before the worker looks at other work.
MOST_A_ROUND = 10


def server_of_settings() -> MailServer:
    """Where the house hands its mail over."""
    return MailServer(
        host=settings.SMTP_HOST,
        port=settings.SMTP_PORT,
        security=settings.SMTP_SECURITY,
        user=settings.SMTP_USER,
        password=settings.SMTP_PASSWORD,
    )


def drain(server: MailServer, clock: Callable[[], datetime]) -> int:
    """Send what is due; how many were tried."""
    for done in range(MOST_A_ROUND):
        message = claim_next(clock())
        if message is None:
            return done
        try:
            body = mime_of(message)
        except (OSError, ValueError, LookupError) as error:
            outcome = Outcome(state=REFUSED, said=f"it cannot be put together: {error}")
        else:
            handing = partial(note_handing, message.pk)
            outcome = server.hand(message.sender, recipients_of(message), body, handing)
        settled = settle(message.pk, outcome, now=clock())
        log.info("mail %s: %s %s", message.key, settled.state, settled.said)
    return MOST_A_ROUND
