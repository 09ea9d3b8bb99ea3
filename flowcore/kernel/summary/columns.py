"""The ledger's rows by subject: their columns, and their sums by place in time."""

import math

import numpy as np

from flowcore.kernel.compiling.compiled import entry, part

Field = tuple[int, int, int]
"""Where a whole number from zero lies in a row: in which word, from which of its bits on, and how many of them."""

_BLOCK = 256
"""How many rows are read at a time: what one pass has fetched is still at hand for the next."""


@part
def number_in(words: np.ndarray, row: int, field: Field) -> int:
    """Return the whole number in a field of a row."""
    return (words[row, field[0]] >> field[1]) & ((1 << field[2]) - 1)


@part
def field_of(fields: np.ndarray, which: int) -> Field:
    """Return one of some fields as it is read of a row."""
    return fields[which, 0], fields[which, 1], fields[which, 2]


@entry
def survey(
    words: np.ndarray,
    fields: np.ndarray,
    numbers: np.ndarray,
    moment: tuple[int, int],
    value: int,
    grids: np.ndarray,
    places: np.ndarray,
) -> tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]:
    """Read rows of the ledger once, and tell how many there are of each kind, and sums by when they came.

    Parameters
    ----------
    words
        The rows, shape (rows, words).
    fields
        Where the whole numbers lie by which rows are counted, int64, shape (fields, 3): each a Field.
    numbers
        Below which number those of each field are, at least 1, shape (fields,).
    moment
        When a row came, in minutes: one word less another (or, below 0, less nothing).
    value
        The word whose sums are told.
    grids, places
        Each grid, shape (grids, 2), is what is added to a moment and a width in minutes: a moment is in the place in
        which it falls after so many of the width, counted round and round; there are so many, shape (grids,).

    Returns
    -------
    counts
        Of rows by field and number, int64, shape (fields, most numbers).
    sums, found
        Of the value by the number of the first field, and of all in the last row, and by the places of all grids, one
        grid after the other: both of shape (numbers of the first field + 1, sum of places).
    used
        The bits that any row has in each word, int64, shape (words,): 0 where all of them have 0.
    """
    wholes = words.view(np.int64)
    rows, subjects = len(words), numbers[0]
    counts = np.zeros((len(fields), numbers.max()), np.int64)
    sums = np.zeros((subjects + 1, places.sum()))
    found = np.zeros((subjects + 1, places.sum()), np.int64)
    used = np.zeros(words.shape[1], np.int64)
    for begin in range(0, rows, _BLOCK):
        end = min(rows, begin + _BLOCK)
        for word in range(words.shape[1]):
            used[word] |= bits_of_any(wholes[begin:end, word])
        for which in range(len(fields)):
            if numbers[which] == 1:
                counts[which, 0] += end - begin
            elif which > 0 or len(grids) == 0:
                count_numbers(wholes[begin:end], field_of(fields, which), counts[which])
        first = 0
        for grid in range(len(grids)):
            last = first + places[grid]
            by_place = sums[:, first:last], found[:, first:last]
            shift_and_width = grids[grid, 0], grids[grid, 1]
            numbered = wholes[begin:end], field_of(fields, 0)
            sum_by_place(words[begin:end], numbered, moment, value, shift_and_width, by_place)
            first = last
    for subject in range(subjects):
        if len(grids) > 0:
            counts[0, subject] = found[subject, : places[0]].sum()
        sums[subjects] += sums[subject]
        found[subjects] += found[subject]
    return counts, sums, found, used


@part
def bits_of_any(wholes: np.ndarray) -> int:
    """Return the bits that any of some words has."""
    found = 0
    for row in range(len(wholes)):
        found |= wholes[row]
    return found


@part
def count_numbers(wholes: np.ndarray, field: Field, counts: np.ndarray) -> None:
    """Count some rows by the number in a field."""
    for row in range(len(wholes)):
        counts[number_in(wholes, row, field)] += 1


@part
def sum_by_place(
    words: np.ndarray,
    numbered: tuple[np.ndarray, Field],
    moment: tuple[int, int],
    value: int,
    grid: tuple[float, float],
    by_place: tuple[np.ndarray, np.ndarray],
) -> None:
    """Add a value of some rows to the sums of its place, and count it there; see `survey`."""
    sums, found = by_place
    wholes, field = numbered
    moments, values = words[:, moment[0]], words[:, value]
    shift, width = grid
    place, begin, end = 0, 0.0, 0.0
    for row in range(len(words)):
        came = moments[row] - (words[row, moment[1]] if moment[1] >= 0 else 0.0)
        at = max(0.0, came + shift)
        if not begin <= at < end:
            whole = whole_widths(at, width)
            place, begin, end = whole % sums.shape[1], whole * width, (whole + 1) * width
        subject = number_in(wholes, row, field)
        sums[subject, place] += values[row]
        found[subject, place] += 1


@part
def whole_widths(at: float, width: float) -> int:
    """Return how many whole widths there are up to a number that is not below 0."""
    whole = math.floor(at / width)
    if whole * width > at:
        whole -= 1
    elif (whole + 1) * width <= at:
        whole += 1
    return int(whole)


@entry
def grouped(
    keys: np.ndarray,
    field: Field,
    words: np.ndarray,
    wanted: np.ndarray,
    goals: np.ndarray,
    edges: np.ndarray,
    columns: np.ndarray,
) -> None:
    """Write columns of rows in the order of the numbers in a field; rows with the same number keep their order.

    Parameters
    ----------
    keys, field
        The words of the rows, shape (rows, words), and where in them the numbers lie.
    words
        Words of the same rows, shape (rows, words).
    wanted, goals
        Which of these words are wanted, and which column each is to be, shape (wanted,).
    edges
        The rows with number n are to be from edges[n] on.
    columns
        Shape (columns, rows).
    """
    wholes = keys.view(np.int64)
    following = edges.copy()
    places = np.empty(_BLOCK, np.int64)
    for begin in range(0, len(words), _BLOCK):
        end = min(len(words), begin + _BLOCK)
        for row in range(begin, end):
            number = number_in(wholes, row, field)
            places[row - begin] = following[number]
            following[number] += 1
        for column in range(len(wanted)):
            values, goal = words[begin:end, wanted[column]], columns[goals[column]]
            for row in range(len(values)):
                goal[places[row]] = values[row]


@entry
def copied(words: np.ndarray, wanted: np.ndarray, goals: np.ndarray, columns: np.ndarray) -> None:
    """Write columns of rows in their own order: see `grouped`."""
    for begin in range(0, len(words), _BLOCK):
        end = min(len(words), begin + _BLOCK)
        for column in range(len(wanted)):
            values, goal = words[begin:end, wanted[column]], columns[goals[column], begin:end]
            for row in range(len(values)):
                goal[row] = values[row]


@entry
def last_by_day(words: np.ndarray, moments: tuple[int, int], minute: float, length: float) -> np.ndarray:
    """Return when the last of those who came on each day left, in minutes since the first day began.

    Parameters
    ----------
    words
        The rows, shape (rows, words).
    moments
        The words that say when a row's case left, in minutes since the start, and how long it was there.
    minute, length
        At which minute of its day the run starts, and how many minutes a day has.

    Returns
    -------
    array
        Shape (days,), up to the last on which any came; below all numbers on those before on which none did.
    """
    left, total = words[:, moments[0]], words[:, moments[1]]
    days = 0
    for row in range(len(left)):
        days = max(days, day_of(left[row] + minute - total[row], length) + 1)
    last = np.full(days, -math.inf)
    for row in range(len(left)):
        day = day_of(left[row] + minute - total[row], length)
        last[day] = max(last[day], left[row] + minute)
    return last


@part
def day_of(moment: float, length: float) -> int:
    """Return on which day a moment is."""
    return int(math.floor(moment / length))


@entry
def by_hour_of_week(table: np.ndarray, first: int, per_hour: int, hours: int) -> np.ndarray:
    """Return the means of series by the hour of the week.

    Parameters
    ----------
    table
        Series by interval, shape (series, intervals); not-a-number where nothing is known.
    first
        Which interval of the week, from Monday's midnight, the first one is.
    per_hour
        How many intervals an hour has.
    hours
        How many hours a week has.

    Returns
    -------
    array
        Shape (series, hours of a week): the mean of an hour's intervals, each the mean of all weeks in which it is
        known; not-a-number where none is.
    """
    a_week = hours * per_hour
    hourly = np.full((len(table), hours), math.nan)
    sums, known = np.zeros(a_week), np.zeros(a_week, np.int64)
    for series in range(len(table)):
        sums[:], known[:] = 0.0, 0
        place = first % a_week
        for interval in range(table.shape[1]):
            value = table[series, interval]
            if not math.isnan(value):
                sums[place] += value
                known[place] += 1
            place = place + 1 if place + 1 < a_week else 0
        for hour in range(hours):
            total, many = 0.0, 0
            for interval in range(hour * per_hour, (hour + 1) * per_hour):
                if known[interval] > 0:
                    total += sums[interval] / known[interval]
                    many += 1
            if many > 0:
                hourly[series, hour] = total / many
    return hourly
