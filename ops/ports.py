"""Ports, and the one error of the start command."""

import socket
import time


class Trouble(Exception):
    """Something that keeps the start command from going on, in one line that says what to do."""


def is_listening(port: int) -> bool:
    """Whether somebody answers on this port of the loopback."""
    with socket.socket(socket.AF_INET, socket.SOCK_STREAM) as probe:
        probe.settimeout(0.5)
        return probe.connect_ex(("127.0.0.1", port)) == 0


def comes_free(port: int, seconds: float = 5.0) -> bool:
    """Whether nobody answers there now or soon: a process that was ended holds its ports a moment longer."""
    until = time.monotonic() + seconds
    while is_listening(port):
        if time.monotonic() > until:
            return False
        time.sleep(0.05)
    return True


def free_port() -> int:
    """A port that nobody listens on now."""
    with socket.socket(socket.AF_INET, socket.SOCK_STREAM) as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


def greets(port: int) -> bool:
    """Whether a server there speaks first, as MariaDB does once its first orders are carried out.

    It listens before that, and the orders' file must stay until then.
    """
    with socket.socket(socket.AF_INET, socket.SOCK_STREAM) as probe:
        probe.settimeout(0.5)
        try:
            probe.connect(("127.0.0.1", port))
            return bool(probe.recv(1))
        except OSError:
            return False
