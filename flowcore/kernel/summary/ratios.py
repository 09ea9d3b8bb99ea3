"""Figures that are ratios of sums, and series that are sums of columns."""

import math

import numpy as np

from flowcore.kernel.compiling.compiled import entry, part

_BLOCK = 16
"""How many rows are read at a time: as many values of a sum are written side by side."""


@entry
def ratios_of_sums(
    counted: np.ndarray, places: np.ndarray, times: np.ndarray, ends: np.ndarray, scarcely: float
) -> np.ndarray:
    """Return ratios of sums of rows of numbers, column by column.

    Parameters
    ----------
    counted
        The numbers, shape (rows, columns).
    places, times
        Which of the rows each term is, int64, and how many times: both of shape (terms,).
    ends
        Where the terms of each part and then of its whole end, which begin where those before end, int64, shape
        (2 * ratios,).
    scarcely
        What a whole must be above.

    Returns
    -------
    array
        Shape (ratios, columns); not-a-number where there is no whole.
    """
    found = np.empty((len(ends) // 2, counted.shape[1]))
    whole = np.empty(counted.shape[1])
    begin = 0
    for ratio in range(len(found)):
        within, end = ends[2 * ratio], ends[2 * ratio + 1]
        sum_of_rows(counted, places[begin:within], times[begin:within], found[ratio])
        sum_of_rows(counted, places[within:end], times[within:end], whole)
        for column in range(len(whole)):
            found[ratio, column] = found[ratio, column] / whole[column] if whole[column] > scarcely else math.nan
        begin = end
    return found


@part
def sum_of_rows(rows: np.ndarray, places: np.ndarray, times: np.ndarray, total: np.ndarray) -> None:
    """Write the sum of so many times each of some rows."""
    total[:] = 0.0
    for term in range(len(places)):
        row = rows[places[term]]
        for column in range(len(total)):
            total[column] += times[term] * row[column]


@entry
def sums_of_columns(
    columns: np.ndarray, places: np.ndarray, times: np.ndarray, ends: np.ndarray, wholes: np.ndarray, first_count: int
) -> np.ndarray:
    """Return sums of columns, divided row by row.

    Parameters
    ----------
    columns
        The numbers, shape (rows, columns).
    places, times, ends
        Which of the columns each term is, how many times, and where the terms of each sum end: see `ratios_of_sums`.
    wholes, first_count
        What each row is divided by, shape (2, rows): sums before `first_count` by the first, the others by the second.

    Returns
    -------
    array
        Shape (sums, rows).
    """
    rows = len(columns)
    found = np.empty((len(ends), rows))
    for first in range(0, rows, _BLOCK):
        last = min(rows, first + _BLOCK)
        begin = 0
        for each in range(len(ends)):
            for row in range(first, last):
                total = sum_of_terms(columns[row], places[begin : ends[each]], times[begin : ends[each]])
                found[each, row] = total / wholes[int(each >= first_count), row]
            begin = ends[each]
    return found


@part
def sum_of_terms(counted: np.ndarray, places: np.ndarray, times: np.ndarray) -> float:
    """Return the sum of so many times each of some numbers."""
    total = 0.0
    for term in range(len(places)):
        total += times[term] * counted[places[term]]
    return total
