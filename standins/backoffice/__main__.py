"""The back-office stand-in: its own process, spoken to over HTTP alone.

``python -m standins.backoffice --port 8071 --folder var/backoffice``. The token comes from the
environment (``VIVID_BACKOFFICE_TOKEN``), so do the key that its answers are signed with
(``VIVID_BACKOFFICE_KEY``) and the password of its page (``VIVID_BACKOFFICE_PASSWORD``).
Standard library only.
"""

import argparse
from contextlib import suppress
import os
from pathlib import Path
import signal
import sys
import threading
import time

from standins.backoffice.store import Store
from standins.backoffice.web import serve

PAUSE_AFTER_TROUBLE = 5.0


def run_by_itself(store: Store) -> None:
    """Step orders on while the switch says so."""
    while True:
        try:
            if store.switch("pace", "hand") == "itself":
                for number in store.due(int(store.switch("pause_seconds", "5"))):
                    store.step(number)
        except Exception as error:  # a full disk, a locked file: it may be well again
            print(f"orders do not move: {error!r}", file=sys.stderr, flush=True)
            time.sleep(PAUSE_AFTER_TROUBLE)
        time.sleep(0.5)


def main() -> int:
    """Serve until told to stop."""
    parser = argparse.ArgumentParser(prog="backoffice")
    parser.add_argument("--port", type=int, default=8071)
    parser.add_argument("--folder", type=Path, default=Path("var/backoffice"))
    given = parser.parse_args()
    token = os.environ.get("VIVID_BACKOFFICE_TOKEN", "")
    if not token:
        print("VIVID_BACKOFFICE_TOKEN is not set", file=sys.stderr)
        return 2
    store = Store(given.folder / "backoffice.sqlite")
    threading.Thread(target=run_by_itself, args=(store,), daemon=True).start()
    password = os.environ.get("VIVID_BACKOFFICE_PASSWORD", "orchard-demo")
    key = os.environ.get("VIVID_BACKOFFICE_KEY", "") or token
    server = serve(store, token, key, password, given.port)
    signal.signal(signal.SIGTERM, lambda *_: threading.Thread(target=server.shutdown).start())
    with suppress(KeyboardInterrupt):
        server.serve_forever(poll_interval=0.1)
    server.server_close()
    return 0


if __name__ == "__main__":
    sys.exit(main())
