"""The oracle's clock: events by time and kind, and what is to be done at an instant."""

import heapq
from collections import deque
from collections.abc import Callable
from dataclasses import dataclass
from itertools import count
from typing import Any

ROSTER, WORK, TIMETABLE, SIGNAL, ARRIVAL = range(5)
"""The order at one instant."""


@dataclass(eq=False)
class Event:
    """Something that will happen unless it is called off."""

    action: Callable[[], None]
    off: bool = False


class Clock:
    """Minutes since the run's start."""

    def __init__(self) -> None:
        self.now = 0.0
        self.events: list[tuple[float, int, int, Event]] = []
        self.agenda: deque[Callable[[], None]] = deque()
        self._serial = count()

    def at(self, time: float, kind: int, action: Callable[..., None], *args: Any) -> Event:
        """Let something happen at a time."""
        event = Event(lambda: action(*args))
        heapq.heappush(self.events, (time, kind, next(self._serial), event))
        return event

    def soon(self, action: Callable[..., None], *args: Any) -> None:
        """Let something be done at this instant, after all that was said before."""
        self.agenda.append(lambda: action(*args))

    def first(self, action: Callable[..., None], *args: Any) -> None:
        """Let something be done at this instant, before all else."""
        self.agenda.appendleft(lambda: action(*args))

    def next_event(self) -> tuple[float, Event] | None:
        """Return the next event that was not called off, and leave it where it is."""
        while self.events and self.events[0][3].off:
            heapq.heappop(self.events)
        return (self.events[0][0], self.events[0][3]) if self.events else None

    def take_event(self) -> Event:
        """Return the next event and go to its time."""
        self.now, _, _, event = heapq.heappop(self.events)
        return event
