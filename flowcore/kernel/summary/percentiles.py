"""The percentiles of values.

Nothing long is sorted whole: the values are counted by places that are in their order, and only those that lie where a
wanted rank does are put in order. So percentiles are exact.
"""

import numpy as np

from flowcore.kernel.compiling.compiled import part
from flowcore.kernel.summary.histograms import number_of

PERCENTILES = (5, 10, 25, 50, 75, 90, 95, 99)
_MOST_ROUNDS = 64
ABOVE_ALL = (1 << 63) - 1
"""The bits of no number: more than those of any other."""


@part
def percentiles_by_order(values: np.ndarray, room: np.ndarray, percentiles: np.ndarray) -> None:
    """Write the percentiles of few values."""
    many = len(values)
    ordered = room[:many]
    ordered[:] = values
    ordered.sort()
    ranks = ranks_beside(many)
    for number in range(len(PERCENTILES)):
        percentiles[number] = percentile(many, number, ordered[ranks[2 * number]], ordered[ranks[2 * number + 1]])


@part
def ranks_beside(many: int) -> np.ndarray:
    """Return between which two ranks of so many values each of the PERCENTILES lies, from 0, one pair after another."""
    ranks = np.empty(2 * len(PERCENTILES), np.int64)
    for number in range(len(PERCENTILES)):
        ranks[2 * number] = (many - 1) * PERCENTILES[number] // 100
        ranks[2 * number + 1] = min(ranks[2 * number] + 1, many - 1)
    return ranks


@part
def percentile(many: int, number: int, low: float, high: float) -> float:
    """Return one of the PERCENTILES of so many values, between those at its two ranks."""
    position = (many - 1) * PERCENTILES[number] / 100
    return low + (position - int(position)) * (high - low)


@part
def percentiles_by_places(
    values: np.ndarray,
    places: np.ndarray,
    ends: tuple[int, int],
    wanted: np.ndarray,
    bins: np.ndarray,
    room: np.ndarray,
    percentiles: np.ndarray,
) -> None:
    """Write the percentiles of values from zero on, so many of which are in each place between two, and in place 0."""
    ranks = ranks_beside(len(values))
    lies = np.empty(len(ranks), np.int64)
    begins = wanted_places(places, ends, ranks, wanted, lies)
    following = begins.copy()
    for row in range(len(values)):
        which = wanted[bins[row]]
        if which >= 0:
            room[following[which]] = values[row]
            following[which] += 1
    found = np.zeros(len(ranks))
    kept = room.view(np.int64)
    placed, last = 0, -1
    for number in range(len(ranks)):
        which = lies[number]
        if which < 0:
            continue
        here = room[begins[which] : following[which]]
        if number == 0 or lies[number - 1] != which:
            placed, last = 0, -1
        if ranks[number] <= last:
            found[number] = here[placed]
        elif number % 2 == 1 and ranks[number] == placed + 1:
            found[number] = number_of(least_of(kept[begins[which] + ranks[number] : following[which]]))
        else:
            last = put_in_place(here, ranks[number], placed)
            placed = ranks[number]
            found[number] = here[placed]
    for number in range(len(PERCENTILES)):
        percentiles[number] = percentile(len(values), number, found[2 * number], found[2 * number + 1])


@part
def wanted_places(
    places: np.ndarray, ends: tuple[int, int], ranks: np.ndarray, wanted: np.ndarray, lies: np.ndarray
) -> np.ndarray:
    """Find the places in which ranks lie, and return where the values of each begin when only they are kept.

    `wanted` says of each place which of those it is, or -1; `lies` of each rank in which of them it lies, or -1 where
    it is one of the zeros; and a rank becomes which it is among the values of its place.
    """
    begins = np.zeros(len(ranks) + 1, np.int64)
    which, before, kept, number = 0, places[0], 0, 0
    wanted[0] = -1
    while number < len(ranks) and ranks[number] < before:
        lies[number] = -1
        number += 1
    for place in range(ends[0], ends[1] + 1):
        wanted[place] = -1
        first = number
        while number < len(ranks) and ranks[number] < before + places[place]:
            lies[number] = which
            ranks[number] -= before
            number += 1
        if number > first:
            wanted[place] = which
            begins[which] = kept
            kept += places[place]
            which += 1
        before += places[place]
    return begins


@part
def least_of(bits: np.ndarray) -> int:
    """Return the least of whole numbers from zero on."""
    least = ABOVE_ALL
    for row in range(len(bits)):
        least = min(least, bits[row])
    return least


@part
def put_in_place(values: np.ndarray, place: int, low: int) -> int:
    """Put the value that would be at a place, were those from `low` on in order, there: what is behind it is not less.

    Return a place up to which all are the same from there on. Source: Hoare, Algorithm 65: Find, Communications of the
    ACM 4 (1961), in the three parts of Dijkstra, A Discipline of Programming (1976), since one value is often that of
    many. Where that does not come to its end soon, what is left is sorted.
    """
    high = len(values) - 1
    rounds = 0
    while low < high:
        if rounds == _MOST_ROUNDS:
            values[low : high + 1].sort()
            return place
        rounds += 1
        pivot = values[(low + high) // 2]
        less, row, more = low, low, high
        while row <= more:
            value = values[row]
            if value < pivot:
                values[row], values[less] = values[less], value
                less += 1
                row += 1
            elif value > pivot:
                values[row], values[more] = values[more], value
                more -= 1
            else:
                row += 1
        if place < less:
            high = less - 1
        elif place > more:
            low = more + 1
        else:
            return more
    return place
