"""The figures of stretches of values: moments, percentiles and histograms.

The values are counted once, by the bins of their histogram, in which their percentiles are then found.
Sums are made in blocks whose sums are added with Neumaier's correction (Rundungsfehleranalyse einiger Verfahren zur
Summation endlicher Summen, ZAMM 54, 1974).
"""

import math

import numpy as np

from flowcore.kernel.compiling.compiled import entry, part
from flowcore.kernel.summary.histograms import FINEST, LAST_BITS, bits_of, finer_bin, number_of
from flowcore.kernel.summary.percentiles import ABOVE_ALL, PERCENTILES, percentiles_by_order, percentiles_by_places

MEAN, SD, LEAST, MOST, FIRST_PERCENTILE = range(5)
NONE_AT_ALL = FIRST_PERCENTILE + len(PERCENTILES)
STATISTICS = NONE_AT_ALL + 1
"""The columns of `statistics`: mean, standard deviation, least, most, PERCENTILES, and the share of zeros."""
_BLOCK = 512
_FEW = 192
_PLACES = 4096


@entry
def statistics(
    columns: np.ndarray, told: np.ndarray, counted: np.ndarray, edges: np.ndarray, room: np.ndarray, bins: np.ndarray
) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Return the statistics of every stretch of quantities, and of all rows, and the histograms of some quantities.

    Percentiles are linear between the ordered values: definition 7 of Hyndman and Fan, Sample quantiles in
    statistical packages, The American Statistician 50 (1996).

    Parameters
    ----------
    columns
        The values, shape (columns, rows).
    told
        Which column each quantity is, int64, shape (quantities,); -1 for one that is always 0.
    counted
        Which quantities have histograms, bool, shape (quantities,).
    edges
        Stretch n is from edges[n] to edges[n + 1]; shape (stretches + 1,).
    room, bins
        Of as many real and whole numbers as there are rows; both are written over.

    Returns
    -------
    figures
        Shape (quantities, stretches + 1, STATISTICS), those of all rows last; not-a-number where there are none.
    counts
        All histograms, one after the other: how many values are in each bin, as far as there are any.
    ends
        Where each stretch's histogram and that of all rows ends, which begins where the one before ends, int64, shape
        (quantities, stretches + 1).
    """
    stretches = len(edges) - 1
    moments = moments_of_all(columns, told, edges)
    ends = ends_of_histograms(moments, counted)
    figures, counts = np.empty((len(told), stretches + 1, STATISTICS)), np.zeros(ends[-1, -1], np.int64)
    most = most_places(moments)
    places, of_all, wanted = np.zeros(most, np.int64), np.zeros(most, np.int64), np.empty(most, np.int64)
    first = 0
    for quantity in range(len(told)):
        values = columns[told[quantity]] if told[quantity] >= 0 else room
        bits = values.view(np.int64)
        of_each = moments[quantity]
        is_placed = wants_places(of_each[stretches], counted[quantity])
        grid = grid_for(of_each)
        whole = stretch_with_all(of_each)
        before = first
        for stretch in range(stretches):
            begin, end = edges[stretch], edges[stretch + 1]
            last = ends[quantity, stretch]
            if is_placed:
                put_into_places(values[begin:end], bits[begin:end], of_each[stretch], grid, places, bins[begin:end])
            room_for = wanted, bins[begin:end], room
            figures_here, counts_here = figures[quantity, stretch], counts[first:last]
            describe(values[begin:end], of_each[stretch], grid, places, room_for, figures_here, counts_here)
            if is_placed:
                pass_on(places, of_all, of_each[stretch], grid)
            first = last
        last = ends[quantity, stretches]
        if whole >= 0:
            figures[quantity, stretches] = figures[quantity, whole]
            counts[first:last] = counts[before:first]
        else:
            room_for = wanted, bins, room
            figures_here, counts_here = figures[quantity, stretches], counts[first:last]
            describe(values, of_each[stretches], grid, of_all, room_for, figures_here, counts_here)
        of_all[:] = 0
        first = last
    return figures, counts, ends


@part
def moments_of_all(columns: np.ndarray, told: np.ndarray, edges: np.ndarray) -> np.ndarray:
    """Return the MOMENTS of every stretch of quantities, and of all rows: see `statistics`."""
    stretches, bits = len(edges) - 1, columns.view(np.int64)
    moments = np.empty((len(told), stretches + 1, MOMENTS))
    for quantity in range(len(told)):
        column = told[quantity]
        for stretch in range(stretches):
            begin, end = edges[stretch], edges[stretch + 1]
            if column >= 0:
                measure(columns[column, begin:end], bits[column, begin:end], moments[quantity, stretch])
            else:
                measure_zeros(end - begin, moments[quantity, stretch])
        put_together(moments[quantity, :stretches], moments[quantity, stretches])
    return moments


@part
def wants_places(moments: np.ndarray, is_counted: bool) -> bool:
    """Say whether values with these moments, of all rows, are to be counted by place."""
    return moments[BOTTOM] < moments[TOP] and (is_counted or moments[MANY] > _FEW)


@part
def stretch_with_all(moments: np.ndarray) -> int:
    """Return which stretch has all values of a column, those of which are told last; -1 where none has."""
    for stretch in range(len(moments) - 1):
        if moments[stretch, MANY] == moments[-1, MANY]:
            return stretch
    return -1


@part
def ends_of_histograms(moments: np.ndarray, counted: np.ndarray) -> np.ndarray:
    """Return where the histograms of quantities with these moments end when they are kept one after the other."""
    ends = np.empty((len(moments), moments.shape[1]), np.int64)
    end = 0
    for quantity in range(len(ends)):
        for stretch in range(ends.shape[1]):
            if counted[quantity] and moments[quantity, stretch, MANY] > 0.0:
                end += ends_in_bins(moments[quantity, stretch], 0)[1] + 1
            ends[quantity, stretch] = end
    return ends


@part
def most_places(moments: np.ndarray) -> int:
    """Return how many places there may be for values with these moments."""
    most = int(min(_PLACES, moments[0, -1, MANY]))
    for quantity in range(len(moments)):
        first, last = ends_in_bins(moments[quantity, -1], 0)
        most = max(most, last - first + 2)
    return most


@part
def ends_in_bins(moments: np.ndarray, halvings: int) -> tuple[int, int]:
    """Return in which bins the least and the most of some values are, where each bin is halved so many times."""
    if moments[MANY] == 0.0:
        return 0, 0
    least, most, per_minute = max(0.0, moments[BOTTOM]), max(0.0, moments[TOP]), 2.0 ** (halvings - FINEST)
    return finer_bin(least, bits_of(least), halvings, per_minute), finer_bin(most, bits_of(most), halvings, per_minute)


Grid = tuple[int, int]
"""The places of a column: how often the bins are halved, and in which of these its least value is."""


@part
def grid_for(moments: np.ndarray) -> Grid:
    """Return the places for a column: as fine as its stretches have values for them, on average."""
    of_all = moments[-1]
    halvings = 0
    if of_all[BOTTOM] < of_all[TOP]:
        most = min(_PLACES, of_all[MANY] / np.count_nonzero(moments[:-1, MANY]))
        while halvings < LAST_BITS:
            first, last = ends_in_bins(of_all, halvings + 1)
            if last - first + 2 > most:
                break
            halvings += 1
    return halvings, ends_in_bins(of_all, halvings)[0]


@part
def ends_in_places(moments: np.ndarray, grid: Grid) -> tuple[int, int]:
    """Return in which places the least and the most of some values are, from 1 on: place 0 is that of zeros."""
    first, last = ends_in_bins(moments, grid[0])
    return first - grid[1] + 1, last - grid[1] + 1


@part
def put_into_places(
    values: np.ndarray, bits: np.ndarray, moments: np.ndarray, grid: Grid, places: np.ndarray, bins: np.ndarray
) -> None:
    """Find in which place each value is, and count them."""
    if moments[BOTTOM] == moments[TOP]:
        place = ends_in_places(moments, grid)[0] if moments[TOP] > 0.0 else 0
        bins[:] = place
        places[place] += len(values)
        return
    halvings, first = grid
    per_minute = 2.0 ** (halvings - FINEST)
    for row in range(len(values)):
        place = finer_bin(values[row], bits[row], halvings, per_minute) - first + 1
        bins[row] = place if bits[row] > 0 else 0
    for row in range(len(values)):
        places[bins[row]] += 1


@part
def pass_on(places: np.ndarray, of_all: np.ndarray, moments: np.ndarray, grid: Grid) -> None:
    """Add the counts by place of values with these moments to those of all, and let them be 0 again."""
    if moments[MANY] == 0.0:
        return
    first, last = ends_in_places(moments, grid)
    of_all[0] += places[0]
    places[0] = 0
    for place in range(first, last + 1):
        of_all[place] += places[place]
        places[place] = 0


MANY, SUM, SQUARES, BOTTOM, TOP, ZEROS = range(6)
MOMENTS = 6
"""How many values, their sum, the squares of their distances from the mean, the least, the most, and how many are not
above zero."""


@part
def measure(values: np.ndarray, bits: np.ndarray, moments: np.ndarray) -> None:
    """Write the MOMENTS of some values; those of numbers from zero on are in the order of their bits."""
    least, most, zeros = ABOVE_ALL, 0, 0
    for row in range(len(values)):
        least = min(least, bits[row])
        most = max(most, bits[row])
        zeros += int(bits[row] <= 0)
    moments[MANY], moments[ZEROS] = len(values), zeros
    moments[BOTTOM], moments[TOP] = math.inf, -math.inf
    if len(values) > 0:
        moments[BOTTOM] = values.min() if least < 0 else number_of(least)
        moments[TOP] = values.max() if least < 0 else number_of(most)
    if moments[BOTTOM] >= moments[TOP]:
        moments[SUM] = len(values) * moments[TOP] if len(values) > 0 else 0.0
        moments[SQUARES] = 0.0
    else:
        moments[SUM] = sum_of(values, 0.0, False)
        moments[SQUARES] = sum_of(values, moments[SUM] / len(values), True)


@part
def measure_zeros(many: int, moments: np.ndarray) -> None:
    """Write the MOMENTS of so many zeros."""
    moments[:] = 0.0
    moments[MANY] = moments[ZEROS] = many
    if many == 0:
        moments[BOTTOM], moments[TOP] = math.inf, -math.inf


@part
def put_together(parts: np.ndarray, moments: np.ndarray) -> None:
    """Write the MOMENTS of all values of which those of the parts are known.

    Source: Chan, Golub and LeVeque, Updating formulae and a pairwise algorithm for computing sample variances (1979).
    """
    for number in range(MOMENTS):
        moments[number] = 0.0
    moments[BOTTOM], moments[TOP] = math.inf, -math.inf
    for part_ in range(len(parts)):
        moments[MANY] += parts[part_, MANY]
        moments[SUM] += parts[part_, SUM]
        moments[ZEROS] += parts[part_, ZEROS]
        moments[BOTTOM] = min(moments[BOTTOM], parts[part_, BOTTOM])
        moments[TOP] = max(moments[TOP], parts[part_, TOP])
    for part_ in range(len(parts)):
        if parts[part_, MANY] > 0.0:
            apart = parts[part_, SUM] / parts[part_, MANY] - moments[SUM] / moments[MANY]
            moments[SQUARES] += parts[part_, SQUARES] + parts[part_, MANY] * apart * apart


@part
def describe(
    values: np.ndarray,
    moments: np.ndarray,
    grid: Grid,
    places: np.ndarray,
    room_for: tuple[np.ndarray, np.ndarray, np.ndarray],
    figures: np.ndarray,
    counts: np.ndarray,
) -> None:
    """Write the STATISTICS of values with known moments, of which so many are in each place, and a wanted histogram.

    `room_for` is room for what is wanted of the places, then in which place each value is, then room for the values.
    """
    many = len(values)
    if many == 0:
        figures[:] = math.nan
        return
    least, most = moments[BOTTOM], moments[TOP]
    figures[MEAN] = most if least == most else moments[SUM] / many
    figures[SD] = math.sqrt(moments[SQUARES] / (many - 1)) if many > 1 else math.nan
    figures[LEAST], figures[MOST] = least, most
    figures[NONE_AT_ALL] = moments[ZEROS] / many
    percentiles = figures[FIRST_PERCENTILE:NONE_AT_ALL]
    if least == most:
        percentiles[:] = most
        if len(counts) > 0:
            counts[-1] = many
        return
    wanted, bins, room = room_for
    ends = ends_in_places(moments, grid)
    if many <= _FEW or least < 0.0:
        percentiles_by_order(values, room, percentiles)
    else:
        percentiles_by_places(values, places, ends, wanted, bins, room, percentiles)
    if len(counts) == 0:
        return
    halvings, before = grid[0], grid[1] - 1
    counts[0] = places[0]
    for place in range(ends[0], ends[1] + 1):
        counts[(before + place) >> halvings] += places[place]


@part
def sum_of(values: np.ndarray, mean: float, squares: bool) -> float:
    """Return the sum of values, or of the squares of their distances from a mean, to a few units in the last place."""
    total, lost = 0.0, 0.0
    eight = np.zeros(8)
    for begin in range(0, len(values), _BLOCK):
        end = min(len(values), begin + _BLOCK)
        whole = begin + (end - begin) // 8 * 8
        eight[:] = 0.0
        for row in range(begin, whole, 8):
            for lane in range(8):
                p = values[row + lane] - mean
                eight[lane] += p * p if squares else p
        for row in range(whole, end):
            p = values[row] - mean
            eight[0] += p * p if squares else p
        block = ((eight[0] + eight[4]) + (eight[1] + eight[5])) + ((eight[2] + eight[6]) + (eight[3] + eight[7]))
        after = total + block
        lost += (total - after) + block if abs(total) >= abs(block) else (block - after) + total
        total = after
    return total + lost
