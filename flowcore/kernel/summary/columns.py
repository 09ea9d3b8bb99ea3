"""The ledger's rows by subject: their columns, and their sums by place in time."""

import math

import numpy as np

from flowcore.kernel.compiling.compiled import entry, part

Field = tuple[int, int, int]
"""Where a whole number from zero lies in a row: in which word, from which of its bits on, and how many of them."""


@part
def number_in(words: np.ndarray, row: int, fields: np.ndarray, which: int) -> int:
    """Return the whole number in one of some fields of a row."""
    return (words[row, fields[which, 0]] >> fields[which, 1]) & ((1 << fields[which, 2]) - 1)


@entry
def survey(
    words: np.ndarray,
    fields: np.ndarray,
    numbers: int,
    subjects: int,
    moment: tuple[int, int],
    value: int,
    grids: np.ndarray,
    places: np.ndarray,
) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Read rows of the ledger once, and tell how many there are of each kind, and sums by when they came.

    Parameters
    ----------
    words
        The rows, shape (rows, words).
    fields
        Where the whole numbers lie by which rows are counted, int64, shape (fields, 3): each a Field.
    numbers, subjects
        All of those are below `numbers`, those of the first field below `subjects`.
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
        Of rows by field and number, int64, shape (fields, numbers).
    sums, found
        Of the value by the number of the first field, and of all in the last row, and by the places of all grids, one
        grid after the other: both of shape (subjects + 1, sum of places).
    """
    wholes = words.view(np.int64)
    counts = np.zeros((len(fields), numbers), np.int64)
    sums = np.zeros((subjects + 1, places.sum()))
    found = np.zeros((subjects + 1, places.sum()), np.int64)
    for row in range(len(words)):
        for field in range(len(fields)):
            counts[field, number_in(wholes, row, fields, field)] += 1
        group = number_in(wholes, row, fields, 0)
        came = words[row, moment[0]]
        if moment[1] >= 0:
            came -= words[row, moment[1]]
        first = 0
        for grid in range(len(grids)):
            place = first + place_in(came, grids[grid, 0], grids[grid, 1], places[grid])
            first += places[grid]
            sums[group, place] += words[row, value]
            sums[subjects, place] += words[row, value]
            found[group, place] += 1
            found[subjects, place] += 1
    return counts, sums, found


@part
def place_in(moment: float, shift: float, width: float, places: int) -> int:
    """Return in which of so many places of a width a moment falls, counted round and round."""
    at = max(0.0, moment + shift)
    whole = math.floor(at / width)
    if whole * width > at:
        whole -= 1
    elif (whole + 1) * width <= at:
        whole += 1
    number = int(whole)
    return number if number < places else number % places


@entry
def grouped(
    words: np.ndarray, wanted: np.ndarray, fields: np.ndarray, which: int, edges: np.ndarray, columns: np.ndarray
) -> None:
    """Write columns of rows in the order of the numbers in a field; rows with the same number keep their order.

    `words` are the rows, shape (rows, words), `wanted` the words that are wanted, shape (columns,), `fields` and
    `which` of them tell the field; the rows with number n are to be from edges[n] on. `columns` has shape (at least
    columns, rows).
    """
    wholes = words.view(np.int64)
    following = edges.copy()
    for row in range(len(words)):
        number = number_in(wholes, row, fields, which)
        to = following[number]
        following[number] = to + 1
        for column in range(len(wanted)):
            columns[column, to] = words[row, wanted[column]]


@entry
def copied(words: np.ndarray, wanted: np.ndarray, columns: np.ndarray) -> None:
    """Write columns of rows in their own order: see `grouped`."""
    for row in range(len(words)):
        for column in range(len(wanted)):
            columns[column, row] = words[row, wanted[column]]


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
        for interval in range(table.shape[1]):
            value = table[series, interval]
            if not math.isnan(value):
                sums[(first + interval) % a_week] += value
                known[(first + interval) % a_week] += 1
        for hour in range(hours):
            total, many = 0.0, 0
            for interval in range(hour * per_hour, (hour + 1) * per_hour):
                if known[interval] > 0:
                    total += sums[interval] / known[interval]
                    many += 1
            if many > 0:
                hourly[series, hour] = total / many
    return hourly
