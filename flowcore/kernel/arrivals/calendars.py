"""When something is open."""

import numpy as np

from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.records.kinds import NEVER
from flowcore.kernel.records.plan import Calendar


@part
def period_before(numbers: np.ndarray, calendar: Calendar, minute: float) -> int:
    """Return the last open period of a calendar that has begun by a time, or -1."""
    below, above = -1, calendar.periods - 1
    while below < above:
        middle = (below + above + 1) // 2
        if numbers[calendar.first + 3 * middle] <= minute:
            below = middle
        else:
            above = middle - 1
    return below


@part
def is_open_at(numbers: np.ndarray, calendar: Calendar, minute: float) -> bool:
    """Say whether a calendar is open at a time; at its closing it is not."""
    period = period_before(numbers, calendar, minute)
    return period >= 0 and minute < numbers[calendar.first + 3 * period + 1]


@rare
def after_open_minutes(numbers: np.ndarray, calendar: Calendar, minute: float, gap: float) -> float:
    """Return the time when a calendar has been open for `gap` minutes more; NEVER beyond its last period."""
    period = period_before(numbers, calendar, minute)
    done = 0.0
    if period >= 0:
        start, end = numbers[calendar.first + 3 * period], numbers[calendar.first + 3 * period + 1]
        done = numbers[calendar.first + 3 * period + 2] + min(minute, end) - start
    wanted = done + gap
    below, above = 0, calendar.periods
    while below < above:
        middle = (below + above) // 2
        place = calendar.first + 3 * middle
        if numbers[place + 2] + numbers[place + 1] - numbers[place] < wanted:
            below = middle + 1
        else:
            above = middle
    if below >= calendar.periods:
        return NEVER
    return numbers[calendar.first + 3 * below] + wanted - numbers[calendar.first + 3 * below + 2]
