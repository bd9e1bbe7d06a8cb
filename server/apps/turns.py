"""Turns for work that costs much: few at a time, few waiting, and everybody else hears it at once.

Without the second limit those who wait would hold the threads that others need for quick answers.
"""

from collections.abc import Iterator
from contextlib import contextmanager
from threading import BoundedSemaphore

from apps.errors import Busy


class Turns:
    """So many at work, so many waiting at most so long; in this process."""

    def __init__(self, code: str, *, at_a_time: int, waiting: int, seconds: float):
        self.code, self.at_a_time, self.seconds = code, at_a_time, seconds
        self._there = BoundedSemaphore(at_a_time + waiting)
        self._at_work = BoundedSemaphore(at_a_time)

    @contextmanager
    def taken(self) -> Iterator[None]:
        """One's turn; raises ``Busy`` with the code where too many are there, or none comes."""
        if not self._there.acquire(blocking=False):
            raise Busy(self.code)
        try:
            if not self._at_work.acquire(timeout=self.seconds):
                raise Busy(self.code)
            try:
                yield
            finally:
                self._at_work.release()
        finally:
            self._there.release()
