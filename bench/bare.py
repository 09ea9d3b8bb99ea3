"""A bare compiled line: three servers with nothing but an event list, a line, draws and levels over time."""

import math
import time

import numba
import numpy as np

MEAN_GAP, MEAN_WORK, SERVERS = 1.0, 2.4, 3
_GOLDEN, _FIRST, _SECOND = np.uint64(0x9E3779B97F4A7C15), np.uint64(0xBF58476D1CE4E5B9), np.uint64(0x94D049BB133111EB)
_S30, _S27, _S31, _S11 = np.uint64(30), np.uint64(27), np.uint64(31), np.uint64(11)
_ROOM = 1 << 16


@numba.njit(cache=True, nogil=True, error_model="numpy")
def draw(number: int, mean: float) -> float:
    """Return an exponential time, a pure function of its number."""
    value = np.uint64(number) * _GOLDEN
    value = (value ^ (value >> _S30)) * _FIRST
    value = (value ^ (value >> _S27)) * _SECOND
    bits = (value ^ (value >> _S31)) >> _S11
    return -math.log((float(bits) + 0.5) / 9007199254740992.0) * mean


@numba.njit(cache=True, nogil=True, error_model="numpy")
def schedule(times: np.ndarray, subjects: np.ndarray, count: int, time_: float, subject: int) -> None:
    """Put an event on a binary heap of so many."""
    place = count
    while place > 0 and times[(place - 1) >> 1] > time_:
        times[place], subjects[place] = times[(place - 1) >> 1], subjects[(place - 1) >> 1]
        place = (place - 1) >> 1
    times[place], subjects[place] = time_, subject


@numba.njit(cache=True, nogil=True, error_model="numpy")
def drop_first(times: np.ndarray, subjects: np.ndarray, count: int) -> None:
    """Take the earliest event off a heap of which so many are left."""
    time_, subject = times[count], subjects[count]
    place, below = 0, 1
    while below < count:
        below += int(below + 1 < count and times[below + 1] < times[below])
        if times[below] >= time_:
            break
        times[place], subjects[place] = times[below], subjects[below]
        place, below = below, 2 * below + 1
    times[place], subjects[place] = time_, subject


@numba.njit(cache=True, nogil=True, error_model="numpy")
def line(length: float, waits: np.ndarray) -> tuple[int, float, float]:
    """Run three servers for so long; return the cases served, and the mean line and number inside."""
    times, subjects = np.empty(8), np.empty(8, np.int64)
    joined, waiting_since = np.empty(_ROOM), np.empty(_ROOM, np.int64)
    first, waiting, free, events, served, cases = 0, 0, SERVERS, 0, 0, 0
    now, line_area, inside_area, inside = 0.0, 0.0, 0.0, 0
    schedule(times, subjects, events, draw(0, MEAN_GAP), -1)
    events += 1
    while times[0] <= length:
        elapsed = times[0] - now
        line_area += elapsed * waiting
        inside_area += elapsed * inside
        now = times[0]
        is_arrival = subjects[0] < 0
        events -= 1
        drop_first(times, subjects, events)
        if is_arrival:
            cases += 1
            inside += 1
            joined[(first + waiting) & (_ROOM - 1)] = now
            waiting_since[(first + waiting) & (_ROOM - 1)] = cases
            waiting += 1
            schedule(times, subjects, events, now + draw(2 * cases, MEAN_GAP), -1)
            events += 1
        else:
            inside -= 1
            free += 1
        if free > 0 and waiting > 0:
            free -= 1
            waits[served] = now - joined[first]
            schedule(times, subjects, events, now + draw(2 * waiting_since[first] + 1, MEAN_WORK), 1)
            events += 1
            first = (first + 1) & (_ROOM - 1)
            waiting -= 1
            served += 1
    return served, line_area / now, inside_area / now


def cases_per_second(length: float) -> float:
    """Return the bare line's rate."""
    waits = np.empty(int(2 * length))
    line(10.0, waits)
    start = time.perf_counter()
    served, _, _ = line(length, waits)
    return served / (time.perf_counter() - start)
