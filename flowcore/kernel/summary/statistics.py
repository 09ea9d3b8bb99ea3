"""The figures of stretches of values: moments and percentiles.

Nothing long is sorted whole: the values are counted by the top bits of what they are between the least and the most,
which are in their order, and only those that lie where a wanted rank does are put in order. So percentiles are exact.
Sums are made in blocks whose sums are added with Neumaier's correction (Rundungsfehleranalyse einiger Verfahren zur
Summation endlicher Summen, ZAMM 54, 1974).
"""

import math

import numpy as np

from flowcore.kernel.compiling.compiled import entry, part

PERCENTILES = (5, 10, 25, 50, 75, 90, 95, 99)
MEAN, SD, LEAST, MOST, FIRST_PERCENTILE = range(5)
NONE_AT_ALL = FIRST_PERCENTILE + len(PERCENTILES)
STATISTICS = NONE_AT_ALL + 1
"""The columns of `statistics`: mean, standard deviation, least, most, PERCENTILES, and the share of zeros."""
_BLOCK = 512
_FEW = 192
_BINS = 4096
_OCTAVES = 24
_MOST_ROUNDS = 64


@entry
def statistics(columns: np.ndarray, edges: np.ndarray, room: np.ndarray) -> np.ndarray:
    """Return the STATISTICS of every stretch of columns and of each whole one, (columns, stretches + 1, STATISTICS).

    `columns` has shape (columns, rows); stretch n is from edges[n] to edges[n + 1]. Not-a-number where it is empty.
    `room`, of as many numbers as there are rows, is written over.
    Percentiles are exact, linear between the ordered values: definition 7 of Hyndman and Fan, Sample quantiles in
    statistical packages, The American Statistician 50 (1996).
    """
    stretches = len(edges) - 1
    bits = columns.view(np.int64)
    figures = np.empty((len(columns), stretches + 1, STATISTICS))
    moments = np.empty((stretches + 1, MOMENTS))
    counts = np.empty(_BINS, np.int64)
    for column in range(len(columns)):
        for stretch in range(stretches):
            values = columns[column, edges[stretch] : edges[stretch + 1]]
            measure(values, moments[stretch])
            of_values = bits[column, edges[stretch] : edges[stretch + 1]]
            describe(values, of_values, moments[stretch], room, counts, figures[column, stretch])
        put_together(moments[:stretches], moments[stretches])
        describe(columns[column], bits[column], moments[stretches], room, counts, figures[column, stretches])
    return figures


MANY, SUM, SQUARES, BOTTOM, TOP, ABOVE_ZERO, ZEROS = range(7)
MOMENTS = 7
"""How many values, their sum, the squares of their distances from the mean, the least, the most, the least above zero,
and how many are not above it."""


@part
def measure(values: np.ndarray, moments: np.ndarray) -> None:
    """Write the MOMENTS of some values."""
    least, most, least_above, zeros = math.inf, -math.inf, math.inf, 0
    for row in range(len(values)):
        value = values[row]
        least = min(least, value)
        most = max(most, value)
        least_above = min(least_above, value if value > 0.0 else math.inf)
        zeros += int(value <= 0.0)
    moments[MANY], moments[BOTTOM], moments[TOP], moments[ABOVE_ZERO] = len(values), least, most, least_above
    moments[ZEROS] = zeros
    if least >= most:
        moments[SUM] = len(values) * most if len(values) > 0 else 0.0
        moments[SQUARES] = 0.0
    else:
        moments[SUM] = sum_of(values, 0.0, False)
        moments[SQUARES] = sum_of(values, moments[SUM] / len(values), True)


@part
def put_together(parts: np.ndarray, moments: np.ndarray) -> None:
    """Write the MOMENTS of all values of which those of the parts are known.

    Source: Chan, Golub and LeVeque, Updating formulae and a pairwise algorithm for computing sample variances (1979).
    """
    for number in range(MOMENTS):
        moments[number] = 0.0
    moments[BOTTOM], moments[TOP], moments[ABOVE_ZERO] = math.inf, -math.inf, math.inf
    for part_ in range(len(parts)):
        moments[MANY] += parts[part_, MANY]
        moments[SUM] += parts[part_, SUM]
        moments[ZEROS] += parts[part_, ZEROS]
        moments[BOTTOM] = min(moments[BOTTOM], parts[part_, BOTTOM])
        moments[TOP] = max(moments[TOP], parts[part_, TOP])
        moments[ABOVE_ZERO] = min(moments[ABOVE_ZERO], parts[part_, ABOVE_ZERO])
    for part_ in range(len(parts)):
        if parts[part_, MANY] > 0.0:
            apart = parts[part_, SUM] / parts[part_, MANY] - moments[SUM] / moments[MANY]
            moments[SQUARES] += parts[part_, SQUARES] + parts[part_, MANY] * apart * apart


@part
def describe(
    values: np.ndarray,
    bits: np.ndarray,
    moments: np.ndarray,
    room: np.ndarray,
    counts: np.ndarray,
    figures: np.ndarray,
) -> None:
    """Write the STATISTICS of values with known bits and moments; `room` is for as many values, `counts` for _BINS."""
    many = len(values)
    if many == 0:
        figures[:] = math.nan
        return
    least, most = moments[BOTTOM], moments[TOP]
    figures[MEAN] = most if least == most else moments[SUM] / many
    figures[SD] = math.sqrt(moments[SQUARES] / (many - 1)) if many > 1 else math.nan
    figures[LEAST], figures[MOST] = least, most
    figures[NONE_AT_ALL] = moments[ZEROS] / many
    if least == most:
        figures[FIRST_PERCENTILE:NONE_AT_ALL] = most
    elif many <= _FEW or least < 0.0:
        percentiles_by_order(values, room, figures)
    else:
        percentiles_by_counting(values, bits, room, counts, figures, lowest_counted(moments[ABOVE_ZERO], most))


@part
def percentiles_by_order(values: np.ndarray, room: np.ndarray, figures: np.ndarray) -> None:
    """Write the percentiles of few values."""
    many = len(values)
    ordered = room[:many]
    ordered[:] = values
    ordered.sort()
    ranks = ranks_beside(many)
    for number in range(len(PERCENTILES)):
        figures[FIRST_PERCENTILE + number] = percentile(
            many, number, ordered[ranks[2 * number]], ordered[ranks[2 * number + 1]]
        )


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
def sum_of(values: np.ndarray, mean: float, squares: bool) -> float:
    """Return the sum of values, or of the squares of their distances from a mean, to a few units in the last place."""
    total, lost = 0.0, 0.0
    for begin in range(0, len(values), _BLOCK):
        a, b, c, d = 0.0, 0.0, 0.0, 0.0
        end = min(len(values), begin + _BLOCK)
        fours = begin + (end - begin) // 4 * 4
        for row in range(begin, fours, 4):
            p, q, r, s = values[row] - mean, values[row + 1] - mean, values[row + 2] - mean, values[row + 3] - mean
            a += p * p if squares else p
            b += q * q if squares else q
            c += r * r if squares else r
            d += s * s if squares else s
        for row in range(fours, end):
            p = values[row] - mean
            a += p * p if squares else p
        block = (a + b) + (c + d)
        after = total + block
        lost += (total - after) + block if abs(total) >= abs(block) else (block - after) + total
        total = after
    return total + lost


@part
def bits_of(value: float) -> int:
    """Return the bits of a real number, as a whole number: of those from zero on they are in the same order."""
    return np.array([value]).view(np.int64)[0]


@part
def lowest_counted(least: float, most: float) -> tuple[int, int]:
    """Return the bits of the least value that has a place of its own, and how many of their last bits are left out.

    What is less than 2**-_OCTAVES of the most, and above zero, is in the lowest place.
    """
    lowest = max(bits_of(least), bits_of(most) - (_OCTAVES << 52))
    left_out = 0
    while (bits_of(most) - lowest) >> left_out >= _BINS - 2:
        left_out += 1
    return lowest, left_out


@part
def percentiles_by_counting(
    values: np.ndarray,
    bits: np.ndarray,
    room: np.ndarray,
    counts: np.ndarray,
    figures: np.ndarray,
    scale: tuple[int, int],
) -> None:
    """Write the percentiles of values from zero on; for `scale` see `lowest_counted`."""
    many = len(values)
    counts[:] = 0
    for row in range(many):
        counts[place_of(bits[row], scale)] += 1
    ranks = ranks_beside(many)
    wanted = np.empty(len(ranks), np.int64)
    begins = wanted_places(counts, ranks, wanted)
    following = begins.copy()
    for row in range(many):
        which = counts[place_of(bits[row], scale)]
        if which >= 0:
            room[following[which]] = values[row]
            following[which] += 1
    found = np.zeros(len(ranks))
    place = 0
    for number in range(len(ranks)):
        which = wanted[number]
        if which >= 0:
            low = place if number > 0 and wanted[number - 1] == which else begins[which]
            place = begins[which] + ranks[number]
            put_in_place(room[: following[which]], place, low)
            found[number] = room[place]
    for number in range(len(PERCENTILES)):
        figures[FIRST_PERCENTILE + number] = percentile(many, number, found[2 * number], found[2 * number + 1])


@part
def place_of(bits: int, scale: tuple[int, int]) -> int:
    """Return in which place a value is counted: the zeros in the first, the others in their order."""
    return (max(0, bits - scale[0]) >> scale[1]) + 1 if bits > 0 else 0


@part
def wanted_places(counts: np.ndarray, ranks: np.ndarray, wanted: np.ndarray) -> np.ndarray:
    """Find the places in which ranks lie, and return where the values of each begin when only they are kept.

    What was the count of a place becomes which of the wanted it is, or -1; a rank, which among the values of its place;
    and `wanted`, which of the places it lies in, or -1 where it is one of the zeros.
    """
    begins = np.zeros(len(ranks) + 1, np.int64)
    which, before, kept, number = 0, 0, 0, 0
    for place in range(len(counts)):
        here = counts[place]
        counts[place] = -1
        first = number
        while number < len(ranks) and ranks[number] < before + here:
            wanted[number] = which if place > 0 else -1
            ranks[number] -= before
            number += 1
        if number > first and place > 0:
            counts[place] = which
            begins[which] = kept
            kept += here
            which += 1
        before += here
    return begins


@part
def put_in_place(values: np.ndarray, place: int, low: int) -> None:
    """Put the value that would be at a place, were those from `low` on in order, there: what is behind it is not less.

    Source: Hoare, Algorithm 65: Find, Communications of the ACM 4 (1961). Where that does not come to its end soon,
    what is left is sorted.
    """
    high = len(values) - 1
    rounds = 0
    while low < high:
        if rounds == _MOST_ROUNDS:
            values[low : high + 1].sort()
            return
        rounds += 1
        pivot = values[(low + high) // 2]
        left, right = low, high
        while left <= right:
            while values[left] < pivot:
                left += 1
            while values[right] > pivot:
                right -= 1
            if left <= right:
                values[left], values[right] = values[right], values[left]
                left += 1
                right -= 1
        if place <= right:
            high = right
        elif place >= left:
            low = left
        else:
            return
