"""Lets whoever runs a world look around now and then: a thread asks worlds to pause, whatever their events cost."""

import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager

from flowcore.kernel.records.record import Table
from flowcore.kernel.records.world import Clock

SECONDS_BETWEEN_PAUSES = 0.03


class _Metronome:
    """Sets the `pause` of every clock that it is given, again and again; its thread rests while there is none."""

    def __init__(self) -> None:
        self._clocks: dict[int, Table[Clock]] = {}
        self._changed = threading.Condition()
        self._thread: threading.Thread | None = None

    @contextmanager
    def beating(self, clock: Table[Clock]) -> Iterator[None]:
        """Let a clock's world pause often, while the context lasts."""
        with self._changed:
            self._clocks[id(clock)] = clock
            if self._thread is None or not self._thread.is_alive():
                self._thread = threading.Thread(target=self._beat, daemon=True, name="metronome")
                self._thread.start()
            self._changed.notify()
        try:
            yield
        finally:
            with self._changed:
                del self._clocks[id(clock)]

    def _beat(self) -> None:
        while True:
            with self._changed:
                self._changed.wait_for(lambda: len(self._clocks) > 0)
                for clock in self._clocks.values():
                    clock[0].pause = 1
            time.sleep(SECONDS_BETWEEN_PAUSES)


pausing_often = _Metronome().beating
