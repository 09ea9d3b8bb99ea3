"""When somebody does nothing at the same time on every day: breaks, as far as a log tells of them."""

import numpy as np

from flowcore.calibration.candidates import Numbers

BIN = 5
"""Breaks are told to so many minutes."""
EDGE = 6
"""So many bins at either end of a shift, at which it slowly begins and ends, tell of no break."""
FEWEST_DATES = 8
SEEN = 4.0
"""So often on average must work be seen at a time of day that its absence is no chance."""
AROUND = 12
"""What is usual at a time of day is told by so many bins before and after it: a break is shorter than half of them."""
NEVER = 0.25
HALF = 0.5
"""Nobody works in the core of a break but for what is finished first; it begins and ends where half do not any more."""
SHORTEST = 15
LONGEST = 60
Breaks = tuple[tuple[int, int], ...]
"""From which minute of the day on, and how many minutes."""


def breaks_of(begins: Numbers, ends: Numbers, midnights: Numbers, span: tuple[int, int]) -> Breaks:
    """Return the breaks in a shift that somebody has on some dates, whose midnights are given, ascending.

    `begins` and `ends` are of all work, in minutes since 1970; the span of the shift is in minutes of the day.
    """
    many = max(0, (span[1] - span[0]) // BIN)
    if len(midnights) < FEWEST_DATES or many <= 4 * EDGE:
        return ()
    at_work = _share_at_work(begins, ends, midnights + span[0], many)
    usual = np.array([np.median(at_work[max(0, n - AROUND) : n + AROUND + 1]) for n in range(many)])
    usual[usual * len(midnights) < SEEN] = 0
    found = []
    for first, last in _runs(at_work, usual):
        at, length = span[0] + first * BIN, (last + 1 - first) * BIN
        if SHORTEST <= length <= LONGEST:
            found.append((at, length))
    return tuple(found)


def _share_at_work(begins: Numbers, ends: Numbers, starts: Numbers, many: int) -> Numbers:
    """Return on which share of dates somebody is at work in the middle of each bin after the start of a shift."""
    date = np.searchsorted(starts, begins, "right") - 1
    inside = (date >= 0) & (begins < starts[date] + many * BIN)
    date, begins, ends = date[inside], begins[inside], ends[inside]
    first, last = (np.clip(np.ceil((edge - starts[date]) / BIN - 0.5).astype(int), 0, many) for edge in (begins, ends))
    change = np.zeros((len(starts), many + 1))
    np.add.at(change, (date, first), 1)
    np.add.at(change, (date, last), -1)
    share: Numbers = (change.cumsum(axis=1)[:, :many] > 0).mean(axis=0)
    return share


def _runs(at_work: Numbers, usual: Numbers) -> list[tuple[int, int]]:
    """Return the first and the last bin of each stretch in whose core hardly anybody works."""
    runs: list[tuple[int, int]] = []
    for place in np.flatnonzero(at_work[EDGE:-EDGE] < NEVER * usual[EDGE:-EDGE]) + EDGE:
        if runs and place <= runs[-1][1]:
            continue
        first = last = int(place)
        while first > EDGE and at_work[first - 1] < HALF * usual[place]:
            first -= 1
        while last < len(at_work) - EDGE - 1 and at_work[last + 1] < HALF * usual[place]:
            last += 1
        runs.append((first, last))
    return runs
