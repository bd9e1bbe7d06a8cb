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

from apps.handover.gateway import BackOffice
from apps.handover.worker import go_round, log
from apps.journal.flows import forget_made
from apps.kept.proving import Nightly

PAUSE_SECONDS = 0.5
AGAIN_SECONDS = 60.0


class Command(BaseCommand):
    """Goes round until it is told to stop; a lost database is waited for."""

    help = "Hand orders over and take in the back office's news"

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
        office = BackOffice(
            settings.BACKOFFICE_URL,
            settings.BACKOFFICE_TOKEN,
            settings.BACKOFFICE_TIMEOUT_SECONDS,
        )
        nightly = Nightly(timezone.now)
        while not stopping:
            try:
                done = go_round(office, name, timezone.now)
                if nightly.look():
                    forget_made(timezone.now())
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
