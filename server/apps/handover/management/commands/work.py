"""``manage.py work``: the worker process."""

import os
import signal
import socket
import time
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand
from django.db import close_old_connections, connection
from django.db.utils import Error
from django.utils import timezone

from apps.calloffs.days import renew as renew_agreements
from apps.forecast.snapshots import take_tonight
from apps.handover.comparing import NIGHT_HOURS, ask_comparison, is_due
from apps.handover.gateway import BackOffice
from apps.handover.queries import figures_age_hours
from apps.handover.worker import go_round, log
from apps.journal.flows import forget_made
from apps.kept.proving import Nightly
from apps.mail.mailboxes import Reader
from apps.mail.receiving import look_round
from apps.mail.sending import drain as drain_mail
from apps.mail.sending import server_of_settings
from apps.regulars.days import renew

PAUSE_SECONDS = 0.5
AGAIN_SECONDS = 60.0
DAYS_SECONDS = 5.0


class Days:
    """Makes the days of customers and agreements anew, some at a time; looked up every few seconds."""

    def __init__(self) -> None:
        self._looked = -DAYS_SECONDS

    def look(self) -> int:
        """How many were made."""
        if time.monotonic() - self._looked < DAYS_SECONDS:
            return 0
        today = timezone.localdate()
        made = renew(today, age_hours=figures_age_hours(timezone.now())) + renew_agreements(today)
        if not made:
            self._looked = time.monotonic()
        return made


class Nights:
    """Takes the night's snapshot of the deals, looked up every few seconds."""

    def __init__(self) -> None:
        self._looked = -DAYS_SECONDS

    def look(self) -> None:
        """Take it, where it is not there yet."""
        if time.monotonic() - self._looked < DAYS_SECONDS:
            return
        self._looked = time.monotonic()
        take_tonight(timezone.now)


class Command(BaseCommand):
    """Goes round until it is told to stop; a lost database is waited for."""

    help = "Hand orders over, take in the back office's news, send and receive mail"

    def handle(self, *args: Any, **options: Any) -> None:
        """Run the rounds."""
        stopping = False
        complained: dict[str, float] = {}

        def complain(words: str) -> None:
            """Say it once a minute: a long trouble does not fill the disk."""
            if time.monotonic() - complained.get(words, -AGAIN_SECONDS) >= AGAIN_SECONDS:
                complained[words] = time.monotonic()
                log.exception(words)

        def stop(*_: object) -> None:
            nonlocal stopping
            stopping = True

        signal.signal(signal.SIGTERM, stop)
        signal.signal(signal.SIGINT, stop)
        name = f"{socket.gethostname()}-{os.getpid()}"[:60]
        office, mail, boxes = the_office(), server_of_settings(), Reader()
        nightly, days, nights = Nightly(timezone.now), Days(), Nights()
        while not stopping:
            try:
                done = go_round(office, name, timezone.now) + days.look()
                done += drain_mail(mail, timezone.now)
                done += look_round(boxes, timezone.now)
                if nightly.look():
                    forget_made(timezone.now())
                compare_by_night()
                nights.look()
            except Error:
                complain("the database does not answer; trying again")
                connection.close()
                done = 0
            except Exception:
                complain("a round failed; trying again")
                done = 0
            close_old_connections()
            if not done:
                time.sleep(PAUSE_SECONDS)
        office.close()


def compare_by_night() -> None:
    """Have both sides compared, once a night."""
    now = timezone.localtime()
    if now.hour in NIGHT_HOURS and is_due(now):
        ask_comparison(None, now)


def the_office() -> BackOffice:
    """The back office of the settings."""
    return BackOffice(
        settings.BACKOFFICE_URL,
        settings.BACKOFFICE_TOKEN,
        settings.BACKOFFICE_TIMEOUT_SECONDS,
        key=settings.BACKOFFICE_KEY,
    )
