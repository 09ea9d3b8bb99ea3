"""Whether somebody still waits for what a worker is at."""

import time
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any, ClassVar

from django.db.models import QuerySet

SECONDS_BETWEEN_LOOKS = 0.25
SECONDS_UNTIL_STUCK = 10


class Watch:
    """Says whether to stop: what was `wanted` when the work began is not among the wanted any more."""

    at_work: "ClassVar[set[Watch]]" = set()

    def __init__(self, wanted: QuerySet[Any]) -> None:
        self._wanted = wanted
        self.looked_at = time.monotonic()

    def __call__(self) -> bool:
        """Say whether to stop, having looked not long ago."""
        if time.monotonic() - self.looked_at < SECONDS_BETWEEN_LOOKS:
            return False
        self.looked_at = time.monotonic()
        return not self.is_wanted()

    def is_wanted(self) -> bool:
        """Say whether somebody still waits for what is being done."""
        return self._wanted.exists()

    @contextmanager
    def on_duty(self) -> Iterator[None]:
        """Be among those at work as long as the context lasts."""
        self.at_work.add(self)
        try:
            yield
        finally:
            self.at_work.discard(self)


def is_stuck() -> bool:
    """Say whether this process is at something that nobody wants any more and has not noticed for long."""
    long_ago = time.monotonic() - SECONDS_UNTIL_STUCK
    return any(watch.looked_at < long_ago and not watch.is_wanted() for watch in tuple(Watch.at_work))
